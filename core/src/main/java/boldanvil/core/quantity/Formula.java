package boldanvil.core.quantity;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.DoubleBinaryOperator;
import java.util.function.DoubleUnaryOperator;

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

    private final String text;
    private final Map<String, Quantity> variables;
    private final Set<String> used = new TreeSet<>();
    /** Where variables are named, by their start. */
    private final Map<Integer, String> named = new java.util.TreeMap<>();
    private int at;
    private int depth;
    private int rows;
    /** Whether kinds are left unchecked, where only names matter. */
    private boolean lenient;
    /** Whether a sign stands before what is read next. */
    private boolean minus;

    private Formula(String text, Map<String, Quantity> variables) {
        this.text = text;
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
        var f = new Formula(checked(text), variables);
        var values = f.list();
        f.end();
        return values;
    }

    /** Number of inner lists in a text such as {@code [[1, 2], [3, 4]]}; 1 for a plain list. */
    public static int rows(String text, Map<String, Quantity> variables) {
        var f = new Formula(checked(text), variables);
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
        var f = new Formula(text.length() > MAX_LENGTH ? "" : text, values);
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

    private List<Quantity> list() {
        skip();
        if (!eat('[')) {
            return List.of(sum());
        }
        List<Quantity> values = new ArrayList<>();
        if (eat(']')) {
            return values;
        }
        do {
            skip();
            if (eat('[')) {
                do {
                    values.add(sum());
                } while (eat(','));
                expect(']');
                rows++;
            } else {
                values.add(sum());
            }
        } while (eat(','));
        expect(']');
        return values;
    }

    private Quantity sum() {
        if (++depth > MAX_DEPTH) {
            throw error("Brackets are nested deeper than " + MAX_DEPTH + ".");
        }
        Quantity v = product();
        while (true) {
            if (eat('+')) {
                Quantity b = product();
                v = new Quantity(v.value() + b.value(), common(v, b));
            } else if (eat('-')) {
                Quantity b = product();
                v = new Quantity(v.value() - b.value(), common(v, b));
            } else {
                depth--;
                return v;
            }
        }
    }

    /** The kind two values have in common; a bare number takes the other's. */
    private Dimension common(Quantity a, Quantity b) {
        if (a.dimension() == null || b.dimension() == null) {
            return a.dimension() == null ? b.dimension() : a.dimension();
        }
        if (!a.dimension().fits(b.dimension()) && !lenient) {
            throw error("The units differ: " + a.dimension().label() + " and " + b.dimension()
                    .label() + ", which cannot be added or compared.");
        }
        return a.dimension();
    }

    private static Dimension product(Quantity a, Quantity b, boolean over) {
        if (a.dimension() == null && b.dimension() == null) {
            return null;
        }
        var x = a.dimension() == null ? Dimension.NONE : a.dimension();
        var y = b.dimension() == null ? Dimension.NONE : b.dimension();
        return over ? x.over(y) : x.times(y);
    }

    private Quantity product() {
        Quantity v = signed();
        while (true) {
            if (eat('*') || eat('·')) {
                Quantity b = signed();
                v = new Quantity(v.value() * b.value(), product(v, b, false));
            } else if (eat('/')) {
                Quantity b = signed();
                v = new Quantity(v.value() / b.value(), product(v, b, true));
            } else {
                return v;
            }
        }
    }

    private Quantity signed() {
        boolean negative = false;
        while (true) {
            if (eat('-')) {
                negative = !negative;
            } else if (!eat('+')) {
                break;
            }
        }
        minus = negative;
        Quantity v = atom();
        negative = minus;
        if (eat('^')) {
            if (++depth > MAX_DEPTH) {
                throw error("Powers are nested deeper than " + MAX_DEPTH + ".");
            }
            Quantity n = signed();
            depth--;
            number(n, "An exponent");
            var d = v.dimension();
            v = new Quantity(Math.pow(v.value(), n.value()), d == null ? null : d.power(n.value()));
        }
        return negative ? new Quantity(-v.value(), v.dimension()) : v;
    }

    private void number(Quantity q, String what) {
        if (q.dimension() != null && !q.dimension().isNone() && !lenient) {
            throw error(what + " must be a pure number, not " + q.dimension().label() + ".");
        }
    }

    private Quantity atom() {
        skip();
        if (eat('(')) {
            boolean outer = minus;
            Quantity v = sum();
            minus = outer;
            expect(')');
            return v;
        }
        if (at < text.length() && (isDigit(text.charAt(at)) || text.charAt(at) == '.')) {
            double number = number();
            Unit unit = unit();
            if (unit == null) {
                return Quantity.bare(number);
            }
            // A sign belongs to the number where 0 is not 0 in SI: −5 °C.
            boolean below = minus && !unit.isPlain();
            minus &= !below;
            return new Quantity(unit.toSi(below ? -number : number), unit.dimension());
        }
        int start = at;
        String name = name();
        if (name.isEmpty()) {
            throw error(at >= text.length() ? "The expression is incomplete." : "'" + text.charAt(at) + "' was not expected.");
        }
        return named(name, start);
    }

    private Quantity named(String name, int start) {
        if (eat('(')) {
            boolean outer = minus;
            Quantity first = sum();
            Quantity v;
            if (FUNCTIONS.containsKey(name)) {
                double y = FUNCTIONS.get(name).applyAsDouble(first.value());
                if (OF_NUMBERS.contains(name)) {
                    number(first, "The argument of " + name);
                    v = Quantity.bare(y);
                } else {
                    v = new Quantity(y, first.dimension() != null && name.equals("sqrt") ? first.dimension().power(0.5)
                            : first.dimension());
                }
            } else if (FUNCTIONS_2.containsKey(name)) {
                expect(',');
                Quantity second = sum();
                Dimension d = common(first, second);
                v = new Quantity(FUNCTIONS_2.get(name).applyAsDouble(first.value(), second.value()), name.equals("atan2") ? null : d);
            } else {
                throw new FormulaException("There is no function '" + name + "'.", start);
            }
            expect(')');
            minus = outer;
            return v;
        }
        used.add(name);
        named.put(start, name);
        Quantity value = variables.get(name);
        if (value != null) {
            return value;
        }
        switch (name) {
            case "pi": return Quantity.bare(Math.PI);
            case "true", "on": return Quantity.bare(1);
            case "false", "off": return Quantity.bare(0);
            case "inf": return Quantity.bare(Double.POSITIVE_INFINITY);
            default: throw new FormulaException("'" + name + "' is not a variable of this project.", start);
        }
    }

    private static boolean isDigit(char c) {
        return c >= '0' && c <= '9';
    }

    private double number() {
        int start = at;
        while (at < text.length() && (isDigit(text.charAt(at)) || text.charAt(at) == '.')) {
            at++;
        }
        int mark = at;
        if (at < text.length() && (text.charAt(at) == 'e' || text.charAt(at) == 'E')) {
            at++;
            if (at < text.length() && (text.charAt(at) == '-' || text.charAt(at) == '+')) {
                at++;
            }
            if (at < text.length() && isDigit(text.charAt(at))) {
                while (at < text.length() && isDigit(text.charAt(at))) {
                    at++;
                }
            } else {
                at = mark;
            }
        }
        try {
            return Double.parseDouble(text.substring(start, at));
        } catch (NumberFormatException e) {
            throw new FormulaException("'" + text.substring(start, at) + "' is not a number.", start);
        }
    }

    /** The unit that follows a number; null when none does. */
    private Unit unit() {
        skip();
        if (!isUnitStart(at) || nextIsVariable(at)) {
            return null;
        }
        int length = Units.length(text.substring(at, variableFrom(at)));
        if (length == 0) {
            throw error("'" + symbolAt(at) + "' is neither a unit nor a variable.");
        }
        Unit u = Units.find(text.substring(at, at + length)).orElseThrow();
        at += length;
        return u;
    }

    /** Where the first name from here on begins that is a variable, which ends a unit. */
    private int variableFrom(int from) {
        int i = from;
        while (i < text.length()) {
            if (isUnitStart(i)) {
                String symbol = symbolAt(i);
                if (variables.containsKey(symbol)) {
                    return i;
                }
                i += Math.max(1, symbol.length());
            } else {
                i++;
            }
        }
        return i;
    }

    private boolean isUnitStart(int from) {
        return from < text.length() && (Character.isLetter(text.charAt(from)) || text.charAt(from) == '%'
                || text.charAt(from) == '°');
    }

    private boolean nextIsVariable(int from) {
        return variables.containsKey(symbolAt(from));
    }

    private String symbolAt(int from) {
        int end = from;
        while (end < text.length() && (Character.isLetterOrDigit(text.charAt(end)) || "%°_".indexOf(text.charAt(end)) >= 0)
                && "²³".indexOf(text.charAt(end)) < 0) {
            end++;
        }
        return text.substring(from, end);
    }

    private String name() {
        int start = at;
        while (at < text.length() && (Character.isLetterOrDigit(text.charAt(at)) || text.charAt(at) == '_')) {
            at++;
        }
        return text.substring(start, at);
    }

    private boolean eat(char c) {
        skip();
        if (at < text.length() && text.charAt(at) == c) {
            at++;
            return true;
        }
        return false;
    }

    private void expect(char c) {
        if (!eat(c)) {
            throw error("'" + c + "' is missing.");
        }
    }

    private void end() {
        skip();
        if (at < text.length()) {
            throw error("'" + text.substring(at) + "' was not expected here.");
        }
    }

    private void skip() {
        while (at < text.length() && Character.isWhitespace(text.charAt(at))) {
            at++;
        }
    }

    private FormulaException error(String message) {
        return new FormulaException(message, at);
    }
}
