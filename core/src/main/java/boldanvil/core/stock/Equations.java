package boldanvil.core.stock;

import boldanvil.core.maths.MathFunctions;
import boldanvil.core.network.Element;
import boldanvil.core.network.Element.Own;
import boldanvil.core.network.Element.Rule;
import boldanvil.core.network.Element.Switching;
import boldanvil.core.network.Form;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.Type;
import boldanvil.core.text.ElementText;
import boldanvil.core.text.ElementText.Choice;
import boldanvil.core.text.ElementText.Equality;
import boldanvil.core.text.ElementText.Role;
import boldanvil.core.text.ElementText.Symbol;
import boldanvil.core.text.Mistake;
import boldanvil.core.text.Term;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.BinaryOperator;

/** States the equations of an element that is written as text. What is linear stays so; the rest becomes functions. */
final class Equations {
    /** What stands in the place of arguments for which a root or a logarithm is not defined. */
    private static final double LEAST = 1e-300;

    private final Element e;
    private final ElementText text;
    private final Map<Symbol, Form> known = new LinkedHashMap<>();
    /** Names of what is stored. */
    private final Set<String> stored = new LinkedHashSet<>();

    /**
     * A sum of a linear form and a function that is not.
     *
     * @param names of the linear form
     * @param curve null for none
     * @param within names the curve depends on
     */
    private record Value(Form linear, Set<String> names, Element.Curve curve, List<Form> arguments, Set<String> within) {
        static Value of(Form linear, Set<String> names) {
            return new Value(linear, names, null, List.of(), Set.of());
        }

        static Value of(double constant) {
            return of(Form.of(constant), Set.of());
        }

        boolean isConstant() {
            return curve == null && linear.isConstant();
        }

        Value scaled(double factor) {
            return new Value(linear.times(factor), names, curve == null ? null : x -> curve.of(x).times(factor), arguments, within);
        }

        Value plus(Value o) {
            return new Value(linear.plus(o.linear), joined(names, o.names),
                    curve == null ? o.curve : o.curve == null ? curve : both((a, b) -> a.plus(b), arguments.size(), curve, o.curve),
                    concatenated(arguments, o.arguments), joined(within, o.within));
        }

        /** The same with all of it in the curve; it is not constant. */
        Value bent() {
            if (linear.isConstant()) {
                double c = linear.constant();
                return c == 0 ? this : new Value(Form.ZERO, Set.of(), x -> {
                    Expr y = curve.of(x);
                    return y.plus(Expr.of(y.type(), c));
                }, arguments, within);
            }
            Element.Curve mine = curve;
            int n = arguments.size();
            return new Value(Form.ZERO, Set.of(), x -> mine == null ? x.get(n) : mine.of(x.subList(0, n)).plus(x.get(n)),
                    concatenated(arguments, List.of(linear)), joined(names, within));
        }

        static Element.Curve both(BinaryOperator<Expr> how, int first, Element.Curve a, Element.Curve b) {
            return x -> how.apply(a.of(x.subList(0, first)), b.of(x.subList(first, x.size())));
        }

        static <T> List<T> concatenated(List<T> a, List<T> b) {
            List<T> all = new ArrayList<>(a);
            all.addAll(b);
            return all;
        }

        static Set<String> joined(Set<String> a, Set<String> b) {
            Set<String> all = new LinkedHashSet<>(a);
            all.addAll(b);
            return all;
        }
    }

    /** A condition: one of a logic input, quantities and a constant; or the first two together. */
    private record When(String gate, boolean negated, Own own, Rule rule, Boolean constant) {}

    private Equations(Element e, ElementText text) {
        this.e = e;
        this.text = text;
    }

    static void state(Element e) {
        var text = ElementText.of(e.text("equations"));
        if (!text.mistakes().isEmpty()) {
            return;
        }
        if (e.list("values").length != text.symbols(Role.PARAMETER).size()) {
            e.problem("The equations have " + text.symbols(Role.PARAMETER).size() + " parameters, but there are "
                    + e.list("values").length + " values.", "Enter one value for each parameter, in the order of VAR_PARAMETER.");
            return;
        }
        try {
            new Equations(e, text).state();
        } catch (WrongException w) {
            e.problem(w.getMessage(), w.cure);
        }
    }

    /** Leaves an equation that cannot be stated. */
    private static final class WrongException extends RuntimeException {
        private static final long serialVersionUID = 1;
        private final String cure;

        WrongException(Term at, String cause, String cure) {
            super(new Mistake(at.at().line(), at.at().column(), cause, cure, false).located(), null, false, false);
            this.cure = cure;
        }
    }

