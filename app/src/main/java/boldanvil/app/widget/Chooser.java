package boldanvil.app.widget;

import java.util.List;
import java.util.function.Consumer;
import java.util.function.Function;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import javafx.stage.Popup;
import javafx.stage.Window;

/** A popup to choose from a list by typing: the text narrows the list, arrows move, Enter or a click takes. */
public final class Chooser {
    /** How an item reads: its name, and a word about it at the right. */
    public record Reading(String name, String remark) {}

    private Chooser() {}

    /**
     * Shows the popup.
     *
     * @param id of the text field
     * @param find items for a text, best first
     */
    public static <T> void show(Window owner, double screenX, double screenY, double width, String id, String prompt,
            Function<String, List<T>> find, Function<T, Reading> read, Consumer<T> take) {
        show(owner, screenX, screenY, width, id, prompt, "", find, read, take);
    }

    /**
     * As above, with something typed already.
     *
     * @param typed what the field begins with
     */
    public static <T> void show(Window owner, double screenX, double screenY, double width, String id, String prompt, String typed,
            Function<String, List<T>> find, Function<T, Reading> read, Consumer<T> take) {
        var popup = new Popup();
        popup.setAutoHide(true);
        var field = new TextField(typed);
        field.setId(id);
        field.setPromptText(prompt);
        var list = new ListView<T>();
        list.setPrefSize(width, 260);
        list.setCellFactory(_ -> new Cell<>(read));
        Runnable fill = () -> {
            list.getItems().setAll(find.apply(field.getText()));
            list.getSelectionModel().selectFirst();
        };
        Runnable choose = () -> {
            T item = list.getSelectionModel().getSelectedItem();
            popup.hide();
            if (item != null) {
                take.accept(item);
            }
        };
        field.textProperty().addListener(_ -> fill.run());
        field.setOnAction(_ -> choose.run());
        field.addEventFilter(KeyEvent.KEY_PRESSED, e -> {
            if (e.getCode() == KeyCode.DOWN || e.getCode() == KeyCode.UP) {
                int next = list.getSelectionModel().getSelectedIndex() + (e.getCode() == KeyCode.DOWN ? 1 : -1);
                list.getSelectionModel().select(Math.clamp(next, 0, Math.max(0, list.getItems().size() - 1)));
                list.scrollTo(list.getSelectionModel().getSelectedIndex());
                e.consume();
            }
        });
        list.setOnMouseClicked(_ -> choose.run());
        fill.run();
        var box = new VBox(6, field, list);
        PopupCard.dress(box, owner);
        popup.getContent().add(box);
        popup.show(owner, screenX, screenY);
        field.requestFocus();
        field.end();
    }

    private static final class Cell<T> extends ListCell<T> {
        private final Function<T, Reading> read;

        Cell(Function<T, Reading> read) {
            this.read = read;
        }

        @Override
        protected void updateItem(T item, boolean empty) {
            super.updateItem(item, empty);
            if (empty || item == null) {
                setGraphic(null);
                return;
            }
            var reading = read.apply(item);
            var remark = new Label(reading.remark());
            remark.getStyleClass().addAll("small", "faint");
            var space = new HBox();
            HBox.setHgrow(space, Priority.ALWAYS);
            setGraphic(new HBox(new Label(reading.name()), space, remark));
        }
    }
}
