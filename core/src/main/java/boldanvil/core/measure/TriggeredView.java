package boldanvil.core.measure;

import boldanvil.core.samples.Samples;
import java.util.OptionalDouble;

/**
 * Decides which stretch of a run a chart shows while it waits for triggers. Not safe for several threads.
 */
public final class TriggeredView {
    /** How a chart continues. */
    public enum Mode {
        /** Shows the newest stretch; no trigger. */
        FREE,
        /** Shows the newest trigger, and the newest stretch where none has come for a while. */
        AUTO,
        /** Shows the newest trigger. */
        NORMAL,
        /** Shows the next trigger and stays there. */
        SINGLE
    }

    private Trigger trigger = Trigger.edge(Trigger.Kind.RISING, 0, 0);
    private Mode mode = Mode.FREE;
    private int column = -1;
    private double before = 0.2;
    private double searched = Double.NEGATIVE_INFINITY;
    private double found = Double.NaN;
    private double shownEnd = Double.NaN;

    /**
     * @param on index of the signal; -1 for none
     * @param share of the span before the trigger, 0 to 1
     */
    public void set(Mode how, Trigger what, int on, double share) {
        mode = how;
        trigger = what;
        column = on;
        before = Math.clamp(share, 0, 1);
        arm();
    }

    /** Waits again, from what comes now on. */
    public void arm() {
        found = Double.NaN;
        shownEnd = Double.NaN;
        searched = Double.NEGATIVE_INFINITY;
    }

    public Mode mode() {
        return mode;
    }

    /** When the trigger that is on show came; NaN while none has. */
    public double trigger() {
        return found;
    }

    /** Whether the chart waits for a trigger. */
    public boolean isWaiting() {
        return mode != Mode.FREE && Double.isNaN(found);
    }

    /**
     * Looks for triggers up to now.
     *
     * @param span width of the chart in seconds
     * @return the last instant to be shown
     */
    public double update(Samples samples, double span) {
        double now = samples.end();
        if (now < searched) {
            arm();
        }
        if (mode == Mode.FREE || column < 0 || column >= samples.columns().size()) {
            shownEnd = now;
            return now;
        }
        if (mode == Mode.SINGLE && !Double.isNaN(found)) {
            return shownEnd;
        }
        double behind = span * (1 - before);
        if (searched == Double.NEGATIVE_INFINITY) {
            // Armed now: what was before is past.
            searched = Math.max(samples.begin(), now - 1e-9);
            return Double.isNaN(shownEnd) ? now : shownEnd;
        }
        // The next trigger is shown once all that belongs to it is there.
        double last = now - behind;
        if (last > searched) {
            double margin = Math.max(span, 4 * (last - searched));
            OptionalDouble next = trigger.first(samples.series(column, searched - margin, last), searched);
            while (next.isPresent()) {
                found = next.getAsDouble();
                shownEnd = found + behind;
                searched = mode == Mode.SINGLE ? found : Math.max(found, shownEnd);
                next = mode == Mode.SINGLE || searched >= last ? OptionalDouble.empty()
                        : trigger.first(samples.series(column, searched - margin, last), searched);
            }
            searched = Math.max(searched, last);
        }
        if (mode == Mode.AUTO && (Double.isNaN(found) || now - shownEnd > Math.max(0.5, 2 * span))) {
            return now;
        }
        return Double.isNaN(shownEnd) ? now : shownEnd;
    }
}
