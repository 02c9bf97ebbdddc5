package boldanvil.app.chart;

import boldanvil.app.model.AxisRange;
import boldanvil.app.model.ChartUnit;
import boldanvil.app.model.Figures;
import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.diagram.BenchLayout.Kind;
import boldanvil.core.measure.Edge;
import boldanvil.core.measure.StepMetrics;
import boldanvil.core.report.Ticks;
import boldanvil.core.runs.Mark;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import javafx.geometry.VPos;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.paint.Color;
import javafx.scene.text.Text;
import javafx.scene.text.TextAlignment;

/** Titles, scales and figures of a {@link TraceView}, on canvases beside and above its traces. */
final class TraceLabels {
    /** Figures beside the traces change no more often than one can read them. */
    private static final long LABELS_NANOS = 160_000_000;

    private final Panes p;
    private final Canvas labels = new Canvas();
    private final Canvas rightLabels = new Canvas();
    private final Canvas foot = new Canvas();
    private final Canvas top = new Canvas();
    private final Canvas front = new Canvas();
    private final List<Canvas> heads = new ArrayList<>();
    private long labelled;

    TraceLabels(Panes p) {
        this.p = p;
        front.setVisible(false);
    }

    /** The canvases, the lowest first; titles of panes come before the last. */
    List<Canvas> canvases() {
        List<Canvas> all = new ArrayList<>(List.of(labels, rightLabels, foot, top));
        all.addAll(heads);
        all.add(front);
        return all;
    }

    /** Makes a canvas for the title of each pane; true when their number has changed. */
    boolean fit(int panes) {
        boolean changed = heads.size() != panes;
        while (heads.size() < panes) {
            heads.add(new Canvas());
        }
        while (heads.size() > panes) {
            heads.removeLast();
        }
        return changed;
    }

    /** Draws the time axis, and the others when they are due or out of date. */
    void paint(Theme t, boolean due) {
        timeAxis(t);
        long now = System.nanoTime();
        if (due || now - labelled > LABELS_NANOS) {
            labelled = now;
            all(t);
        }
    }

    private static GraphicsContext clear(Canvas c, double x, double y, double w, double h) {
        c.setLayoutX(x);
        c.setLayoutY(y);
        if (c.getWidth() != w || c.getHeight() != h) {
            c.setWidth(w);
            c.setHeight(h);
        }
        var g = c.getGraphicsContext2D();
        g.clearRect(0, 0, w, h);
        g.setTextBaseline(VPos.CENTER);
        return g;
    }

    private void timeAxis(Theme t) {
        var g = clear(foot, 0, p.height - Panes.BOTTOM, p.width, Panes.BOTTOM);
        g.setFill(t.card());
        g.fillRect(0, 0, p.width, Panes.BOTTOM);
        if (p.charts.isEmpty()) {
            return;
        }
        g.setFont(Theme.sans(11.5));
        g.setFill(t.ink());
        g.setTextAlign(TextAlignment.CENTER);
        double a = p.begin();
        double b = a + p.view.span();
        for (double tick : Ticks.of(a, b, 8)) {
            g.fillText(Ticks.text(tick, a, b, 8), Math.min(p.xOf(tick), p.width - 14), 11);
        }
        g.setFill(t.faint());
        double d = p.cursorB - p.cursorA;
        String cursors = p.cursorsShown ? "     A " + Figures.seconds(p.cursorA) + "    B " + Figures.seconds(p.cursorB) + "    B − A "
                + Figures.seconds(d)
                + (d == 0 ? "" : "    1 / (B − A) " + Figures.text(Math.abs(1 / d), 4) + " Hz") : "";
        g.fillText("time [s]" + cursors, Panes.LEFT + p.plotWidth() / 2, 26);
    }

