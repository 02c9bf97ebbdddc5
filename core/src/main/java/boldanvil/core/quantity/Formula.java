package boldanvil.core.quantity;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.DoubleBinaryOperator;
import java.util.function.DoubleUnaryOperator;
import java.util.function.Function;

/**
 * An expression in a parameter field. Numbers may carry a unit ({@code 0.9 mH}, {@code 1.65 V}), names are project
 * variables, and the usual operators, functions and brackets apply. A list of values is in square brackets:
 * {@code [0, 0.5, 1]}. The result is in SI units and carries its kind: lengths and times cannot be added, and an exponential takes a pure
 * number. A number without a unit takes the kind it meets.
 *
 * <p>A unit directly follows its number. It may be a product or quotient of unit symbols ({@code N·m/A}); it ends where a
 * name is not a unit symbol or is a project variable, so {@code 24 V/R} divides by the variable {@code R}.
 */
public final class Formula {
    private static final int MAX_LENGTH = 2_000;
    private static final int MAX_DEPTH = 60;
    private static final Map<String, DoubleUnaryOperator> FUNCTIONS = Map.of(
            "sqrt", Math::sqrt, "abs", Math::abs, "sin", Math::sin, "cos", Math::cos, "tan", Math::tan,
            "exp", Math::exp, "ln", Math::log, "round", v -> Math.floor(v + 0.5), "floor", Math::floor, "ceil", Math::ceil);
    /** Functions that take and give pure numbers only. */
    private static final Set<String> OF_NUMBERS = Set.of("sin", "cos", "tan", "exp", "ln");
    private static final Map<String, DoubleBinaryOperator> FUNCTIONS_2 =
            Map.of("min", Math::min, "max", Math::max, "atan2", Math::atan2);

    private static final Set<String> WORDS = Set.of("and", "or", "not", "between");
    private static final Map<String, DoubleBinaryOperator> RELATIONS = Map.of("<", (x, y) -> x < y ? 1 : 0, "<=", (x, y) -> x <= y ? 1 : 0,
            "≤", (x, y) -> x <= y ? 1 : 0, ">", (x, y) -> x > y ? 1 : 0, ">=", (x, y) -> x >= y ? 1 : 0, "≥", (x, y) -> x >= y ? 1 : 0,
            "=", (x, y) -> x == y ? 1 : 0, "<>", (x, y) -> x != y ? 1 : 0, "≠", (x, y) -> x != y ? 1 : 0);

    private final FormulaScanner in;
    private final Map<String, Quantity> variables;
    private final Set<String> used = new TreeSet<>();
    /** Where variables are named, by their start. */
    private final Map<Integer, String> named = new java.util.TreeMap<>();
    private int depth;
    private int rows;
    private Function<String, Live> signals = _ -> null;
    private int signalsRead;
    /** Whether kinds are left unchecked, where only names matter. */
    private boolean lenient;
    /** Whether a sign stands before what is read next. */
    private boolean minus;

    private Formula(String text, Map<String, Quantity> variables, Set<String> words) {
        in = new FormulaScanner(text, variables.keySet(), words);
        this.variables = variables;
    }

    /**
     * Evaluates a text to one number in SI, of any kind.
     *
     * @param variables values by name
     * @throws FormulaException when the text is not an expression, names something unknown or joins kinds that do not fit
     */
    public static double evaluate(String text, Map<String, Quantity> variables) {
        return quantity(text, variables).value();
    }

    /**
     * Evaluates a text to one number in SI where a unit is wanted.
     *
     * @param unit the unit of a bare number; its kind is that of the result. Empty where any kind will do
     */
    public static double evaluate(String text, Map<String, Quantity> variables, String unit) {
        return quantity(text, variables).in(unit);
    }

    /** Evaluates a text to one value with its kind. */
    public static Quantity quantity(String text, Map<String, Quantity> variables) {
        var list = quantities(text, variables);
        if (list.size() != 1) {
            throw new FormulaException("A single number is needed here, not a list of " + list.size() + ".", 0);
        }
        return list.getFirst();
    }

