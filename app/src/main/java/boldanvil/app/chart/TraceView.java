package boldanvil.app.chart;

import boldanvil.app.shell.Theme;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.quantity.Units;
import boldanvil.core.runs.SampleStore;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.Supplier;
import javafx.geometry.VPos;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.input.MouseEvent;
import javafx.scene.input.ScrollEvent;
import javafx.scene.layout.Region;
import javafx.scene.text.TextAlignment;

/** Chart panes one above the other, with cursors and readouts. Several stores are overlaid, each with its own dashes. */
public final class TraceView extends Region {
    private static final double LEFT = 66;
    private static final double RIGHT = 12;
    private static final double BOTTOM = 36;
    private static final double GAP = 10;
    private static final double HEAD = 20;
    private static final double[][] DASHES = {null, {7, 4}, {2, 3}};

    /** A run to draw. */
    public record Layer(String name, SampleStore store) {}

    private final Canvas canvas = new Canvas();
    private final Supplier<Theme> theme;
    private List<Chart> charts = List.of();
    private List<Layer> layers = List.of();
    private double span = 5;
    private double end;
    private boolean hold;
    private boolean autoscale = true;
    private boolean cursorsShown;
    private double cursorA = Double.NaN;
    private double cursorB = Double.NaN;
    private boolean movingB;
    private double[][] ranges = new double[0][];
    private double dragX = Double.NaN;

    public TraceView(Supplier<Theme> theme) {
        this.theme = theme;
        getChildren().add(canvas);
        setMinSize(200, 160);
        setId("traces");
        addEventHandler(MouseEvent.MOUSE_PRESSED, this::pressed);
        addEventHandler(MouseEvent.MOUSE_DRAGGED, this::dragged);
        addEventHandler(ScrollEvent.SCROLL, e -> {
            setSpan(span * (e.getDeltaY() > 0 ? 0.8 : 1.25));
            paint();
            e.consume();
        });
    }

    public void show(List<Chart> what, List<Layer> runs) {
        if (!what.equals(charts)) {
            ranges = new double[what.size()][];
            cursorA = Double.NaN;
            cursorB = Double.NaN;
        }
        charts = List.copyOf(what);
        layers = List.copyOf(runs);
        paint();
    }

    /** Width of the time axis in seconds. */
    public void setSpan(double seconds) {
        span = Math.clamp(seconds, 0.001, 3600);
    }

    public double span() {
        return span;
    }

    /** The last instant shown, while not on hold. */
    public void setEnd(double seconds) {
        if (!hold) {
            end = seconds;
        }
    }

    public double end() {
        return end;
    }

    /** Whether the picture stands still while the run goes on. */
    public void setHold(boolean on) {
        hold = on;
    }

    /** Whether each pane follows its values, or keeps the scale it has. */
    public void setAutoscale(boolean on) {
        autoscale = on;
    }

    public void setCursors(boolean on) {
        cursorsShown = on;
        paint();
    }

    private double begin() {
        return Math.max(0, end - span);
    }

    @Override
    protected void layoutChildren() {
        canvas.setWidth(getWidth());
        canvas.setHeight(getHeight());
        paint();
    }

    private double timeAt(double x) {
        return begin() + (x - LEFT) / Math.max(1, getWidth() - LEFT - RIGHT) * span;
    }

    private double xOf(double time) {
        return LEFT + (time - begin()) / span * (getWidth() - LEFT - RIGHT);
    }

    private void pressed(MouseEvent e) {
        dragX = e.getX();
        if (cursorsShown) {
            movingB = Math.abs(xOf(cursorB) - e.getX()) < Math.abs(xOf(cursorA) - e.getX());
            dragged(e);
        }
    }

    private void dragged(MouseEvent e) {
        if (cursorsShown) {
            double t = Math.clamp(timeAt(e.getX()), 0, Math.max(end, span));
            if (movingB) {
                cursorB = t;
            } else {
                cursorA = t;
            }
        } else if (hold) {
            end = Math.max(span, end - (e.getX() - dragX) / (getWidth() - LEFT - RIGHT) * span);
            dragX = e.getX();
        }
        paint();
    }

