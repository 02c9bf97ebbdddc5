package boldanvil.app.chart;

import boldanvil.app.model.AxisRange;
import boldanvil.app.model.ChartUnit;
import boldanvil.app.model.Figures;
import boldanvil.app.model.Viewport;
import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.diagram.BenchLayout.Kind;
import boldanvil.core.diagram.BenchLayout.Style;
import boldanvil.core.finding.FindingException;
import boldanvil.core.measure.Edge;
import boldanvil.core.measure.Measurement;
import boldanvil.core.measure.StepMetrics;
import boldanvil.core.report.Ticks;
import boldanvil.core.runs.Mark;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.Supplier;
import javafx.geometry.Point2D;
import javafx.geometry.VPos;
import javafx.scene.Cursor;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.control.Tooltip;
import javafx.scene.image.ImageView;
import javafx.scene.input.MouseButton;
import javafx.scene.input.MouseEvent;
import javafx.scene.input.ScrollEvent;
import javafx.scene.layout.Region;
import javafx.scene.paint.Color;
import javafx.scene.text.Text;
import javafx.scene.text.TextAlignment;

/**
 * Signals over time: panes one above the other with a common time axis. Several runs are overlaid, each with its own dashes. Traces are
 * drawn into a {@link Raster}; titles, scales and figures, which change less often, onto canvases beside and above it.
 */
public final class TraceView extends Region {
    private static final double LEFT = 66;
    private static final double RIGHT = 14;
    private static final double RIGHT_AXIS = 58;
    private static final double BOTTOM = 36;
    private static final double MARKS = 16;
    private static final double GAP = 8;
    private static final double HEAD = 20;
    private static final double THICKNESS = 1.6;
    private static final int[][] DASHES = {null, {7, 4}, {2, 3}, {10, 3}};
    /** Figures beside the traces change no more often than one can read them. */
    private static final long LABELS_NANOS = 160_000_000;
    /** After so many pictures that were moved, one is drawn again, so that scales are looked at as a whole. */
    private static final int WHOLE_EVERY = 26;
    private static final double LATE_SECONDS = 0.25;

    /**
     * A run to draw.
     *
     * @param shift seconds by which it is shown later
     */
    public record Layer(String name, Samples samples, double shift) {
        public Layer(String name, Samples samples) {
            this(name, samples, 0);
        }
    }

    /** How a response follows a step, to be shown at its trace. */
    public record Annotation(String tap, StepMetrics step) {}

    private final ImageView picture = new ImageView();
    private final Canvas labels = new Canvas();
    private final Canvas rightLabels = new Canvas();
    private final Canvas foot = new Canvas();
    private final Canvas top = new Canvas();
    private final Canvas front = new Canvas();
    private final List<Canvas> heads = new ArrayList<>();
    private final Tooltip tip = new Tooltip();
    private final Supplier<Theme> theme;
    private final Viewport view = new Viewport();
    private final Map<String, AxisRange[]> ranges = new HashMap<>();
    private List<Chart> charts = List.of();
    private List<Layer> layers = List.of();
    private List<Mark> marks = List.of();
    private List<Annotation> annotations = List.of();
    private Map<String, Double> tolerances = Map.of();
    private Raster raster;
    private boolean autoscale = true;
    private boolean cursorsShown;
    private double cursorA = Double.NaN;
    private double cursorB = Double.NaN;
    private boolean movingB;
    private double trigger = Double.NaN;
    private double dragX = Double.NaN;
    private long labelled;
    private boolean labelsDue = true;
    /** Whether more has changed than the time since the last picture. */
    private boolean stale = true;
    private int scrolled;
    /** The first column of pixels that is drawn; those before it are there already. */
    private int drawFrom;
    private Theme paintedTheme;
    private double paintedEnd;
    private double paintedNow;
    private double steadyEnd;
    private String failure = "";
    private Mark shownMark;
    private Runnable changed = () -> { };
    private long frames;

    public TraceView(Supplier<Theme> theme) {
        this.theme = theme;
        picture.setMouseTransparent(true);
        getChildren().addAll(picture, labels, rightLabels, foot, top, front);
        // They are put where they belong when they are drawn; moving them is no reason to lay out anything.
        getChildren().forEach(n -> n.setManaged(false));
        front.setVisible(false);
        setMinSize(200, 120);
        setId("traces");
        setFocusTraversable(true);
        addEventHandler(MouseEvent.MOUSE_PRESSED, this::pressed);
        addEventHandler(MouseEvent.MOUSE_DRAGGED, this::dragged);
        addEventHandler(MouseEvent.MOUSE_RELEASED, _ -> setCursor(cursorsShown ? Cursor.CROSSHAIR : Cursor.DEFAULT));
        addEventHandler(MouseEvent.MOUSE_CLICKED, e -> {
            if (e.getClickCount() == 2 && e.getButton() == MouseButton.PRIMARY) {
                freeAxes();
            }
        });
        addEventHandler(MouseEvent.MOUSE_MOVED, this::hovered);
        addEventHandler(ScrollEvent.SCROLL, this::scrolled);
    }

