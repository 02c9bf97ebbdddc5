package boldanvil.core.iec;

import boldanvil.core.text.DiagramText;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;

/**
 * Reads a function block diagram (PLCopen TC6) as statements: calls of function blocks, and assignments of what functions give. The order
 * is that of the file's numbers; without them that of the wires, and else of the places from top to bottom.
 */
final class FunctionDiagramReader {
    private static final int DEEPEST = 200;
    /** Values in all expressions of a diagram; a function whose value is needed twice is written twice. */
    private static final int MOST = 100_000;

    private final String name;
    private final List<String> remarks;
    private final Map<String, XmlTree> byId = new HashMap<>();
    private final Map<String, XmlTree> connectors = new HashMap<>();
    private final Set<String> functionBlocks = new HashSet<>();
    private final StringBuilder out = new StringBuilder();
    private int values;
    private boolean cut;

    private FunctionDiagramReader(String name, List<String> remarks) {
        this.name = name;
        this.remarks = remarks;
    }

    /** @param remarks gets what was not understood */
    static String statements(XmlTree diagram, String name, List<String> remarks) {
        var r = new FunctionDiagramReader(name, remarks);
        r.read(diagram);
        return r.out.isEmpty() ? ";" : r.out.toString().strip();
    }

    private void read(XmlTree diagram) {
        List<XmlTree> acting = new ArrayList<>();
        for (XmlTree e : diagram.children()) {
            byId.put(e.attribute("localId"), e);
            switch (e.name()) {
                case "inVariable", "continuation", "comment", "vendorElement", "leftPowerRail", "rightPowerRail" -> { }
                case "connector" -> connectors.put(e.attribute("name"), e);
                case "outVariable", "inOutVariable" -> acting.add(e);
                case "block" -> {
                    if (!e.attribute("instanceName").isEmpty()) {
                        functionBlocks.add(e.attribute("localId"));
                        acting.add(e);
                    }
                }
                default -> remarks.add(name + ": '" + e.name() + "' in a diagram is not understood and was left out.");
            }
        }
        for (XmlTree e : ordered(acting)) {
            if (e.name().equals("block")) {
                call(e);
            } else {
                String from = pointText(e, 0);
                if (!from.isEmpty()) {
                    out.append(e.child("expression").map(x -> x.whole().strip()).orElse("unnamed")).append(" := ").append(from)
                            .append(";\n");
                }
            }
        }
    }

    private List<XmlTree> ordered(List<XmlTree> acting) {
        if (acting.stream().allMatch(e -> !e.attribute("executionOrderId").isEmpty())) {
            return acting.stream().sorted(Comparator.comparingInt(e -> number(e.attribute("executionOrderId")))).toList();
        }
        Comparator<XmlTree> byPlace = Comparator.comparingInt((XmlTree e) -> e.child("position").map(p -> number(p.attribute("y")))
                .orElse(0))
                .thenComparingInt(e -> e.child("position").map(p -> number(p.attribute("x"))).orElse(0));
        Set<XmlTree> wanted = identities();
        wanted.addAll(acting);
        List<XmlTree> done = new ArrayList<>();
        Set<XmlTree> seen = identities();
        acting.stream().sorted(byPlace).forEach(e -> visit(e, wanted, seen, done, 0));
        return done;
    }

    /** What an element needs comes before it; a wire that leads back gives the value of the scan before. */
    private void visit(XmlTree e, Set<XmlTree> wanted, Set<XmlTree> seen, List<XmlTree> done, int depth) {
        if (depth > DEEPEST || !seen.add(e)) {
            return;
        }
        needed(e).forEach(n -> visit(n, wanted, seen, done, depth + 1));
        if (wanted.contains(e)) {
            done.add(e);
        }
    }

    private static Set<XmlTree> identities() {
        return Collections.newSetFromMap(new IdentityHashMap<>());
    }