    /** Draws everything anew. */
    public void paint() {
        double w = getWidth();
        double h = getHeight();
        if (w < 50 || h < 50) {
            return;
        }
        if (cursorsShown && Double.isNaN(cursorA)) {
            cursorA = begin() + span * 0.35;
            cursorB = begin() + span * 0.65;
        }
        var g = canvas.getGraphicsContext2D();
        var t = theme.get();
        g.setFill(t.card());
        g.fillRect(0, 0, w, h);
        g.setTextBaseline(VPos.CENTER);
        if (charts.isEmpty()) {
            g.setFill(t.faint());
            g.setFont(Theme.sans(14));
            g.setTextAlign(TextAlignment.CENTER);
            g.fillText("Nothing to show yet.", w / 2, h / 2);
            return;
        }
        double pane = (h - BOTTOM - GAP * (charts.size() - 1)) / charts.size();
        for (int i = 0; i < charts.size(); i++) {
            pane(g, t, i, i * (pane + GAP), pane);
        }
        timeAxis(g, t, h - BOTTOM);
        if (cursorsShown) {
            cursor(g, t, cursorA, "A", h - BOTTOM);
            cursor(g, t, cursorB, "B", h - BOTTOM);
        }
    }

    private void timeAxis(GraphicsContext g, Theme t, double y) {
        g.setFont(Theme.sans(11.5));
        g.setFill(t.ink());
        g.setTextAlign(TextAlignment.CENTER);
        double a = begin();
        double b = begin() + span;
        for (double tick : Ticks.of(a, b, 8)) {
            g.fillText(Ticks.text(tick, a, b, 8), Math.min(xOf(tick), getWidth() - 14), y + 11);
        }
        g.setFill(t.faint());
        String cursors = cursorsShown ? String.format(Locale.ROOT, "     A %.4f s    B %.4f s    B − A %.4f s", cursorA, cursorB,
                cursorB - cursorA) : "";
        g.fillText("time [s]" + cursors, LEFT + (getWidth() - LEFT - RIGHT) / 2, y + 26);
    }

    private void pane(GraphicsContext g, Theme t, int index, double top, double height) {
        Chart chart = charts.get(index);
        double w = getWidth() - LEFT - RIGHT;
        double plotTop = top + HEAD;
        double plotHeight = Math.max(10, height - HEAD);
        double factor = factor(chart.unit());
        int bins = (int) Math.max(2, w);
        List<double[][]> traces = new ArrayList<>();
        double low = Double.POSITIVE_INFINITY;
        double high = Double.NEGATIVE_INFINITY;
        for (Layer layer : layers) {
            for (String tap : chart.taps()) {
                int column = layer.store().indexOf(tap);
                double[][] e = column < 0 ? null : layer.store().envelope(column, begin(), begin() + span, bins);
                traces.add(e);
                for (int i = 0; e != null && i < bins; i++) {
                    low = Math.min(low, Double.isNaN(e[0][i]) ? low : e[0][i] / factor);
                    high = Math.max(high, Double.isNaN(e[1][i]) ? high : e[1][i] / factor);
                }
            }
        }
        double[] range = range(index, low, high);
        frame(g, t, chart, range, plotTop, plotHeight);
        legend(g, t, chart, top, factor);
        g.save();
        g.beginPath();
        g.rect(LEFT, plotTop, w, plotHeight);
        g.clip();
        for (int k = 0; k < traces.size(); k++) {
            if (traces.get(k) != null) {
                g.setStroke(t.trace(k % chart.taps().size()));
                g.setLineDashes(DASHES[Math.min(k / chart.taps().size(), DASHES.length - 1)]);
                trace(g, traces.get(k), factor, range, plotTop, plotHeight);
            }
        }
        g.setLineDashes(null);
        g.restore();
    }

    private static double factor(String unit) {
        if (unit.isEmpty()) {
            return 1;
        }
        try {
            return Units.toSi(unit);
        } catch (IllegalArgumentException e) {
            return 1;
        }
    }

    private double[] range(int index, double low, double high) {
        if (!autoscale && ranges[index] != null) {
            return ranges[index];
        }
        if (!(low <= high)) {
            return ranges[index] != null ? ranges[index] : new double[] {0, 1};
        }
        // A signal that stays at zero stands in the middle of a plain scale.
        double least = low == 0 && high == 0 ? 1 : Math.max(1e-9, Math.max(Math.abs(low), Math.abs(high)) * 0.02);
        double room = Math.max((high - low) * 0.07, least);
        ranges[index] = new double[] {low - room, high + room};
        return ranges[index];
    }

