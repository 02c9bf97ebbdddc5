package boldanvil.app.chart;

import boldanvil.app.widget.Theme;
import boldanvil.core.report.Ticks;
import java.util.List;
import java.util.function.Supplier;
import javafx.geometry.VPos;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.layout.Region;
import javafx.scene.text.TextAlignment;

/** One number over another: points, joined where they belong to one line. */
public final class PointsView extends Region {
    private static final double LEFT = 78;
    private static final double RIGHT = 150;
    private static final double TOP = 30;
    private static final double BOTTOM = 44;

    /**
     * Points of one colour.
     *
     * @param name what they have in common; empty where there is one line only
     * @param joined whether lines run from point to point
     */
    public record Line(String name, double[] x, double[] y, boolean joined) {}

    private final Canvas canvas = new Canvas();
    private final Supplier<Theme> theme;
    private List<Line> lines = List.of();
    private String title = "";
    private String across = "";

    public PointsView(Supplier<Theme> theme) {
        this.theme = theme;
        getChildren().add(canvas);
        setMinSize(240, 160);
        setId("points");
    }

    /**
     * @param up what the vertical axis shows, with its unit
     * @param along what the horizontal axis shows
     */
    public void show(String up, String along, List<Line> what) {
        title = up;
        across = along;
        lines = List.copyOf(what);
        paint();
    }

    @Override
    protected void layoutChildren() {
        canvas.setWidth(getWidth());
        canvas.setHeight(getHeight());
        paint();
    }

    private void paint() {
        GraphicsContext g = canvas.getGraphicsContext2D();
        Theme t = theme.get();
        g.setFill(t.card());
        g.fillRect(0, 0, getWidth(), getHeight());
        double w = getWidth() - LEFT - RIGHT;
        double h = getHeight() - TOP - BOTTOM;
        double[] xs = range(lines.stream().map(Line::x).toList());
        double[] ys = range(lines.stream().map(Line::y).toList());
        if (xs == null || ys == null || w < 20 || h < 20) {
            return;
        }
        g.setTextBaseline(VPos.CENTER);
        frame(g, t, w, h, xs, ys);
        for (int k = 0; k < lines.size(); k++) {
            line(g, t, k, w, h, xs, ys);
        }
    }

    private void frame(GraphicsContext g, Theme t, double w, double h, double[] xs, double[] ys) {
        g.setLineWidth(1);
        g.setFont(Theme.sans(11.5));
        int rows = (int) Math.max(3, h / 40);
        int columns = (int) Math.max(3, w / 70);
        g.setTextAlign(TextAlignment.RIGHT);
        for (double v : Ticks.of(ys[0], ys[1], rows)) {
            double y = Math.round(place(v, ys, -h, TOP + h)) + 0.5;
            g.setStroke(t.rule());
            g.strokeLine(LEFT, y, LEFT + w, y);
            g.setFill(t.ink());
            g.fillText(Ticks.text(v, ys[0], ys[1], rows), LEFT - 6, y);
        }
        g.setTextAlign(TextAlignment.CENTER);
        for (double v : Ticks.of(xs[0], xs[1], columns)) {
            double x = Math.round(place(v, xs, w, LEFT)) + 0.5;
            g.setStroke(t.rule());
            g.strokeLine(x, TOP, x, TOP + h);
            g.setFill(t.ink());
            g.fillText(Ticks.text(v, xs[0], xs[1], columns), x, TOP + h + 13);
        }
        g.setStroke(t.faint());
        g.strokeRect(LEFT + 0.5, TOP + 0.5, w - 1, h - 1);
        g.setFill(t.ink());
        g.setFont(Theme.bold(12.5));
        g.fillText(across, LEFT + w / 2, TOP + h + 32);
        g.setTextAlign(TextAlignment.LEFT);
        g.fillText(title, 10, TOP / 2);
    }

    private void line(GraphicsContext g, Theme t, int k, double w, double h, double[] xs, double[] ys) {
        Line l = lines.get(k);
        g.setStroke(t.trace(k));
        g.setFill(t.trace(k));
        g.setLineWidth(1.6);
        double lastX = Double.NaN;
        double lastY = Double.NaN;
        for (int i = 0; i < l.x().length; i++) {
            double x = place(l.x()[i], xs, w, LEFT);
            double y = place(l.y()[i], ys, -h, TOP + h);
            if (l.joined() && Double.isFinite(lastY) && Double.isFinite(y)) {
                g.strokeLine(lastX, lastY, x, y);
            }
            if (Double.isFinite(y)) {
                g.fillOval(x - 3, y - 3, 6, 6);
            }
            lastX = x;
            lastY = y;
        }
        double y = TOP + 8 + 18 * k;
        if (!l.name().isEmpty() && y < TOP + h) {
            g.strokeLine(LEFT + w + 10, y, LEFT + w + 26, y);
            g.setFill(t.ink());
            g.setFont(Theme.sans(11.5));
            g.setTextAlign(TextAlignment.LEFT);
            g.fillText(l.name(), LEFT + w + 32, y, RIGHT - 36);
        }
    }

    private static double place(double v, double[] range, double length, double from) {
        return from + (v - range[0]) / (range[1] - range[0]) * length;
    }

    /** Least and greatest with a little room; null where there is nothing to show. */
    private static double[] range(List<double[]> all) {
        double low = Double.POSITIVE_INFINITY;
        double high = Double.NEGATIVE_INFINITY;
        for (double[] some : all) {
            for (double v : some) {
                if (Double.isFinite(v)) {
                    low = Math.min(low, v);
                    high = Math.max(high, v);
                }
            }
        }
        if (low > high) {
            return null;
        }
        double room = low == 0 && high == 0 ? 1 : Math.max((high - low) * 0.05, Math.max(1e-9, Math.abs(high) * 1e-3));
        return new double[] {low - room, high + room};
    }
}
