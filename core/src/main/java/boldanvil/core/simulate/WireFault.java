package boldanvil.core.simulate;

/**
 * What is wrong with a wire between two parts. It acts on what arrives at the end of the wire, alike for models, code and devices.
 *
 * @param kind what happens
 * @param value offset, factor, level or standard deviation in SI of the wire; change per second of a drift; unused for other kinds
 * @param seconds how late values arrive, or how long a part does not compute
 * @param share how often a value is lost, repeated or damaged: 0 to 1
 * @param other full address of the port whose signal arrives instead, for a swapped wire; else empty
 * @param period seconds from one appearance of an intermittent fault to the next; 0 for one that stays
 * @param duration seconds that each appearance of it lasts
 */
public record WireFault(Kind kind, double value, double seconds, double share, String other, double period, double duration) {
    /** The kinds there are. */
    public enum Kind {
        OFFSET("offset"), GAIN("gain"), DRIFT("drift"),
        /** The value of the instant in which it begins stays. */
        STUCK("stuck"),
        /** The wire has a level of its own: it is open, shorted, or its sensor is silent. */
        LEVEL("level"),
        NOISE("noise"), LATE("late"),
        /** The value before stays in place of the one that is lost. */
        LOST("lost"),
        /** The value of some time ago arrives once more. */
        REPEATED("repeated"),
        /** One bit of the value, as it is sent, is wrong. */
        DAMAGED("damaged"), SWAPPED("swapped"),
        /** The part at the address does not compute; what it gave last stays. */
        HALT("halt"),
        /** The part at the address starts anew, once. */
        RESET("reset");

        private final String label;

        Kind(String label) {
            this.label = label;
        }

        /** Its name for people. */
        public String label() {
            return label;
        }

        /** Whether it is a fault of a part as a whole, not of a wire. */
        public boolean isOfPart() {
            return this == HALT || this == RESET;
        }
    }

    public WireFault {
        if (kind == null || !Double.isFinite(value) || !(seconds >= 0) || !(share >= 0 && share <= 1) || other == null || !(period >= 0)
                || !(duration >= 0)) {
            throw new IllegalArgumentException("A fault needs a kind, finite values, and a share from 0 to 1.");
        }
    }

    /** A fault that is always there. */
    public static WireFault of(Kind kind, double value) {
        return new WireFault(kind, value, 0, 0, "", 0, 0);
    }

    /** Values that arrive late. */
    public static WireFault late(double seconds) {
        return new WireFault(Kind.LATE, 0, seconds, 0, "", 0, 0);
    }

    /** Values of which some are lost or damaged, or in whose place an older one arrives once more. */
    public static WireFault random(Kind kind, double share, double seconds) {
        return new WireFault(kind, 0, seconds, share, "", 0, 0);
    }

    /** A fault of a part as a whole; it does not compute for so long. */
    public static WireFault ofPart(Kind kind, double seconds) {
        return new WireFault(kind, 0, seconds, 0, "", 0, 0);
    }

    public static WireFault swapped(String other) {
        return new WireFault(Kind.SWAPPED, 0, 0, 0, other, 0, 0);
    }

    /** The same fault, coming and going. */
    public WireFault intermittent(double every, double lasting) {
        return new WireFault(kind, value, seconds, share, other, every, lasting);
    }

    boolean isPresent(double sinceBegin) {
        return period == 0 || sinceBegin % period < duration;
    }
}