    private void frame(GraphicsContext g, Theme t, Chart chart, double[] range, double top, double height) {
        double w = getWidth() - LEFT - RIGHT;
        g.setLineWidth(1);
        g.setStroke(t.rule());
        g.setFont(Theme.sans(11.5));
        g.setTextAlign(TextAlignment.RIGHT);
        int wanted = (int) Math.max(3, height / 24);
        for (double tick : Ticks.of(range[0], range[1], wanted)) {
            double y = Math.round(top + height - (tick - range[0]) / (range[1] - range[0]) * height) + 0.5;
            g.strokeLine(LEFT, y, LEFT + w, y);
            g.setFill(t.ink());
            g.fillText(Ticks.text(tick, range[0], range[1], wanted), LEFT - 6, y);
        }
        for (double tick : Ticks.of(begin(), begin() + span, 8)) {
            double x = Math.round(xOf(tick)) + 0.5;
            g.strokeLine(x, top, x, top + height);
        }
        g.setStroke(t.faint());
        g.strokeRect(LEFT + 0.5, Math.round(top) + 0.5, w - 1, height - 1);
        g.setTextAlign(TextAlignment.LEFT);
        g.setFont(Theme.bold(12.5));
        g.setFill(t.ink());
        g.fillText(chart.title() + (chart.unit().isEmpty() ? "" : " [" + chart.unit() + "]"), 8, top - HEAD / 2);
    }

    /** Name, newest value and values at the cursors of each trace, with a piece of its line. */
    private void legend(GraphicsContext g, Theme t, Chart chart, double top, double factor) {
        double x = getWidth() - RIGHT;
        g.setTextAlign(TextAlignment.RIGHT);
        for (int k = chart.taps().size() - 1; k >= 0; k--) {
            String tap = chart.taps().get(k);
            String name = tap.substring(tap.lastIndexOf('.') + 1).replace('_', ' ') + readout(tap, factor);
            g.setFont(Theme.sans(11.5));
            g.setFill(t.ink());
            g.fillText(name, x, top + HEAD / 2);
            var text = new javafx.scene.text.Text(name);
            text.setFont(g.getFont());
            x -= text.getLayoutBounds().getWidth() + 6;
            g.setStroke(t.trace(k));
            g.setLineWidth(2.2);
            g.strokeLine(x - 16, top + HEAD / 2, x, top + HEAD / 2);
            x -= 34;
        }
    }

    private String readout(String tap, double factor) {
        if (layers.isEmpty()) {
            return "";
        }
        var store = layers.getFirst().store();
        int column = store.indexOf(tap);
        if (column < 0) {
            return "";
        }
        if (cursorsShown) {
            return String.format(Locale.ROOT, "  A %.4g  B %.4g", store.valueAt(column, cursorA) / factor,
                    store.valueAt(column, cursorB) / factor);
        }
        double v = hold ? store.valueAt(column, end) : store.latest(column);
        return Double.isNaN(v) ? "" : String.format(Locale.ROOT, "  %.4g", v / factor);
    }

    private static void trace(GraphicsContext g, double[][] e, double factor, double[] range, double top, double height) {
        g.setLineWidth(1.6);
        g.beginPath();
        boolean open = false;
        double last = Double.NaN;
        for (int i = 0; i < e[0].length; i++) {
            if (Double.isNaN(e[0][i])) {
                continue;
            }
            double x = LEFT + i;
            double a = y(e[0][i] / factor, range, top, height);
            double b = y(e[1][i] / factor, range, top, height);
            // Enter each column on the side nearer to where the last one ended.
            boolean down = Math.abs(last - b) < Math.abs(last - a);
            double first = down ? b : a;
            last = down ? a : b;
            if (open) {
                g.lineTo(x, first);
            } else {
                g.moveTo(x, first);
                open = true;
            }
            if (first != last) {
                g.lineTo(x, last);
            }
        }
        g.stroke();
    }

    private static double y(double v, double[] range, double top, double height) {
        return top + height - (v - range[0]) / (range[1] - range[0]) * height;
    }

    private void cursor(GraphicsContext g, Theme t, double time, String name, double bottom) {
        double x = xOf(time);
        if (x < LEFT || x > getWidth() - RIGHT) {
            return;
        }
        g.setStroke(t.ember());
        g.setLineWidth(1.2);
        g.setLineDashes(4, 3);
        g.strokeLine(x, HEAD, x, bottom);
        g.setLineDashes(null);
        g.setFill(t.ember());
        g.fillRoundRect(x - 8, HEAD - 2, 16, 15, 4, 4);
        g.setFill(t.card());
        g.setFont(Theme.bold(11));
        g.setTextAlign(TextAlignment.CENTER);
        g.fillText(name, x, HEAD + 6);
    }
}