    private void all(Theme t) {
        double h = p.height - Panes.BOTTOM;
        var g = clear(labels, 0, 0, Panes.LEFT, h);
        var r = clear(rightLabels, p.width - p.right(), 0, p.right(), h);
        for (int i = 0; i < p.charts.size(); i++) {
            double plotTop = p.paneTop(i) + Panes.HEAD;
            double plotHeight = Math.max(10, p.paneHeight() - Panes.HEAD);
            Chart c = p.charts.get(i);
            if (c.kind() == Kind.LOGIC) {
                lineNames(g, t, c, plotTop, plotHeight);
            } else {
                scale(g, t, p.ranges(c)[0], plotTop, plotHeight, Panes.LEFT - 6, TextAlignment.RIGHT);
                if (!c.rightTaps().isEmpty()) {
                    scale(r, t, p.ranges(c)[1], plotTop, plotHeight, 6, TextAlignment.LEFT);
                }
            }
            head(t, i);
        }
        top(t);
        front(t);
        if (p.charts.isEmpty() || !p.failure.isEmpty()) {
            front.setVisible(true);
            var f = clear(front, 0, 0, p.width, h);
            f.setFill(p.failure.isEmpty() ? t.faint() : t.madder());
            f.setFont(Theme.sans(14));
            f.setTextAlign(TextAlignment.CENTER);
            f.fillText(p.failure.isEmpty() ? "Nothing to show yet." : p.failure, p.width / 2, h / 2);
        }
    }

    private static void scale(GraphicsContext g, Theme t, AxisRange axis, double plotTop, double plotHeight, double x,
            TextAlignment align) {
        g.setFont(Theme.sans(11.5));
        g.setFill(t.ink());
        g.setTextAlign(align);
        int wanted = Panes.wanted(axis, plotHeight);
        for (double tick : Ticks.of(axis.low(), axis.high(), wanted)) {
            double y = plotTop + plotHeight - (tick - axis.low()) / (axis.high() - axis.low()) * plotHeight;
            g.fillText(Ticks.text(tick, axis.low(), axis.high(), wanted), x, Math.clamp(y, plotTop + 5, plotTop + plotHeight - 5));
        }
        if (axis.isLocked()) {
            g.setFill(t.amber());
            g.setFont(Theme.bold(10));
            g.fillText("locked", x, plotTop - Panes.HEAD / 2 + 1);
        }
    }

    private static void lineNames(GraphicsContext g, Theme t, Chart c, double plotTop, double plotHeight) {
        double strip = plotHeight / Math.max(1, c.taps().size());
        g.setTextAlign(TextAlignment.RIGHT);
        g.setFont(Theme.sans(11));
        for (int k = 0; k < c.taps().size(); k++) {
            g.setFill(t.ink());
            g.fillText(fit(Figures.shortName(c.taps().get(k)), 60, g.getFont()), Panes.LEFT - 6, plotTop + (k + 0.5) * strip);
        }
    }

    /** A text cut to a width, with an ellipsis where something is missing. */
    private static String fit(String text, double width, javafx.scene.text.Font font) {
        String s = text;
        while (s.length() > 2 && width(s, font) > width) {
            s = s.substring(0, s.length() - 2) + "…";
        }
        return s;
    }

    private static double width(String s, javafx.scene.text.Font font) {
        var text = new Text(s);
        text.setFont(font);
        return text.getLayoutBounds().getWidth();
    }

