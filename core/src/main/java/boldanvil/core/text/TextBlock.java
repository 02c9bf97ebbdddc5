package boldanvil.core.text;

import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.antlr.v4.runtime.ParserRuleContext;
import org.antlr.v4.runtime.tree.ParseTree;
import org.antlr.v4.runtime.tree.TerminalNode;

/**
 * The text of a function block in its pieces, as it was written.
 *
 * @param library types, functions and function blocks that come before the variables
 * @param libraryNames what the library declares
 * @param inside variables and statements, or variables and a chart
 * @param inputs types of the inputs as they are written, by name
 * @param outputs the same of the outputs
 * @param steps names of the steps of a chart, in the order of the text
 * @param names every name that is mentioned, in small letters
 */
public record TextBlock(String library, List<String> libraryNames, String inside, Map<String, String> inputs, Map<String, String> outputs,
        List<String> steps, Set<String> names) {
    private static final int KEPT = 200;
    private static final Map<String, Boolean> FOR_PLC = Collections.synchronizedMap(new LinkedHashMap<>(64, 0.75F, true) {
        private static final long serialVersionUID = 1;

        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Boolean> eldest) {
            return size() > KEPT;
        }
    });

    /** @param text must be free of mistakes of form */
    public static TextBlock of(String text) {
        var parsed = ParsedText.block(text);
        if (!parsed.mistakes().isEmpty()) {
            throw new IllegalArgumentException(parsed.mistakes().getFirst().located());
        }
        var unit = parsed.unit();
        List<String> declared = new ArrayList<>();
        unit.typeBlock().forEach(b -> b.typeDeclaration().forEach(t -> declared.add(t.name.getText())));
        unit.function().forEach(f -> declared.add(f.name.getText()));
        unit.functionBlock().forEach(f -> declared.add(f.name.getText()));
        List<ParserRuleContext> library = new ArrayList<>(unit.typeBlock());
        library.addAll(unit.function());
        library.addAll(unit.functionBlock());
        int end = library.stream().mapToInt(c -> c.getStop().getStopIndex() + 1).max().orElse(0);
        Set<String> names = new LinkedHashSet<>();
        mentioned(unit, names);
        return new TextBlock(text.substring(0, end).strip(), declared, text.substring(end).strip(),
                types(unit, StructuredTextParser.VAR_INPUT),
                types(unit, StructuredTextParser.VAR_OUTPUT), parsed.steps(), names);
    }

    /** Whether a PLC takes it: its language refuses some of what a text on a sheet may do. */
    public boolean isForPlc() {
        return FOR_PLC.computeIfAbsent(library + "\n" + inside, _ -> PlcProgram.of(library + "\nFUNCTION_BLOCK only_block\n" + inside
                + "\nEND_FUNCTION_BLOCK\nPROGRAM only_program\nVAR\none : only_block;\nEND_VAR\none();\nEND_PROGRAM\n",
                new PlcProgram.Surroundings(16, 16, 16, 1_000_000, 1000)).mistakes().stream().allMatch(Mistake::isWarning));
    }

    private static Map<String, String> types(StructuredTextParser.UnitContext unit, int kind) {
        Map<String, String> types = new LinkedHashMap<>();
        unit.varBlock().stream().filter(b -> b.kind.getType() == kind).flatMap(b -> b.declaration().stream())
                .forEach(d -> d.ID().forEach(id -> types.put(id.getText(), d.typeSpec() == null ? "" : d.typeSpec().getText())));
        return types;
    }

    private static void mentioned(ParseTree tree, Set<String> names) {
        if (tree instanceof TerminalNode t && t.getSymbol().getType() == StructuredTextParser.ID) {
            names.add(t.getText().toLowerCase(Locale.ROOT));
        }
        for (int i = 0; i < tree.getChildCount(); i++) {
            mentioned(tree.getChild(i), names);
        }
    }

    /** Whether it is a chart. */
    public boolean isChart() {
        return !steps.isEmpty();
    }

    /** What a flag of a step is called where {@link #insideWithFlags} makes it an output. */
    public static String flag(String step) {
        return step + "_active";
    }

    /** The variables and the chart, with an output more for each step, which is true while the step is active. */
    public String insideWithFlags() {
        var chart = Chart.of(inside).orElseThrow();
        var t = new StringBuilder(inside);
        for (var s : chart.steps().reversed()) {
            t.insert(s.range().end() - "END_STEP".length(), "    " + flag(s.name()) + "(N);\n");
        }
        var flags = new StringBuilder("VAR_OUTPUT\n");
        chart.steps().forEach(s -> flags.append("    ").append(flag(s.name())).append(" : BOOL;\n"));
        return flags.append("END_VAR\n").append(t).toString();
    }
}
