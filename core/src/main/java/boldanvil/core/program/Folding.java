package boldanvil.core.program;

import boldanvil.core.program.Expr.Binary;
import boldanvil.core.program.Expr.Literal;
import boldanvil.core.program.Expr.Op;

/** Constant folding that changes no result by a single bit. */
final class Folding {
    private Folding() {}

    static Expr binary(Op op, Expr a, Expr b) {
        if (a.type().isWide() || b.type().isWide()) {
            return new Binary(op, a, b);
        }
        if (a instanceof Literal x && b instanceof Literal y && a.type() == b.type()
                && (a.type().isFloat() || !op.isArithmetic())) {
            return new Literal(op.isArithmetic() ? a.type() : Type.BOOL, Arithmetic.binary(op, a.type(), x.value(), y.value()));
        }
        if (a instanceof Literal x && b instanceof Literal y && a.type() == b.type() && a.type().isInteger() && !op.isBits()
                && (op != Op.DIV && op != Op.REM || y.value() != 0)) {
            return new Literal(a.type(), Arithmetic.binary(op, a.type(), x.value(), y.value()));
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
}