    private List<XmlTree> needed(XmlTree e) {
        Stream<XmlTree> points = e.name().equals("block") ? e.child("inputVariables").stream().flatMap(i -> i.all("variable").stream())
                : Stream.of(e);
        return points.flatMap(p -> p.all("connectionPointIn").stream()).flatMap(p -> p.all("connection").stream())
                .map(c -> byId.get(c.attribute("refLocalId"))).filter(x -> x != null).map(this::end).toList();
    }

    private static int number(String text) {
        try {
            return (int) Double.parseDouble(text);
        } catch (NumberFormatException _) {
            return 0;
        }
    }

    private XmlTree end(XmlTree e) {
        return e.name().equals("continuation") ? connectors.getOrDefault(e.attribute("name"), e) : e;
    }

    private void call(XmlTree block) {
        List<String> given = new ArrayList<>();
        for (String kind : List.of("inputVariables", "inOutVariables")) {
            block.child(kind).ifPresent(v -> v.all("variable").forEach(p -> {
                String text = pin(p, 0);
                if (!text.isEmpty()) {
                    given.add(p.attribute("formalParameter") + " := " + text);
                }
            }));
        }
        out.append(block.attribute("instanceName")).append('(').append(String.join(", ", given)).append(");\n");
    }

    /** The value at an input; empty where nothing leads to it. */
    private String pin(XmlTree pin, int depth) {
        String text = pointText(pin, depth);
        if (!pin.attribute("edge").isEmpty() && !pin.attribute("edge").equals("none")) {
            remarks.add(name + ": the edge at '" + pin.attribute("formalParameter") + "' is left out; its value is taken as it is.");
        }
        return pin.attribute("negated").equals("true") && !text.isEmpty() ? "NOT (" + text + ")" : text;
    }

    private String pointText(XmlTree at, int depth) {
        var connection = at.child("connectionPointIn").flatMap(p -> p.child("connection"));
        if (connection.isEmpty()) {
            return "";
        }
        var from = byId.get(connection.get().attribute("refLocalId"));
        return from == null ? "" : valueOf(end(from), connection.get().attribute("formalParameter"), depth + 1);
    }

    private String valueOf(XmlTree from, String output, int depth) {
        if (depth > DEEPEST || ++values > MOST) {
            if (!cut) {
                remarks.add(name + ": wires lead round through functions, or there are too many of them; they were cut.");
            }
            cut = true;
            return "0";
        }
        return switch (from.name()) {
            case "inVariable", "inOutVariable", "outVariable" -> {
                String text = from.child("expression").map(x -> x.whole().strip()).orElse("0");
                yield from.attribute("negated").equals("true") ? "NOT (" + text + ")" : text;
            }
            case "connector" -> pointText(from, depth);
            case "block" -> functionBlocks.contains(from.attribute("localId")) ? negated(from, output, from.attribute("instanceName") + "."
                    + output) : negated(from, output, function(from, depth));
            default -> "0";
        };
    }

    private static String negated(XmlTree block, String output, String text) {
        return block.child("outputVariables").stream().flatMap(v -> v.all("variable").stream())
                .anyMatch(v -> v.attribute("formalParameter").equals(output) && v.attribute("negated").equals("true")) ? "NOT (" + text
                        + ")"
                : text;
    }

    private String function(XmlTree block, int depth) {
        List<String> inputs = new ArrayList<>();
        for (XmlTree p : block.child("inputVariables").map(v -> v.all("variable")).orElse(List.of())) {
            if (p.attribute("formalParameter").equalsIgnoreCase("EN")) {
                remarks.add(name + ": EN of '" + block.attribute("typeName") + "' is left out; the function always runs.");
                continue;
            }
            String text = pin(p, depth);
            if (text.isEmpty()) {
                remarks.add(name + ": an input of '" + block.attribute("typeName") + "' is open and was taken as 0.");
            }
            inputs.add(text.isEmpty() ? "0" : text);
        }
        return DiagramText.expression(block.attribute("typeName"), inputs);
    }
}
