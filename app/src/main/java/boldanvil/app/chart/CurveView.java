package boldanvil.app.chart;

import boldanvil.app.widget.Theme;
import java.util.List;
import java.util.function.BiConsumer;
import java.util.function.Supplier;
import javafx.geometry.VPos;
import javafx.scene.Cursor;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.layout.Region;
import javafx.scene.text.TextAlignment;

/** Curves over a common axis, with marks. Where the pointer drags is given in the units of the axes. */
public final class CurveView extends Region {
    private static final double LEFT = 66;
    private static final double RIGHT = 14;
    private static final double TOP = 26;
    private static final double BOTTOM = 42;

    /** How a curve is drawn. */
    public enum Style { LINE, FAINT, DASHED, DOTTED, CROSSES, RINGS, DOTS }

    /**
     * A curve.
     *
     * @param colour number of the colour of traces
     */
    public record Curve(double[] x, double[] y, Style style, int colour) {}

    /** A line across at a value, with what it says; NaN for none in that direction. */
    public record Mark(double x, double y, String text) {}

    /**
     * What is shown.
     *
     * @param up what the vertical axis shows, with its unit
     * @param along what the horizontal axis shows
     * @param logarithmic whether the horizontal axis is
     * @param round whether a unit is as long in both directions
     */
    public record Plot(String up, String along, boolean logarithmic, boolean round, List<Curve> curves, List<Mark> marks, double[] x,
            double[] y) {
        /** @return the same between other limits; null for those of the curves */
        public Plot between(double[] xs, double[] ys) {
            return new Plot(up, along, logarithmic, round, curves, marks, xs, ys);
        }

        /** Limits that follow from the curves. */
        public static Plot of(String up, String along, boolean logarithmic, List<Curve> curves, List<Mark> marks) {
            return new Plot(up, along, logarithmic, false, curves, marks, null, null);
        }
    }

    private final Canvas canvas = new Canvas();
    private final Supplier<Theme> theme;
    private Plot plot;
    private PlotFrame frame;
    private PlotFrame held;

    public CurveView(Supplier<Theme> theme) {
        this.theme = theme;
        getChildren().add(canvas);
        setMinSize(160, 110);
    }

    public void show(Plot what) {
        plot = what;
        paint();
    }

    /** @param dragged gets where the pointer was pressed or is dragged to, in the units of the axes */
    public void onDrag(BiConsumer<Double, Double> begun, BiConsumer<Double, Double> dragged) {
        canvas.setCursor(Cursor.HAND);
        canvas.setOnMousePressed(e -> {
            // While something is dragged the limits may follow it; the pointer does not.
            held = frame;
            give(begun, e.getX(), e.getY());
        });
        canvas.setOnMouseDragged(e -> give(dragged, e.getX(), e.getY()));
    }

    private void give(BiConsumer<Double, Double> to, double x, double y) {
        if (held != null && held.contains(x, y)) {
            to.accept(held.valueAcross(x), held.valueUp(y));
        }
    }

    /** Where a value is, in the coordinates of this view; for tests. */
    public double[] placeOf(double x, double y) {
        return new double[] {frame.across(x), frame.up(y)};
    }

    @Override
    protected void layoutChildren() {
        canvas.setWidth(getWidth());
        canvas.setHeight(getHeight());
        paint();
    }

    /** Draws again, in the colours of the theme. */
    public void paint() {
        GraphicsContext g = canvas.getGraphicsContext2D();
        Theme t = theme.get();
        g.setFill(t.card());
        g.fillRect(0, 0, getWidth(), getHeight());
        double w = getWidth() - LEFT - RIGHT;
        double h = getHeight() - TOP - (plot == null || plot.along().isEmpty() ? 12 : BOTTOM);
        if (plot == null || w < 30 || h < 30) {
            return;
        }
        double[] xs = plot.x() != null ? plot.x() : PlotFrame.range(plot.curves().stream().map(Curve::x).toList());
        double[] ys = plot.y() != null ? plot.y() : PlotFrame.range(plot.curves().stream().map(Curve::y).toList());
        if (xs == null || ys == null) {
            return;
        }
        if (plot.logarithmic()) {
            double low = plot.curves().stream().filter(c -> c.x().length > 0).mapToDouble(c -> c.x()[0]).min().orElse(1);
            double high = plot.curves().stream().filter(c -> c.x().length > 0).mapToDouble(c -> c.x()[c.x().length - 1]).max().orElse(10);
            xs = new double[] {Math.log10(low), Math.log10(high)};
        }
        frame = new PlotFrame(LEFT, TOP, w, h, plot.round() ? widened(xs, w * (ys[1] - ys[0]) / h) : xs,
                plot.round() ? widened(ys, h * (xs[1] - xs[0]) / w) : ys, plot.logarithmic());
        frame.paint(g, t, plot.up(), plot.along());
        g.save();
        g.beginPath();
        g.rect(LEFT, TOP, w, h);
        g.clip();
        plot.curves().forEach(c -> curve(g, t, c));
        int row = 0;
        for (Mark m : plot.marks()) {
            // One below the other, where they stand side by side.
            mark(g, t, m, Double.isFinite(m.y()) ? 0 : 15 * row++);
        }
        g.restore();
    }

