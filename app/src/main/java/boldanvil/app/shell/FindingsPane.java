package boldanvil.app.shell;

import boldanvil.app.model.Workspace;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import java.util.function.Consumer;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.input.Clipboard;
import javafx.scene.input.ClipboardContent;
import javafx.scene.input.KeyCode;
import javafx.scene.layout.VBox;

/** All findings with place, cause and cure. A click shows the place, Ctrl+C copies the text. */
final class FindingsPane extends VBox {
    private final ListView<Finding> list = new ListView<>();

    FindingsPane(Workspace workspace, Consumer<Place> show) {
        list.setId("findings");
        list.setPrefHeight(150);
        list.setPlaceholder(new Label("No findings. Sheets, patches and rigs are consistent."));
        list.setCellFactory(_ -> new Cell());
        list.setOnMouseClicked(_ -> {
            var f = list.getSelectionModel().getSelectedItem();
            if (f != null) {
                show.accept(f.place());
            }
        });
        list.setOnKeyPressed(e -> {
            var f = list.getSelectionModel().getSelectedItem();
            if (f != null && e.isShortcutDown() && e.getCode() == KeyCode.C) {
                var content = new ClipboardContent();
                content.putString(f.toString());
                Clipboard.getSystemClipboard().setContent(content);
            } else if (f != null && e.getCode() == KeyCode.ENTER) {
                show.accept(f.place());
            }
        });
        getChildren().add(list);
        workspace.onChange(() -> list.getItems().setAll(workspace.findings()));
    }

    private static final class Cell extends ListCell<Finding> {
        @Override
        protected void updateItem(Finding f, boolean empty) {
            super.updateItem(f, empty);
            if (empty || f == null) {
                setGraphic(null);
                return;
            }
            var place = new Label(String.format("%-8s", f.severity().label()) + f.place().text());
            place.getStyleClass().addAll("mono", f.isError() ? "bad" : "warning");
            var cause = new Label(f.cause() + "  " + f.cure());
            cause.setWrapText(true);
            cause.maxWidthProperty().bind(getListView().widthProperty().subtract(40));
            setGraphic(new VBox(1, place, cause));
        }
    }
}
