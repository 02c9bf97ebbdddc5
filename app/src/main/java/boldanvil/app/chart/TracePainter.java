package boldanvil.app.chart;

import boldanvil.app.model.AxisRange;
import boldanvil.app.model.ChartUnit;
import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.diagram.BenchLayout.Kind;
import boldanvil.core.diagram.BenchLayout.Style;
import boldanvil.core.finding.FindingException;
import boldanvil.core.measure.Measurement;
import boldanvil.core.measure.StepMetrics;
import boldanvil.core.report.Ticks;
import boldanvil.core.runs.Mark;
import boldanvil.core.samples.Series;
import java.util.ArrayList;
import java.util.List;

/** Draws the traces of a {@link TraceView} into its raster; while it follows a run, the last picture is moved and what is new is drawn. */
final class TracePainter {
    private static final double THICKNESS = 1.6;
    private static final int[][] DASHES = {null, {7, 4}, {2, 3}, {10, 3}};
    /** After so many pictures that were moved, one is drawn again, so that scales are looked at as a whole. */
    private static final int WHOLE_EVERY = 26;
    private static final double LATE_SECONDS = 0.25;

    private final Panes p;
    private Raster raster;
    private int scrolled;
    /** The first column of pixels that is drawn; those before it are there already. */
    private int drawFrom;
    private double paintedEnd;
    private double paintedNow;
    private boolean scaled;

    TracePainter(Panes p) {
        this.p = p;
    }

    Raster raster() {
        return raster;
    }

    /** Makes the raster fit; true when it is a new one. */
    boolean fit(int w, int h) {
        if (raster != null && raster.width() == w && raster.height() == h) {
            return false;
        }
        raster = new Raster(w, h);
        return true;
    }

    /**
     * Draws the picture.
     *
     * @param stale whether more has changed than the time since the last picture
     * @return whether a scale has changed
     */
    boolean paint(Theme t, int pixelsWide, boolean stale) {
        scaled = false;
        if (stale || !scrolls(pixelsWide) || !scroll(t, pixelsWide)) {
            whole(t);
        }
        paintedEnd = p.steadyEnd;
        paintedNow = p.now();
        raster.show();
        return scaled;
    }

    /** Draws everything. */
    private void whole(Theme t) {
        scrolled = 0;
        drawFrom = (int) Panes.LEFT;
        raster.clip(0, 0, p.width, p.height);
        raster.fill(Raster.argb(t.card()));
        for (int i = 0; i < p.charts.size(); i++) {
            pane(t, p.charts.get(i), p.paneTop(i) + Panes.HEAD, Math.max(10, p.paneHeight() - Panes.HEAD));
        }
        lines(t);
    }

    /** Whether the last picture can be moved to the left, so that only what is new has to be drawn. */
    private boolean scrolls(int pixelsWide) {
        long columns = Math.round((p.steadyEnd - paintedEnd) / p.view.span() * pixelsWide);
        return !p.view.isHeld() && p.layers.size() == 1 && p.annotations.isEmpty() && ++scrolled < WHOLE_EVERY && columns >= 0
                && columns < pixelsWide / 2
                && p.charts.stream().allMatch(c -> c.kind() == Kind.TRACE);
    }

    /** Draws what is new; false when a scale had to change, so that everything must be drawn. */
    private boolean scroll(Theme t, int pixelsWide) {
        int columns = (int) Math.round((p.steadyEnd - paintedEnd) / p.view.span() * pixelsWide);
        // Parts of a rig arrive at their own times; what is a little older may still be growing.
        drawFrom = Math.clamp((int) p.xOf(paintedNow - LATE_SECONDS), (int) Panes.LEFT, (int) Panes.LEFT + pixelsWide - 1);
        for (int i = 0; i < p.charts.size(); i++) {
            double plotTop = p.paneTop(i) + Panes.HEAD;
            double plotHeight = Math.max(10, p.paneHeight() - Panes.HEAD);
            raster.clip(Panes.LEFT, plotTop, p.plotWidth(), plotHeight);
            raster.shift(columns);
            raster.clip(drawFrom, plotTop, Panes.LEFT + p.plotWidth() - drawFrom, plotHeight);
            raster.fill(Raster.argb(t.card()));
            if (!pane(t, p.charts.get(i), plotTop, plotHeight)) {
                return false;
            }
            // The left edge has been moved out.
            raster.clip(Panes.LEFT, plotTop, p.plotWidth(), plotHeight);
            raster.vertical(Panes.LEFT, Raster.argb(t.faint()), 1, 0);
        }
        lines(t);
        return true;
    }

