package boldanvil.core.maths;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Function;
import boldanvil.core.program.Slot;
import java.util.List;
import java.util.Optional;

/** Derivatives of expressions, as expressions. Where a function jumps or has a corner, the derivative of one side is taken. */
public final class Derivative {
    private final Slot by;

    private Derivative(Slot by) {
        this.by = by;
    }

    /**
     * The derivative of an expression by the value of a slot.
     *
     * @param e of floats; integers and conditions in it count as constant
     * @throws IllegalArgumentException for a function whose derivative is not known
     */
    public static Expr of(Expr e, Slot by) {
        return new Derivative(by).of(e);
    }

    private Expr of(Expr e) {
        Expr zero = Expr.of(e.type(), 0);
        return switch (e) {
            case Expr.Read r -> r.slot() == by ? Expr.of(e.type(), 1) : zero;
            case Expr.Binary b when e.type().isFloat() -> binary(b);
            case Expr.Select s -> of(s.yes()).when(s.condition(), of(s.no()));
            case Expr.Convert c when e.type().isFloat() && c.a().type().isFloat() -> of(c.a()).as(c.type());
            case Expr.Call c -> chain(slope(c), of(c.a()));
            case Expr.Apply a -> apply(a);
            default -> zero;
        };
    }

    private static boolean isZero(Expr e) {
        return e instanceof Expr.Literal l && l.value() == 0;
    }

    private static Expr chain(Expr outer, Expr inner) {
        return isZero(inner) || isZero(outer) ? Expr.of(outer.type(), 0) : inner.equals(Expr.of(inner.type(), 1)) ? outer
                : outer.times(inner);
    }

    private static Expr sum(Expr a, Expr b) {
        return isZero(a) ? b : isZero(b) ? a : a.plus(b);
    }

    private Expr binary(Expr.Binary b) {
        Expr da = of(b.a());
        Expr db = of(b.b());
        return switch (b.op()) {
            case ADD -> sum(da, db);
            case SUB -> isZero(db) ? da : isZero(da) ? db.negated() : da.minus(db);
            case MUL -> sum(chain(b.b(), da), chain(b.a(), db));
            case DIV -> sum(isZero(da) ? da : da.over(b.b()), chain(b.a().negated().over(b.b().times(b.b())), db));
            case REM -> da;
            default -> Expr.of(b.type(), 0);
        };
    }

    private static Expr slope(Expr.Call c) {
        Expr one = Expr.of(c.type(), 1);
        return switch (c.intrinsic()) {
            case ABS -> one.negated().when(c.a().lt(Expr.of(c.type(), 0)), one);
            case SQRT -> Expr.of(c.type(), 0.5).over(c);
            case FLOOR, CEIL, RINT -> Expr.of(c.type(), 0);
        };
    }

    private Expr apply(Expr.Apply a) {
        List<Expr> x = a.arguments();
        Expr sum = Expr.of(a.type(), 0);
        for (int i = 0; i < x.size(); i++) {
            Expr inner = of(x.get(i));
            if (!isZero(inner)) {
                sum = sum(sum, chain(partial(a, i).orElseThrow(() -> new IllegalArgumentException(
                        "The derivative of '" + a.function().name() + "' is not known.")), inner));
            }
        }
        return sum;
    }

    /**
     * The derivative of a function by one of its arguments.
     *
     * @return empty for a function whose derivative is not known, which may still follow from its body
     */
    public static Optional<Expr> partial(Expr.Apply a, int i) {
        Function f = a.function();
        Expr x = a.arguments().getFirst();
        Expr one = Expr.of(x.type(), 1);
        if (f == MathFunctions.SINE || f == MathFunctions.SINE32) {
            return Optional.of(MathFunctions.apply(MathFunctions.COSINE, x));
        }
        if (f == MathFunctions.COSINE || f == MathFunctions.COSINE32) {
            return Optional.of(MathFunctions.apply(MathFunctions.SINE, x).negated());
        }
        if (f == MathFunctions.EXPONENTIAL) {
            return Optional.of(a);
        }
        if (f == MathFunctions.LOGARITHM) {
            return Optional.of(one.over(x));
        }
        if (f == MathFunctions.DECIMAL_LOGARITHM) {
            return Optional.of(one.over(x.times(Math.log(10))));
        }
        if (f == MathFunctions.ARC_TANGENT) {
            return Optional.of(one.over(one.plus(x.times(x))));
        }
        if (f == MathFunctions.HYPOTENUSE) {
            return Optional.of(a.arguments().get(i).over(a));
        }
        Expr y = x;
        if (f == MathFunctions.ANGLE) {
            // The angle of (x, y); its arguments are y and x.
            Expr across = a.arguments().get(1);
            Expr square = y.times(y).plus(across.times(across));
            return Optional.of(i == 0 ? across.over(square) : y.negated().over(square));
        }
        if (f == MathFunctions.POWER) {
            Expr exponent = a.arguments().get(1);
            return Optional.of(i == 0 ? exponent.times(MathFunctions.apply(f, x, exponent.minus(one)))
                    : a.times(MathFunctions.apply(MathFunctions.LOGARITHM, x)));
        }
        return Optional.empty();
    }
}
