package boldanvil.app.shell;

import java.util.List;
import java.util.Locale;
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

/** Every command with its key: type, take. */
final class Palette {
    private Palette() {}

    static void show(Window owner, List<Command> commands) {
        var popup = new Popup();
        popup.setAutoHide(true);
        var field = new TextField();
        field.setId("palette");
        field.setPromptText("What do you want to do?");
        var list = new ListView<Command>();
        list.setPrefSize(430, 300);
        list.setCellFactory(_ -> new Cell());
        Runnable fill = () -> {
            String text = field.getText().toLowerCase(Locale.ROOT);
            list.getItems().setAll(commands.stream().filter(c -> c.name().toLowerCase(Locale.ROOT).contains(text)).toList());
            list.getSelectionModel().selectFirst();
        };
        Runnable take = () -> {
            var c = list.getSelectionModel().getSelectedItem();
            popup.hide();
            if (c != null) {
                c.action().run();
            }
        };
        field.textProperty().addListener(_ -> fill.run());
        field.setOnAction(_ -> take.run());
        field.addEventFilter(KeyEvent.KEY_PRESSED, e -> {
            int i = list.getSelectionModel().getSelectedIndex();
            if (e.getCode() == KeyCode.DOWN || e.getCode() == KeyCode.UP) {
                list.getSelectionModel().select(Math.clamp(i + (e.getCode() == KeyCode.DOWN ? 1 : -1), 0,
                        Math.max(0, list.getItems().size() - 1)));
                list.scrollTo(list.getSelectionModel().getSelectedIndex());
                e.consume();
            }
        });
        list.setOnMouseClicked(_ -> take.run());
        fill.run();
        var box = new VBox(6, field, list);
        box.getStyleClass().add("popup-card");
        box.getStylesheets().addAll(owner.getScene().getStylesheets());
        box.getStyleClass().addAll(owner.getScene().getRoot().getStyleClass());
        popup.getContent().add(box);
        popup.show(owner, owner.getX() + owner.getWidth() / 2 - 215, owner.getY() + 90);
        field.requestFocus();
    }

    private static final class Cell extends ListCell<Command> {
        @Override
        protected void updateItem(Command c, boolean empty) {
            super.updateItem(c, empty);
            if (empty || c == null) {
                setGraphic(null);
                return;
            }
            var name = new Label(c.name());
            var key = new Label(c.keyText());
            key.getStyleClass().addAll("mono", "faint");
            var space = new HBox();
            HBox.setHgrow(space, Priority.ALWAYS);
            setGraphic(new HBox(name, space, key));
        }
    }
}
