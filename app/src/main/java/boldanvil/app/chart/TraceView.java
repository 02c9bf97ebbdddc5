package boldanvil.app.chart;

import boldanvil.app.model.AxisRange;
import boldanvil.app.model.Figures;
import boldanvil.app.model.Viewport;
import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.diagram.BenchLayout.Kind;
import boldanvil.core.measure.Edge;
import boldanvil.core.measure.StepMetrics;
import boldanvil.core.runs.Mark;
import boldanvil.core.samples.Samples;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;
import javafx.geometry.Point2D;
import javafx.scene.Cursor;
import javafx.scene.control.Tooltip;
import javafx.scene.image.ImageView;
import javafx.scene.input.MouseButton;
import javafx.scene.input.MouseEvent;
import javafx.scene.input.ScrollEvent;
import javafx.scene.layout.Region;

/**
 * Signals over time: panes one above the other with a common time axis. Several runs are overlaid, each with its own dashes. Traces are
 * drawn into a {@link Raster}; titles, scales and figures, which change less often, onto canvases beside and above it.
 */
public final class TraceView extends Region {
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

    private final Panes p = new Panes();
    private final TracePainter painter = new TracePainter(p);
    private final TraceLabels labels = new TraceLabels(p);
    private final ImageView picture = new ImageView();
    private boolean labelsDue = true;
    /** Whether more has changed than the time since the last picture. */
    private boolean stale = true;
    private final Tooltip tip = new Tooltip();
    private final Supplier<Theme> theme;
    private boolean movingB;
    private double dragX = Double.NaN;
    private Theme paintedTheme;
    private Mark shownMark;
    private Runnable changed = () -> { };
    private long frames;

    public TraceView(Supplier<Theme> theme) {
        this.theme = theme;
        picture.setMouseTransparent(true);
        arrange();
        setMinSize(200, 120);
        setId("traces");
        setFocusTraversable(true);
        addEventHandler(MouseEvent.MOUSE_PRESSED, this::pressed);
        addEventHandler(MouseEvent.MOUSE_DRAGGED, this::dragged);
        addEventHandler(MouseEvent.MOUSE_RELEASED, _ -> setCursor(p.cursorsShown ? Cursor.CROSSHAIR : Cursor.DEFAULT));
        addEventHandler(MouseEvent.MOUSE_CLICKED, e -> {
            if (e.getClickCount() == 2 && e.getButton() == MouseButton.PRIMARY) {
                freeAxes();
            }
        });
        addEventHandler(MouseEvent.MOUSE_MOVED, this::hovered);
        addEventHandler(ScrollEvent.SCROLL, this::scrolled);
    }

    private void arrange() {
        getChildren().setAll(picture);
        getChildren().addAll(labels.canvases());
        // They are put where they belong when they are drawn; moving them is no reason to lay out anything.
        getChildren().forEach(n -> n.setManaged(false));
    }

    private void dirty() {
        labelsDue = true;
        stale = true;
    }

    /** What to do when the stretch of time, a cursor or a scale has been changed by hand. */
    public void onChange(Runnable action) {
        changed = action;
    }

    /** Shows other p.charts or runs. */
    public void show(List<Chart> what, List<Layer> runs) {
        var over = what.stream().filter(c -> c.kind() == Kind.TRACE || c.kind() == Kind.LOGIC).toList();
        if (!over.equals(p.charts)) {
            p.ranges.keySet().retainAll(over.stream().map(Chart::title).toList());
            if (labels.fit(over.size())) {
                arrange();
            }
        }
        p.charts = List.copyOf(over);
        p.layers = List.copyOf(runs);
        p.failure = "";
        dirty();
        paint();
    }

    public List<Layer> layers() {
        return p.layers;
    }

    public List<Chart> charts() {
        return p.charts;
    }

    /** What happened in the meantime, to be shown on the time axis. */
    public void setMarks(List<Mark> what) {
        if (!what.equals(p.marks)) {
            p.marks = List.copyOf(what);
            dirty();
        }
    }

    /** Steps to be shown at their traces. */
    public void setAnnotations(List<Annotation> what) {
        p.annotations = List.copyOf(what);
        dirty();
        paint();
    }

    /** Draws a band around each signal of the first run, as wide as it may deviate, SI. */
    public void setTolerances(Map<String, Double> allowed) {
        p.tolerances = Map.copyOf(allowed);
    }

    public Viewport view() {
        return p.view;
    }

    /** Width of the time axis in seconds. */
    public void setSpan(double seconds) {
        p.view.span(seconds);
        dirty();
        changed.run();
    }

    public double span() {
        return p.view.span();
    }

    /** The last instant shown, while not on hold. */
    public void setEnd(double seconds) {
        p.view.follow(seconds);
    }

    public double end() {
        return p.view.end();
    }

    /** Whether the picture stands still during the run. */
    public void setHold(boolean on) {
        p.view.hold(on);
        dirty();
    }

    /** Whether each axis follows its values, or keeps the scale it has. */
    public void setAutoscale(boolean on) {
        p.autoscale = on;
        p.ranges.values().forEach(r -> {
            r[0].lock(!on);
            r[1].lock(!on);
        });
        dirty();
    }

