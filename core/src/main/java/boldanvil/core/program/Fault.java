package boldanvil.core.program;

/**
 * A program's fault slot: in its low 8 bits what went wrong, above them the number of the place where it first did, see
 * {@link FaultPlaces}.
 */
public final class Fault {
    /** Something was divided by zero; the result of an integer division was taken as 0. */
    public static final int DIVISION_BY_ZERO = 1;
    /** NaN was converted to an integer; the result was taken as 0. */
    public static final int NOT_A_NUMBER = 2;

    /** A loop ran into its limit and was left. */
    public static final int ENDLESS_LOOP = 4;
    /** A loop of equations was not solved within the allowed number of rounds. */
    public static final int NOT_SOLVED = 8;
    /** An index lay outside of its array; the nearest element was taken. */
    public static final int INDEX = 16;
    /** How far the number of the place is shifted. */
    public static final int PLACE_SHIFT = 8;

    private Fault() {}

    /** The fault slot after one more fault; the first one keeps its place. */
    public static int raise(int fault, int bit, int place) {
        return fault == 0 ? bit | place << PLACE_SHIFT : fault | bit;
    }

    /** The bits without the place. */
    public static int bits(int fault) {
        return fault & 0xFF;
    }

    /** A sentence for people. */
    public static String describe(int bits) {
        return (((bits & DIVISION_BY_ZERO) != 0 ? "It divided by zero. " : "")
                + ((bits & NOT_A_NUMBER) != 0 ? "A value that is no number was converted to an integer. " : "")
                + ((bits & ENDLESS_LOOP) != 0 ? "A loop ran into its limit and was left. " : "")
                + ((bits & NOT_SOLVED) != 0 ? "A loop of equations was not solved. " : "")
                + ((bits & INDEX) != 0 ? "An index lay outside of its array. " : "")).strip();
    }

    /** What to do about it. */
    public static String cure(int bits) {
        return (bits & ENDLESS_LOOP) != 0 ? "Look at what should end the loop."
                : (bits & NOT_SOLVED) != 0 ? "Put a small lag into the loop, or look for a jump in it that has no solution."
                : "Look at its inputs at this instant; keep the divisor off zero, or limit the value before it is converted.";
    }
}
