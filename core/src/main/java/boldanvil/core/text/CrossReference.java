package boldanvil.core.text;

import boldanvil.core.text.StructuredTextParser.ArgumentContext;
import boldanvil.core.text.StructuredTextParser.AssignmentContext;
import boldanvil.core.text.StructuredTextParser.ApplicationContext;
import boldanvil.core.text.StructuredTextParser.CallContext;
import boldanvil.core.text.StructuredTextParser.DeclarationContext;
import boldanvil.core.text.StructuredTextParser.FunctionBlockContext;
import boldanvil.core.text.StructuredTextParser.PlcProgramContext;
import boldanvil.core.text.StructuredTextParser.ProgramContext;
import boldanvil.core.text.StructuredTextParser.StepContext;
import boldanvil.core.text.StructuredTextParser.VariableContext;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.antlr.v4.runtime.ParserRuleContext;
import org.antlr.v4.runtime.Token;
import org.antlr.v4.runtime.tree.ParseTree;

/** Where the text of a PLC's program names its variables, and which value each name is in each use of a function block. */
public final class CrossReference {
    /** Deepest nesting of function blocks that is followed. */
    private static final int DEEPEST = 16;
    private static final int MOST_INSTANCES = 2_000;

    /**
     * A program or function block in the text.
     *
     * @param firstLine from 1
     * @param lastLine the line of its last word
     * @param instances what the paths of its variables begin with, for each of its uses
     * @param chart text of its chart; empty for none
     */
    public record Unit(PlcText.Kind kind, String name, int firstLine, int lastLine, List<String> instances, String chart) {}

    /**
     * A name of a variable in the text.
     *
     * @param name within the unit, such as {@code timer.Q} or {@code levels[3]}
     * @param line from 1
     * @param column from 1
     * @param written whether it gets a value there
     */
    public record Use(Unit unit, String name, int line, int column, boolean written) {}

    private final List<Unit> units = new ArrayList<>();
    private final Map<Unit, List<Use>> uses = new LinkedHashMap<>();
    private final Map<String, String> paths = new HashMap<>();
    private final Map<String, Map<String, String>> blocks = new HashMap<>();
    private final Map<String, List<String>> instances = new HashMap<>();

    private CrossReference() {}

    /** That of a text and the program it was compiled to. A text with mistakes has none. */
    public static CrossReference of(String text, PlcProgram program) {
        var r = new CrossReference();
        var parsed = ParsedText.application(text);
        if (parsed.mistakes().isEmpty()) {
            program.variables().forEach(v -> r.paths.put(v.path().toLowerCase(Locale.ROOT), v.path()));
            r.instances(PlcText.of(text));
            r.read(parsed.application());
        }
        return r;
    }

    /** Programs and function blocks in the order of the text. */
    public List<Unit> units() {
        return List.copyOf(units);
    }

    /** The names in a unit, in the order of the text. */
    public List<Use> uses(Unit unit) {
        return List.copyOf(uses.getOrDefault(unit, List.of()));
    }

    /** The path of the value a name is in one use of its unit; empty where nothing keeps a value of that name. */
    public Optional<String> path(Use use, String instance) {
        String own = paths.get((instance + use.name()).toLowerCase(Locale.ROOT));
        return Optional.ofNullable(own == null ? paths.get(use.name().toLowerCase(Locale.ROOT)) : own);
    }

    /** Everywhere a value is named, where it is written first. */
    public List<Use> where(String path) {
        List<Use> all = new ArrayList<>();
        for (Unit u : units) {
            for (Use use : uses.getOrDefault(u, List.of())) {
                if (u.instances().stream().anyMatch(i -> path(use, i).filter(path::equalsIgnoreCase).isPresent())) {
                    all.add(use);
                }
            }
        }
        all.sort(Comparator.comparing((Use u) -> !u.written()).thenComparing(Use::line).thenComparing(Use::column));
        return all;
    }