    /** Draws a pane from {@link #drawFrom} on; false when its scale has changed and it was to be drawn in part. */
    private boolean pane(Theme t, Chart c, double plotTop, double plotHeight) {
        if (c.kind() == Kind.LOGIC) {
            logic(t, c, plotTop, plotHeight);
            return true;
        }
        AxisRange[] axes = p.ranges(c);
        List<Trace> traces = new ArrayList<>();
        double[][] extremes = {{Double.POSITIVE_INFINITY, Double.NEGATIVE_INFINITY}, {Double.POSITIVE_INFINITY, Double.NEGATIVE_INFINITY}};
        var taps = c.allTaps();
        int[] drawn = new int[taps.size()];
        for (TraceView.Layer layer : p.layers) {
            for (int k = 0; k < taps.size(); k++) {
                int side = k < c.taps().size() ? 0 : 1;
                Trace trace = trace(c, layer, taps.get(k));
                if (trace != null) {
                    traces.add(trace.placed(side, k, drawn[k]++, p.tolerances.getOrDefault(taps.get(k), 0.0)));
                    extremes[side][0] = Math.min(extremes[side][0], ChartUnit.of(c, side == 1).at(trace.least));
                    extremes[side][1] = Math.max(extremes[side][1], ChartUnit.of(c, side == 1).at(trace.greatest));
                }
            }
        }
        double clock = System.nanoTime() / 1e9;
        boolean part = drawFrom > Panes.LEFT;
        boolean changed = false;
        for (int side = 0; side < 2; side++) {
            // A part of the picture can only show that a scale is too narrow.
            changed |= (!part || axes[side].isTooNarrow(extremes[side][0], extremes[side][1]))
                    && axes[side].fit(extremes[side][0], extremes[side][1], clock);
        }
        scaled |= changed;
        if (part && changed) {
            return false;
        }
        grid(t, axes[0], plotTop, plotHeight);
        for (Trace trace : traces) {
            AxisRange axis = axes[trace.side];
            double scale = plotHeight / (axis.high() - axis.low());
            var unit = ChartUnit.of(c, trace.side == 1);
            if (trace.layer == 0 && trace.tolerance > 0) {
                for (int sign = -1; sign <= 1; sign += 2) {
                    double shift = sign * trace.tolerance;
                    trace.draw(v -> plotTop + plotHeight - (unit.at(v + shift) - axis.low()) * scale, Raster.argb(t.moss()),
                            new int[] {2, 2}, c.style());
                }
            }
            trace.draw(v -> plotTop + plotHeight - (unit.at(v) - axis.low()) * scale, Raster.argb(t.trace(trace.colour)),
                    DASHES[Math.min(trace.layer, DASHES.length - 1)],
                    c.style());
        }
        raster.clip(0, 0, p.width, p.height);
        return true;
    }

    private void grid(Theme t, AxisRange axis, double plotTop, double plotHeight) {
        raster.clip(drawFrom, plotTop, Panes.LEFT + p.plotWidth() - drawFrom, plotHeight);
        int rule = Raster.argb(t.rule());
        if (axis != null) {
            for (double tick : Ticks.of(axis.low(), axis.high(), Panes.wanted(axis, plotHeight))) {
                raster.horizontal(plotTop + plotHeight - (tick - axis.low()) / (axis.high() - axis.low()) * plotHeight, rule);
            }
        }
        for (double tick : Ticks.of(p.begin(), p.begin() + p.view.span(), 8)) {
            raster.vertical(p.xOf(tick), rule, 1, 0);
        }
        int edge = Raster.argb(t.faint());
        raster.horizontal(plotTop, edge);
        raster.horizontal(plotTop + plotHeight - 1, edge);
        raster.vertical(Panes.LEFT, edge, 1, 0);
        raster.vertical(Panes.LEFT + p.plotWidth() - 1, edge, 1, 0);
    }

    /** The part of a signal that is to be seen: each sample, where there are few, or the extremes of each column of pixels. */
    private final class Trace {
        private double[][] envelope;
        private Series points;
        private int firstColumn;
        private double shift;
        private double least = Double.POSITIVE_INFINITY;
        private double greatest = Double.NEGATIVE_INFINITY;
        private int side;
        private int colour;
        private int layer;