    /** Title, unit, and name and figures of each trace with a piece of its line. */
    private void head(Theme t, int index) {
        Chart c = p.charts.get(index);
        double start = p.ranges(c)[0].isLocked() ? Panes.LEFT + 2 : 8;
        var g = clear(heads.get(index), start, p.paneTop(index), p.width - start, Panes.HEAD);
        g.setTextAlign(TextAlignment.LEFT);
        g.setFont(Theme.bold(12.5));
        g.setFill(t.ink());
        String unit = unit(c);
        String title = c.title() + (unit.isEmpty() ? "" : " [" + unit + "]") + (c.rightTaps().isEmpty() ? ""
                : ", right axis" + (c.rightUnit().isEmpty() ? "" : " [" + c.rightUnit() + "]"))
                + (c.period() > 0 ? ", mean over " + Figures.seconds(c.period()) : "");
        g.fillText(title, 0, Panes.HEAD / 2);
        double free = p.width - start - Panes.RIGHT - width(title, g.getFont()) - 24;
        var taps = c.allTaps();
        g.setTextAlign(TextAlignment.RIGHT);
        g.setFont(Theme.sans(11.5));
        boolean figures = taps.stream().mapToDouble(tap -> width(Figures.shortName(tap) + readout(c, tap), g.getFont()) + 40).sum() < free;
        double x = p.width - start - Panes.RIGHT;
        for (int k = taps.size() - 1; k >= 0; k--) {
            String name = Figures.shortName(taps.get(k)) + (figures ? readout(c, taps.get(k)) : "");
            name = fit(name, Math.max(20, free / taps.size() - 36), g.getFont());
            g.setFill(t.ink());
            g.fillText(name, x, Panes.HEAD / 2);
            x -= width(name, g.getFont()) + 6;
            g.setStroke(t.trace(k));
            g.setLineWidth(2.2);
            g.strokeLine(x - 16, Panes.HEAD / 2, x, Panes.HEAD / 2);
            x -= 30;
        }
    }

    private String readout(Chart c, String tap) {
        if (p.layers.isEmpty()) {
            return "";
        }
        var samples = p.layers.getFirst().samples();
        int column = samples.indexOf(tap);
        if (column < 0) {
            return "  –";
        }
        boolean onRight = c.rightTaps().contains(tap);
        var unit = c.kind() == Kind.LOGIC ? new ChartUnit(boldanvil.core.quantity.Unit.ONE, 1) : ChartUnit.of(c, onRight);
        AxisRange axis = p.ranges(c)[onRight ? 1 : 0];
        if (p.cursorsShown) {
            double sa = samples.valueAt(column, p.cursorA);
            double sb = samples.valueAt(column, p.cursorB);
            return "  A " + figure(unit.at(sa), axis) + "  B " + figure(unit.at(sb), axis) + "  Δ " + figure(unit.difference(sb - sa),
                    axis);
        }
        return "  " + figure(unit.at(samples.valueAt(column, p.view.isHeld() ? p.view.end() : Double.POSITIVE_INFINITY)), axis);
    }

    /** A value with the digits that mean something on its scale. */
    private static String figure(double v, AxisRange axis) {
        double grain = Math.pow(10, Math.floor(Math.log10(Math.max(1e-300, axis.high() - axis.low()))) - 4);
        return Figures.text(Math.rint(v / grain) * grain, 5);
    }

    private void top(Theme t) {
        var g = clear(top, 0, 0, p.width, Math.max(1, p.marksHeight()));
        if (p.marksHeight() == 0) {
            return;
        }
        g.setFont(Theme.bold(10));
        g.setTextAlign(TextAlignment.CENTER);
        for (Mark m : p.marks) {
            tag(g, t, p.xOf(m.seconds()), m.kind().label().substring(0, 1).toUpperCase(Locale.ROOT), Panes.colour(t, m.kind()));
        }
        if (!Double.isNaN(p.trigger)) {
            tag(g, t, p.xOf(p.trigger), "T", t.steel());
        }
        if (p.cursorsShown) {
            tag(g, t, p.xOf(p.cursorA), "A", t.ember());
            tag(g, t, p.xOf(p.cursorB), "B", t.ember());
        }
    }

    private void tag(GraphicsContext g, Theme t, double x, String letter, Color colour) {
        if (x < Panes.LEFT || x > Panes.LEFT + p.plotWidth()) {
            return;
        }
        g.setFill(colour);
        g.fillRoundRect(x - 7, 1, 14, 13, 4, 4);
        g.setFill(t.card());
        g.fillText(letter, x, 8);
    }