    /** Evaluates a text to a list of numbers; a single number is a list of one, a list of lists is read row by row. */
    public static double[] evaluateList(String text, Map<String, Quantity> variables) {
        return evaluateList(text, variables, "");
    }

    /** Evaluates a text to a list of numbers where a unit is wanted. */
    public static double[] evaluateList(String text, Map<String, Quantity> variables, String unit) {
        return quantities(text, variables).stream().mapToDouble(q -> q.in(unit)).toArray();
    }

    /** Evaluates a text to a list of values with their kinds. */
    public static List<Quantity> quantities(String text, Map<String, Quantity> variables) {
        var f = new Formula(checked(text), variables, Set.of());
        var values = f.list();
        f.in.end();
        return values.stream().map(v -> new Quantity(v.now(), v.dimension())).toList();
    }

    /**
     * Reads an expression over values that change. In addition to the above it compares with {@code < <= > >= = <>}, states a band as
     * {@code x = 5 mm ± 1 mm} or {@code x between 1 mm and 5 mm}, and joins conditions with {@code and}, {@code or} and {@code not}; a
     * condition is 1 or 0.
     *
     * @param variables values by name
     * @param signals what a name that may contain dots stands for; null for what is none
     * @throws FormulaException as {@link #evaluate}
     */
    public static Live live(String text, Map<String, Quantity> variables, Function<String, Live> signals) {
        var f = new Formula(checked(text), variables, WORDS);
        f.signals = signals;
        Live v = f.either();
        f.in.end();
        return v;
    }

    /** Number of inner lists in a text such as {@code [[1, 2], [3, 4]]}; 1 for a plain list. */
    public static int rows(String text, Map<String, Quantity> variables) {
        var f = new Formula(checked(text), variables, Set.of());
        f.list();
        return Math.max(1, f.rows);
    }

    /** The variables a text names, whether or not it can be evaluated as a whole. */
    public static Set<String> names(String text, Set<String> known) {
        return read(text, known).used;
    }

    /**
     * A text with other texts in place of some of its variables; units and functions of their names stay.
     *
     * @param texts by name of a variable
     * @param known all variables there are
     */
    public static String replaced(String text, Map<String, String> texts, Set<String> known) {
        var s = new StringBuilder();
        int done = 0;
        for (var e : read(text, known).named.entrySet()) {
            if (texts.containsKey(e.getValue())) {
                s.append(text, done, e.getKey()).append(texts.get(e.getValue()));
                done = e.getKey() + e.getValue().length();
            }
        }
        return s.append(text.substring(done)).toString();
    }

    private static Formula read(String text, Set<String> known) {
        var values = new java.util.HashMap<String, Quantity>();
        known.forEach(k -> values.put(k, Quantity.bare(1)));
        var f = new Formula(text.length() > MAX_LENGTH ? "" : text, values, Set.of());
        f.lenient = true;
        try {
            f.list();
        } catch (FormulaException e) {
            return f;
        }
        return f;
    }

    /** Whether the text is just one name, of a variable for example. */
    public static boolean isName(String text) {
        return text.strip().matches("[A-Za-z_][A-Za-z0-9_]*");
    }

    private static String checked(String text) {
        if (text.length() > MAX_LENGTH) {
            throw new FormulaException("The expression is longer than " + MAX_LENGTH + " characters.", MAX_LENGTH);
        }
        return text;
    }

    private List<Live> list() {
        in.skip();
        if (!in.eat('[')) {
            return List.of(sum());
        }
        List<Live> values = new ArrayList<>();
        if (in.eat(']')) {
            return values;
        }
        do {
            in.skip();
            if (in.eat('[')) {
                do {
                    values.add(sum());
                } while (in.eat(','));
                in.expect(']');
                rows++;
            } else {
                values.add(sum());
            }
        } while (in.eat(','));
        in.expect(']');
        return values;
    }

    private Live bracket() {
        return in.isConditional() ? either() : sum();
    }

    private Live either() {
        Live v = both();
        while (in.word("or")) {
            Live b = both();
            v = logic(v, "or").with(logic(b, "or"), (x, y) -> x != 0 || y != 0 ? 1 : 0, null);
        }
        return v;
    }

