package boldanvil.core.simulate;

import com.fasterxml.jackson.annotation.JsonInclude;

/**
 * What was done to a rig from outside, at the tick at which it took effect. Interventions in their order, from the same start, make the
 * same run.
 *
 * @param address full address of a tunable, such as {@code controller.target}; of a wire's end or a part where it is about a fault
 * @param value new value of {@link Kind#SET}, SI; else 0
 * @param stimulus of {@link Kind#DRIVE}; else null
 * @param atNanos simulated time of the tick
 * @param fault of {@link Kind#FAULT}; else null
 */
public record Intervention(Kind kind, String address, double value, Stimulus stimulus, long atNanos,
        @JsonInclude(JsonInclude.Include.NON_NULL) WireFault fault) {
    /** What is done. */
    public enum Kind {
        /** It gets a value. */
        SET,
        /** A stimulus begins to drive it. */
        DRIVE,
        /** What drives it ends; it keeps its value. */
        RELEASE,
        /** A wire or a part gets a fault. */
        FAULT,
        /** A wire or a part is whole again; all are where the address is empty. */
        CLEAR;

        boolean isOfTunable() {
            return this != FAULT && this != CLEAR;
        }
    }

    public Intervention {
        if (kind == null || address == null || kind == Kind.DRIVE && stimulus == null
                || kind == Kind.FAULT && fault == null) {
            throw new IllegalArgumentException("An intervention needs its kind and address, and its stimulus or fault.");
        }
    }

    /** A change, planned or made. */
    public static Intervention set(Change c) {
        return new Intervention(Kind.SET, c.address(), c.value(), null, c.atNanos(), null);
    }

    static Intervention drive(String address, Stimulus stimulus, long atNanos) {
        return new Intervention(Kind.DRIVE, address, 0, stimulus, atNanos, null);
    }

    static Intervention release(String address, long atNanos) {
        return new Intervention(Kind.RELEASE, address, 0, null, atNanos, null);
    }

    static Intervention fault(String address, WireFault fault, long atNanos) {
        return new Intervention(Kind.FAULT, address, 0, null, atNanos, fault);
    }

    static Intervention clear(String address, long atNanos) {
        return new Intervention(Kind.CLEAR, address, 0, null, atNanos, null);
    }

    /** The same one at another instant. */
    Intervention at(long nanos) {
        return new Intervention(kind, address, value, stimulus, nanos, fault);
    }

    @Override
    public String toString() {
        String what = switch (kind) {
            case SET -> " = " + value;
            case DRIVE -> " driven by a " + stimulus.shape().label();
            case RELEASE -> " released";
            case FAULT -> " with the fault " + fault.kind().label();
            case CLEAR -> " without fault";
        };
        return address + what + " at " + atNanos / 1e9 + " s";
    }
}
