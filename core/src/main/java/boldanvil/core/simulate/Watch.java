package boldanvil.core.simulate;

import boldanvil.core.finding.Finding;
import boldanvil.core.instance.Instance;
import boldanvil.core.program.Tap;

/** A limit and what its tap did so far. */
final class Watch {
    private final Guard guard;
    private final Tap tap;
    private final Instance instance;
    private final long everyTicks;
    private final double period;
    private double last = Double.NaN;
    private double counted;

    /** @param everyTicks ticks of the conductor between two values of the tap */
    Watch(Guard guard, Tap tap, Instance instance, long everyTicks, long tickNanos) {
        this.guard = guard;
        this.tap = tap;
        this.instance = instance;
        this.everyTicks = everyTicks;
        period = everyTicks * tickNanos / 1e9;
    }

    Guard guard() {
        return guard;
    }

    /** Looks at the tap, where it has a new value; a finding when the limit is exceeded, else null. */
    Finding look(long tick, long now) {
        if (tick % everyTicks != 0) {
            return null;
        }
        double value = instance.get(tap.slot());
        String breach = guard.breach(value, Double.isNaN(last) ? 0 : (value - last) / period);
        last = value;
        counted = breach.isEmpty() ? 0 : counted + period;
        // A single value counts for its own period; a duration wants that much without a break.
        if (breach.isEmpty() || counted < guard.seconds() - period * 1e-6) {
            return null;
        }
        return Finding.error(guard.tap(), "The rig was stopped: the signal " + breach + (guard.seconds() > 0
                ? " for " + guard.seconds() + " s" : "") + ", at "
                + now / 1e9 + " s.", "Find the cause before you start again; the run up to that instant is on the Runs page.")
                .at(now / 1e9);
    }
}
