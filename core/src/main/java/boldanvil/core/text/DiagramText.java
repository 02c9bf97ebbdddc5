package boldanvil.core.text;

import boldanvil.core.text.StructuredTextParser.ApplicationContext;
import boldanvil.core.text.StructuredTextParser.ArgumentContext;
import boldanvil.core.text.StructuredTextParser.AssignmentContext;
import boldanvil.core.text.StructuredTextParser.BinaryContext;
import boldanvil.core.text.StructuredTextParser.BracketsContext;
import boldanvil.core.text.StructuredTextParser.CallContext;
import boldanvil.core.text.StructuredTextParser.ConstantContext;
import boldanvil.core.text.StructuredTextParser.ExpressionContext;
import boldanvil.core.text.StructuredTextParser.NothingContext;
import boldanvil.core.text.StructuredTextParser.ReadContext;
import boldanvil.core.text.StructuredTextParser.UnaryContext;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.antlr.v4.runtime.ParserRuleContext;
import org.antlr.v4.runtime.misc.Interval;

/** Statements a function block diagram can show: calls of function blocks, and assignments of expressions. */
public final class DiagramText {
    /** The function of each operator (IEC 61131-3, tables 24 to 33). */
    private static final Map<String, String> OPERATORS = Map.ofEntries(Map.entry("+", "ADD"), Map.entry("-", "SUB"), Map.entry("*", "MUL"),
            Map.entry("/", "DIV"), Map.entry("MOD", "MOD"), Map.entry("**", "EXPT"), Map.entry("AND", "AND"), Map.entry("&", "AND"),
            Map.entry("OR", "OR"), Map.entry("XOR", "XOR"), Map.entry(">", "GT"), Map.entry(">=", "GE"), Map.entry("=", "EQ"), Map.entry(
                    "<=", "LE"),
            Map.entry("<", "LT"), Map.entry("<>", "NE"));

    /** A value: what stands at an input. */
    public sealed interface Node {}

    /** A variable or a constant, as it is written. */
    public record Value(String text) implements Node {}

    /** A function of values; an operator has the name of its function. */
    public record Operation(String function, List<Node> inputs) implements Node {}

    /** What happens, in this order. */
    public sealed interface Step {}

    /** A variable gets a value. */
    public record Assign(String target, Node value) implements Step {}

    /**
     * A function block is called.
     *
     * @param inputs by the names of its inputs
     * @param outputs which variable each output is given to
     */
    public record Call(String instance, Map<String, Node> inputs, Map<String, String> outputs) implements Step {}

    /** Thrown within for what has no place in a diagram. */
    private static final class NoDiagram extends RuntimeException {
        private static final long serialVersionUID = 1;
    }

    private DiagramText() {}

    /** The statements of a body; empty where it has others, such as loops, or mistakes of form. */
    public static Optional<List<Step>> of(String body) {
        var parsed = ParsedText.block(body);
        if (!parsed.mistakes().isEmpty() || parsed.isChart()) {
            return Optional.empty();
        }
        List<Step> steps = new ArrayList<>();
        try {
            for (var s : parsed.unit().statements().statement()) {
                switch (s) {
                    case NothingContext _ -> { }
                    case AssignmentContext a -> steps.add(new Assign(a.variable().getText(), node(a.expression())));
                    case CallContext c -> steps.add(call(c));
                    default -> throw new NoDiagram();
                }
            }
        } catch (NoDiagram _) {
            return Optional.empty();
        }
        return Optional.of(steps);
    }

    /** What stands between the ANDs of an expression; the expression alone where it has none, nothing where it cannot be shown. */
    static List<Interlock.Condition> conditions(ExpressionContext e) {
        List<Interlock.Condition> all = new ArrayList<>();
        try {
            conditions(e, all);
        } catch (NoDiagram _) {
            return List.of();
        }
        return all;
    }

    private static void conditions(ExpressionContext e, List<Interlock.Condition> all) {
        if (e instanceof BracketsContext b && b.expression() instanceof BinaryContext inner && isAnd(inner)) {
            conditions(inner, all);
        } else if (e instanceof BinaryContext b && isAnd(b)) {
            conditions(b.expression(0), all);
            conditions(b.expression(1), all);
        } else {
            all.add(new Interlock.Condition(written(e).replaceAll("\\s+", " "), node(e)));
        }
    }

    private static boolean isAnd(BinaryContext b) {
        return "AND".equals(OPERATORS.get(b.op.getText().toUpperCase(Locale.ROOT)));
    }

    private static Call call(CallContext c) {
        Map<String, Node> inputs = new LinkedHashMap<>();
        Map<String, String> outputs = new LinkedHashMap<>();
        for (ArgumentContext a : c.argument()) {
            if (a.variable() != null) {
                outputs.put(a.ID().getText(), a.variable().getText());
            } else if (a.ID() != null) {
                inputs.put(a.ID().getText(), node(a.expression()));
            } else {
                throw new NoDiagram();
            }
        }
        return new Call(c.variable().getText(), inputs, outputs);
    }

    private static Node node(ExpressionContext e) {
        return switch (e) {
            case BracketsContext b -> node(b.expression());
            case ConstantContext c -> new Value(written(c));
            case ReadContext r -> new Value(written(r));
            case UnaryContext u when u.op.getText().equalsIgnoreCase("NOT") -> new Operation("NOT", List.of(node(u.expression())));
            case UnaryContext u when u.expression() instanceof ConstantContext || u.expression() instanceof ReadContext ->
                new Value(written(u));
            case BinaryContext b -> new Operation(OPERATORS.get(b.op.getText().toUpperCase(Locale.ROOT)), List.of(node(b.expression(0)),
                    node(b.expression(1))));
            case ApplicationContext a -> application(a);
            default -> throw new NoDiagram();
        };
    }

    private static Node application(ApplicationContext a) {
        if (a.argument().stream().anyMatch(x -> x.ID() != null)) {
            throw new NoDiagram();
        }
        return new Operation(a.variable().getText(), a.argument().stream().map(x -> node(x.expression())).toList());
    }

    private static String written(ParserRuleContext tree) {
        return tree.getStart().getInputStream().getText(Interval.of(tree.getStart().getStartIndex(), tree.getStop().getStopIndex()));
    }

    /** The expression of a function with its arguments: an operator where it has one. */
    public static String expression(String function, List<String> inputs) {
        String name = function.toUpperCase(Locale.ROOT);
        if (name.equals("NOT") && inputs.size() == 1) {
            return "NOT (" + inputs.getFirst() + ")";
        }
        var operator = OPERATORS.entrySet().stream().filter(o -> o.getValue().equals(name) && !o.getKey().equals("&"))
                .map(Map.Entry::getKey)
                .findFirst();
        if (operator.isPresent() && inputs.size() > 2 && "<>=".contains(operator.get().substring(0, 1))) {
            // Of several inputs each is compared with the next.
            List<String> pairs = new ArrayList<>();
            for (int i = 1; i < inputs.size(); i++) {
                pairs.add("(" + inputs.get(i - 1) + " " + operator.get() + " " + inputs.get(i) + ")");
            }
            return "(" + String.join(" AND ", pairs) + ")";
        }
        return operator.isPresent() && inputs.size() > 1 ? "(" + String.join(" " + operator.get() + " ", inputs) + ")"
                : function + "(" + String.join(", ", inputs) + ")";
    }
}
