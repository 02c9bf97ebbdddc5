package boldanvil.core.program;

import boldanvil.core.program.Expr.Form;
import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.Expr.Op;

/** What the operations of the IR come to for single values. Whoever calls them sees to faults: an integer divided by zero is 0 here. */
public final class Arithmetic {
    private Arithmetic() {}

    /** @param t type of the operands */
    public static double binary(Op op, Type t, double a, double b) {
        return switch (op) {
            case ADD, SUB, MUL, DIV, REM -> t.isInteger() ? whole(op, t, (long) a, (long) b) : real(op, t == Type.FLOAT32, a, b);
            case BAND -> (long) a & (long) b;
            case BOR -> (long) a | (long) b;
            case BXOR -> (long) a ^ (long) b;
            case SHL -> b < 0 || b > 31 ? 0 : t.wrap((long) a << (long) b);
            case SHR -> (long) a >> (b < 0 || b > 31 ? 40 : (long) b);
            case LT -> truth(a < b);
            case LE -> truth(a <= b);
            case GT -> truth(a > b);
            case GE -> truth(a >= b);
            case EQ -> truth(a == b);
            case NE, XOR -> truth(a != b);
            case AND -> truth(a != 0 && b != 0);
            case OR -> truth(a != 0 || b != 0);
        };
    }

    private static double truth(boolean b) {
        return b ? 1 : 0;
    }

    private static double whole(Op op, Type t, long a, long b) {
        return switch (op) {
            case ADD -> t.wrap(a + b);
            case SUB -> t.wrap(a - b);
            case MUL -> t.wrap(a * b);
            case DIV -> b == 0 ? 0 : t.wrap(a / b);
            default -> b == 0 ? 0 : t.wrap(a % b);
        };
    }

    private static double real(Op op, boolean single, double a, double b) {
        return switch (op) {
            case ADD -> single ? (float) a + (float) b : a + b;
            case SUB -> single ? (float) a - (float) b : a - b;
            case MUL -> single ? (float) a * (float) b : a * b;
            case DIV -> single ? (float) a / (float) b : a / b;
            default -> single ? (float) a % (float) b : a % b;
        };
    }

    /** @param t the float type of value and result */
    public static double call(Intrinsic f, Type t, double a) {
        return t.convert(switch (f) {
            case ABS -> Math.abs(a);
            case SQRT -> Math.sqrt(a);
            case FLOOR -> Math.floor(a);
            case CEIL -> Math.ceil(a);
            case RINT -> Math.rint(a);
        });
    }

    /** @param low the second operand of a form with two; else of no account */
    public static double bits(Form form, double a, double low) {
        return switch (form) {
            case FLOAT32_TO_UINT32 -> Integer.toUnsignedLong(Float.floatToRawIntBits((float) a));
            case UINT32_TO_FLOAT32 -> Float.intBitsToFloat((int) (long) a);
            case HIGH_OF_FLOAT64 -> Double.doubleToRawLongBits(a) >>> 32;
            case LOW_OF_FLOAT64 -> Double.doubleToRawLongBits(a) & 0xFFFF_FFFFL;
            case HALVES_TO_FLOAT64 -> Double.longBitsToDouble((long) a << 32 | (long) low);
        };
    }
}
