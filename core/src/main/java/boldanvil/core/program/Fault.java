package boldanvil.core.program;

/**
 * A program's fault slot: in its low {@value #KIND_BITS} bits which kinds of fault there were, above them the kind that was new last and
 * has a place, and the number of that place, see {@link FaultPlaces}. Whoever reads the slot clears the place and leaves the kinds it has
 * reported; so each kind is reported with the first place it was seen at.
 */
public final class Fault {
    /** Something was divided by zero; the result of an integer division was taken as 0. */
    public static final int DIVISION_BY_ZERO = 1;
    /** NaN was converted to an integer; the result was taken as 0. */
    public static final int NOT_A_NUMBER = 2;
    /** A loop reached its limit and was left. */
    public static final int ENDLESS_LOOP = 4;
    /** A loop of equations was not solved within the allowed number of rounds. */
    public static final int NOT_SOLVED = 8;
    /** An index lay outside of its array; the nearest element was taken. */
    public static final int INDEX = 16;
    /** A function got an argument for which it is not defined; the result is NaN or infinite. */
    public static final int DOMAIN = 32;
    /** Too many events came within one step of the solver; the rest happened at its end. */
    public static final int EVENTS = 64;
    /** A value became infinite or NaN. */
    public static final int NOT_FINITE = 128;
    /** The variable step became too short; the rest of the tick was taken in one step. */
    public static final int SHORT_STEPS = 256;

    private static final int KIND_BITS = 12;
    /** How far the number of the kind that has a place is shifted. */
    private static final int KIND_SHIFT = KIND_BITS;
    /** How far the number of the place is shifted. */
    private static final int PLACE_SHIFT = 16;
    private static final int KINDS = 9;

    private Fault() {}

    /** Number of the kind with this bit, from 0. */
    public static int kind(int bit) {
        return Integer.numberOfTrailingZeros(bit);
    }

    /** All kinds, as bits, in their order. */
    public static int[] all() {
        return java.util.stream.IntStream.range(0, KINDS).map(k -> 1 << k).toArray();
    }

    /** The fault slot after one more fault: a new kind gets its place noted, unless another kind's is there still. */
    public static int raise(int fault, int bit, int place) {
        if ((fault & bit) != 0) {
            return fault;
        }
        return fault >>> KIND_SHIFT == 0 ? fault | bit | kind(bit) << KIND_SHIFT | place << PLACE_SHIFT : fault | bit;
    }

    /** The kinds without the place. */
    public static int bits(int fault) {
        return fault & (1 << KIND_BITS) - 1;
    }

    /** The kind whose place is noted, as a bit; 0 where none is. */
    public static int placed(int fault) {
        return placeNumber(fault) == 0 ? 0 : 1 << (fault >>> KIND_SHIFT & 0xF);
    }

    /** The number of the place that is noted; 0 where none is. */
    static int placeNumber(int fault) {
        return fault >>> PLACE_SHIFT;
    }

    /** A sentence for each kind. */
    public static String describe(int bits) {
        return (((bits & DIVISION_BY_ZERO) != 0 ? "It divided by zero. " : "")
                + ((bits & NOT_A_NUMBER) != 0 ? "A value that is not a number was converted to an integer. " : "")
                + ((bits & ENDLESS_LOOP) != 0 ? "A loop reached its limit and was stopped. " : "")
                + ((bits & NOT_SOLVED) != 0 ? "A loop of equations was not solved. " : "")
                + ((bits & INDEX) != 0 ? "An index was outside its array. " : "")
                + ((bits & DOMAIN) != 0 ? "A function was called with an argument outside its domain. " : "")
                + ((bits & EVENTS) != 0 ? "Too many events in one step; the remaining ones were processed at its end. " : "")
                + ((bits & NOT_FINITE) != 0 ? "Its value became infinite or not a number. " : "")
                + ((bits & SHORT_STEPS) != 0 ? "The solver needed too many steps; the rest of the tick was computed in one step. " : ""))
                .strip();
    }

    /** What to do about it. */
    public static String cure(int bits) {
        return (bits & ENDLESS_LOOP) != 0 ? "Check the condition that ends the loop."
                : (bits & NOT_SOLVED) != 0 ? "Add a small lag to the loop, or look for a discontinuity that has no solution."
                : (bits & EVENTS) != 0 ? "Move the thresholds apart, or add a lag between the switch and its measured signal."
                : (bits & SHORT_STEPS) != 0 ? "Use the solver ros2 for a stiff plant, or look for values that grow without limit."
                : (bits & NOT_FINITE) != 0 ? "Check the stability of the loop, the size of the step, and its inputs at this instant."
                : (bits & DOMAIN) != 0 ? "Limit the input to the range for which the function is defined."
                : "Check its inputs at this instant; keep the divisor away from zero, or limit the value before it is converted.";
    }
}