    private void dirty() {
        labelsDue = true;
        stale = true;
    }

    /** What to do when the stretch of time, a cursor or a scale has been changed by hand. */
    public void onChange(Runnable action) {
        changed = action;
    }

    /** Shows other charts or runs. */
    public void show(List<Chart> what, List<Layer> runs) {
        var over = what.stream().filter(c -> c.kind() == Kind.TRACE || c.kind() == Kind.LOGIC).toList();
        if (!over.equals(charts)) {
            ranges.keySet().retainAll(over.stream().map(Chart::title).toList());
            while (heads.size() < over.size()) {
                heads.add(new Canvas());
                heads.getLast().setManaged(false);
                getChildren().add(getChildren().indexOf(front), heads.getLast());
            }
            while (heads.size() > over.size()) {
                getChildren().remove(heads.removeLast());
            }
        }
        charts = List.copyOf(over);
        layers = List.copyOf(runs);
        failure = "";
        dirty();
        paint();
    }

    public List<Layer> layers() {
        return layers;
    }

    public List<Chart> charts() {
        return charts;
    }

    /** What happened in the meantime, to be shown on the time axis. */
    public void setMarks(List<Mark> what) {
        if (!what.equals(marks)) {
            marks = List.copyOf(what);
            dirty();
        }
    }

    /** Steps to be shown at their traces. */
    public void setAnnotations(List<Annotation> what) {
        annotations = List.copyOf(what);
        dirty();
        paint();
    }

    /** Draws a band around each signal of the first run, as wide as it may deviate, SI. */
    public void setTolerances(Map<String, Double> allowed) {
        tolerances = Map.copyOf(allowed);
    }

    public Viewport view() {
        return view;
    }

    /** Width of the time axis in seconds. */
    public void setSpan(double seconds) {
        view.span(seconds);
        dirty();
        changed.run();
    }

    public double span() {
        return view.span();
    }

    /** The last instant shown, while not on hold. */
    public void setEnd(double seconds) {
        view.follow(seconds);
    }

    public double end() {
        return view.end();
    }

    /** Whether the picture stands still during the run. */
    public void setHold(boolean on) {
        view.hold(on);
        dirty();
    }

    /** Whether each axis follows its values, or keeps the scale it has. */
    public void setAutoscale(boolean on) {
        autoscale = on;
        ranges.values().forEach(r -> {
            r[0].lock(!on);
            r[1].lock(!on);
        });
        dirty();
    }

    /** All axes follow their values again. */
    public void freeAxes() {
        ranges.values().forEach(r -> {
            r[0].clear();
            r[1].clear();
        });
        dirty();
        paint();
        changed.run();
    }

    public void setCursors(boolean on) {
        cursorsShown = on;
        setCursor(on ? Cursor.CROSSHAIR : Cursor.DEFAULT);
        dirty();
        paint();
        changed.run();
    }

    /** Puts the cursors at two instants. */
    public void setCursors(double a, double b) {
        cursorA = a;
        cursorB = b;
        dirty();
        paint();
        changed.run();
    }

    public double cursorA() {
        return cursorA;
    }

    public double cursorB() {
        return cursorB;
    }

    /** Moves the cursor that was moved last to the nearest edge of the first trace of the pane. */
    public void snap() {
        if (!cursorsShown || charts.isEmpty() || layers.isEmpty()) {
            return;
        }
        var samples = layers.getFirst().samples();
        int column = samples.indexOf(charts.getFirst().allTaps().getFirst());
        if (column >= 0 && samples.count(column, view.begin(), view.end()) < 2_000_000) {
            Edge.nearest(samples.series(column, view.begin(), view.end()), movingB ? cursorB : cursorA).ifPresent(t ->
                    setCursors(movingB ? cursorA : t, movingB ? t : cursorB));
        }
    }

    /** Between the cursors where they are shown, else what is on the screen. */
    public double[] measured() {
        return cursorsShown && !Double.isNaN(cursorA) ? new double[] {Math.min(cursorA, cursorB), Math.max(cursorA, cursorB)}
                : new double[] {view.begin(), view.end()};
    }

    /** The instant of the trigger on show; NaN for none. */
    public void setTrigger(double seconds) {
        stale |= Double.compare(seconds, trigger) != 0;
        trigger = seconds;
    }

    /** What the traces are drawn into. */
    Raster raster() {
        return raster;
    }

    /** Pictures drawn so far. */
    public long frames() {
        return frames;
    }

    private double begin() {
        return steadyEnd - view.span();
    }