    private void state() {
        for (var b : text.branches()) {
            var x = e.branch(b.from(), b.to());
            known.put(b.across(), x.across());
            known.put(b.through(), x.through());
        }
        List<Symbol> parameters = text.symbols(Role.PARAMETER);
        for (int i = 0; i < parameters.size(); i++) {
            known.put(parameters.get(i), Form.of(e.list("values")[i]));
        }
        text.symbols(Role.QUANTITY).forEach(s -> known.put(s, e.unknown()));
        text.symbols(Role.OUTPUT).forEach(s -> {
            known.put(s, e.unknown());
            e.output(s.name(), known.get(s));
        });
        text.symbols(Role.INPUT).forEach(s -> known.put(s, e.input(s.name())));
        ElementText.forEach(text.equations(), q -> {
            if (q instanceof Equality x) {
                collect(x.left());
                collect(x.right());
            }
        });
        for (var q : text.equations()) {
            switch (q) {
                case Equality x -> e.equation(zero(x));
                case Choice c -> choice(c).forEach((pair) -> pair.state(e));
            }
        }
    }

    private void collect(Term t) {
        switch (t) {
            case Term.Call c -> {
                if (c.function().equals(ElementText.RATE)) {
                    names(c.arguments().getFirst(), stored);
                }
                c.arguments().forEach(this::collect);
            }
            case Term.Pair p -> {
                collect(p.left());
                collect(p.right());
            }
            case Term.Sign s -> collect(s.of());
            default -> { }
        }
    }

    private static void names(Term t, Set<String> into) {
        switch (t) {
            case Term.Name n -> into.add(n.symbol().name());
            case Term.Call c -> c.arguments().forEach(a -> names(a, into));
            case Term.Pair p -> {
                names(p.left(), into);
                names(p.right(), into);
            }
            case Term.Sign s -> names(s.of(), into);
            default -> { }
        }
    }

    /** An equation that depends on a switch, or on none. */
    private record Branched(Element.Switch by, Form on, Form off) {
        void state(Element e) {
            if (by == null) {
                e.equation(on);
            } else {
                e.equation(by, on, off);
            }
        }
    }

    private List<Branched> choice(Choice c) {
        When w = when(c);
        if (w.constant() != null) {
            return residuals(w.constant() ? c.yes() : c.no()).stream().map(f -> new Branched(null, f, null)).toList();
        }
        List<Form> yes = residuals(w.negated() ? c.no() : c.yes());
        List<Form> no = residuals(w.negated() ? c.yes() : c.no());
        var how = w.gate() == null ? Switching.by(w.own()) : w.own() == null ? Switching.by(w.gate())
                : Switching.by(w.gate()).with(w.rule(), w.own());
        var by = e.switched(how);
        List<Branched> all = new ArrayList<>();
        for (int i = 0; i < yes.size(); i++) {
            all.add(new Branched(by, yes.get(i), no.get(i)));
        }
        return all;
    }

    /** What is zero; of a condition within another one, a quantity of its own that it decides. */
    private List<Form> residuals(List<ElementText.Equation> some) {
        List<Form> all = new ArrayList<>();
        for (var q : some) {
            switch (q) {
                case Equality x -> all.add(zero(x));
                case Choice c -> choice(c).forEach(b -> {
                    Form z = e.unknown();
                    new Branched(b.by(), b.on().minus(z), b.by() == null ? null : b.off().minus(z)).state(e);
                    all.add(z);
                });
            }
        }
        return all;
    }

    private When when(Choice c) {
        When w = condition(c.condition());
        if (c.until() == null) {
            return w;
        }
        if (!(c.until() instanceof Term.Pair p) || !p.isComparison() || w.own() == null) {
            throw new WrongException(c.until(), "UNTIL needs a comparison here, and one before it.", "Write, for example, IF v > 5 UNTIL "
                    + "v < 4 THEN.");
        }
        Form stays = form(difference(p)).times(-1);
        return new When(w.gate(), false, Own.of(w.own().starts(), stays), w.rule() == Rule.BOTH ? Rule.LATCHED : w.rule(), null);
    }

    private When condition(Term t) {
        return switch (t) {
            case Term.Logic l -> new When(null, false, null, null, l.value());
            case Term.Name n when n.symbol().role() == Role.LOGIC_INPUT -> new When(n.symbol().name(), false, null, null, null);
            case Term.Sign s when s.operator().equals("NOT") -> {
                When w = condition(s.of());
                if (w.own() != null) {
                    throw new WrongException(t, "NOT stands before a comparison.", "Write the opposite comparison.");
                }
                yield new When(w.gate(), !w.negated(), null, null, w.constant() == null ? null : !w.constant());
            }
            case Term.Pair p when p.isComparison() -> {
                Value d = difference(p);
                yield d.isConstant() ? new When(null, false, null, null, d.linear().constant() > 0)
                        : new When(null, false, Own.of(form(d)), null, null);
            }
            case Term.Pair p when p.operator().equals("AND") || p.operator().equals("OR") -> joined(p);
            default -> throw new WrongException(t, "This is not a condition.",
                    "Compare two terms by < or >, or name an input that is BOOL.");
        };
    }

