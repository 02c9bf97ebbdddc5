package boldanvil.app.chart;

import boldanvil.app.widget.Theme;
import java.util.List;
import java.util.function.Supplier;
import javafx.geometry.VPos;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.text.TextAlignment;

/** Two numbers of each run over each other: a dot for each run, another colour where it does not keep a limit. */
public final class ScatterView extends StudyPlot {
    /**
     * What is shown.
     *
     * @param x of each run
     * @param y of each run
     * @param passed for each run; null where nothing is asked of it
     * @param limit of the vertical axis; NaN for none
     */
    public record Points(String across, String up, double[] x, double[] y, boolean[] passed, double limit) {}

    private Points points;
    private PlotFrame frame;

    public ScatterView(Supplier<Theme> theme) {
        super(theme, "study-scatter");
    }

    public void show(Points what) {
        points = what;
        repaint();
    }

    @Override
    void paint(GraphicsContext g, Theme t) {
        double[] xs = points == null ? null : PlotFrame.range(List.of(points.x()));
        double[] ys = points == null ? null : PlotFrame.range(List.of(points.y(), new double[] {points.limit()}));
        frame = null;
        if (xs == null || ys == null) {
            return;
        }
        frame = frame(xs, ys);
        frame.paint(g, t, points.up(), points.across());
        var raster = new Raster((int) getWidth(), (int) getHeight());
        raster.clip(frame.left(), frame.top(), frame.width(), frame.height());
        double radius = points.x().length > 20_000 ? 1.2 : points.x().length > 2_000 ? 1.8 : 3;
        int plain = Raster.argb(t.trace(0));
        int failed = Raster.argb(t.madder());
        inOrder(points.x().length, points.passed(), i -> {
            double y = frame.up(points.y()[i]);
            if (Double.isFinite(y)) {
                boolean good = points.passed() == null || points.passed()[i];
                raster.dot(frame.across(points.x()[i]), y, good ? radius : radius + 0.6, good ? plain : failed);
            }
        });
        raster.show();
        g.drawImage(raster.image(), 0, 0);
        if (Double.isFinite(points.limit())) {
            double y = Math.round(frame.up(points.limit())) + 0.5;
            g.setStroke(t.madder());
            g.setLineWidth(1.2);
            g.setLineDashes(6, 4);
            double end = frame.left() + frame.width();
            g.strokeLine(frame.left(), y, end, y);
            g.setLineDashes();
            g.setFill(t.madder());
            g.setFont(Theme.sans(11.5));
            g.setTextAlign(TextAlignment.RIGHT);
            g.setTextBaseline(VPos.BOTTOM);
            g.fillText("limit", end - 4, y - 2);
        }
        int s = selected();
        if (s >= 0 && s < points.x().length && Double.isFinite(points.y()[s])) {
            g.setStroke(t.ink());
            g.setLineWidth(2);
            g.strokeOval(frame.across(points.x()[s]) - 7, frame.up(points.y()[s]) - 7, 14, 14);
        }
    }

    @Override
    int nearest(double px, double py, double reach) {
        int best = -1;
        double least = reach * reach;
        for (int i = 0; frame != null && i < points.x().length; i++) {
            double dx = frame.across(points.x()[i]) - px;
            double dy = frame.up(points.y()[i]) - py;
            if (dx * dx + dy * dy < least) {
                least = dx * dx + dy * dy;
                best = i;
            }
        }
        return best;
    }
}
