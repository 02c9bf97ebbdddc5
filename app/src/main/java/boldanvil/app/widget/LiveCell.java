package boldanvil.app.widget;

import java.util.function.Function;
import javafx.beans.InvalidationListener;
import javafx.beans.WeakInvalidationListener;
import javafx.beans.value.ObservableValue;
import javafx.scene.control.TableCell;
import javafx.scene.control.TableColumn;

/** A cell whose text changes by itself many times a second, without the table being laid out anew. */
public final class LiveCell<T> extends TableCell<T, String> {
    private final Function<T, String> text;
    /** Held here, because the beat holds it weakly. */
    private final InvalidationListener listener;

    private LiveCell(Function<T, String> text, ObservableValue<?> beat) {
        this.text = text;
        listener = _ -> show();
        beat.addListener(new WeakInvalidationListener(listener));
    }

    /** Gives a column such cells. */
    public static <T> void in(TableColumn<T, String> column, Function<T, String> text, ObservableValue<?> beat) {
        column.setCellFactory(_ -> new LiveCell<>(text, beat));
    }

    @Override
    protected void updateItem(String item, boolean empty) {
        super.updateItem(item, empty);
        show();
    }

    private void show() {
        T row = isEmpty() || getTableRow() == null ? null : getTableRow().getItem();
        setText(row == null ? null : text.apply(row));
    }
}
