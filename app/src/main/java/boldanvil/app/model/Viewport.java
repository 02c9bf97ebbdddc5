package boldanvil.app.model;

/** The stretch of time a chart shows. It follows the newest sample, or is held where it is. Times in seconds. */
public final class Viewport {
    /** Narrowest and widest stretch. */
    public static final double NARROWEST = 1e-6;
    public static final double WIDEST = 86_400;

    private double span = 5;
    private double end;
    private boolean held;

    public double span() {
        return span;
    }

    public double begin() {
        return end - span;
    }

    public double end() {
        return end;
    }

    public boolean isHeld() {
        return held;
    }

    /** Whether it stays where it is during the run. */
    public void hold(boolean on) {
        held = on;
    }

    /** Changes the width; the right end stays. */
    public void span(double seconds) {
        span = Math.clamp(seconds, NARROWEST, WIDEST);
    }

    /** Goes along with a run, unless it is held. A run that is younger than the span begins at the left. */
    public void follow(double newest) {
        if (!held) {
            end = Math.max(newest, span);
        }
    }

    /** Shows a stretch, and stays there. */
    public void show(double from, double to) {
        held = true;
        span(to - from);
        end = to;
    }

    /** Narrows or widens by a factor around an instant, and stays there. */
    public void zoom(double around, double factor) {
        double before = span;
        span(span * factor);
        held = true;
        end = around + (end - around) * span / before;
    }

    /** Moves by some seconds, to later where above 0, and stays there. */
    public void pan(double seconds) {
        held = true;
        end += seconds;
    }

    /**
     * The right end, moved by less than a pixel, so that during a run the same samples always fall into the same columns of
     * pixels and the picture does not shimmer.
     */
    public double steadyEnd(int columns) {
        double bin = span / Math.max(1, columns);
        return held ? end : Math.floor(end / bin) * bin;
    }
}
