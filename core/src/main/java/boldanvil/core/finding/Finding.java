package boldanvil.core.finding;

import java.io.Serializable;
import java.util.Objects;

/**
 * An error or a warning.
 *
 * @param severity how bad it is
 * @param place where it is
 * @param cause what is wrong, one sentence
 * @param cure what the reader can do about it, one sentence
 * @param seconds the instant of a run at which it was; NaN for a finding about no instant
 */
public record Finding(Severity severity, Place place, String cause, String cure, double seconds) implements Serializable {
    /** How bad a finding is. */
    public enum Severity {
        /** It cannot run, build or be read. */
        ERROR("error"),
        /** It runs, but probably not as meant. */
        WARNING("warning");

        private final String label;

        Severity(String label) {
            this.label = label;
        }

        /** The word people read. */
        public String label() {
            return label;
        }
    }

    public Finding {
        Objects.requireNonNull(severity, "severity");
        Objects.requireNonNull(place, "place");
        Objects.requireNonNull(cause, "cause");
        Objects.requireNonNull(cure, "cure");
    }

    public Finding(Severity severity, Place place, String cause, String cure) {
        this(severity, place, cause, cure, Double.NaN);
    }

    /** A finding that stops the work. */
    public static Finding error(Place place, String cause, String cure) {
        return new Finding(Severity.ERROR, place, cause, cure);
    }

    /** An error at a place that no page shows: a file, an option, a device. */
    public static Finding error(String place, String cause, String cure) {
        return error(Place.named(place), cause, cure);
    }

    /** A finding that does not stop the work. */
    public static Finding warning(Place place, String cause, String cure) {
        return new Finding(Severity.WARNING, place, cause, cure);
    }

    /** A warning at a place that no page shows: a file, an option, a device. */
    public static Finding warning(String place, String cause, String cure) {
        return warning(Place.named(place), cause, cure);
    }

    /** A sentence about a failure that was not foreseen, without a trace. */
    public static String reason(Throwable failure) {
        return switch (failure) {
            case StackOverflowError _ -> "something is nested too deep";
            case OutOfMemoryError _ -> "the program is out of memory";
            default -> failure.getClass().getSimpleName() + (failure.getMessage() == null ? "" : ", " + failure.getMessage());
        };
    }

    /** The same finding at another place. */
    public Finding at(Place other) {
        return new Finding(severity, other, cause, cure, seconds);
    }

    /** The same finding at an instant of a run. */
    public Finding at(double instant) {
        return new Finding(severity, place, cause, cure, instant);
    }

    /** Whether it is about an instant of a run. */
    public boolean hasInstant() {
        return !Double.isNaN(seconds);
    }

    public boolean isError() {
        return severity == Severity.ERROR;
    }

    @Override
    public String toString() {
        return place.text() + ": " + cause + " " + cure;
    }
}
