package boldanvil.core.text;

import boldanvil.core.text.StructuredTextParser.ConfigurationContext;
import boldanvil.core.text.StructuredTextParser.DeclarationContext;
import boldanvil.core.text.StructuredTextParser.MethodContext;
import boldanvil.core.text.StructuredTextParser.ProgramUseContext;
import boldanvil.core.text.StructuredTextParser.ResourceItemContext;
import boldanvil.core.text.StructuredTextParser.TaskContext;
import boldanvil.core.text.StructuredTextParser.TypeDeclarationContext;
import boldanvil.core.text.StructuredTextParser.VarBlockContext;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import org.antlr.v4.runtime.ParserRuleContext;
import org.antlr.v4.runtime.misc.Interval;

/**
 * The text of a PLC's program in its pieces, as it was written: what exchange files need of it.
 *
 * @param globals declared outside of any configuration
 * @param mistakes what is wrong with its form; then there are no pieces
 */
public record PlcText(List<TypeText> types, List<Pou> pous, List<Block> globals, Optional<Configuration> configuration,
        List<Mistake> mistakes) {
    private static final int LONGEST_COMMENT = 400;
    private static final Pattern COMMENT = Pattern.compile("[ \\t]*;?[ \\t]*(?:\\(\\*(.*?)\\*\\)|//([^\\r\\n]*))");

    /** A function, a function block, or a program. */
    public enum Kind { FUNCTION, FUNCTION_BLOCK, PROGRAM }

    /** @param text what is between the name and the semicolon, initial value included */
    public record TypeText(String name, String text) {}

    /**
     * A program organisation unit.
     *
     * @param result type of what a function gives; empty for none
     * @param body its statements; empty where it is a chart
     * @param chart the text of its chart; empty where it has statements
     */
    public record Pou(Kind kind, String name, String result, List<Block> variables, List<Method> methods, String body, String chart) {}

    /** @param result empty for none */
    public record Method(String name, String result, List<Block> variables, String body) {}

    /**
     * Variables of one kind.
     *
     * @param kind such as VAR_INPUT
     */
    public record Block(String kind, boolean constant, boolean retained, List<Declared> variables) {}

    /**
     * A variable.
     *
     * @param address empty for none
     * @param type as it was written
     * @param edge R_EDGE, F_EDGE or empty
     * @param initial as it was written; empty for none
     * @param comment behind it on the same line; empty for none
     */
    public record Declared(String name, String address, String type, String edge, String initial, String comment) {}

    /** A configuration; several resources are one here. */
    public record Configuration(String name, String resource, List<Block> globals, List<Task> tasks, List<Use> uses) {}

    /** @param properties by name in capitals, such as INTERVAL */
    public record Task(String name, Map<String, String> properties) {}

    /**
     * A program in a task.
     *
     * @param task empty for none
     * @param arguments as they were written; empty for none
     */
    public record Use(String name, String task, String program, String arguments) {}

    /** Divides a text. */
    public static PlcText of(String text) {
        var parsed = ParsedText.application(text);
        var tree = parsed.application();
        if (!parsed.mistakes().isEmpty()) {
            return new PlcText(List.of(), List.of(), List.of(), Optional.empty(), parsed.mistakes());
        }
        List<TypeText> types = new ArrayList<>();
        tree.typeBlock().forEach(b -> b.typeDeclaration().forEach(t -> types.add(type(t))));
        List<Pou> pous = new ArrayList<>();
        for (int i = 0; i < tree.getChildCount(); i++) {
            switch (tree.getChild(i)) {
                case StructuredTextParser.FunctionContext f -> pous.add(new Pou(Kind.FUNCTION, f.name.getText(),
                        f.result == null ? "" : written(f.result), blocks(f.varBlock()), List.of(), written(f.statements()), ""));
                case StructuredTextParser.FunctionBlockContext f -> pous.add(new Pou(Kind.FUNCTION_BLOCK, f.name.getText(), "",
                        blocks(f.varBlock()), f.method().stream().map(PlcText::method).toList(), body(f.statements()), body(f.chart())));
                case StructuredTextParser.ProgramContext p -> pous.add(new Pou(Kind.PROGRAM, p.name.getText(), "", blocks(p.varBlock()),
                        List.of(), body(p.statements()), body(p.chart())));
                default -> { }
            }
        }
        return new PlcText(types, pous, blocks(tree.varBlock()), tree.configuration().stream().findFirst().map(PlcText::configuration),
                List.of());
    }

    private static TypeText type(TypeDeclarationContext t) {
        ParserRuleContext spec = t.structure() != null ? t.structure() : t.enumeration() != null ? t.enumeration() : t.typeSpec();
        return new TypeText(t.name.getText(), written(spec) + (t.initializer() == null ? "" : " := " + written(t.initializer())));
    }

    private static Method method(MethodContext m) {
        return new Method(m.name.getText(), m.result == null ? "" : written(m.result), blocks(m.varBlock()), written(m.statements()));
    }

    private static String body(ParserRuleContext tree) {
        return tree == null ? "" : written(tree);
    }

    private static List<Block> blocks(List<VarBlockContext> some) {
        return some.stream().map(v -> new Block(v.kind.getText().toUpperCase(Locale.ROOT), !v.CONSTANT().isEmpty(), !v.RETAIN().isEmpty(),
                v.declaration().stream().flatMap(d -> declared(d).stream()).toList())).toList();
    }

    private static List<Declared> declared(DeclarationContext d) {
        ParserRuleContext spec = d.enumeration() != null ? d.enumeration() : d.structure() != null ? d.structure() : d.typeSpec();
        return d.ID().stream().map(id -> new Declared(id.getText(), d.ADDRESS() == null ? "" : d.ADDRESS().getText(), written(spec),
                d.edge == null ? "" : d.edge.getText().toUpperCase(Locale.ROOT), d.initializer() == null ? "" : written(d.initializer()),
                        comment(d)))
                .toList();
    }

    /** The comment behind a declaration. */
    private static String comment(ParserRuleContext tree) {
        var input = tree.getStart().getInputStream();
        int from = tree.getStop().getStopIndex() + 1;
        String rest = from >= input.size() ? "" : input.getText(Interval.of(from, Math.min(input.size() - 1, from + LONGEST_COMMENT)));
        var m = COMMENT.matcher(rest);
        return m.lookingAt() ? (m.group(1) == null ? m.group(2) : m.group(1)).strip() : "";
    }

    private static Configuration configuration(ConfigurationContext c) {
        List<Block> globals = new ArrayList<>(blocks(c.varBlock()));
        List<ResourceItemContext> items = new ArrayList<>(c.resourceItem());
        c.resource().forEach(r -> {
            globals.addAll(blocks(r.varBlock()));
            items.addAll(r.resourceItem());
        });
        List<Task> tasks = new ArrayList<>();
        List<Use> uses = new ArrayList<>();
        for (var i : items) {
            if (i instanceof TaskContext t) {
                Map<String, String> properties = new LinkedHashMap<>();
                t.property().forEach(p -> properties.put(p.getChild(0).getText().toUpperCase(Locale.ROOT), written(p.expression())));
                tasks.add(new Task(t.name.getText(), properties));
            } else if (i instanceof ProgramUseContext u) {
                uses.add(new Use(u.name.getText(), u.task == null ? "" : u.task.getText(), u.type.getText(),
                        String.join(", ", u.argument().stream().map(PlcText::written).toList())));
            }
        }
        return new Configuration(c.name.getText(), c.resource().isEmpty() ? "main" : c.resource(0).name.getText(), globals, tasks, uses);
    }

    /** A piece as it stands in the text. */
    static String written(ParserRuleContext tree) {
        int begin = tree.getStart().getStartIndex();
        int end = tree.getStop() == null ? -1 : tree.getStop().getStopIndex();
        return end < begin ? "" : tree.getStart().getInputStream().getText(Interval.of(begin, end));
    }
}
