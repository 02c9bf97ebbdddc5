package boldanvil.core.simulate;

/**
 * What was done to a tunable from outside, at the tick at which it took effect. Interventions in their order, from the same start, make the
 * same run.
 *
 * @param address full address, such as {@code controller.target}
 * @param value new value of {@link Kind#SET}, SI; else 0
 * @param stimulus of {@link Kind#DRIVE}; else null
 * @param atNanos simulated time of the tick
 */
public record Intervention(Kind kind, String address, double value, Stimulus stimulus, long atNanos) {
    /** What is done. */
    public enum Kind {
        /** It gets a value. */
        SET,
        /** A stimulus begins to drive it. */
        DRIVE,
        /** What drives it ends; it keeps its value. */
        RELEASE
    }

    public Intervention {
        if (kind == null || address == null || kind == Kind.DRIVE && stimulus == null) {
            throw new IllegalArgumentException("An intervention needs its kind and address, and to drive, a stimulus.");
        }
    }

    /** A change, planned or made. */
    public static Intervention set(Change c) {
        return new Intervention(Kind.SET, c.address(), c.value(), null, c.atNanos());
    }

    static Intervention drive(String address, Stimulus stimulus, long atNanos) {
        return new Intervention(Kind.DRIVE, address, 0, stimulus, atNanos);
    }

    static Intervention release(String address, long atNanos) {
        return new Intervention(Kind.RELEASE, address, 0, null, atNanos);
    }

    /** The same one at another instant. */
    Intervention at(long nanos) {
        return new Intervention(kind, address, value, stimulus, nanos);
    }

    @Override
    public String toString() {
        String what = switch (kind) {
            case SET -> " = " + value;
            case DRIVE -> " driven by a " + stimulus.shape().label();
            case RELEASE -> " released";
        };
        return address + what + " at " + atNanos / 1e9 + " s";
    }
}