        private double tolerance;

        /** @param l how many runs with this signal are drawn before */
        Trace placed(int onSide, int k, int l, double allowed) {
            side = onSide;
            colour = k;
            layer = l;
            tolerance = allowed;
            return this;
        }

        void draw(java.util.function.DoubleUnaryOperator y, int argb, int[] dashes, Style style) {
            if (points != null) {
                points(y, argb, dashes, style);
                return;
            }
            double lastLow = Double.NaN;
            double lastHigh = Double.NaN;
            int first = firstColumn;
            for (int i = 0; i < envelope[0].length; i++) {
                if (Double.isNaN(envelope[0][i])) {
                    continue;
                }
                double bottom = y.applyAsDouble(envelope[0][i]);
                double top = y.applyAsDouble(envelope[1][i]);
                // Neighbours touch, so that a steep slope has no gaps.
                double from = lastLow < top ? lastLow : top;
                double to = lastHigh > bottom ? lastHigh : bottom;
                if (Raster.isOn(first + i, dashes)) {
                    raster.span(first + i, from - THICKNESS / 2, to + THICKNESS / 2, argb);
                }
                lastHigh = top;
                lastLow = bottom;
            }
        }

        private void points(java.util.function.DoubleUnaryOperator y, int argb, int[] dashes, Style style) {
            double lastX = Double.NaN;
            double lastY = Double.NaN;
            for (int i = 0; i < points.size(); i++) {
                double x = p.xOf(points.times()[i] + shift);
                double v = y.applyAsDouble(points.values()[i]);
                if (style == Style.DOTS) {
                    raster.dot(x, v, 2, argb);
                } else if (!Double.isNaN(lastY) && !Double.isNaN(v)) {
                    if (style == Style.STEP) {
                        raster.line(lastX, lastY, x, lastY, THICKNESS, argb, dashes);
                        raster.line(x, lastY, x, v, THICKNESS, argb, dashes);
                    } else {
                        raster.line(lastX, lastY, x, v, THICKNESS, argb, dashes);
                    }
                }
                lastX = x;
                lastY = v;
            }
        }
    }

    /** What there is to see of a signal; null where it is not in the run, or cannot be read. */
    private Trace trace(Chart c, TraceView.Layer layer, String tap) {
        try {
            return read(c, layer, tap);
        } catch (FindingException e) {
            p.failure = e.findings().getFirst().cause();
            return null;
        }
    }

    private Trace read(Chart c, TraceView.Layer layer, String tap) {
        int column = layer.samples().indexOf(tap);
        if (column < 0) {
            return null;
        }
        var trace = new Trace();
        trace.shift = layer.shift();
        int all = (int) Math.max(2, p.plotWidth());
        // One column more, so that the new part joins the old one.
        trace.firstColumn = Math.max((int) Panes.LEFT, drawFrom - 1);
        double bin = p.view.span() / all;
        double to = p.begin() - layer.shift() + p.view.span();
        double from = p.begin() - layer.shift() + (trace.firstColumn - (int) Panes.LEFT) * bin;
        int bins = Math.max(2, all - (trace.firstColumn - (int) Panes.LEFT));
        long n = layer.samples().count(column, from, to);
        if (c.period() > 0 && n < 500_000) {
            trace.points = Measurement.meanOver(layer.samples().series(column, from - c.period(), to), c.period());
        } else if (n <= (c.style() == Style.DOTS ? 4L : 1L) * bins) {
            double margin = n >= 2 ? 3 * (to - from) / n : 5 * p.view.span();
            trace.points = layer.samples().series(column, from - margin, to + margin);
        }
        if (trace.points != null) {
            for (int i = 0; i < trace.points.size(); i++) {
                double v = trace.points.values()[i];
                boolean inside = trace.points.times()[i] >= from && trace.points.times()[i] <= to || trace.points.size() < 3;
                trace.least = inside && v < trace.least ? v : trace.least;
                trace.greatest = inside && v > trace.greatest ? v : trace.greatest;
            }
            return trace;
        }
        trace.envelope = layer.samples().envelope(column, from, to, bins);
        for (int i = 0; i < bins; i++) {
            trace.least = trace.envelope[0][i] < trace.least ? trace.envelope[0][i] : trace.least;
            trace.greatest = trace.envelope[1][i] > trace.greatest ? trace.envelope[1][i] : trace.greatest;
        }
        return trace;
    }

