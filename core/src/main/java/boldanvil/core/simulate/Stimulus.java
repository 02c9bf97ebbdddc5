package boldanvil.core.simulate;

import java.util.Arrays;

/**
 * A course of values that drives a tunable. It is evaluated at each tick, so its times are exact to a tick wherever the rig runs.
 *
 * @param from first value, or the middle of a sine, SI
 * @param to last value, or the middle plus the amplitude, SI
 * @param seconds duration of one pass
 * @param hertz frequency of a sine, and the first one of a chirp, 1/s
 * @param endHertz last frequency of a chirp, 1/s
 * @param steps of a staircase
 * @param repeat whether it continues from the beginning, or ends
 * @param times instants of a playback, seconds from its beginning; rising
 * @param values as many, SI; each holds until the next
 * @param relay what a relay follows; null for other shapes
 */
public record Stimulus(Shape shape, double from, double to, double seconds, double hertz, double endHertz, int steps, boolean repeat,
        double[] times, double[] values, Relay relay) {
    /**
     * A relay's input: it gives {@code from} while the tap is above the level, {@code to} while it is below.
     *
     * @param tap full address
     * @param level SI
     * @param hysteresis by how much the tap must pass the level, SI
     */
    public record Relay(String tap, double level, double hysteresis) {}

    /** The shapes there are. */
    public enum Shape {
        STEP("step"), RAMP("ramp"), SINE("sine"), CHIRP("chirp"), STAIRCASE("staircase"), PLAYBACK("playback"), RELAY("relay");

        private final String label;

        Shape(String label) {
            this.label = label;
        }

        /** Its name for people. */
        public String label() {
            return label;
        }
    }

    private static final double[] NONE = {};

    public Stimulus {
        times = times == null ? NONE : times;
        values = values == null ? NONE : values;
        if (!(seconds > 0) || !Double.isFinite(from) || !Double.isFinite(to)) {
            throw new IllegalArgumentException("A stimulus needs two values and a duration above 0.");
        }
        if ((shape == Shape.SINE || shape == Shape.CHIRP) && !(hertz > 0) || shape == Shape.CHIRP && !(endHertz > 0)) {
            throw new IllegalArgumentException("A " + shape.label() + " needs frequencies above 0.");
        }
        if (shape == Shape.STAIRCASE && (steps < 1 || steps > 10_000)) {
            throw new IllegalArgumentException("A staircase has 1 to 10 000 steps.");
        }
        if (shape == Shape.PLAYBACK && (times.length == 0 || times.length != values.length)) {
            throw new IllegalArgumentException("A playback needs samples.");
        }
        if ((shape == Shape.RELAY) != (relay != null)) {
            throw new IllegalArgumentException("A relay needs a tap to follow.");
        }
    }

    /** The second value at once, and the first again in the second half of a pass that repeats. */
    public static Stimulus step(double from, double to, double seconds, boolean repeat) {
        return new Stimulus(Shape.STEP, from, to, seconds, 0, 0, 0, repeat, null, null, null);
    }

    public static Stimulus ramp(double from, double to, double seconds, boolean repeat) {
        return new Stimulus(Shape.RAMP, from, to, seconds, 0, 0, 0, repeat, null, null, null);
    }

    /** A sine around a middle. */
    public static Stimulus sine(double middle, double amplitude, double hertz, double seconds) {
        return new Stimulus(Shape.SINE, middle, middle + amplitude, seconds, hertz, 0, 0, false, null, null, null);
    }

    /** A sine whose frequency rises or falls by the same factor in equal times. */
    public static Stimulus chirp(double middle, double amplitude, double hertz, double endHertz, double seconds) {
        return new Stimulus(Shape.CHIRP, middle, middle + amplitude, seconds, hertz, endHertz, 0, false, null, null, null);
    }

    public static Stimulus staircase(double from, double to, int steps, double seconds, boolean repeat) {
        return new Stimulus(Shape.STAIRCASE, from, to, seconds, 0, 0, steps, repeat, null, null, null);
    }

    /** Recorded values; the first one comes at once. */
    public static Stimulus playback(double[] times, double[] values, boolean repeat) {
        double start = times.length == 0 ? 0 : times[0];
        double[] shifted = Arrays.stream(times).map(t -> t - start).toArray();
        double seconds = times.length == 0 ? 1 : Math.max(1e-9, shifted[shifted.length - 1]);
        return new Stimulus(Shape.PLAYBACK, 0, 0, seconds, 0, 0, 0, repeat, shifted, values.clone(), null);
    }

    /** A relay that switches between two values by a tap. */
    public static Stimulus relay(double above, double below, double seconds, Relay relay) {
        return new Stimulus(Shape.RELAY, above, below, seconds, 0, 0, 0, false, null, null, relay);
    }

    /** Whether it is over, a time after its beginning. */
    public boolean isOver(double t) {
        return !repeat && t >= seconds;
    }

    /** Its value a time after its beginning, SI; the last one when it is over. A relay has none by time alone; this is the middle. */
    public double at(double t) {
        double part = repeat ? t % seconds : Math.min(t, seconds);
        double share = part / seconds;
        return switch (shape) {
            case STEP -> repeat && share >= 0.5 ? from : to;
            case RAMP -> from + share * (to - from);
            case SINE -> from + (to - from) * Math.sin(2 * Math.PI * hertz * part);
            case CHIRP -> from + (to - from) * Math.sin(phase(part));
            case STAIRCASE -> from + Math.min(steps, Math.floor(share * (steps + 1) + 1e-9)) / steps * (to - from);
            case RELAY -> (from + to) / 2;
            case PLAYBACK -> {
                int i = Arrays.binarySearch(times, part + 1e-12);
                yield values[i >= 0 ? i : Math.max(0, -i - 2)];
            }
        };
    }

    /** The integral of the frequency, in radians. */
    private double phase(double t) {
        double k = Math.log(endHertz / hertz) / seconds;
        return 2 * Math.PI * hertz * (Math.abs(k) < 1e-12 ? t : Math.expm1(k * t) / k);
    }

    @Override
    public boolean equals(Object o) {
        return o instanceof Stimulus s && shape == s.shape && from == s.from && to == s.to && seconds == s.seconds && hertz == s.hertz
                && endHertz == s.endHertz && steps == s.steps && repeat == s.repeat && Arrays.equals(times, s.times)
                && Arrays.equals(values, s.values) && java.util.Objects.equals(relay, s.relay);
    }

    @Override
    public int hashCode() {
        return shape.hashCode() * 31 + Double.hashCode(from) * 7 + Double.hashCode(to);
    }
}