    private Live both() {
        Live v = negated();
        while (in.word("and")) {
            Live b = negated();
            v = logic(v, "and").with(logic(b, "and"), (x, y) -> x != 0 && y != 0 ? 1 : 0, null);
        }
        return v;
    }

    private Live negated() {
        if (!in.word("not")) {
            return relation();
        }
        if (++depth > MAX_DEPTH) {
            throw in.error("Negations are nested deeper than " + MAX_DEPTH + ".");
        }
        Live v = logic(negated(), "not").mapped(x -> x == 0 ? 1 : 0, null);
        depth--;
        return v;
    }

    private Live logic(Live v, String word) {
        if (v.dimension() != null && !v.dimension().isNone()) {
            throw in.error("'" + word + "' joins conditions, but this is " + v.dimension().label() + ".");
        }
        return v;
    }

    private Live relation() {
        Live v = sum();
        if (in.word("between")) {
            Live low = sum();
            if (!in.word("and")) {
                throw in.error("'between' needs two values, joined by 'and'.");
            }
            Live high = sum();
            requireUnit(v, low);
            requireUnit(v, high);
            Live above = v.with(low, (x, y) -> x >= y ? 1 : 0, common(v, low));
            Live below = v.with(high, (x, y) -> x <= y ? 1 : 0, common(v, high));
            return above.with(below, (x, y) -> x * y, null);
        }
        String op = relationAt();
        if (op.isEmpty()) {
            return v;
        }
        in.at += op.length();
        Live b = sum();
        Dimension d = common(v, b);
        requireUnit(v, b);
        if (op.equals("=") && (in.eat('±') || in.eat("+-"))) {
            Live tolerance = sum();
            common(new Live(v.value(), d), tolerance);
            return v.with(b, (x, y) -> Math.abs(x - y), d).with(tolerance, (x, y) -> x <= y ? 1 : 0, null);
        }
        return v.with(b, RELATIONS.get(op), null);
    }

    /** A quantity is compared with a bare number only where that is 0: of others the unit would be a guess. */
    private void requireUnit(Live a, Live b) {
        Live bare = a.dimension() == null ? a : b;
        Dimension kind = a.dimension() == null ? b.dimension() : a.dimension();
        if (bare.dimension() == null && kind != null && !kind.isNone() && bare.now() != 0) {
            throw in.error("It is compared with " + kind.label() + ", so it needs a unit.");
        }
    }

    /** The sign of a relation that stands here; empty for none. */
    private String relationAt() {
        in.skip();
        for (int length = 2; length > 0; length--) {
            if (in.at + length <= in.text.length() && RELATIONS.containsKey(in.text.substring(in.at, in.at + length))) {
                return in.text.substring(in.at, in.at + length);
            }
        }
        return "";
    }

    private Live sum() {
        if (++depth > MAX_DEPTH) {
            throw in.error("Brackets are nested deeper than " + MAX_DEPTH + ".");
        }
        Live v = product();
        while (true) {
            if (in.eat('+')) {
                Live b = product();
                v = v.with(b, Double::sum, common(v, b));
            } else if (in.eat('-')) {
                Live b = product();
                v = v.with(b, (x, y) -> x - y, common(v, b));
            } else {
                depth--;
                return v;
            }
        }
    }

    /** The kind two values have in common; a bare number takes the other's. */
    private Dimension common(Live a, Live b) {
        if (a.dimension() == null || b.dimension() == null) {
            return a.dimension() == null ? b.dimension() : a.dimension();
        }
        if (!a.dimension().fits(b.dimension()) && !lenient) {
            throw in.error("The units differ: " + a.dimension().label() + " and " + b.dimension()
                    .label() + ", which cannot be added or compared.");
        }
        return a.dimension();
    }

    private static Dimension product(Live a, Live b, boolean over) {
        if (a.dimension() == null && b.dimension() == null) {
            return null;
        }
        var x = a.dimension() == null ? Dimension.NONE : a.dimension();
        var y = b.dimension() == null ? Dimension.NONE : b.dimension();
        return over ? x.over(y) : x.times(y);
    }