    private double right() {
        return charts.stream().anyMatch(c -> !c.rightTaps().isEmpty()) ? RIGHT_AXIS : RIGHT;
    }

    private double plotWidth() {
        return Math.max(10, getWidth() - LEFT - right());
    }

    private double timeAt(double x) {
        return begin() + (x - LEFT) / plotWidth() * view.span();
    }

    private double xOf(double time) {
        return LEFT + (time - begin()) / view.span() * plotWidth();
    }

    private double marksHeight() {
        return marks.isEmpty() && Double.isNaN(trigger) ? 0 : MARKS;
    }

    private double paneHeight() {
        int n = Math.max(1, charts.size());
        return (getHeight() - BOTTOM - marksHeight() - GAP * (n - 1)) / n;
    }

    private double paneTop(int index) {
        return marksHeight() + index * (paneHeight() + GAP);
    }

    private int paneAt(double y) {
        for (int i = 0; i < charts.size(); i++) {
            if (y >= paneTop(i) && y < paneTop(i) + paneHeight()) {
                return i;
            }
        }
        return -1;
    }

    @Override
    protected void layoutChildren() {
        dirty();
        paint();
    }

    // ---- by hand

    private void pressed(MouseEvent e) {
        requestFocus();
        dragX = e.getX();
        if (cursorsShown && e.getX() >= LEFT) {
            movingB = Math.abs(xOf(cursorB) - e.getX()) < Math.abs(xOf(cursorA) - e.getX());
            dragged(e);
        }
    }

    private void dragged(MouseEvent e) {
        if (cursorsShown && !e.isShiftDown()) {
            double t = timeAt(Math.clamp(e.getX(), LEFT, LEFT + plotWidth()));
            if (movingB) {
                cursorB = t;
            } else {
                cursorA = t;
            }
        } else {
            setCursor(Cursor.CLOSED_HAND);
            view.pan((dragX - e.getX()) / plotWidth() * view.span());
            dragX = e.getX();
        }
        dirty();
        paint();
        changed.run();
    }

    private void scrolled(ScrollEvent e) {
        double amount = e.getDeltaY() != 0 ? e.getDeltaY() : e.getDeltaX();
        if (amount == 0) {
            return;
        }
        double factor = amount > 0 ? 0.8 : 1.25;
        int pane = paneAt(e.getY());
        if (e.isControlDown() && pane >= 0) {
            var c = charts.get(pane);
            boolean onRight = !c.rightTaps().isEmpty() && e.getX() > LEFT + plotWidth() / 2;
            AxisRange r = ranges(c)[onRight ? 1 : 0];
            double share = Math.clamp((e.getY() - paneTop(pane) - HEAD) / Math.max(1, paneHeight() - HEAD), 0, 1);
            r.zoom(r.high() - share * (r.high() - r.low()), factor);
        } else if (e.isShiftDown()) {
            view.pan(-Math.signum(amount) * view.span() / 10);
        } else if (view.isHeld()) {
            view.zoom(timeAt(Math.clamp(e.getX(), LEFT, LEFT + plotWidth())), factor);
        } else {
            // While the picture follows the run, its right end stays at now.
            view.span(view.span() * factor);
        }
        dirty();
        paint();
        changed.run();
        e.consume();
    }

    private void hovered(MouseEvent e) {
        Mark near = null;
        if (e.getY() < marksHeight()) {
            for (Mark m : marks) {
                near = Math.abs(xOf(m.seconds()) - e.getX()) < 7 ? m : near;
            }
        }
        if (near == null) {
            tip.hide();
        } else if (!tip.isShowing() || near != shownMark) {
            shownMark = near;
            tip.setText(near.kind().label() + " at " + Figures.seconds(near.seconds()) + ": " + near.text());
            Point2D at = localToScreen(e.getX() + 12, e.getY() + 14);
            tip.show(this, at.getX(), at.getY());
        }
    }

    // ---- drawing

    /** Draws everything again. */
    public void paint() {
        double w = getWidth();
        double h = getHeight();
        if (w < 50 || h < 50) {
            return;
        }
        frames++;
        int pixelsWide = (int) Math.max(2, plotWidth());
        steadyEnd = view.steadyEnd(pixelsWide);
        if (raster == null || raster.width() != (int) w || raster.height() != (int) (h - BOTTOM)) {
            raster = new Raster((int) w, (int) Math.max(1, h - BOTTOM));
            picture.setImage(raster.image());
            dirty();
        }
        if (cursorsShown && Double.isNaN(cursorA)) {
            cursorA = begin() + view.span() * 0.35;
            cursorB = begin() + view.span() * 0.65;
        }
        var t = theme.get();
        if (t != paintedTheme) {
            paintedTheme = t;
            dirty();
        }
        if (!scrolls(pixelsWide) || !scroll(t, pixelsWide)) {
            whole(t);
        }
        paintedEnd = steadyEnd;
        paintedNow = now();
        raster.show();
        timeAxis(t);
        long now = System.nanoTime();
        if (labelsDue || now - labelled > LABELS_NANOS) {
            labelled = now;
            labelsDue = false;
            labels(t);
        }
    }

