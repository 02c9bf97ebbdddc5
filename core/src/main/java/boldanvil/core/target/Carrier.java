package boldanvil.core.target;

import java.util.ArrayDeque;

/**
 * The edges at a pin that carries PWM. The carrier begins at time 0. A duty cycle takes effect with the next update of the timer: at the
 * end of a period, of a centred one also in its middle.
 */
final class Carrier {
    /** Instants of updates are whole multiples; this is how far rounding may move them, in updates. */
    private static final double ROUNDING = 1e-7;

    private final double updateSeconds;
    private final boolean centred;
    private final ArrayDeque<Coming> coming = new ArrayDeque<>();
    private double duty;
    private boolean level;

    /** A duty cycle that takes effect with an update, counted from time 0. */
    private record Coming(long update, double duty) {}

    /** @param hertz frequency of the carrier */
    Carrier(double hertz, boolean centred) {
        this.centred = centred;
        updateSeconds = 1 / hertz / (centred ? 2 : 1);
    }

    double periodSeconds() {
        return centred ? 2 * updateSeconds : updateSeconds;
    }

    /** Sets the duty cycle at an instant, in seconds, that is not before those at which it was set already. */
    void set(double value, double now) {
        long update = (long) Math.floor(now / updateSeconds + ROUNDING) + 1;
        if (!coming.isEmpty() && coming.peekLast().update() == update) {
            coming.removeLast();
        }
        if (value != (coming.isEmpty() ? duty : coming.peekLast().duty())) {
            coming.addLast(new Coming(update, Math.clamp(value, 0, 1)));
        }
    }

    private void settle(long update) {
        while (!coming.isEmpty() && coming.peekFirst().update() <= update) {
            duty = coming.removeFirst().duty();
        }
    }

    /** What is called for each edge, in the order of time. */
    interface Edges {
        /** The pin changes its level at an instant, in seconds. */
        void edge(double instant, boolean high);
    }

    boolean isHigh() {
        return level;
    }

    /** Every edge after one instant and not after another, in seconds; the first is where the call before ended. */
    void edges(double from, double to, Edges edges) {
        for (long update = (long) Math.floor(from / updateSeconds + ROUNDING); update * updateSeconds <= to + ROUNDING * updateSeconds;
                update++) {
            double begin = update * updateSeconds;
            settle(update);
            double on = duty * updateSeconds;
            // About the beginning of a centred period, the half before it is low first, the half after it is high first.
            boolean lowFirst = centred && update % 2 != 0;
            boolean changes = duty > 0 && duty < 1;
            turn(begin, changes ? !lowFirst : duty >= 1, from, to, edges);
            if (changes) {
                turn(lowFirst ? begin + updateSeconds - on : begin + on, lowFirst, from, to, edges);
            }
        }
    }

    private void turn(double instant, boolean high, double from, double to, Edges edges) {
        double slack = ROUNDING * updateSeconds;
        if (high != level && instant > from - slack && instant <= to + slack) {
            level = high;
            edges.edge(instant, high);
        }
    }
}
