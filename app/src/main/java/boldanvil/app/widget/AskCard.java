package boldanvil.app.widget;

import java.util.function.Function;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import javafx.stage.Popup;

/** Asks for one thing, at the place it is about. */
public final class AskCard {
    private AskCard() {}

    /**
     * @param take takes what was typed; says what is wrong with it, or nothing
     */
    public static void show(Node owner, String question, String present, Function<String, String> take) {
        var field = new TextField(present);
        field.setId("ask");
        field.setPrefColumnCount(16);
        var wrong = new Label();
        wrong.setWrapText(true);
        wrong.setMaxWidth(260);
        wrong.getStyleClass().addAll("small", "bad");
        var ok = new Button("OK");
        ok.setId("ask-ok");
        ok.getStyleClass().add("primary");
        var words = new Label(question);
        words.setWrapText(true);
        words.setMaxWidth(280);
        var box = new VBox(6, words, new HBox(6, field, ok), wrong);
        Popup[] popup = new Popup[1];
        Runnable done = () -> {
            String refusal = take.apply(field.getText());
            if (refusal.isEmpty()) {
                popup[0].hide();
            } else {
                wrong.setText(refusal);
            }
        };
        ok.setOnAction(_ -> done.run());
        field.setOnAction(_ -> done.run());
        popup[0] = PopupCard.below(owner, box);
        field.requestFocus();
        field.selectAll();
    }
}
