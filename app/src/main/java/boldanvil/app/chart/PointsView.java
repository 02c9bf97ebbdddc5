package boldanvil.app.chart;

import boldanvil.app.widget.Theme;
import java.util.List;
import java.util.function.Supplier;
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
        double[] xs = PlotFrame.range(lines.stream().map(Line::x).toList());
        double[] ys = PlotFrame.range(lines.stream().map(Line::y).toList());
        if (xs == null || ys == null || w < 20 || h < 20) {
            return;
        }
        var frame = new PlotFrame(LEFT, TOP, w, h, xs, ys, false);
        frame.paint(g, t, title, across);
        for (int k = 0; k < lines.size(); k++) {
            line(g, t, k, frame);
        }
    }

    private void line(GraphicsContext g, Theme t, int k, PlotFrame frame) {
        Line l = lines.get(k);
        g.setStroke(t.trace(k));
        g.setFill(t.trace(k));
        g.setLineWidth(1.6);
        double lastX = Double.NaN;
        double lastY = Double.NaN;
        for (int i = 0; i < l.x().length; i++) {
            double x = frame.across(l.x()[i]);
            double y = frame.up(l.y()[i]);
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
        double w = frame.width();
        if (!l.name().isEmpty() && y < TOP + frame.height()) {
            g.strokeLine(LEFT + w + 10, y, LEFT + w + 26, y);
            g.setFill(t.ink());
            g.setFont(Theme.sans(11.5));
            g.setTextAlign(TextAlignment.LEFT);
            g.fillText(l.name(), LEFT + w + 32, y, RIGHT - 36);
        }
    }
}
