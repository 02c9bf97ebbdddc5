package boldanvil.core.program;

/** Bits of a program's fault slot. */
public final class Fault {
    /** An integer was divided by zero; the result was taken as 0. */
    public static final int DIVISION_BY_ZERO = 1;
    /** NaN was converted to an integer; the result was taken as 0. */
    public static final int NOT_A_NUMBER = 2;

    private Fault() {}

    /** A sentence for people. */
    public static String describe(int bits) {
        return ((bits & DIVISION_BY_ZERO) != 0 ? "An integer was divided by zero. " : "")
                + ((bits & NOT_A_NUMBER) != 0 ? "A value that is no number was converted to an integer. " : "").strip();
    }
}
