package boldanvil.core.program;

import boldanvil.core.program.Expr.Binary;
import boldanvil.core.program.Expr.Literal;
import boldanvil.core.program.Expr.Op;

/** Constant folding that changes no result by a single bit. */
final class Folding {
    private Folding() {}

    static Expr binary(Op op, Expr a, Expr b) {
        if (a instanceof Literal x && b instanceof Literal y && a.type() == b.type()
                && (a.type().isFloat() || !op.isArithmetic())) {
            return fold(op, x, y);
        }
        if (a instanceof Literal x && b instanceof Literal y && a.type() == b.type() && a.type().isInteger()) {
            Literal whole = whole(op, a.type(), (long) x.value(), (long) y.value());
            if (whole != null) {
                return whole;
            }
        }
        Expr known = !op.isArithmetic() && a.type() == b.type() ? known(op, a, b) : null;
        if (known != null) {
            return known;
        }
        if (a.type().isFloat() && b instanceof Literal y && y.value() == 1 && (op == Op.MUL || op == Op.DIV)) {
            return a;
        }
        if (b.type().isFloat() && a instanceof Literal x && x.value() == 1 && op == Op.MUL) {
            return b;
        }
        return new Binary(op, a, b);
    }

    /** Integer arithmetic; null where it would fault, and for shifts. */
    private static Literal whole(Op op, Type t, long x, long y) {
        return switch (op) {
            case ADD -> new Literal(t, t.wrap(x + y));
            case SUB -> new Literal(t, t.wrap(x - y));
            case MUL -> new Literal(t, t.wrap(x * y));
            case DIV -> y == 0 ? null : new Literal(t, t.wrap(x / y));
            case REM -> y == 0 ? null : new Literal(t, t.wrap(x % y));
            default -> null;
        };
    }

    /** Comparisons and logic whose result the type or one operand settles; null for the others. */
    private static Expr known(Op op, Expr a, Expr b) {
        if (op == Op.AND || op == Op.OR) {
            return a instanceof Literal x ? settle(op, x, b) : b instanceof Literal y ? settle(op, y, a) : null;
        }
        boolean same = a instanceof Expr.Read x && b instanceof Expr.Read y && x.slot() == y.slot();
        if (same && !a.type().isFloat()) {
            return Expr.of(op == Op.LE || op == Op.GE || op == Op.EQ);
        }
        if (!a.type().isInteger()) {
            return null;
        }
        if (b instanceof Literal y) {
            return beyond(op, a.type(), y.value());
        }
        return a instanceof Literal x ? beyond(mirrored(op), a.type(), x.value()) : null;
    }

    private static Expr settle(Op op, Literal known, Expr other) {
        boolean holds = known.value() != 0;
        return holds == (op == Op.AND) ? other : Expr.of(holds);
    }

    /** An integer against a bound that no value of its type can pass. */
    private static Expr beyond(Op op, Type t, double bound) {
        return switch (op) {
            case LT -> bound == t.least() ? Expr.of(false) : null;
            case GE -> bound == t.least() ? Expr.of(true) : null;
            case GT -> bound == t.greatest() ? Expr.of(false) : null;
            case LE -> bound == t.greatest() ? Expr.of(true) : null;
            default -> null;
        };
    }

    private static Op mirrored(Op op) {
        return switch (op) {
            case LT -> Op.GT;
            case LE -> Op.GE;
            case GT -> Op.LT;
            case GE -> Op.LE;
            default -> op;
        };
    }

    private static Expr fold(Op op, Literal a, Literal b) {
        double x = a.value();
        double y = b.value();
        boolean single = a.type() == Type.FLOAT32;
        return switch (op) {
            case ADD -> new Literal(a.type(), single ? (float) x + (float) y : x + y);
            case SUB -> new Literal(a.type(), single ? (float) x - (float) y : x - y);
            case MUL -> new Literal(a.type(), single ? (float) x * (float) y : x * y);
            case DIV -> new Literal(a.type(), single ? (float) x / (float) y : x / y);
            case REM -> new Literal(a.type(), single ? (float) x % (float) y : x % y);
            case BAND, BOR, BXOR, SHL, SHR -> throw new IllegalArgumentException(op + " of real numbers");
            case LT -> Expr.of(x < y);
            case LE -> Expr.of(x <= y);
            case GT -> Expr.of(x > y);
            case GE -> Expr.of(x >= y);
            case EQ -> Expr.of(x == y);
            case NE, XOR -> Expr.of(x != y);
            case AND -> Expr.of(x != 0 && y != 0);
            case OR -> Expr.of(x != 0 || y != 0);
        };
    }
}
