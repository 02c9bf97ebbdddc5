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
 * variables, and the usual operators, functions and brackets apply. A list of values stands in square brackets:
 * {@code [0, 0.5, 1]}. The result is in SI units.
 *
 * <p>A unit directly follows its number. It may be a product or quotient of unit symbols ({@code N·m/A}); it ends where a
 * name is no unit symbol or is a project variable, so {@code 24 V/R} divides by the variable {@code R}.
 */
public final class Formula {
    private static final int MAX_LENGTH = 2_000;
    private static final int MAX_DEPTH = 60;
    private static final Map<String, DoubleUnaryOperator> FUNCTIONS = Map.of(
            "sqrt", Math::sqrt, "abs", Math::abs, "sin", Math::sin, "cos", Math::cos, "tan", Math::tan,
            "exp", Math::exp, "ln", Math::log, "round", v -> Math.floor(v + 0.5), "floor", Math::floor, "ceil", Math::ceil);
    private static final Map<String, DoubleBinaryOperator> FUNCTIONS_2 =
            Map.of("min", Math::min, "max", Math::max, "atan2", Math::atan2);

    private final String text;
    private final Map<String, Double> variables;
    private final Set<String> used = new TreeSet<>();
    private int at;
    private int depth;
    private int rows;

    private Formula(String text, Map<String, Double> variables) {
        this.text = text;
        this.variables = variables;
    }

    /**
     * Evaluates a text to one number.
     *
     * @param variables values in SI by name
     * @throws FormulaException when the text is no expression or names something unknown
     */
    public static double evaluate(String text, Map<String, Double> variables) {
        var list = evaluateList(text, variables);
        if (list.length != 1) {
            throw new FormulaException("One number is wanted here, not a list of " + list.length + ".", 0);
        }
        return list[0];
    }

    /** Evaluates a text to a list of numbers; a single number is a list of one, a list of lists is read row by row. */
    public static double[] evaluateList(String text, Map<String, Double> variables) {
        var f = new Formula(checked(text), variables);
        var values = f.list();
        f.end();
        return values;
    }

    /** Number of inner lists in a text such as {@code [[1, 2], [3, 4]]}; 1 for a plain list. */
    public static int rows(String text, Map<String, Double> variables) {
        var f = new Formula(checked(text), variables);
        f.list();
        return Math.max(1, f.rows);
    }

    /** The variables a text names, whether or not it can be evaluated as a whole. */
    public static Set<String> names(String text, Set<String> known) {
        var values = new java.util.HashMap<String, Double>();
        known.forEach(k -> values.put(k, 1.0));
        var f = new Formula(text, values);
        try {
            f.list();
        } catch (FormulaException e) {
            return f.used;
        }
        return f.used;
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

    private double[] list() {
        skip();
        if (!eat('[')) {
            return new double[] {sum()};
        }
        List<Double> values = new ArrayList<>();
        if (eat(']')) {
            return new double[0];
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
        return values.stream().mapToDouble(Double::doubleValue).toArray();
    }

    private double sum() {
        if (++depth > MAX_DEPTH) {
            throw error("Brackets are nested deeper than " + MAX_DEPTH + ".");
        }
        double v = product();
        while (true) {
            if (eat('+')) {
                v += product();
            } else if (eat('-')) {
                v -= product();
            } else {
                depth--;
                return v;
            }
        }
    }

    private double product() {
        double v = signed();
        while (true) {
            if (eat('*') || eat('·')) {
                v *= signed();
            } else if (eat('/')) {
                v /= signed();
            } else {
                return v;
            }
        }
    }

    private double signed() {
        boolean negative = false;
        while (true) {
            if (eat('-')) {
                negative = !negative;
            } else if (!eat('+')) {
                break;
            }
        }
        double v = atom();
        if (eat('^')) {
            v = Math.pow(v, signed());
        }
        return negative ? -v : v;
    }

    private double atom() {
        skip();
        if (eat('(')) {
            double v = sum();
            expect(')');
            return v;
        }
        if (at < text.length() && (Character.isDigit(text.charAt(at)) || text.charAt(at) == '.')) {
            return number() * unit();
        }
        int start = at;
        String name = name();
        if (name.isEmpty()) {
            throw error(at >= text.length() ? "The expression ends too soon." : "'" + text.charAt(at) + "' was not expected.");
        }
        return named(name, start);
    }

    private double named(String name, int start) {
        if (eat('(')) {
            double first = sum();
            double v;
            if (FUNCTIONS.containsKey(name)) {
                v = FUNCTIONS.get(name).applyAsDouble(first);
            } else if (FUNCTIONS_2.containsKey(name)) {
                expect(',');
                v = FUNCTIONS_2.get(name).applyAsDouble(first, sum());
            } else {
                throw new FormulaException("There is no function '" + name + "'.", start);
            }
            expect(')');
            return v;
        }
        used.add(name);
        Double value = variables.get(name);
        if (value != null) {
            return value;
        }
        switch (name) {
            case "pi": return Math.PI;
            case "true", "on": return 1;
            case "false", "off": return 0;
            case "inf": return Double.POSITIVE_INFINITY;
            default: throw new FormulaException("'" + name + "' is not a variable of this project.", start);
        }
    }

    private double number() {
        int start = at;
        while (at < text.length() && (Character.isDigit(text.charAt(at)) || text.charAt(at) == '.')) {
            at++;
        }
        int mark = at;
        if (at < text.length() && (text.charAt(at) == 'e' || text.charAt(at) == 'E')) {
            at++;
            if (at < text.length() && (text.charAt(at) == '-' || text.charAt(at) == '+')) {
                at++;
            }
            if (at < text.length() && Character.isDigit(text.charAt(at))) {
                while (at < text.length() && Character.isDigit(text.charAt(at))) {
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

    /** The factor of the unit that follows a number; 1 when none does. */
    private double unit() {
        skip();
        int start = at;
        int end = unitSymbol(at);
        if (end < 0) {
            if (isUnitStart(at) && !nextIsVariable(at)) {
                throw error("'" + symbolAt(at) + "' is neither a unit nor a variable.");
            }
            return 1;
        }
        while (end < text.length() && "·*/".indexOf(text.charAt(end)) >= 0) {
            int next = unitSymbol(end + 1);
            if (next < 0) {
                break;
            }
            end = next;
        }
        String unit = text.substring(start, end).replace('*', '·');
        try {
            double factor = Units.toSi(unit);
            at = end;
            return factor;
        } catch (IllegalArgumentException e) {
            throw error(e.getMessage());
        }
    }

    /** Where the unit symbol that begins at {@code from} ends, with its exponent; -1 when there is none. */
    private int unitSymbol(int from) {
        if (!isUnitStart(from) || nextIsVariable(from)) {
            return -1;
        }
        String symbol = symbolAt(from);
        if (!Units.isUnit(symbol)) {
            return -1;
        }
        int end = from + symbol.length();
        if (end < text.length() && (text.charAt(end) == '²' || text.charAt(end) == '³')) {
            return end + 1;
        }
        if (end + 1 < text.length() && text.charAt(end) == '^' && Character.isDigit(text.charAt(end + 1))) {
            return end + 2;
        }
        return end;
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
