package boldanvil.app.bench;

import java.util.Locale;
import java.util.Map;
import javafx.scene.Node;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** The column on the left of the bench: panes behind tabs. */
final class BenchTabs extends VBox {
    private final ScrollPane content = new ScrollPane();

    /** @param chosen called when another pane was chosen */
    BenchTabs(Map<String, Node> panes, double width, Runnable chosen) {
        var group = new ToggleGroup();
        var tabs = new FlowPane(4, 4);
        tabs.getStyleClass().addAll("tabs", "narrow");
        panes.forEach((name, pane) -> {
            var b = new ToggleButton(name);
            b.setId("bench-" + name.toLowerCase(Locale.ROOT));
            b.setToggleGroup(group);
            b.setMinWidth(USE_PREF_SIZE);
            b.setOnAction(_ -> {
                b.setSelected(true);
                content.setContent(pane);
                chosen.run();
            });
            tabs.getChildren().add(b);
        });
        ((ToggleButton) tabs.getChildren().getFirst()).setSelected(true);
        content.setContent(panes.values().iterator().next());
        content.setFitToWidth(true);
        content.setHbarPolicy(ScrollPane.ScrollBarPolicy.NEVER);
        setVgrow(content, Priority.ALWAYS);
        getChildren().addAll(tabs, content);
        getStyleClass().add("side-column");
        setPrefWidth(width);
        setMinWidth(width);
    }

    /** The pane on show. */
    Node shown() {
        return content.getContent();
    }
}