    private When joined(Term.Pair p) {
        When a = condition(p.left());
        When b = condition(p.right());
        boolean and = p.operator().equals("AND");
        if (a.constant() != null || b.constant() != null) {
            boolean value = a.constant() != null ? a.constant() : b.constant();
            When other = a.constant() != null ? b : a;
            return value == and ? other : new When(null, false, null, null, value);
        }
        When gate = a.gate() != null ? a : b;
        When own = gate == a ? b : a;
        if (gate.gate() == null || gate.negated() || gate.own() != null || own.own() == null || own.gate() != null) {
            throw new WrongException(p, "A condition joins one input that is BOOL with one comparison.",
                    "Put further conditions into an IF within this one.");
        }
        return new When(gate.gate(), false, own.own(), and ? Rule.BOTH : Rule.EITHER, null);
    }

    /** Positive while a comparison is true. */
    private Value difference(Term.Pair p) {
        Value left = value(p.left());
        Value right = value(p.right());
        return p.operator().startsWith(">") ? left.plus(right.scaled(-1)) : right.plus(left.scaled(-1));
    }

    /** An equation as a form that is zero. Where none of its linear part gives an unknown, a function gives one of the others. */
    private Form zero(Equality q) {
        Value d = value(q.left()).plus(value(q.right()).scaled(-1));
        boolean gives = d.names().stream().anyMatch(n -> !stored.contains(n));
        if (d.curve() == null || gives) {
            return form(d);
        }
        Symbol given = known.keySet().stream().filter(s -> d.within().contains(s.name()) && !stored.contains(s.name())
                && (s.role().isUnknown() || s.role() == Role.ACROSS)).min(Comparator.comparing(Symbol::role).reversed())
                .orElseThrow(() -> new WrongException(q.left(), "The equation gives no quantity.",
                        "Let it contain a quantity that nothing stores."));
        Form y = known.get(given);
        Value rest = d.bent();
        int n = rest.arguments().size();
        Form[] arguments = Value.concatenated(rest.arguments(), List.of(y)).toArray(Form[]::new);
        return y.minus(e.function(x -> x.get(n).minus(rest.curve().of(x.subList(0, n))), arguments));
    }

    private Form form(Value v) {
        return v.curve() == null ? v.linear() : v.linear().plus(e.function(v.curve(), v.arguments().toArray(Form[]::new)));
    }

    private Value value(Term t) {
        return switch (t) {
            case Term.Number n -> Value.of(n.value());
            case Term.Name n when n.symbol().role() != Role.LOGIC_INPUT -> Value.of(known.get(n.symbol()),
                    n.symbol().role() == Role.PARAMETER || n.symbol().role() == Role.INPUT ? Set.of() : Set.of(n.symbol().name()));
            case Term.Sign s when s.operator().equals("-") -> value(s.of()).scaled(-1);
            case Term.Call c when c.function().equals(ElementText.RATE) -> rate(c);
            case Term.Call c -> call(c);
            case Term.Pair p -> pair(p);
            default -> throw new WrongException(t, "A logic value stands where a quantity is needed.", "Use it in a condition.");
        };
    }

    private Value rate(Term.Call c) {
        Value of = value(c.arguments().getFirst());
        Value initial = c.arguments().size() < 2 ? Value.of(0) : value(c.arguments().get(1));
        if (!initial.isConstant()) {
            throw new WrongException(c, "The value at the start is not constant.", "Use parameters and numbers only.");
        }
        if (of.curve() != null) {
            throw new WrongException(c, "What is stored is not linear.", "Declare a quantity for it, state its equation, and use RATE of "
                    + "that quantity.");
        }
        return Value.of(e.rate(of.linear(), initial.linear().constant()), Set.of(ElementText.RATE));
    }

    private Value pair(Term.Pair p) {
        Value a = value(p.left());
        Value b = value(p.right());
        return switch (p.operator()) {
            case "+" -> a.plus(b);
            case "-" -> a.plus(b.scaled(-1));
            case "*" -> a.isConstant() ? b.scaled(a.linear().constant()) : b.isConstant() ? a.scaled(b.linear().constant())
                    : bent((x, y) -> x.times(y), a, b);
            case "/" -> {
                if (b.isConstant() && b.linear().constant() == 0) {
                    throw new WrongException(p, "The divisor is zero.", "Change the values of the parameters.");
                }
                yield b.isConstant() ? a.scaled(1 / b.linear().constant()) : bent((x, y) -> x.over(y), a, b);
            }
            case "**" -> function("EXPT", List.of(a, b));
            default -> throw new WrongException(p, "A logic value stands where a quantity is needed.", "Use it in a condition.");
        };
    }

