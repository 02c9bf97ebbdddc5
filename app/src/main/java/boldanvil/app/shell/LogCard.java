package boldanvil.app.shell;

import boldanvil.app.widget.Buttons;
import javafx.geometry.Insets;
import javafx.scene.control.Label;
import javafx.scene.control.TextArea;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** The end of the log, to read and to copy. */
final class LogCard extends VBox {
    /**
     * @param log the end of the log
     * @param place where its files lie
     */
    LogCard(String log, String place, Runnable copy) {
        super(8);
        setPadding(new Insets(12));
        var heading = new Label("Log");
        heading.getStyleClass().add("heading");
        var text = new TextArea(log);
        text.setId("log");
        text.setEditable(false);
        text.getStyleClass().add("mono");
        text.setPrefSize(900, 440);
        text.positionCaret(log.length());
        VBox.setVgrow(text, Priority.ALWAYS);
        var where = new Label("Log files: " + place);
        where.getStyleClass().addAll("faint", "small");
        getChildren().addAll(heading, text, where, new HBox(8, Buttons.button("Copy diagnostics", "copy-diagnostics",
                "Copies versions, machine, findings and log", copy)));
    }
}