    private double now() {
        return layers.isEmpty() ? 0 : layers.getFirst().samples().end();
    }

    private void whole(Theme t) {
        scrolled = 0;
        stale = false;
        drawFrom = (int) LEFT;
        raster.clip(0, 0, getWidth(), getHeight());
        raster.fill(Raster.argb(t.card()));
        for (int i = 0; i < charts.size(); i++) {
            pane(t, charts.get(i), paneTop(i) + HEAD, Math.max(10, paneHeight() - HEAD));
        }
        lines(t);
    }

    /** Whether the last picture can be moved to the left, so that only what is new has to be drawn. */
    private boolean scrolls(int pixelsWide) {
        long columns = Math.round((steadyEnd - paintedEnd) / view.span() * pixelsWide);
        return !stale && !view.isHeld() && layers.size() == 1 && annotations.isEmpty() && ++scrolled < WHOLE_EVERY && columns >= 0 && columns < pixelsWide / 2
                && charts.stream().allMatch(c -> c.kind() == Kind.TRACE);
    }

    /** Draws what is new; false when a scale had to change, so that everything must be drawn. */
    private boolean scroll(Theme t, int pixelsWide) {
        int columns = (int) Math.round((steadyEnd - paintedEnd) / view.span() * pixelsWide);
        // Parts of a rig arrive at their own times; what is a little older may still be growing.
        drawFrom = Math.clamp((int) xOf(paintedNow - LATE_SECONDS), (int) LEFT, (int) LEFT + pixelsWide - 1);
        for (int i = 0; i < charts.size(); i++) {
            double plotTop = paneTop(i) + HEAD;
            double plotHeight = Math.max(10, paneHeight() - HEAD);
            raster.clip(LEFT, plotTop, plotWidth(), plotHeight);
            raster.shift(columns);
            raster.clip(drawFrom, plotTop, LEFT + plotWidth() - drawFrom, plotHeight);
            raster.fill(Raster.argb(t.card()));
            if (!pane(t, charts.get(i), plotTop, plotHeight)) {
                return false;
            }
            // The left edge has been moved out.
            raster.clip(LEFT, plotTop, plotWidth(), plotHeight);
            raster.vertical(LEFT, Raster.argb(t.faint()), 1, 0);
        }
        lines(t);
        return true;
    }

    private AxisRange[] ranges(Chart c) {
        return ranges.computeIfAbsent(c.title(), _ -> {
            AxisRange[] r = {new AxisRange(), new AxisRange()};
            r[0].lock(!autoscale);
            r[1].lock(!autoscale);
            return r;
        });
    }

    private static String unit(Chart c) {
        return c.base() > 0 ? "per unit of " + Figures.text(c.base()) + " " + c.unit() : c.unit();
    }

