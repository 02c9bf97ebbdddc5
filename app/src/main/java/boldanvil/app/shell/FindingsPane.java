package boldanvil.app.shell;

import boldanvil.app.model.Figures;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.Workspace;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import java.util.function.Consumer;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.input.Clipboard;
import javafx.scene.input.ClipboardContent;
import javafx.scene.input.KeyCode;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;

/** All findings with place, cause and cure. A click shows the place, Ctrl+C copies the text. */
final class FindingsPane extends VBox {
    private final ListView<Finding> list = new ListView<>();

    private final Consumer<Finding> instant;

    /**
     * @param show shows a place
     * @param instant shows the values at the instant of a finding
     */
    FindingsPane(Workspace workspace, RigSession session, Consumer<Place> show, Consumer<Finding> instant) {
        this.instant = instant;
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
        Runnable refresh = () -> {
            var all = StatusLine.findings(workspace, session);
            if (!all.equals(list.getItems())) {
                list.getItems().setAll(all);
            }
        };
        workspace.onChange(refresh);
        session.onChange(refresh);
    }

    private final class Cell extends ListCell<Finding> {
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
            var head = new HBox(10, place);
            head.setAlignment(Pos.CENTER_LEFT);
            if (f.hasInstant()) {
                var why = new Button("Why, at " + Figures.seconds(f.seconds()));
                why.getStyleClass().add("small");
                why.setId("finding-why");
                why.setOnAction(_ -> instant.accept(f));
                head.getChildren().add(why);
            }
            setGraphic(new VBox(1, head, cause));
        }
    }
}