    private Live product() {
        Live v = signed();
        while (true) {
            if (in.eat('*') || in.eat('·')) {
                Live b = signed();
                v = v.with(b, (x, y) -> x * y, product(v, b, false));
            } else if (in.eat('/')) {
                Live b = signed();
                v = v.with(b, (x, y) -> x / y, product(v, b, true));
            } else {
                return v;
            }
        }
    }

    private Live signed() {
        boolean negative = false;
        while (true) {
            if (in.eat('-')) {
                negative = !negative;
            } else if (!in.eat('+')) {
                break;
            }
        }
        minus = negative;
        Live v = atom();
        negative = minus;
        if (in.eat('^')) {
            if (++depth > MAX_DEPTH) {
                throw in.error("Powers are nested deeper than " + MAX_DEPTH + ".");
            }
            int before = signalsRead;
            Live n = signed();
            depth--;
            number(n, "An exponent");
            var d = v.dimension();
            if (d != null && !d.isNone() && signalsRead != before) {
                throw in.error("The exponent of " + d.label() + " must be constant.");
            }
            v = v.with(n, Math::pow, d == null || d.isNone() ? d : d.power(n.now()));
        }
        return negative ? v.mapped(x -> -x, v.dimension()) : v;
    }

    private void number(Live q, String what) {
        if (q.dimension() != null && !q.dimension().isNone() && !lenient) {
            throw in.error(what + " must be a pure number, not " + q.dimension().label() + ".");
        }
    }

    private Live atom() {
        in.skip();
        if (in.eat('(')) {
            boolean outer = minus;
            Live v = bracket();
            minus = outer;
            in.expect(')');
            return v;
        }
        if (in.at < in.text.length() && (FormulaScanner.isDigit(in.text.charAt(in.at)) || in.text.charAt(in.at) == '.')) {
            double number = in.number();
            Unit unit = in.unit();
            if (unit == null) {
                return Live.bare(number);
            }
            // A sign belongs to the number where 0 is not 0 in SI: −5 °C.
            boolean below = minus && !unit.isPlain();
            minus &= !below;
            double si = unit.toSi(below ? -number : number);
            return new Live(() -> si, unit.dimension());
        }
        int start = in.at;
        String name = in.name();
        if (name.isEmpty()) {
            throw in.error(in.at >= in.text.length() ? "The expression is incomplete." : "'" + in.text.charAt(in.at)
                    + "' was not expected.");
        }
        return named(name, start);
    }

    private Live named(String name, int start) {
        if (in.eat('(')) {
            boolean outer = minus;
            Live first = sum();
            Live v;
            if (FUNCTIONS.containsKey(name)) {
                var function = FUNCTIONS.get(name);
                if (OF_NUMBERS.contains(name)) {
                    number(first, "The argument of " + name);
                    v = first.mapped(function, null);
                } else {
                    v = first.mapped(function, first.dimension() != null && name.equals("sqrt") ? first.dimension().power(0.5)
                            : first.dimension());
                }
            } else if (FUNCTIONS_2.containsKey(name)) {
                in.expect(',');
                Live second = sum();
                Dimension d = common(first, second);
                v = first.with(second, FUNCTIONS_2.get(name), name.equals("atan2") ? null : d);
            } else {
                throw new FormulaException("There is no function '" + name + "'.", start);
            }
            in.expect(')');
            minus = outer;
            return v;
        }
        used.add(name);
        named.put(start, name);
        Quantity value = variables.get(name);
        if (value != null) {
            return Live.of(value);
        }
        Live signal = signals.apply(name);
        if (signal != null) {
            signalsRead++;
            return signal;
        }
        switch (name) {
            case "pi": return Live.bare(Math.PI);
            case "true", "on": return Live.bare(1);
            case "false", "off": return Live.bare(0);
            case "inf": return Live.bare(Double.POSITIVE_INFINITY);
            default: throw new FormulaException("'" + name + (in.isConditional() ? "' is neither a signal that is recorded nor a variable."
                    : "' is not a variable of this project."), start);
        }
    }
}