    /** Finds what the paths of each function block's variables begin with. */
    private void instances(PlcText text) {
        Map<String, PlcText.Pou> pous = new HashMap<>();
        text.pous().forEach(p -> pous.put(p.name().toUpperCase(Locale.ROOT), p));
        for (var p : pous.entrySet()) {
            Map<String, String> inside = new LinkedHashMap<>();
            p.getValue().variables().stream().filter(b -> !b.kind().equals("VAR_EXTERNAL") && !b.kind().equals("VAR_IN_OUT"))
                    .flatMap(b -> b.variables().stream()).forEach(d -> block(pous, d, inside));
            blocks.put(p.getKey(), inside);
        }
        for (var p : pous.entrySet()) {
            if (p.getValue().kind() == PlcText.Kind.PROGRAM) {
                var names = text.configuration().stream().flatMap(c -> c.uses().stream())
                        .filter(u -> u.program().equalsIgnoreCase(p.getKey()))
                        .map(PlcText.Use::name).toList();
                (names.isEmpty() ? List.of(p.getValue().name()) : names).forEach(n -> instance(p.getKey(), n + ".", 0));
            }
        }
        Map<String, String> global = new LinkedHashMap<>();
        text.globals().forEach(b -> b.variables().forEach(d -> block(pous, d, global)));
        text.configuration().ifPresent(c -> c.globals().forEach(b -> b.variables().forEach(d -> block(pous, d, global))));
        global.forEach((name, type) -> instance(type, name + ".", 0));
    }

    private static void block(Map<String, PlcText.Pou> pous, PlcText.Declared d, Map<String, String> to) {
        String type = d.type().strip().toUpperCase(Locale.ROOT);
        if (pous.containsKey(type) && pous.get(type).kind() == PlcText.Kind.FUNCTION_BLOCK) {
            to.put(d.name(), type);
        }
    }

    private void instance(String pou, String prefix, int depth) {
        var all = instances.computeIfAbsent(pou, _ -> new ArrayList<>());
        if (depth > DEEPEST || all.size() >= MOST_INSTANCES) {
            return;
        }
        all.add(prefix);
        blocks.getOrDefault(pou, Map.of()).forEach((name, type) -> instance(type, prefix + name + ".", depth + 1));
    }

    private void read(PlcProgramContext tree) {
        for (int i = 0; i < tree.getChildCount(); i++) {
            switch (tree.getChild(i)) {
                case ProgramContext p -> unit(PlcText.Kind.PROGRAM, p.name.getText(), p, p.chart());
                case FunctionBlockContext b -> unit(PlcText.Kind.FUNCTION_BLOCK, b.name.getText(), b, b.chart());
                default -> { }
            }
        }
    }

    private void unit(PlcText.Kind kind, String name, ParserRuleContext tree, ParserRuleContext chart) {
        var unit = new Unit(kind, name, tree.getStart().getLine(), tree.getStop().getLine(),
                List.copyOf(instances.getOrDefault(name.toUpperCase(Locale.ROOT), List.of())), chart == null ? "" : PlcText.written(chart));
        List<Use> found = new ArrayList<>();
        walk(unit, tree, found);
        found.sort(Comparator.comparing(Use::line).thenComparing(Use::column));
        units.add(unit);
        uses.put(unit, found);
    }

    private void walk(Unit unit, ParseTree tree, List<Use> found) {
        switch (tree) {
            case VariableContext v -> variable(unit, v, found);
            case DeclarationContext d -> d.ID().forEach(id -> add(unit, id.getText(), id.getSymbol(), false, found));
            case StepContext s -> add(unit, s.ID().getText() + ".X", s.ID().getSymbol(), false, found);
            case ArgumentContext a when a.ID() != null -> parameter(unit, a, found);
            default -> { }
        }
        for (int i = 0; i < tree.getChildCount(); i++) {
            walk(unit, tree.getChild(i), found);
        }
    }

    private static void add(Unit unit, String name, Token at, boolean written, List<Use> found) {
        found.add(new Use(unit, name, at.getLine(), at.getCharPositionInLine() + 1, written));
    }

    /** An input or output of a function block that is named where the block is called. */
    private static void parameter(Unit unit, ArgumentContext a, List<Use> found) {
        VariableContext block = switch (a.getParent()) {
            case CallContext c -> c.variable();
            case ApplicationContext c -> c.variable();
            default -> null;
        };
        if (block != null) {
            add(unit, block.getText() + "." + a.ID().getText(), a.ID().getSymbol(), a.expression() != null, found);
        }
    }

    private static void variable(Unit unit, VariableContext v, List<Use> found) {
        if (v.ID() == null) {
            return;
        }
        var name = new StringBuilder(v.ID().getText());
        for (var s : v.selector()) {
            if (s.index() != null ? !s.getText().matches("\\[-?[0-9]+(,-?[0-9]+)*]") : s.ID() == null) {
                break;
            }
            name.append(s.getText());
        }
        boolean written = v.getParent() instanceof AssignmentContext || v.getParent() instanceof ArgumentContext;
        add(unit, name.toString(), v.getStart(), written, found);
    }
}
