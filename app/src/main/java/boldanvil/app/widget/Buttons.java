package boldanvil.app.widget;

import java.util.function.Consumer;
import javafx.scene.control.Button;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.Tooltip;

/** Buttons as this window makes them. */
public final class Buttons {
    private Buttons() {}

    /** @param action gets whether it is on */
    public static ToggleButton toggle(String text, String id, Consumer<Boolean> action) {
        var b = new ToggleButton(text);
        b.setId(id);
        b.selectedProperty().addListener((_, _, on) -> action.accept(on));
        return b;
    }

    /** @param tip what it does */
    public static Button button(String text, String id, String tip, Runnable action) {
        var b = new Button(text);
        b.setId(id);
        b.setTooltip(new Tooltip(tip));
        b.setOnAction(_ -> action.run());
        return b;
    }
}
