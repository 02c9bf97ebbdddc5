package boldanvil.app.pages;

import boldanvil.app.model.LoopSession;
import boldanvil.app.model.LoopTexts;
import boldanvil.app.widget.Buttons;
import boldanvil.app.widget.Copies;
import boldanvil.core.linear.NoSolutionException;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.TextArea;
import javafx.scene.control.TextField;
import javafx.scene.layout.VBox;

/** The open loop as text: zeros and poles, transfer function or matrices, with all states or the most important ones. */
final class SystemText extends VBox {
    private final LoopSession session;
    private final ChoiceBox<LoopTexts.Form> form = new ChoiceBox<>();
    private final TextField states = Forms.field("loop-states", "all", "How many states are kept, the most important ones");
    private final TextArea text = new TextArea();

    SystemText(LoopSession session) {
        super(6);
        this.session = session;
        form.setId("loop-system-form");
        form.getItems().setAll(LoopTexts.Form.values());
        form.setValue(LoopTexts.Form.ZEROS);
        form.setMaxWidth(Double.MAX_VALUE);
        form.valueProperty().addListener((_, _, _) -> draw());
        states.setOnAction(_ -> draw());
        text.setId("loop-system");
        text.setEditable(false);
        text.setPrefRowCount(7);
        text.getStyleClass().add("mono");
        getChildren().addAll(Forms.section("OPEN LOOP"), form, Forms.grid("States kept", states), text,
                Buttons.button("Copy", "loop-system-copy",
                "Copies the text", () -> Copies.text(text.getText())));
    }

    /** Writes what is open. */
    void draw() {
        if (session.shown().isEmpty()) {
            text.setText("");
            return;
        }
        String kept = states.getText().strip();
        try {
            text.setText(LoopTexts.of(session.shown().get().view().loop(), form.getValue(), kept.matches("[0-9]{1,3}")
                    ? Integer.parseInt(kept)
                    : 0));
        } catch (NoSolutionException e) {
            text.setText(e.getMessage() + " " + e.cure());
        }
    }
}
