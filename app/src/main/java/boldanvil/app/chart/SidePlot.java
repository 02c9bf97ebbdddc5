package boldanvil.app.chart;

import boldanvil.app.model.ChartUnit;
import boldanvil.app.model.Figures;
import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.measure.Histogram;
import boldanvil.core.measure.Spectrum;
import boldanvil.core.report.Ticks;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Executor;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.Supplier;
import javafx.application.Platform;
import javafx.geometry.VPos;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.layout.Region;
import javafx.scene.text.TextAlignment;

/** One signal over another, a spectrum or a histogram of what the traces show. It is computed in the background. */
public final class SidePlot extends Region {
    private static final double LEFT = 62;
    private static final double RIGHT = 14;
    private static final double HEAD = 22;
    private static final double BOTTOM = 34;
    private static final int MOST = 400_000;
    private static final int CLASSES = 40;

    /**
     * A curve.
     *
     * @param bars whether its points are bars from 0
     */
    private record Curve(String name, double[] x, double[] y, boolean bars) {}

    private record Picture(List<Curve> curves, String xName, String yName) {}

    private final Chart chart;
    private final Supplier<Theme> theme;
    private final Executor background;
    private final Canvas canvas = new Canvas();
    private final AtomicBoolean busy = new AtomicBoolean();
    private Spectrum.Window window = Spectrum.Window.HANN;
    private Picture picture = new Picture(List.of(), "", "");

    public SidePlot(Chart chart, Supplier<Theme> theme, Executor background) {
        this.chart = chart;
        this.theme = theme;
        this.background = background;
        getChildren().add(canvas);
        setMinSize(160, 120);
        setId("plot-" + chart.title());
    }

    public Chart chart() {
        return chart;
    }

    /** The window of a spectrum. */
    public void setWindow(Spectrum.Window w) {
        window = w;
    }

    /** Points of the curves on show, for copying and for tests. */
    public List<double[][]> points() {
        return picture.curves().stream().map(c -> new double[][] {c.x(), c.y()}).toList();
    }

    /** Computes it again for a span of time, unless it is still at it. */
    public void update(Samples samples, double from, double to) {
        if (samples == null || !busy.compareAndSet(false, true)) {
            return;
        }
        var w = window;
        background.execute(() -> {
            try {
                Picture next = compute(samples, from, to, w);
                Platform.runLater(() -> {
                    picture = next;
                    paint();
                });
            } finally {
                busy.set(false);
            }
        });
    }

    private Picture compute(Samples samples, double from, double to, Spectrum.Window w) {
        List<Series> series = new ArrayList<>();
        for (String tap : chart.taps()) {
            int column = samples.indexOf(tap);
            if (column >= 0) {
                long n = samples.count(column, from, to);
                series.add(samples.series(column, n > MOST ? to - (to - from) * MOST / n : from, to));
            }
        }
        var unitOf = ChartUnit.of(chart, false);
        String unit = chart.unit().isEmpty() ? "" : " [" + chart.unit() + "]";
        List<Curve> curves = new ArrayList<>();
        switch (chart.kind()) {
            case SPECTRUM -> {
                for (Series s : series) {
                    var spectrum = Spectrum.of(s, w);
                    double[] db = java.util.Arrays.stream(spectrum.amplitudes())
                            .map(a -> 20 * Math.log10(Math.max(1e-12, unitOf.difference(a)))).toArray();
                    curves.add(thinned(s.name(), spectrum.frequencies(), db));
                }
                return new Picture(curves, "frequency [Hz], " + w.label() + " window",
                        "amplitude [dB of 1 " + (chart.unit().isEmpty() ? "" : chart.unit()) + "]");
            }
            case HISTOGRAM -> {
                for (Series s : series) {
                    var h = Histogram.of(s.values(), CLASSES);
                    double[] x = new double[CLASSES];
                    double[] y = new double[CLASSES];
                    for (int i = 0; i < CLASSES; i++) {
                        x[i] = unitOf.at(h.least() + (i + 0.5) * h.width());
                        y[i] = h.total() == 0 ? 0 : 100.0 * h.counts()[i] / h.total();
                    }
                    curves.add(new Curve(s.name(), x, y, true));
                }
                return new Picture(curves, "value" + unit, "share [%]");
            }
            default -> {
                for (int k = 1; k < series.size(); k++) {
                    curves.add(over(series.getFirst(), series.get(k), unitOf));
                }
                return new Picture(curves, series.isEmpty() ? "" : Figures.shortName(series.getFirst().name()) + unit,
                        series.size() == 2 ? Figures.shortName(series.get(1).name()) + unit : unit.strip());
            }
        }
    }

    /** One signal over another at the other's instants, as many as can be seen. */
    private static Curve over(Series x, Series y, ChartUnit unit) {
        int stride = Math.max(1, x.size() / 4_000);
        int n = x.size() / stride;
        double[] a = new double[n];
        double[] b = new double[n];
        for (int i = 0; i < n; i++) {
            a[i] = unit.at(x.values()[i * stride]);
            b[i] = unit.at(y.at(x.times()[i * stride]));
        }
        return new Curve(y.name(), a, b, false);
    }

    /** The greatest of neighbouring lines, where there are more than can be seen. */
    private static Curve thinned(String name, double[] x, double[] y) {
        int stride = Math.max(1, x.length / 1_500);
        int n = x.length / stride;
        double[] a = new double[n];
        double[] b = new double[n];
        for (int i = 0; i < n; i++) {
            int best = i * stride;
            for (int j = best; j < (i + 1) * stride; j++) {
                best = y[j] > y[best] ? j : best;
            }
            a[i] = x[best];
            b[i] = y[best];
        }
        return new Curve(name, a, b, false);
    }

