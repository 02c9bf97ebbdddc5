package boldanvil.app.widget;

import java.util.LinkedHashMap;
import java.util.Map;
import javafx.geometry.Insets;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import javafx.stage.Popup;
import javafx.stage.Window;

/** Asks which of a few ways to go on; Esc or a click beside it is none of them. */
public final class ConfirmCard {
    private ConfirmCard() {}

    /** @param ways what each button does, by its text; the first is the proposed one */
    public static void show(Window owner, String question, Map<String, Runnable> ways) {
        var words = new Label(question);
        words.setWrapText(true);
        words.setMaxWidth(380);
        var buttons = new HBox(8);
        var popup = new Popup();
        new LinkedHashMap<>(ways).forEach((text, action) -> {
            var b = new Button(text);
            b.setId("confirm-" + text.toLowerCase(java.util.Locale.ROOT).replace(' ', '-'));
            if (buttons.getChildren().isEmpty()) {
                b.getStyleClass().add("primary");
            }
            b.setOnAction(_ -> {
                popup.hide();
                action.run();
            });
            buttons.getChildren().add(b);
        });
        var box = new VBox(12, words, buttons);
        box.setPadding(new Insets(14));
        PopupCard.dress(box, owner);
        popup.getContent().add(box);
        popup.setAutoHide(true);
        popup.show(owner, owner.getX() + owner.getWidth() / 2 - 200, owner.getY() + 140);
    }
}
