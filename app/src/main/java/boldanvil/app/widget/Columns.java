package boldanvil.app.widget;

import javafx.scene.control.Label;
import javafx.scene.control.TableColumn;
import javafx.scene.control.Tooltip;

/** Columns of tables whose headings have an explanation. */
public final class Columns {
    private Columns() {}

    /** @param meaning shown under the pointer; empty for nothing */
    public static <T> TableColumn<T, String> explained(String title, String meaning) {
        if (meaning.isEmpty()) {
            return new TableColumn<>(title);
        }
        var head = new Label(title);
        head.setTooltip(new Tooltip(meaning));
        var c = new TableColumn<T, String>();
        c.setGraphic(head);
        return c;
    }
}
