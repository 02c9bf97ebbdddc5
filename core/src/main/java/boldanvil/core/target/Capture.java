package boldanvil.core.target;

import boldanvil.core.diagram.Mapping;

/**
 * A PWM input: stamps the edges of a pin to its resolution, and makes of these stamps the mean of a step, or the duty cycle of the last
 * whole period.
 */
final class Capture {
    private final Carrier carrier;
    private final double stamp;
    private final Mapping.Mean mean;
    private double highSince = Double.NaN;
    private double rise = Double.NaN;
    private double fall = Double.NaN;
    private double lastEdge = Double.NEGATIVE_INFINITY;
    private double duty;
    private double firstEdge;
    private double high;

    /** @param stampSeconds resolution of the instants of edges; an edge has the stamp at which its interval begins */
    Capture(Carrier carrier, double stampSeconds, Mapping.Mean mean) {
        this.carrier = carrier;
        stamp = stampSeconds;
        this.mean = mean;
    }

    /** The pin's duty cycle changes, at an instant in seconds. */
    void set(double value, double now) {
        carrier.set(value, now);
    }

    /** The value for the step that begins at {@code to}, from the edges since {@code from}, where the step before began. */
    double take(double from, double to) {
        high = 0;
        firstEdge = Double.NaN;
        if (carrier.isHigh()) {
            highSince = from;
        }
        carrier.edges(from, to, (instant, rises) -> edge(instant, rises, from));
        if (carrier.isHigh()) {
            high += to - highSince;
        }
        if (mean == Mapping.Mean.STEP) {
            return Math.clamp(high / (to - from), 0, 1);
        }
        // A pin that stands still has no edges: its level is its duty cycle.
        return to - lastEdge > 1.5 * carrier.periodSeconds() ? carrier.isHigh() ? 1 : 0 : duty;
    }

    private void edge(double instant, boolean rises, double from) {
        double at = Math.floor(instant / stamp + 1e-6) * stamp;
        if (Double.isNaN(firstEdge)) {
            firstEdge = instant;
        }
        lastEdge = instant;
        if (!rises) {
            high += at - Math.max(from, highSince);
            fall = at;
            return;
        }
        if (fall > rise) {
            duty = (fall - rise) / (at - rise);
        }
        highSince = at;
        rise = at;
    }

    /** Instant of the first edge in the step that was taken last, in seconds; not a number where it had none. */
    double firstEdge() {
        return firstEdge;
    }
}
