package boldanvil.app.pages;

import boldanvil.app.model.Figures;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Theme;
import boldanvil.core.bench.PlcRemote;
import boldanvil.core.simulate.ExecutionTimes;
import java.util.Arrays;
import java.util.List;
import javafx.geometry.VPos;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.layout.Region;
import javafx.scene.text.TextAlignment;

/** How often the scans of a PLC's first task took how long. */
final class ScanHistogram extends Region {
    private static final double HEIGHT = 118;
    private static final double LEFT = 56;
    private static final double BOTTOM = 34;
    private static final double TOP = 18;
    private static final int PER_OCTAVE = 4;
    private final PageHost host;
    private final Canvas canvas = new Canvas();
    private PlcRemote.Task task;

    ScanHistogram(PageHost host) {
        this.host = host;
        setId("scan-histogram");
        getChildren().add(canvas);
        setMinHeight(HEIGHT);
        setPrefHeight(HEIGHT);
        widthProperty().addListener(_ -> draw());
        show(List.of());
    }

    /** @param tasks of the PLC; none hides it */
    void show(List<PlcRemote.Task> tasks) {
        task = tasks.isEmpty() ? null : tasks.getFirst();
        setVisible(task != null);
        setManaged(task != null);
        draw();
    }

    private void draw() {
        canvas.setWidth(getWidth());
        canvas.setHeight(HEIGHT);
        GraphicsContext g = canvas.getGraphicsContext2D();
        g.clearRect(0, 0, getWidth(), HEIGHT);
        if (task == null || getWidth() < 2 * LEFT) {
            return;
        }
        long[] counts = octaves(task.counts());
        int last = counts.length - 1;
        while (last > 0 && counts[last] == 0) {
            last--;
        }
        int first = 0;
        while (first < last && counts[first] == 0) {
            first++;
        }
        int bins = Math.max(4, last - first + 1);
        double most = Math.log10(Arrays.stream(counts).max().orElse(1) + 1.0);
        var theme = host.theme();
        double width = Math.min(64, (getWidth() - LEFT - 20) / bins);
        double base = HEIGHT - BOTTOM;
        g.setFont(Theme.sans(11));
        g.setTextBaseline(VPos.CENTER);
        for (int i = first; i <= last; i++) {
            double x = LEFT + (i - first) * width;
            double h = (base - TOP) * Math.log10(counts[i] + 1.0) / most;
            g.setFill(theme.steel());
            g.fillRect(x + 2, base - h, width - 4, h);
            g.setFill(theme.faint());
            g.setTextAlign(TextAlignment.CENTER);
            g.fillText(Figures.seconds(ExecutionTimes.lowerEnd(PER_OCTAVE * i)), x, base + 9);
            if (counts[i] > 0) {
                g.fillText(Long.toString(counts[i]), x + width / 2, base - h - 8);
            }
        }
        g.setStroke(theme.rule());
        g.strokeLine(LEFT, base, LEFT + bins * width, base);
        g.setFill(theme.faint());
        g.setTextAlign(TextAlignment.LEFT);
        g.fillText("Time of a scan of '" + task.name() + "'", LEFT, base + 25);
        g.save();
        g.translate(14, (base + TOP) / 2);
        g.rotate(-90);
        g.setTextAlign(TextAlignment.CENTER);
        g.fillText("Scans (log)", 0, 0);
        g.restore();
    }

    /** Four classes in one, each of them twice as long as the one before. */
    private static long[] octaves(List<Long> classes) {
        long[] all = new long[ExecutionTimes.CLASSES / PER_OCTAVE];
        for (int i = 0; i < classes.size() && i / PER_OCTAVE < all.length; i++) {
            all[i / PER_OCTAVE] += classes.get(i);
        }
        return all;
    }
}