    private static Value bent(BinaryOperator<Expr> how, Value a, Value b) {
        if (a.isConstant() || b.isConstant()) {
            double c = (a.isConstant() ? a : b).linear().constant();
            Value other = (a.isConstant() ? b : a).bent();
            boolean first = a.isConstant();
            return new Value(Form.ZERO, Set.of(), x -> {
                Expr y = other.curve().of(x);
                Expr k = Expr.of(y.type(), c);
                return first ? how.apply(k, y) : how.apply(y, k);
            }, other.arguments(), other.within());
        }
        Value left = a.bent();
        Value right = b.bent();
        return new Value(Form.ZERO, Set.of(), Value.both(how, left.arguments().size(), left.curve(), right.curve()),
                Value.concatenated(left.arguments(), right.arguments()), Value.joined(left.within(), right.within()));
    }

    private Value call(Term.Call c) {
        return function(c.function(), c.arguments().stream().map(this::value).toList());
    }

    private static Value function(String name, List<Value> arguments) {
        if (arguments.stream().allMatch(Value::isConstant)) {
            return Value.of(constant(name, arguments.stream().mapToDouble(a -> a.linear().constant()).toArray()));
        }
        if (name.equals("LIMIT")) {
            return function("MIN", List.of(function("MAX", arguments.subList(0, 2)), arguments.get(2)));
        }
        if (arguments.size() == 1) {
            Value x = arguments.getFirst().bent();
            return new Value(Form.ZERO, Set.of(), v -> one(name, x.curve().of(v)), x.arguments(), x.within());
        }
        return bent((x, y) -> two(name, x, y), arguments.get(0), arguments.get(1));
    }

    private static Expr one(String name, Expr x) {
        return switch (name) {
            case "ABS" -> x.call(Intrinsic.ABS);
            case "SQRT" -> greater(x, Expr.of(x.type(), 0)).call(Intrinsic.SQRT);
            case "LN" -> MathFunctions.apply(MathFunctions.LOGARITHM, positive(x));
            case "LOG" -> MathFunctions.decimalLogarithm(positive(x));
            case "EXP" -> MathFunctions.apply(MathFunctions.EXPONENTIAL, x);
            case "SIN" -> MathFunctions.apply(MathFunctions.SINE, x);
            case "COS" -> MathFunctions.apply(MathFunctions.COSINE, x);
            case "TAN" -> MathFunctions.tangent(x);
            default -> MathFunctions.apply(MathFunctions.ARC_TANGENT, x);
        };
    }

    private static Expr positive(Expr x) {
        return greater(x, Expr.of(x.type(), x.type() == Type.FLOAT32 ? 1e-30 : LEAST));
    }

    private static Expr greater(Expr x, Expr y) {
        return x.when(x.gt(y), y);
    }

    private static Expr two(String name, Expr x, Expr y) {
        return switch (name) {
            case "MIN" -> x.when(x.lt(y), y);
            case "MAX" -> greater(x, y);
            case "ATAN2" -> MathFunctions.apply(MathFunctions.ANGLE, x, y);
            default -> power(x, y);
        };
    }

    private static Expr power(Expr x, Expr y) {
        if (y instanceof Expr.Literal l && (l.value() == 2 || l.value() == 3)) {
            return l.value() == 2 ? x.times(x) : x.times(x).times(x);
        }
        return MathFunctions.apply(MathFunctions.POWER, x, y);
    }

    private static double constant(String name, double[] x) {
        return switch (name) {
            case "ABS" -> Math.abs(x[0]);
            case "SQRT" -> StrictMath.sqrt(x[0]);
            case "LN" -> StrictMath.log(x[0]);
            case "LOG" -> StrictMath.log10(x[0]);
            case "EXP" -> StrictMath.exp(x[0]);
            case "SIN" -> StrictMath.sin(x[0]);
            case "COS" -> StrictMath.cos(x[0]);
            case "TAN" -> StrictMath.tan(x[0]);
            case "ATAN" -> StrictMath.atan(x[0]);
            case "ATAN2" -> StrictMath.atan2(x[0], x[1]);
            case "MIN" -> Math.min(x[0], x[1]);
            case "MAX" -> Math.max(x[0], x[1]);
            case "LIMIT" -> Math.min(Math.max(x[0], x[1]), x[2]);
            default -> StrictMath.pow(x[0], x[1]);
        };
    }
}