    /** All axes follow their values again. */
    public void freeAxes() {
        p.ranges.values().forEach(r -> {
            r[0].clear();
            r[1].clear();
        });
        dirty();
        paint();
        changed.run();
    }

    public void setCursors(boolean on) {
        p.cursorsShown = on;
        setCursor(on ? Cursor.CROSSHAIR : Cursor.DEFAULT);
        dirty();
        paint();
        changed.run();
    }

    /** Puts the cursors at two instants. */
    public void setCursors(double a, double b) {
        p.cursorA = a;
        p.cursorB = b;
        dirty();
        paint();
        changed.run();
    }

    public double cursorA() {
        return p.cursorA;
    }

    public double cursorB() {
        return p.cursorB;
    }

    /** Moves the cursor that was moved last to the nearest edge of the first trace of the pane. */
    public void snap() {
        if (!p.cursorsShown || p.charts.isEmpty() || p.layers.isEmpty()) {
            return;
        }
        var samples = p.layers.getFirst().samples();
        int column = samples.indexOf(p.charts.getFirst().allTaps().getFirst());
        if (column >= 0 && samples.count(column, p.view.begin(), p.view.end()) < 2_000_000) {
            Edge.nearest(samples.series(column, p.view.begin(), p.view.end()), movingB ? p.cursorB : p.cursorA).ifPresent(t ->
                    setCursors(movingB ? p.cursorA : t, movingB ? t : p.cursorB));
        }
    }

    /** Between the cursors where they are shown, else what is on the screen. */
    public double[] measured() {
        return p.cursorsShown && !Double.isNaN(p.cursorA) ? new double[] {Math.min(p.cursorA, p.cursorB), Math.max(p.cursorA, p.cursorB)}
                : new double[] {p.view.begin(), p.view.end()};
    }

    /** The instant of the p.trigger on show; NaN for none. */
    public void setTrigger(double seconds) {
        stale |= Double.compare(seconds, p.trigger) != 0;
        p.trigger = seconds;
    }

    /** What the traces are drawn into. */
    Raster raster() {
        return painter.raster();
    }

    /** Pictures drawn so far. */
    public long frames() {
        return frames;
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
        if (p.cursorsShown && e.getX() >= Panes.LEFT) {
            movingB = Math.abs(p.xOf(p.cursorB) - e.getX()) < Math.abs(p.xOf(p.cursorA) - e.getX());
            dragged(e);
        }
    }

    private void dragged(MouseEvent e) {
        if (p.cursorsShown && !e.isShiftDown()) {
            double t = p.timeAt(Math.clamp(e.getX(), Panes.LEFT, Panes.LEFT + p.plotWidth()));
            if (movingB) {
                p.cursorB = t;
            } else {
                p.cursorA = t;
            }
        } else {
            setCursor(Cursor.CLOSED_HAND);
            p.view.pan((dragX - e.getX()) / p.plotWidth() * p.view.span());
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
        int pane = p.paneAt(e.getY());
        if (e.isControlDown() && pane >= 0) {
            var c = p.charts.get(pane);
            boolean onRight = !c.rightTaps().isEmpty() && e.getX() > Panes.LEFT + p.plotWidth() / 2;
            AxisRange r = p.ranges(c)[onRight ? 1 : 0];
            double share = Math.clamp((e.getY() - p.paneTop(pane) - Panes.HEAD) / Math.max(1, p.paneHeight() - Panes.HEAD), 0, 1);
            r.zoom(r.high() - share * (r.high() - r.low()), factor);
        } else if (e.isShiftDown()) {
            p.view.pan(-Math.signum(amount) * p.view.span() / 10);
        } else if (p.view.isHeld()) {
            p.view.zoom(p.timeAt(Math.clamp(e.getX(), Panes.LEFT, Panes.LEFT + p.plotWidth())), factor);
        } else {
            // While the picture follows the run, its right end stays at now.
            p.view.span(p.view.span() * factor);
        }
        dirty();
        paint();
        changed.run();
        e.consume();
    }

    private void hovered(MouseEvent e) {
        Mark near = null;
        if (e.getY() < p.marksHeight()) {
            for (Mark m : p.marks) {
                near = Math.abs(p.xOf(m.seconds()) - e.getX()) < 7 ? m : near;
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
        p.width = getWidth();
        p.height = getHeight();
        if (p.width < 50 || p.height < 50) {
            return;
        }
        frames++;
        int pixelsWide = (int) Math.max(2, p.plotWidth());
        p.steadyEnd = p.view.steadyEnd(pixelsWide);
        if (painter.fit((int) p.width, (int) Math.max(1, p.height - Panes.BOTTOM))) {
            picture.setImage(painter.raster().image());
            dirty();
        }
        if (p.cursorsShown && Double.isNaN(p.cursorA)) {
            p.cursorA = p.begin() + p.view.span() * 0.35;
            p.cursorB = p.begin() + p.view.span() * 0.65;
        }
        var t = theme.get();
        if (t != paintedTheme) {
            paintedTheme = t;
            dirty();
        }
        labelsDue |= painter.paint(t, pixelsWide, stale);
        stale = false;
        labels.paint(t, labelsDue);
        labelsDue = false;
    }

    // ---- words and figures

}
