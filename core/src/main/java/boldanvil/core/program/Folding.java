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
        if (a.type().isFloat() && b instanceof Literal y && y.value() == 1 && (op == Op.MUL || op == Op.DIV)) {
            return a;
        }
        if (b.type().isFloat() && a instanceof Literal x && x.value() == 1 && op == Op.MUL) {
            return b;
        }
        return new Binary(op, a, b);
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