    /** One strip for each line, high or low; where it changes more than once in a column of pixels, the strip is full. */
    private void logic(Theme t, Chart c, double plotTop, double plotHeight) {
        grid(t, null, plotTop, plotHeight);
        double strip = plotHeight / Math.max(1, c.taps().size());
        int bins = (int) Math.max(2, p.plotWidth());
        for (int k = 0; k < c.taps().size() && !p.layers.isEmpty(); k++) {
            var layer = p.layers.getFirst();
            int column = layer.samples().indexOf(c.taps().get(k));
            if (column < 0) {
                continue;
            }
            double high = plotTop + k * strip + strip * 0.22;
            double low = plotTop + (k + 1) * strip - strip * 0.16;
            double[][] e = layer.samples().envelope(column, p.begin(), p.begin() + p.view.span(), bins);
            int argb = Raster.argb(t.trace(k));
            double last = layer.samples().valueAt(column, p.begin());
            for (int i = 0; i < bins; i++) {
                boolean known = !Double.isNaN(e[0][i]);
                boolean isLow = known ? e[0][i] < 0.5 : last < 0.5;
                boolean isHigh = known ? e[1][i] >= 0.5 : last >= 0.5;
                boolean was = last >= 0.5;
                double a = isHigh || known && was && isLow ? high : low;
                double b = isLow || known && !was && isHigh ? low : high;
                raster.span((int) Panes.LEFT + i, a - THICKNESS / 2, b + THICKNESS / 2, argb);
                last = known ? isHigh && isLow ? last >= 0.5 ? 0 : 1 : e[1][i] : last;
            }
        }
        raster.clip(0, 0, p.width, p.height);
    }

    /** Marks, p.trigger, cursors and what belongs to steps: lines across the panes. */
    private void lines(Theme t) {
        for (int i = 0; i < p.charts.size(); i++) {
            raster.clip(drawFrom, p.paneTop(i) + Panes.HEAD, Panes.LEFT + p.plotWidth() - drawFrom, p.paneHeight() - Panes.HEAD);
            for (Mark m : p.marks) {
                raster.vertical(p.xOf(m.seconds()), Raster.argb(Panes.colour(t, m.kind())), 2, 3);
            }
            if (!Double.isNaN(p.trigger)) {
                raster.vertical(p.xOf(p.trigger), Raster.argb(t.steel()), 6, 2);
            }
            if (p.cursorsShown) {
                raster.vertical(p.xOf(p.cursorA), Raster.argb(t.ember()), 5, 2);
                raster.vertical(p.xOf(p.cursorB), Raster.argb(t.ember()), 5, 2);
            }
            for (TraceView.Annotation a : p.annotations) {
                annotation(t, p.charts.get(i), i, a);
            }
        }
        raster.clip(0, 0, p.width, p.height);
    }

    private void annotation(Theme t, Chart c, int pane, TraceView.Annotation a) {
        if (!c.allTaps().contains(a.tap())) {
            return;
        }
        boolean onRight = c.rightTaps().contains(a.tap());
        AxisRange axis = p.ranges(c)[onRight ? 1 : 0];
        double height = p.paneHeight() - Panes.HEAD;
        double scale = height / (axis.high() - axis.low());
        double bottom = p.paneTop(pane) + Panes.HEAD + height;
        var unit = ChartUnit.of(c, onRight);
        var s = a.step();
        double band = StepMetrics.BAND * Math.abs(s.to() - s.from());
        double x0 = p.xOf(s.start());
        double x1 = Double.isNaN(s.settlingTime()) ? Panes.LEFT + p.plotWidth() : p.xOf(s.start() + s.settlingTime());
        for (double level : new double[] {s.to() - band, s.to() + band}) {
            raster.line(x0, bottom - (unit.at(level) - axis.low()) * scale, x1, bottom - (unit.at(level) - axis.low()) * scale, 1,
                    Raster.argb(t.moss()), new int[] {4, 3});
        }
        if (!Double.isNaN(s.settlingTime())) {
            raster.vertical(x1, Raster.argb(t.moss()), 3, 2);
        }
        raster.dot(p.xOf(s.start() + s.peakTime()), bottom - (unit.at(s.peak()) - axis.low()) * scale, 3, Raster.argb(t.madder()));
    }
}
