package boldanvil.core.text;

import boldanvil.core.text.DiagramText.Node;
import boldanvil.core.text.DiagramText.Operation;
import boldanvil.core.text.DiagramText.Value;
import boldanvil.core.text.StructuredTextParser.AssignmentContext;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Function;
import java.util.regex.Pattern;
import org.antlr.v4.runtime.tree.ParseTree;

/**
 * A variable of a program that is true while several conditions hold: {@code opens := asked AND closed AND NOT stopped}.
 *
 * @param line where it is assigned, from 1
 * @param target the variable, as it is written
 * @param conditions what has to hold, in the order of the text
 */
public record Interlock(int line, String target, List<Condition> conditions) {
    private static final Pattern NUMBER = Pattern.compile("-?[0-9][0-9_]*(\\.[0-9_]+)?([eE][-+]?[0-9]+)?");
    private static final Pattern DURATION = Pattern.compile("(?i)(T|TIME)#.*");

    /** One of the conditions, as it is written. */
    public record Condition(String text, Node node) {
        /**
         * Whether it holds.
         *
         * @param values of variables: a {@link Boolean} or a {@link Number}; null for one that is not known
         * @return empty where that cannot be said
         */
        public Optional<Boolean> holds(Function<String, Object> values) {
            Double v = value(node, values);
            return v.isNaN() ? Optional.empty() : Optional.of(v != 0);
        }
    }

    public Interlock {
        conditions = List.copyOf(conditions);
    }

    /** The interlocks of a program, in the order of the text; none where it has mistakes of form. */
    public static List<Interlock> of(String program) {
        var parsed = ParsedText.application(program);
        List<Interlock> found = new ArrayList<>();
        if (parsed.mistakes().isEmpty()) {
            collect(parsed.application(), found);
        }
        return found;
    }

    private static void collect(ParseTree tree, List<Interlock> found) {
        if (tree instanceof AssignmentContext a) {
            var conditions = DiagramText.conditions(a.expression());
            if (conditions.size() > 1) {
                found.add(new Interlock(a.getStart().getLine(), a.variable().getText(), conditions));
            }
        }
        for (int i = 0; i < tree.getChildCount(); i++) {
            collect(tree.getChild(i), found);
        }
    }

    private static double value(Node n, Function<String, Object> values) {
        return switch (n) {
            case Value v -> value(v.text().strip(), values);
            case Operation o -> {
                List<Double> in = o.inputs().stream().map(i -> value(i, values)).toList();
                yield operation(o.function().toUpperCase(Locale.ROOT), in);
            }
        };
    }

    private static double value(String text, Function<String, Object> values) {
        if (text.equalsIgnoreCase("TRUE") || text.equalsIgnoreCase("FALSE")) {
            return text.equalsIgnoreCase("TRUE") ? 1 : 0;
        }
        if (NUMBER.matcher(text).matches()) {
            return Double.parseDouble(text.replace("_", ""));
        }
        if (DURATION.matcher(text).matches()) {
            return Literals.seconds(text.replace("_", "").toLowerCase(Locale.ROOT));
        }
        return switch (values.apply(text)) {
            case Boolean b -> b ? 1 : 0;
            case Number x -> x.doubleValue();
            case null, default -> Double.NaN;
        };
    }

    private static double operation(String function, List<Double> in) {
        double a = in.isEmpty() ? Double.NaN : in.getFirst();
        double b = in.size() < 2 ? Double.NaN : in.get(1);
        // A condition that settles the result does so whatever the other is.
        if (in.size() == 2 && function.equals("AND") && (a == 0 || b == 0)) {
            return 0;
        }
        if (in.size() == 2 && function.equals("OR") && (a != 0 && !Double.isNaN(a) || b != 0 && !Double.isNaN(b))) {
            return 1;
        }
        if (in.stream().anyMatch(x -> x.isNaN())) {
            return Double.NaN;
        }
        return switch (function) {
            case "NOT" -> a == 0 ? 1 : 0;
            case "AND", "OR" -> a;
            case "XOR", "NE" -> a != b ? 1 : 0;
            case "EQ" -> a == b ? 1 : 0;
            case "GT" -> a > b ? 1 : 0;
            case "GE" -> a >= b ? 1 : 0;
            case "LT" -> a < b ? 1 : 0;
            case "LE" -> a <= b ? 1 : 0;
            case "ADD" -> a + b;
            case "SUB" -> a - b;
            case "MUL" -> a * b;
            case "DIV" -> a / b;
            case "ABS" -> Math.abs(a);
            default -> Double.NaN;
        };
    }
}
