package boldanvil.app.sheet;

import boldanvil.core.stock.BlockType;
import java.util.function.Consumer;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.scene.layout.VBox;
import javafx.stage.Popup;
import javafx.stage.Window;

/** A small popup: type, take. */
final class QuickAdd {
    private QuickAdd() {}

    static void show(Window owner, double screenX, double screenY, Consumer<BlockType> choose) {
        var popup = new Popup();
        popup.setAutoHide(true);
        var field = new TextField();
        field.setId("quick-add");
        field.setPromptText("Block, such as gain");
        var list = new ListView<BlockType>();
        list.setPrefSize(230, 170);
        list.setCellFactory(_ -> new ListCell<>() {
            @Override
            protected void updateItem(BlockType t, boolean empty) {
                super.updateItem(t, empty);
                setText(empty || t == null ? null : t.title() + "   ·   " + t.family().title());
            }
        });
        Runnable fill = () -> {
            list.getItems().setAll(StockPane.matching(field.getText()));
            list.getSelectionModel().selectFirst();
        };
        Runnable take = () -> {
            var t = list.getSelectionModel().getSelectedItem();
            popup.hide();
            if (t != null) {
                choose.accept(t);
            }
        };
        field.textProperty().addListener(_ -> fill.run());
        field.setOnAction(_ -> take.run());
        field.addEventFilter(javafx.scene.input.KeyEvent.KEY_PRESSED, e -> {
            int i = list.getSelectionModel().getSelectedIndex();
            if (e.getCode() == KeyCode.DOWN) {
                list.getSelectionModel().select(i + 1);
                e.consume();
            } else if (e.getCode() == KeyCode.UP) {
                list.getSelectionModel().select(Math.max(0, i - 1));
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
        popup.show(owner, screenX, screenY);
        field.requestFocus();
    }
}
