package boldanvil.app.bench;

import boldanvil.app.model.DrawingPainter;
import boldanvil.core.diagram.BenchLayout.Drawing;
import boldanvil.core.drawing.LiveDrawing;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.samples.Samples;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;
import java.util.concurrent.Executor;
import java.util.concurrent.atomic.AtomicBoolean;
import javafx.application.Platform;
import javafx.embed.swing.SwingFXUtils;
import javafx.scene.control.Label;
import javafx.scene.image.Image;
import javafx.scene.image.ImageView;
import javafx.scene.layout.VBox;

/** A drawing of the user's, moved by signals. It is drawn in the background, several times a second. */
final class DrawingPane extends VBox {
    private static final double WIDTH = 214;

    private final Executor background;
    private final ImageView picture = new ImageView();
    private final Label failure = new Label();
    private final AtomicBoolean busy = new AtomicBoolean();
    private final Drawing drawing;
    private final Path folder;
    private volatile LiveDrawing live;
    private volatile boolean failed;

    DrawingPane(Drawing drawing, Path folder, Executor background) {
        super(4);
        this.drawing = drawing;
        this.folder = folder;
        this.background = background;
        var title = new Label(drawing.title());
        title.getStyleClass().add("strong");
        failure.setWrapText(true);
        failure.getStyleClass().addAll("small", "bad");
        failure.setManaged(false);
        picture.setFitWidth(WIDTH);
        picture.setPreserveRatio(true);
        picture.setSmooth(true);
        getStyleClass().add("card");
        setId("drawing");
        getChildren().addAll(title, picture, failure);
    }

    /** Draws it again with the newest values; null for none. */
    void update(Samples samples) {
        if (failed || !busy.compareAndSet(false, true)) {
            return;
        }
        Map<String, Double> values = new HashMap<>();
        drawing.bindings().forEach(b -> {
            int column = samples == null ? -1 : samples.indexOf(b.tap());
            values.put(b.tap(), column < 0 ? Double.NaN : samples.valueAt(column, Double.POSITIVE_INFINITY));
        });
        background.execute(() -> {
            try {
                if (live == null) {
                    live = LiveDrawing.read(folder, drawing);
                    live.findings().stream().findFirst().ifPresent(f -> Platform.runLater(() -> showFinding(f)));
                }
                Image image = SwingFXUtils.toFXImage(DrawingPainter.paint(live.at(t -> values.getOrDefault(t, Double.NaN)),
                        (int) (2 * WIDTH)), null);
                Platform.runLater(() -> picture.setImage(image));
            } catch (FindingException e) {
                failed = true;
                Platform.runLater(() -> showFinding(e.findings().getFirst()));
            } finally {
                busy.set(false);
            }
        });
    }

    private void showFinding(Finding f) {
        failure.setText(f.toString());
        failure.setManaged(true);
    }
}