    /** Figures at the steps, and times between edges, where they have room. */
    private void front(Theme t) {
        boolean any = !p.annotations.isEmpty() || p.cursorsShown && p.marksHeight() == 0 || p.view.isHeld()
                && p.charts.stream().anyMatch(c -> c.kind() == Kind.LOGIC);
        front.setVisible(any);
        if (!any) {
            return;
        }
        var g = clear(front, 0, 0, p.width, p.height - Panes.BOTTOM);
        front.setMouseTransparent(true);
        g.setFont(Theme.sans(11));
        g.setTextAlign(TextAlignment.LEFT);
        for (int i = 0; i < p.charts.size(); i++) {
            for (TraceView.Annotation a : p.annotations) {
                if (p.charts.get(i).allTaps().contains(a.tap())) {
                    stepFigures(g, t, i, a.step(), ChartUnit.of(p.charts.get(i), p.charts.get(i).rightTaps().contains(a.tap())));
                }
            }
            if (p.charts.get(i).kind() == Kind.LOGIC && p.view.isHeld()) {
                edgeTimes(g, t, p.charts.get(i), i);
            }
        }
        if (p.cursorsShown && p.marksHeight() == 0 && !p.charts.isEmpty()) {
            g.setFont(Theme.bold(10));
            g.setTextAlign(TextAlignment.CENTER);
            g.translate(0, Panes.HEAD);
            tag(g, t, p.xOf(p.cursorA), "A", t.ember());
            tag(g, t, p.xOf(p.cursorB), "B", t.ember());
            g.translate(0, -Panes.HEAD);
        }
    }

    private void stepFigures(GraphicsContext g, Theme t, int pane, StepMetrics s, ChartUnit unit) {
        double x = p.xOf(s.start()) + 6;
        if (x < Panes.LEFT || x > Panes.LEFT + p.plotWidth()) {
            return;
        }
        double y = p.paneTop(pane) + p.paneHeight() - 34;
        String first = "rise " + Figures.seconds(s.riseTime()) + "   settling (2 %) " + (Double.isNaN(s.settlingTime()) ? "never"
                : Figures.seconds(s.settlingTime()));
        String second = "overshoot " + Figures.text(100 * s.overshootShare(), 3) + " %   peak " + Figures.text(unit.at(s.peak()), 4)
                + " at " + Figures.seconds(s.peakTime())
                + "   final error " + Figures.text(unit.difference(s.finalError()), 3);
        double w = Math.max(width(first, g.getFont()), width(second, g.getFont())) + 12;
        double at = Math.min(x, Panes.LEFT + p.plotWidth() - w - 4);
        g.setFill(Color.color(t.card().getRed(), t.card().getGreen(), t.card().getBlue(), 0.9));
        g.fillRoundRect(at, y - 9, w, 34, 5, 5);
        g.setFill(t.ink());
        g.fillText(first, at + 6, y);
        g.fillText(second, at + 6, y + 16);
    }

    private void edgeTimes(GraphicsContext g, Theme t, Chart c, int pane) {
        double strip = (p.paneHeight() - Panes.HEAD) / Math.max(1, c.taps().size());
        var samples = p.layers.isEmpty() ? null : p.layers.getFirst().samples();
        g.setFont(Theme.sans(10));
        g.setTextAlign(TextAlignment.CENTER);
        g.setFill(t.faint());
        for (int k = 0; samples != null && k < c.taps().size(); k++) {
            int column = samples.indexOf(c.taps().get(k));
            if (column < 0 || samples.count(column, p.view.begin(), p.view.end()) > 200_000) {
                continue;
            }
            var edges = Edge.find(samples.series(column, p.view.begin(), p.view.end()), 0.5, 0.1);
            for (int i = 1; i < edges.size() && edges.size() < 200; i++) {
                double a = p.xOf(edges.get(i - 1).seconds());
                double b = p.xOf(edges.get(i).seconds());
                if (b - a > 54) {
                    g.fillText(Figures.seconds(edges.get(i).seconds() - edges.get(i - 1).seconds()), (a + b) / 2,
                            p.paneTop(pane) + Panes.HEAD + (k + 0.52) * strip);
                }
            }
        }
    }

    private static String unit(Chart c) {
        return c.base() > 0 ? "per unit of " + Figures.text(c.base()) + " " + c.unit() : c.unit();
    }
}
