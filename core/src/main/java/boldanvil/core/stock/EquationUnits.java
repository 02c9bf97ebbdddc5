package boldanvil.core.stock;

import boldanvil.core.quantity.Dimension;
import boldanvil.core.text.ElementText;
import boldanvil.core.text.ElementText.Choice;
import boldanvil.core.text.ElementText.Equality;
import boldanvil.core.text.ElementText.Symbol;
import boldanvil.core.text.Mistake;
import boldanvil.core.text.Term;
import java.util.List;
import java.util.Map;

/** Follows the kinds of quantities through the equations of an element. A number without unit takes the kind that is wanted. */
final class EquationUnits {
    private static final Kind ANY = new Kind(Dimension.NONE, true);
    private static final Kind UNKNOWN = new Kind(null, false);
    private static final Kind PURE = new Kind(Dimension.NONE, false);

    private final UnitFlow flow;
    private final Map<Symbol, Dimension> kinds;

    /**
     * Kind of a term.
     *
     * @param dimension null where it is not known
     * @param isBare whether it is a number that takes any kind
     */
    private record Kind(Dimension dimension, boolean isBare) {
        boolean isKnown() {
            return dimension != null && !isBare;
        }
    }

    EquationUnits(UnitFlow flow, Map<Symbol, Dimension> kinds) {
        this.flow = flow;
        this.kinds = kinds;
    }

    void check(List<ElementText.Equation> equations) {
        ElementText.forEach(equations, e -> {
            switch (e) {
                case Equality q -> alike(q.left(), of(q.left()), of(q.right()), "=");
                case Choice c -> {
                    condition(c.condition());
                    condition(c.until());
                }
            }
        });
    }

    private void condition(Term t) {
        switch (t) {
            case Term.Pair p when p.isComparison() -> alike(p, of(p.left()), of(p.right()), p.operator());
            case Term.Pair p -> {
                condition(p.left());
                condition(p.right());
            }
            case null, default -> { }
        }
    }

    private Kind alike(Term at, Kind a, Kind b, String operator) {
        if (a.isKnown() && b.isKnown() && !a.dimension().fits(b.dimension())) {
            wrong(at, "Left of '" + operator + "' is " + a.dimension().label() + ", right of it " + b.dimension().label() + ".",
                    "Correct the equation, or the unit of a quantity.");
            return UNKNOWN;
        }
        return a.isBare() ? b : a;
    }

    private Kind of(Term t) {
        return switch (t) {
            case Term.Number _ -> ANY;
            case Term.Logic _ -> UNKNOWN;
            case Term.Name n -> new Kind(kinds.get(n.symbol()), false);
            case Term.Sign s -> of(s.of());
            case Term.Call c -> call(c);
            case Term.Pair p -> pair(p);
        };
    }

    private Kind pair(Term.Pair p) {
        Kind a = of(p.left());
        Kind b = of(p.right());
        return switch (p.operator()) {
            case "+", "-" -> alike(p, a, b, p.operator());
            case "*" -> new Kind(UnitFlow.times(a.dimension(), b.dimension()), a.isBare() && b.isBare());
            case "/" -> new Kind(UnitFlow.over(a.dimension(), b.dimension()), a.isBare() && b.isBare());
            case "**" -> power(p, a, p.right());
            default -> UNKNOWN;
        };
    }

    private Kind power(Term at, Kind base, Term exponent) {
        pure(at, of(exponent), "An exponent");
        if (exponent instanceof Term.Number n) {
            return new Kind(UnitFlow.power(base.dimension(), n.value()), base.isBare());
        }
        pure(at, base, "What is raised to a power that is not a plain number");
        return PURE;
    }

    private void pure(Term at, Kind k, String what) {
        if (k.isKnown() && !k.dimension().isNone()) {
            wrong(at, what + " is " + k.dimension().label() + ".",
                    "Divide it by a quantity of the same kind, so that a pure number is left.");
        }
    }

    private Kind call(Term.Call c) {
        List<Kind> x = c.arguments().stream().map(this::of).toList();
        Kind first = x.getFirst();
        return switch (c.function()) {
            case ElementText.RATE -> {
                if (x.size() > 1) {
                    alike(c, first, x.get(1), ",");
                }
                yield new Kind(UnitFlow.over(first.dimension(), Dimension.TIME), false);
            }
            case "ABS" -> first;
            case "SQRT" -> new Kind(UnitFlow.power(first.dimension(), 0.5), first.isBare());
            case "MIN", "MAX", "LIMIT" -> {
                Kind all = first;
                for (Kind k : x.subList(1, x.size())) {
                    all = alike(c, all, k, ",");
                }
                yield all;
            }
            case "ATAN2" -> {
                alike(c, first, x.get(1), ",");
                yield PURE;
            }
            case "EXPT" -> power(c, first, c.arguments().get(1));
            default -> {
                pure(c, first, "The argument of " + c.function());
                yield PURE;
            }
        };
    }

    private void wrong(Term at, String cause, String cure) {
        flow.wrong("equations", new Mistake(at.at().line(), at.at().column(), cause, cure, true).located(), cure);
    }
}
