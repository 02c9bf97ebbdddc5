package boldanvil.app.model;

/**
 * The range of a value axis. It grows at once when values leave it, and shrinks only after they have needed much less for a while, so
 * that the scale does not breathe with the signal. Locked, it stays.
 */
public final class AxisRange {
    /** Share of the range below which it is too wide, and how long that must last. */
    private static final double TOO_WIDE = 0.55;
    private static final double PATIENCE_SECONDS = 1.5;
    private static final double ROOM = 0.07;
    private static final double EDGE = 0.01;

    private double low = Double.NaN;
    private double high = Double.NaN;
    private double wideSince = Double.NaN;
    private boolean locked;

    public double low() {
        return Double.isNaN(low) ? 0 : low;
    }

    public double high() {
        return Double.isNaN(high) ? 1 : high;
    }

    public boolean isLocked() {
        return locked;
    }

    public void lock(boolean on) {
        locked = on;
    }

    /** Sets the range, and stays there. */
    public void set(double from, double to) {
        low = from;
        high = to;
        locked = true;
    }

    /** Narrows or widens by a factor around a value, and stays there. */
    public void zoom(double around, double factor) {
        set(around + (low() - around) * factor, around + (high() - around) * factor);
    }

    /**
     * Takes note of what there is to show.
     *
     * @param least least value; NaN for nothing
     * @param most greatest value
     * @param now a clock, in seconds
     * @return whether the range has changed
     */
    public boolean fit(double least, double most, double now) {
        if (locked || !(least <= most)) {
            return false;
        }
        // A signal that stays at zero is in the middle of a plain scale.
        double smallest = least == 0 && most == 0 ? 1 : Math.max(1e-12, Math.max(Math.abs(least), Math.abs(most)) * 0.02);
        double room = Math.max((most - least) * ROOM, smallest);
        double a = least - room;
        double b = most + room;
        if (Double.isNaN(low)) {
            return take(a, b);
        }
        double edge = EDGE * (high - low);
        if (isTooNarrow(least, most)) {
            wideSince = Double.NaN;
            // Room by the whole scale: what is new may be a small part of what there is.
            double more = ROOM * (Math.max(high, most) - Math.min(low, least));
            return take(least < low + edge ? Math.min(a, least - more) : low, most > high - edge ? Math.max(b, most + more) : high);
        }
        if (b - a < TOO_WIDE * (high - low)) {
            if (Double.isNaN(wideSince)) {
                wideSince = now;
            } else if (now - wideSince > PATIENCE_SECONDS) {
                wideSince = Double.NaN;
                return take(a, b);
            }
        } else {
            wideSince = Double.NaN;
        }
        return false;
    }

    /** Whether values lie outside, or on the frame, where a trace is as good as hidden. */
    public boolean isTooNarrow(double least, double most) {
        double edge = EDGE * (high - low);
        return Double.isNaN(low) || least < low + edge || most > high - edge;
    }

    private boolean take(double a, double b) {
        boolean changed = a != low || b != high;
        low = a;
        high = b;
        return changed;
    }

    /** Forgets what it has seen. */
    public void clear() {
        low = Double.NaN;
        high = Double.NaN;
        wideSince = Double.NaN;
        locked = false;
    }
}
