package boldanvil.app.bench;

import boldanvil.app.model.Workspace;
import boldanvil.app.widget.Theme;
import boldanvil.core.bench.Health;
import boldanvil.core.diagram.BenchLayout;
import boldanvil.core.samples.Samples;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.function.Supplier;
import javafx.scene.control.ScrollPane;
import javafx.scene.layout.VBox;

/** What stands beside the charts: drawings, readouts and the health of the rig. */
final class BenchPanel extends ScrollPane {
    private final Workspace workspace;
    private final ExecutorService measuring;
    private final HealthPane health;
    private final VBox box = new VBox(8);
    private final List<DrawingPane> drawings = new ArrayList<>();
    private ReadoutsPane readouts = new ReadoutsPane(List.of());

    BenchPanel(Workspace workspace, Supplier<Theme> theme, ExecutorService measuring) {
        this.workspace = workspace;
        this.measuring = measuring;
        health = new HealthPane(theme);
        box.setStyle("-fx-padding: 8 10 8 8;");
        setContent(box);
    }

    /** Shows the drawings and readouts of a layout. */
    void show(BenchLayout layout, Samples samples) {
        readouts = new ReadoutsPane(layout.readouts());
        drawings.clear();
        workspace.folder().ifPresent(folder -> layout.drawings().forEach(d -> drawings.add(new DrawingPane(d, folder, measuring))));
        box.getChildren().setAll(drawings);
        box.getChildren().addAll(readouts, health);
        drawings.forEach(d -> d.update(samples));
    }

    /** @param frames pictures per second */
    void update(Samples samples, Health now, double frames) {
        readouts.update(samples);
        drawings.forEach(d -> d.update(samples));
        health.update(now, frames);
    }
}