    @Override
    protected void layoutChildren() {
        canvas.setWidth(getWidth());
        canvas.setHeight(getHeight());
        paint();
    }

    /** Draws it again. */
    public void paint() {
        double w = getWidth();
        double h = getHeight();
        if (w < 40 || h < 60) {
            return;
        }
        var g = canvas.getGraphicsContext2D();
        var t = theme.get();
        g.setFill(t.card());
        g.fillRect(0, 0, w, h);
        g.setTextBaseline(VPos.CENTER);
        g.setFill(t.ink());
        g.setFont(Theme.bold(12.5));
        g.setTextAlign(TextAlignment.LEFT);
        g.fillText(chart.title(), 8, HEAD / 2);
        double[] x = range(picture.curves().stream().map(Curve::x).toList(),
                chart.kind() == boldanvil.core.diagram.BenchLayout.Kind.SPECTRUM);
        double[] y = range(picture.curves().stream().map(Curve::y).toList(), false);
        if (chart.kind() == boldanvil.core.diagram.BenchLayout.Kind.SPECTRUM) {
            y[0] = Math.max(y[0], y[1] - 120);
        } else if (chart.kind() == boldanvil.core.diagram.BenchLayout.Kind.HISTOGRAM) {
            y[0] = 0;
        }
        axes(g, t, x, y);
        g.save();
        g.beginPath();
        g.rect(LEFT, HEAD, w - LEFT - RIGHT, h - HEAD - BOTTOM);
        g.clip();
        for (int k = 0; k < picture.curves().size(); k++) {
            curve(g, t, picture.curves().get(k), k, x, y);
        }
        g.restore();
        if (picture.curves().isEmpty()) {
            g.setFill(t.faint());
            g.setFont(Theme.sans(12));
            g.setTextAlign(TextAlignment.CENTER);
            g.fillText("Nothing to show yet.", w / 2, h / 2);
        }
    }

    private static double[] range(List<double[]> all, boolean exact) {
        double low = Double.POSITIVE_INFINITY;
        double high = Double.NEGATIVE_INFINITY;
        for (double[] v : all) {
            for (double d : v) {
                low = d < low ? d : low;
                high = d > high ? d : high;
            }
        }
        if (!(low <= high)) {
            return new double[] {0, 1};
        }
        double room = exact ? 0 : Math.max((high - low) * 0.06, Math.max(1e-9, Math.abs(high) * 1e-3));
        return new double[] {low - room, high + room};
    }

    private void axes(GraphicsContext g, Theme t, double[] x, double[] y) {
        double w = getWidth() - LEFT - RIGHT;
        double h = getHeight() - HEAD - BOTTOM;
        g.setFont(Theme.sans(11));
        g.setLineWidth(1);
        int across = Ticks.enough(x[0], x[1], (int) Math.max(2, w / 80));
        int up = Ticks.enough(y[0], y[1], (int) Math.max(2, h / 28));
        g.setTextAlign(TextAlignment.CENTER);
        for (double tick : Ticks.of(x[0], x[1], across)) {
            double at = Math.round(LEFT + (tick - x[0]) / (x[1] - x[0]) * w) + 0.5;
            g.setStroke(t.rule());
            g.strokeLine(at, HEAD, at, HEAD + h);
            g.setFill(t.ink());
            g.fillText(Ticks.text(tick, x[0], x[1], across), Math.min(at, getWidth() - 18), HEAD + h + 10);
        }
        g.setTextAlign(TextAlignment.RIGHT);
        for (double tick : Ticks.of(y[0], y[1], up)) {
            double at = Math.round(HEAD + h - (tick - y[0]) / (y[1] - y[0]) * h) + 0.5;
            g.setStroke(t.rule());
            g.strokeLine(LEFT, at, LEFT + w, at);
            g.setFill(t.ink());
            g.fillText(Ticks.text(tick, y[0], y[1], up), LEFT - 5, at);
        }
        g.setStroke(t.faint());
        g.strokeRect(LEFT + 0.5, HEAD + 0.5, w - 1, h - 1);
        g.setFill(t.faint());
        g.setTextAlign(TextAlignment.CENTER);
        g.fillText(picture.xName(), LEFT + w / 2, getHeight() - 9);
        g.setTextAlign(TextAlignment.RIGHT);
        g.fillText(picture.yName(), getWidth() - RIGHT, HEAD / 2);
    }

    private void curve(GraphicsContext g, Theme t, Curve c, int k, double[] x, double[] y) {
        double w = getWidth() - LEFT - RIGHT;
        double h = getHeight() - HEAD - BOTTOM;
        g.setStroke(t.trace(k));
        g.setFill(t.trace(k));
        g.setLineWidth(1.4);
        g.beginPath();
        boolean open = false;
        for (int i = 0; i < c.x().length; i++) {
            double px = LEFT + (c.x()[i] - x[0]) / (x[1] - x[0]) * w;
            double py = HEAD + h - (c.y()[i] - y[0]) / (y[1] - y[0]) * h;
            if (c.bars()) {
                double wide = Math.max(1, w / CLASSES * 0.8);
                g.fillRect(px - wide / 2, py, wide, HEAD + h - py);
            } else if (Double.isNaN(py)) {
                open = false;
            } else if (open) {
                g.lineTo(px, py);
            } else {
                g.moveTo(px, py);
                open = true;
            }
        }
        if (!c.bars()) {
            g.stroke();
        }
    }
}
