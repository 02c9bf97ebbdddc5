package boldanvil.core.finding;

import java.util.Objects;

/**
 * One thing that is wrong or doubtful.
 *
 * @param severity how bad it is
 * @param place where it is: a path such as {@code controller/current loop/gain}, or a file with a line
 * @param cause what is wrong, one sentence
 * @param cure what the reader can do about it, one sentence
 */
public record Finding(Severity severity, String place, String cause, String cure) {
    /** How bad a finding is. */
    public enum Severity {
        /** It cannot run, build or be read. */
        ERROR,
        /** It runs, but probably not as meant. */
        DOUBT
    }

    public Finding {
        Objects.requireNonNull(severity, "severity");
        Objects.requireNonNull(place, "place");
        Objects.requireNonNull(cause, "cause");
        Objects.requireNonNull(cure, "cure");
    }

    /** A finding that stops the work. */
    public static Finding error(String place, String cause, String cure) {
        return new Finding(Severity.ERROR, place, cause, cure);
    }

    /** A finding that lets the work go on. */
    public static Finding doubt(String place, String cause, String cure) {
        return new Finding(Severity.DOUBT, place, cause, cure);
    }

    /** What to say of a failure nobody foresaw, without a trace. */
    public static String reason(Throwable failure) {
        return switch (failure) {
            case StackOverflowError _ -> "something is nested too deep";
            case OutOfMemoryError _ -> "the memory of this program is used up";
            default -> failure.getClass().getSimpleName() + (failure.getMessage() == null ? "" : ", " + failure.getMessage());
        };
    }

    public boolean isError() {
        return severity == Severity.ERROR;
    }

    @Override
    public String toString() {
        return place + ": " + cause + " " + cure;
    }
}
