package boldanvil.core.link;

/**
 * What a device said of a tag.
 *
 * @param value a {@link Boolean}, a {@link Long}, a {@link Double} or a {@link String}; null where there is none
 * @param deviceNanos time of the device since the beginning of 1970; 0 where it says none
 * @param receivedNanos when it arrived, by {@link System#nanoTime}
 * @param reason why the value is not good; empty for a good one
 */
public record Reading(Object value, Quality quality, long deviceNanos, long receivedNanos, String reason) {
    /** Whether a value can be relied on. */
    public enum Quality {
        GOOD,
        /** The last one there was, or one the device is not sure of. */
        UNCERTAIN,
        BAD
    }

    /** A value that cannot be had. */
    public static Reading bad(String reason) {
        return new Reading(null, Quality.BAD, 0, System.nanoTime(), reason);
    }

    public static Reading good(Object value, long deviceNanos) {
        return new Reading(value, Quality.GOOD, deviceNanos, System.nanoTime(), "");
    }

    /** The same value, which is not fresh any more. */
    public Reading stale(String why) {
        return new Reading(value, value == null ? Quality.BAD : Quality.UNCERTAIN, deviceNanos, receivedNanos, why);
    }

    public boolean isGood() {
        return quality == Quality.GOOD;
    }

    /** The value as a number, true as 1; NaN for a text or none. */
    public double number() {
        return switch (value) {
            case Boolean b -> b ? 1 : 0;
            case Number n -> n.doubleValue();
            case null, default -> Double.NaN;
        };
    }
}