    /** Draws a pane from {@link #drawFrom} on; false when its scale has changed and it was to be drawn in part. */
    private boolean pane(Theme t, Chart c, double plotTop, double plotHeight) {
        if (c.kind() == Kind.LOGIC) {
            logic(t, c, plotTop, plotHeight);
            return true;
        }
        AxisRange[] axes = ranges(c);
        List<Trace> traces = new ArrayList<>();
        double[][] extremes = {{Double.POSITIVE_INFINITY, Double.NEGATIVE_INFINITY}, {Double.POSITIVE_INFINITY, Double.NEGATIVE_INFINITY}};
        var taps = c.allTaps();
        int[] drawn = new int[taps.size()];
        for (Layer layer : layers) {
            for (int k = 0; k < taps.size(); k++) {
                int side = k < c.taps().size() ? 0 : 1;
                Trace trace = trace(c, layer, taps.get(k));
                if (trace != null) {
                    traces.add(trace.placed(side, k, drawn[k]++, tolerances.getOrDefault(taps.get(k), 0.0)));
                    extremes[side][0] = Math.min(extremes[side][0], ChartUnit.of(c, side == 1).at(trace.least));
                    extremes[side][1] = Math.max(extremes[side][1], ChartUnit.of(c, side == 1).at(trace.greatest));
                }
            }
        }
        double clock = System.nanoTime() / 1e9;
        boolean part = drawFrom > LEFT;
        boolean changed = false;
        for (int side = 0; side < 2; side++) {
            // A part of the picture can only show that a scale is too narrow.
            changed |= (!part || axes[side].isTooNarrow(extremes[side][0], extremes[side][1])) && axes[side].fit(extremes[side][0], extremes[side][1], clock);
        }
        labelsDue |= changed;
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
                    trace.draw(v -> plotTop + plotHeight - (unit.at(v + shift) - axis.low()) * scale, Raster.argb(t.moss()), new int[] {2, 2}, c.style());
                }
            }
            trace.draw(v -> plotTop + plotHeight - (unit.at(v) - axis.low()) * scale, Raster.argb(t.trace(trace.colour)), DASHES[Math.min(trace.layer, DASHES.length - 1)],
                    c.style());
        }
        raster.clip(0, 0, getWidth(), getHeight());
        return true;
    }

    private void grid(Theme t, AxisRange axis, double plotTop, double plotHeight) {
        raster.clip(drawFrom, plotTop, LEFT + plotWidth() - drawFrom, plotHeight);
        int rule = Raster.argb(t.rule());
        if (axis != null) {
            for (double tick : Ticks.of(axis.low(), axis.high(), wanted(axis, plotHeight))) {
                raster.horizontal(plotTop + plotHeight - (tick - axis.low()) / (axis.high() - axis.low()) * plotHeight, rule);
            }
        }
        for (double tick : Ticks.of(begin(), begin() + view.span(), 8)) {
            raster.vertical(xOf(tick), rule, 1, 0);
        }
        int edge = Raster.argb(t.faint());
        raster.horizontal(plotTop, edge);
        raster.horizontal(plotTop + plotHeight - 1, edge);
        raster.vertical(LEFT, edge, 1, 0);
        raster.vertical(LEFT + plotWidth() - 1, edge, 1, 0);
    }

    /** About how many ticks a scale gets; at least so many that two are there. */
    private static int wanted(AxisRange axis, double plotHeight) {
        return Ticks.enough(axis.low(), axis.high(), (int) Math.max(2, plotHeight / 24));
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
                double x = xOf(points.times()[i] + shift);
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
    private Trace trace(Chart c, Layer layer, String tap) {
        try {
            return read(c, layer, tap);
        } catch (FindingException e) {
            failure = e.findings().getFirst().cause();
            return null;
        }
    }

    private Trace read(Chart c, Layer layer, String tap) {
        int column = layer.samples().indexOf(tap);
        if (column < 0) {
            return null;
        }
        var trace = new Trace();
        trace.shift = layer.shift();
        int all = (int) Math.max(2, plotWidth());
        // One column more, so that the new part joins the old one.
        trace.firstColumn = Math.max((int) LEFT, drawFrom - 1);
        double bin = view.span() / all;
        double to = begin() - layer.shift() + view.span();
        double from = begin() - layer.shift() + (trace.firstColumn - (int) LEFT) * bin;
        int bins = Math.max(2, all - (trace.firstColumn - (int) LEFT));
        long n = layer.samples().count(column, from, to);
        if (c.period() > 0 && n < 500_000) {
            trace.points = Measurement.meanOver(layer.samples().series(column, from - c.period(), to), c.period());
        } else if (n <= (c.style() == Style.DOTS ? 4L : 1L) * bins) {
            double margin = n >= 2 ? 3 * (to - from) / n : 5 * view.span();
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
        int bins = (int) Math.max(2, plotWidth());
        for (int k = 0; k < c.taps().size() && !layers.isEmpty(); k++) {
            var layer = layers.getFirst();
            int column = layer.samples().indexOf(c.taps().get(k));
            if (column < 0) {
                continue;
            }
            double high = plotTop + k * strip + strip * 0.22;
            double low = plotTop + (k + 1) * strip - strip * 0.16;
            double[][] e = layer.samples().envelope(column, begin(), begin() + view.span(), bins);
            int argb = Raster.argb(t.trace(k));
            double last = layer.samples().valueAt(column, begin());
            for (int i = 0; i < bins; i++) {
                boolean known = !Double.isNaN(e[0][i]);
                boolean isLow = known ? e[0][i] < 0.5 : last < 0.5;
                boolean isHigh = known ? e[1][i] >= 0.5 : last >= 0.5;
                boolean was = last >= 0.5;
                double a = isHigh || known && was && isLow ? high : low;
                double b = isLow || known && !was && isHigh ? low : high;
                raster.span((int) LEFT + i, a - THICKNESS / 2, b + THICKNESS / 2, argb);
                last = known ? isHigh && isLow ? last >= 0.5 ? 0 : 1 : e[1][i] : last;
            }
        }
        raster.clip(0, 0, getWidth(), getHeight());
    }

    /** Marks, trigger, cursors and what belongs to steps: lines across the panes. */
    private void lines(Theme t) {
        for (int i = 0; i < charts.size(); i++) {
            raster.clip(drawFrom, paneTop(i) + HEAD, LEFT + plotWidth() - drawFrom, paneHeight() - HEAD);
            for (Mark m : marks) {
                raster.vertical(xOf(m.seconds()), Raster.argb(colour(t, m.kind())), 2, 3);
            }
            if (!Double.isNaN(trigger)) {
                raster.vertical(xOf(trigger), Raster.argb(t.steel()), 6, 2);
            }
            if (cursorsShown) {
                raster.vertical(xOf(cursorA), Raster.argb(t.ember()), 5, 2);
                raster.vertical(xOf(cursorB), Raster.argb(t.ember()), 5, 2);
            }
            for (Annotation a : annotations) {
                annotation(t, charts.get(i), i, a);
            }
        }
        raster.clip(0, 0, getWidth(), getHeight());
    }

    private static Color colour(Theme t, Mark.Kind kind) {
        return switch (kind) {
            case CHANGE -> t.ember();
            case FAULT -> t.amber();
            case LIMIT -> t.madder();
            case MODE -> t.steel();
            case NOTE -> t.ink();
        };
    }

    private void annotation(Theme t, Chart c, int pane, Annotation a) {
        if (!c.allTaps().contains(a.tap())) {
            return;
        }
        boolean onRight = c.rightTaps().contains(a.tap());
        AxisRange axis = ranges(c)[onRight ? 1 : 0];
        double height = paneHeight() - HEAD;
        double scale = height / (axis.high() - axis.low());
        double bottom = paneTop(pane) + HEAD + height;
        var unit = ChartUnit.of(c, onRight);
        var s = a.step();
        double band = StepMetrics.BAND * Math.abs(s.to() - s.from());
        double x0 = xOf(s.start());
        double x1 = Double.isNaN(s.settlingTime()) ? LEFT + plotWidth() : xOf(s.start() + s.settlingTime());
        for (double level : new double[] {s.to() - band, s.to() + band}) {
            raster.line(x0, bottom - (unit.at(level) - axis.low()) * scale, x1, bottom - (unit.at(level) - axis.low()) * scale, 1, Raster.argb(t.moss()), new int[] {4, 3});
        }
        if (!Double.isNaN(s.settlingTime())) {
            raster.vertical(x1, Raster.argb(t.moss()), 3, 2);
        }
        raster.dot(xOf(s.start() + s.peakTime()), bottom - (unit.at(s.peak()) - axis.low()) * scale, 3, Raster.argb(t.madder()));
    }

    // ---- words and figures

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
        var g = clear(foot, 0, getHeight() - BOTTOM, getWidth(), BOTTOM);
        g.setFill(t.card());
        g.fillRect(0, 0, getWidth(), BOTTOM);
        if (charts.isEmpty()) {
            return;
        }
        g.setFont(Theme.sans(11.5));
        g.setFill(t.ink());
        g.setTextAlign(TextAlignment.CENTER);
        double a = begin();
        double b = a + view.span();
        for (double tick : Ticks.of(a, b, 8)) {
            g.fillText(Ticks.text(tick, a, b, 8), Math.min(xOf(tick), getWidth() - 14), 11);
        }
        g.setFill(t.faint());
        double d = cursorB - cursorA;
        String cursors = cursorsShown ? "     A " + Figures.seconds(cursorA) + "    B " + Figures.seconds(cursorB) + "    B − A " + Figures.seconds(d)
                + (d == 0 ? "" : "    1 / (B − A) " + Figures.text(Math.abs(1 / d), 4) + " Hz") : "";
        g.fillText("time [s]" + cursors, LEFT + plotWidth() / 2, 26);
    }

    private void labels(Theme t) {
        double h = getHeight() - BOTTOM;
        var g = clear(labels, 0, 0, LEFT, h);
        var r = clear(rightLabels, getWidth() - right(), 0, right(), h);
        for (int i = 0; i < charts.size(); i++) {
            double plotTop = paneTop(i) + HEAD;
            double plotHeight = Math.max(10, paneHeight() - HEAD);
            Chart c = charts.get(i);
            if (c.kind() == Kind.LOGIC) {
                lineNames(g, t, c, plotTop, plotHeight);
            } else {
                scale(g, t, ranges(c)[0], plotTop, plotHeight, LEFT - 6, TextAlignment.RIGHT);
                if (!c.rightTaps().isEmpty()) {
                    scale(r, t, ranges(c)[1], plotTop, plotHeight, 6, TextAlignment.LEFT);
                }
            }
            head(t, i);
        }
        top(t);
        front(t);
        if (charts.isEmpty() || !failure.isEmpty()) {
            front.setVisible(true);
            var f = clear(front, 0, 0, getWidth(), h);
            f.setFill(failure.isEmpty() ? t.faint() : t.madder());
            f.setFont(Theme.sans(14));
            f.setTextAlign(TextAlignment.CENTER);
            f.fillText(failure.isEmpty() ? "Nothing to show yet." : failure, getWidth() / 2, h / 2);
        }
    }

    private static void scale(GraphicsContext g, Theme t, AxisRange axis, double plotTop, double plotHeight, double x, TextAlignment align) {
        g.setFont(Theme.sans(11.5));
        g.setFill(t.ink());
        g.setTextAlign(align);
        int wanted = wanted(axis, plotHeight);
        for (double tick : Ticks.of(axis.low(), axis.high(), wanted)) {
            double y = plotTop + plotHeight - (tick - axis.low()) / (axis.high() - axis.low()) * plotHeight;
            g.fillText(Ticks.text(tick, axis.low(), axis.high(), wanted), x, Math.clamp(y, plotTop + 5, plotTop + plotHeight - 5));
        }
        if (axis.isLocked()) {
            g.setFill(t.amber());
            g.setFont(Theme.bold(10));
            g.fillText("locked", x, plotTop - HEAD / 2 + 1);
        }
    }

    private static void lineNames(GraphicsContext g, Theme t, Chart c, double plotTop, double plotHeight) {
        double strip = plotHeight / Math.max(1, c.taps().size());
        g.setTextAlign(TextAlignment.RIGHT);
        g.setFont(Theme.sans(11));
        for (int k = 0; k < c.taps().size(); k++) {
            g.setFill(t.ink());
            g.fillText(fit(Figures.shortName(c.taps().get(k)), 60, g.getFont()), LEFT - 6, plotTop + (k + 0.5) * strip);
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
        Chart c = charts.get(index);
        double start = ranges(c)[0].isLocked() ? LEFT + 2 : 8;
        var g = clear(heads.get(index), start, paneTop(index), getWidth() - start, HEAD);
        g.setTextAlign(TextAlignment.LEFT);
        g.setFont(Theme.bold(12.5));
        g.setFill(t.ink());
        String unit = unit(c);
        String title = c.title() + (unit.isEmpty() ? "" : " [" + unit + "]") + (c.rightTaps().isEmpty() ? "" : ", right axis" + (c.rightUnit().isEmpty() ? "" : " [" + c.rightUnit() + "]"))
                + (c.period() > 0 ? ", mean over " + Figures.seconds(c.period()) : "");
        g.fillText(title, 0, HEAD / 2);
        double free = getWidth() - start - RIGHT - width(title, g.getFont()) - 24;
        var taps = c.allTaps();
        g.setTextAlign(TextAlignment.RIGHT);
        g.setFont(Theme.sans(11.5));
        boolean figures = taps.stream().mapToDouble(tap -> width(Figures.shortName(tap) + readout(c, tap), g.getFont()) + 40).sum() < free;
        double x = getWidth() - start - RIGHT;
        for (int k = taps.size() - 1; k >= 0; k--) {
            String name = Figures.shortName(taps.get(k)) + (figures ? readout(c, taps.get(k)) : "");
            name = fit(name, Math.max(20, free / taps.size() - 36), g.getFont());
            g.setFill(t.ink());
            g.fillText(name, x, HEAD / 2);
            x -= width(name, g.getFont()) + 6;
            g.setStroke(t.trace(k));
            g.setLineWidth(2.2);
            g.strokeLine(x - 16, HEAD / 2, x, HEAD / 2);
            x -= 30;
        }
    }

    private String readout(Chart c, String tap) {
        if (layers.isEmpty()) {
            return "";
        }
        var samples = layers.getFirst().samples();
        int column = samples.indexOf(tap);
        if (column < 0) {
            return "  –";
        }
        boolean onRight = c.rightTaps().contains(tap);
        var unit = c.kind() == Kind.LOGIC ? new ChartUnit(boldanvil.core.quantity.Unit.ONE, 1) : ChartUnit.of(c, onRight);
        AxisRange axis = ranges(c)[onRight ? 1 : 0];
        if (cursorsShown) {
            double sa = samples.valueAt(column, cursorA);
            double sb = samples.valueAt(column, cursorB);
            return "  A " + figure(unit.at(sa), axis) + "  B " + figure(unit.at(sb), axis) + "  Δ " + figure(unit.difference(sb - sa), axis);
        }
        return "  " + figure(unit.at(samples.valueAt(column, view.isHeld() ? view.end() : Double.POSITIVE_INFINITY)), axis);
    }

    /** A value with the digits that mean something on its scale. */
    private static String figure(double v, AxisRange axis) {
        double grain = Math.pow(10, Math.floor(Math.log10(Math.max(1e-300, axis.high() - axis.low()))) - 4);
        return Figures.text(Math.rint(v / grain) * grain, 5);
    }

    private void top(Theme t) {
        var g = clear(top, 0, 0, getWidth(), Math.max(1, marksHeight()));
        if (marksHeight() == 0) {
            return;
        }
        g.setFont(Theme.bold(10));
        g.setTextAlign(TextAlignment.CENTER);
        for (Mark m : marks) {
            tag(g, t, xOf(m.seconds()), m.kind().label().substring(0, 1).toUpperCase(Locale.ROOT), colour(t, m.kind()));
        }
        if (!Double.isNaN(trigger)) {
            tag(g, t, xOf(trigger), "T", t.steel());
        }
        if (cursorsShown) {
            tag(g, t, xOf(cursorA), "A", t.ember());
            tag(g, t, xOf(cursorB), "B", t.ember());
        }
    }

    private void tag(GraphicsContext g, Theme t, double x, String letter, Color colour) {
        if (x < LEFT || x > LEFT + plotWidth()) {
            return;
        }
        g.setFill(colour);
        g.fillRoundRect(x - 7, 1, 14, 13, 4, 4);
        g.setFill(t.card());
        g.fillText(letter, x, 8);
    }

    /** Figures at the steps, and times between edges, where they have room. */
    private void front(Theme t) {
        boolean any = !annotations.isEmpty() || cursorsShown && marksHeight() == 0 || view.isHeld() && charts.stream().anyMatch(c -> c.kind() == Kind.LOGIC);
        front.setVisible(any);
        if (!any) {
            return;
        }
        var g = clear(front, 0, 0, getWidth(), getHeight() - BOTTOM);
        front.setMouseTransparent(true);
        g.setFont(Theme.sans(11));
        g.setTextAlign(TextAlignment.LEFT);
        for (int i = 0; i < charts.size(); i++) {
            for (Annotation a : annotations) {
                if (charts.get(i).allTaps().contains(a.tap())) {
                    stepFigures(g, t, i, a.step(), ChartUnit.of(charts.get(i), charts.get(i).rightTaps().contains(a.tap())));
                }
            }
            if (charts.get(i).kind() == Kind.LOGIC && view.isHeld()) {
                edgeTimes(g, t, charts.get(i), i);
            }
        }
        if (cursorsShown && marksHeight() == 0 && !charts.isEmpty()) {
            g.setFont(Theme.bold(10));
            g.setTextAlign(TextAlignment.CENTER);
            g.translate(0, HEAD);
            tag(g, t, xOf(cursorA), "A", t.ember());
            tag(g, t, xOf(cursorB), "B", t.ember());
            g.translate(0, -HEAD);
        }
    }

    private void stepFigures(GraphicsContext g, Theme t, int pane, StepMetrics s, ChartUnit unit) {
        double x = xOf(s.start()) + 6;
        if (x < LEFT || x > LEFT + plotWidth()) {
            return;
        }
        double y = paneTop(pane) + paneHeight() - 34;
        String first = "rise " + Figures.seconds(s.riseTime()) + "   settling (2 %) " + (Double.isNaN(s.settlingTime()) ? "never" : Figures.seconds(s.settlingTime()));
        String second = "overshoot " + Figures.text(100 * s.overshootShare(), 3) + " %   peak " + Figures.text(unit.at(s.peak()), 4) + " at " + Figures.seconds(s.peakTime())
                + "   final error " + Figures.text(unit.difference(s.finalError()), 3);
        double w = Math.max(width(first, g.getFont()), width(second, g.getFont())) + 12;
        double at = Math.min(x, LEFT + plotWidth() - w - 4);
        g.setFill(Color.color(t.card().getRed(), t.card().getGreen(), t.card().getBlue(), 0.9));
        g.fillRoundRect(at, y - 9, w, 34, 5, 5);
        g.setFill(t.ink());
        g.fillText(first, at + 6, y);
        g.fillText(second, at + 6, y + 16);
    }

    private void edgeTimes(GraphicsContext g, Theme t, Chart c, int pane) {
        double strip = (paneHeight() - HEAD) / Math.max(1, c.taps().size());
        var samples = layers.isEmpty() ? null : layers.getFirst().samples();
        g.setFont(Theme.sans(10));
        g.setTextAlign(TextAlignment.CENTER);
        g.setFill(t.faint());
        for (int k = 0; samples != null && k < c.taps().size(); k++) {
            int column = samples.indexOf(c.taps().get(k));
            if (column < 0 || samples.count(column, view.begin(), view.end()) > 200_000) {
                continue;
            }
            var edges = Edge.find(samples.series(column, view.begin(), view.end()), 0.5, 0.1);
            for (int i = 1; i < edges.size() && edges.size() < 200; i++) {
                double a = xOf(edges.get(i - 1).seconds());
                double b = xOf(edges.get(i).seconds());
                if (b - a > 54) {
                    g.fillText(Figures.seconds(edges.get(i).seconds() - edges.get(i - 1).seconds()), (a + b) / 2, paneTop(pane) + HEAD + (k + 0.52) * strip);
                }
            }
        }
    }
}