    /** A range at least so long, about its middle. */
    private static double[] widened(double[] range, double length) {
        double half = Math.max(range[1] - range[0], length) / 2;
        double middle = (range[0] + range[1]) / 2;
        return new double[] {middle - half, middle + half};
    }

    private void curve(GraphicsContext g, Theme t, Curve c) {
        g.setStroke(c.style() == Style.FAINT ? t.faint() : t.trace(c.colour()));
        g.setLineWidth(c.style() == Style.FAINT ? 1 : 1.8);
        if (c.style() == Style.DOTS) {
            g.setFill(t.trace(c.colour()));
            for (int i = 0; i < c.x().length; i++) {
                g.fillOval(frame.across(c.x()[i]) - 2.5, frame.up(c.y()[i]) - 2.5, 5, 5);
            }
            return;
        }
        if (c.style() == Style.CROSSES || c.style() == Style.RINGS) {
            for (int i = 0; i < c.x().length; i++) {
                double x = frame.across(c.x()[i]);
                double y = frame.up(c.y()[i]);
                if (c.style() == Style.RINGS) {
                    g.strokeOval(x - 4, y - 4, 8, 8);
                } else {
                    g.strokeLine(x - 4.5, y - 4.5, x + 4.5, y + 4.5);
                    g.strokeLine(x - 4.5, y + 4.5, x + 4.5, y - 4.5);
                }
            }
            return;
        }
        g.setLineDashes(c.style() == Style.DASHED ? new double[] {6, 4} : c.style() == Style.DOTTED ? new double[] {1.5, 3.5}
                : new double[0]);
        g.beginPath();
        boolean down = false;
        for (int i = 0; i < c.x().length; i++) {
            double x = frame.across(c.x()[i]);
            double y = frame.up(c.y()[i]);
            if (!Double.isFinite(x) || !Double.isFinite(y)) {
                down = false;
                continue;
            }
            // Far outside, coordinates of a picture have no digits left.
            double held = Math.clamp(y, -1e5, 1e5);
            if (down) {
                g.lineTo(Math.clamp(x, -1e5, 1e5), held);
            } else {
                g.moveTo(Math.clamp(x, -1e5, 1e5), held);
            }
            down = true;
        }
        g.stroke();
        g.setLineDashes();
    }

    private void mark(GraphicsContext g, Theme t, Mark m, double below) {
        g.setStroke(t.faint());
        g.setLineWidth(1);
        g.setLineDashes(3, 3);
        boolean upright = Double.isFinite(m.x());
        double x = upright ? frame.across(m.x()) : LEFT + 4;
        double y = Double.isFinite(m.y()) ? frame.up(m.y()) : TOP + 4;
        if (upright && !Double.isFinite(m.y())) {
            g.strokeLine(x, TOP, x, TOP + frame.height());
        } else if (upright) {
            g.setFill(t.ink());
            g.fillOval(x - 3, y - 3, 6, 6);
        } else {
            g.strokeLine(LEFT, y, LEFT + frame.width(), y);
        }
        g.setLineDashes();
        g.setFill(t.ink());
        g.setFont(Theme.sans(11.5));
        g.setTextBaseline(VPos.TOP);
        boolean rightHalf = upright && x > LEFT + frame.width() * 0.62;
        g.setTextAlign(rightHalf ? TextAlignment.RIGHT : TextAlignment.LEFT);
        g.fillText(m.text(), rightHalf ? x - 5 : x + 5, Math.min(y + 3 + below, TOP + frame.height() - 16));
        g.setTextBaseline(VPos.CENTER);
    }
}
