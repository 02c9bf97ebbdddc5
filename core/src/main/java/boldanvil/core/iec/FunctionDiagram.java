package boldanvil.core.iec;

import boldanvil.core.text.DiagramText;
import boldanvil.core.text.DiagramText.Node;
import boldanvil.core.text.DiagramText.Step;
import boldanvil.core.text.PlcText.Pou;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * A body as function block diagram (PLCopen TC6): each function block and each function is a box, in the order of the statements. What a
 * function block gives is wired to where it is needed; other values go by their variables. Boxes stand in columns, each to the right of
 * what it needs.
 */
final class FunctionDiagram {
    private static final int COLUMN = 220;
    private static final int ROW = 30;
    private static final int WIDTH = 140;

    /** Where a value comes from: an element, and its output where it has several. */
    private record Source(Element element, String output) {}

    /** An element of the picture. */
    private static final class Element {
        final String kind;
        final String text;
        final String instance;
        final int id;
        final int order;
        final Map<String, Source> inputs = new LinkedHashMap<>();
        final Set<String> outputs = new LinkedHashSet<>();
        int column;
        int row;

        Element(String kind, String text, String instance, int id, int order) {
            this.kind = kind;
            this.text = text;
            this.instance = instance;
            this.id = id;
            this.order = order;
        }
    }

    private final Map<String, String> types = new HashMap<>();
    private final Set<String> temporary = new HashSet<>();
    private final Map<String, List<String>> functions;
    private final List<Step> steps;
    private final List<Element> elements = new ArrayList<>();
    private final Map<String, Source> wires = new HashMap<>();
    private final Map<String, Element> called = new HashMap<>();
    private int orders;
    private int row;

    private FunctionDiagram(Pou pou, List<Step> steps, Map<String, List<String>> functions) {
        this.steps = steps;
        this.functions = functions;
        pou.variables().forEach(b -> b.variables().forEach(d -> {
            types.put(key(d.name()), d.type().strip());
            if (b.kind().equals("VAR_TEMP")) {
                temporary.add(key(d.name()));
            }
        }));
    }

    /**
     * The diagram of a body.
     *
     * @param functions inputs of the functions of the text, by their names in small letters
     * @return empty for a body that is no chain of calls and assignments, or that calls no function block
     */
    static Optional<FunctionDiagram> of(Pou pou, Map<String, List<String>> functions) {
        var steps = pou.body().isBlank() ? Optional.<List<Step>>empty() : DiagramText.of(pou.body());
        if (steps.isEmpty() || steps.get().stream().noneMatch(DiagramText.Call.class::isInstance)) {
            return Optional.empty();
        }
        var d = new FunctionDiagram(pou, steps.get(), functions);
        boolean known = steps.get().stream().allMatch(s -> !(s instanceof DiagramText.Call c) || d.types.containsKey(key(c.instance())));
        if (!known) {
            return Optional.empty();
        }
        d.draw();
        return Optional.of(d);
    }

    private static String key(String name) {
        return name.toLowerCase(Locale.ROOT);
    }

    /** What is set once, by a function block that is called once, and is known within the body only: a wire says it all. */
    private Set<String> wired() {
        Map<String, Long> sets = steps.stream().flatMap(s -> switch (s) {
            case DiagramText.Assign a -> java.util.stream.Stream.of(key(a.target()));
            case DiagramText.Call c -> java.util.stream.Stream.concat(java.util.stream.Stream.of(key(c.instance()) + "()"),
                    c.outputs().values().stream().map(FunctionDiagram::key));
        }).collect(Collectors.groupingBy(n -> n, Collectors.counting()));
        Set<String> all = new HashSet<>();
        for (Step s : steps) {
            if (s instanceof DiagramText.Call c && sets.get(key(c.instance()) + "()") == 1) {
                c.outputs().values().stream().map(FunctionDiagram::key).filter(v -> temporary.contains(v) && sets.get(v) == 1)
                        .forEach(all::add);
            }
        }
        return all;
    }

    private void draw() {
        Set<String> wired = wired();
        for (Step s : steps) {
            switch (s) {
                case DiagramText.Assign a -> {
                    var from = source(a.value());
                    target(a.target(), from);
                    wires.remove(key(a.target()));
                }
                case DiagramText.Call c -> {
                    Map<String, Source> inputs = new LinkedHashMap<>();
                    c.inputs().forEach((name, node) -> inputs.put(name, source(node)));
                    var box = box("block", types.get(key(c.instance())), c.instance(), inputs);
                    wires.values().removeIf(w -> w.element().instance.equalsIgnoreCase(c.instance()));
                    called.put(key(c.instance()), box);
                    c.outputs().forEach((output, variable) -> {
                        var from = new Source(box, output);
                        box.outputs.add(output);
                        if (!wired.contains(key(variable))) {
                            target(variable, from);
                        }
                        wires.put(key(variable), from);
                    });
                }
            }
            row++;
        }
    }

    private void target(String variable, Source from) {
        var e = new Element("outVariable", variable, "", elements.size() + 1, ++orders);
        e.inputs.put("", from);
        e.column = from.element().column + 1;
        e.row = row;
        row += 1;
        elements.add(e);
    }

    private Source source(Node n) {
        return switch (n) {
            case DiagramText.Value v -> value(v.text());
            case DiagramText.Operation o -> {
                List<String> names = functions.getOrDefault(key(o.function()), List.of());
                Map<String, Source> inputs = new LinkedHashMap<>();
                for (int i = 0; i < o.inputs().size(); i++) {
                    inputs.put(i < names.size() ? names.get(i) : "IN" + (i + 1), source(o.inputs().get(i)));
                }
                var box = box("block", o.function(), "", inputs);
                box.outputs.add("OUT");
                yield new Source(box, "OUT");
            }
        };
    }

    private Source value(String text) {
        var wire = wires.get(key(text));
        if (wire != null) {
            return wire;
        }
        int dot = text.indexOf('.');
        var of = dot < 0 ? null : called.get(key(text.substring(0, dot)));
        String output = text.substring(dot + 1);
        if (of != null && output.matches("\\w+")) {
            of.outputs.add(output);
            return new Source(of, output);
        }
        var e = new Element("inVariable", text, "", elements.size() + 1, 0);
        e.row = row++;
        elements.add(e);
        return new Source(e, "");
    }

    private Element box(String kind, String type, String instance, Map<String, Source> inputs) {
        var e = new Element(kind, type, instance, elements.size() + 1, ++orders);
        e.inputs.putAll(inputs);
        e.column = 1 + inputs.values().stream().mapToInt(s -> s.element().column).max().orElse(0);
        e.row = inputs.values().stream().mapToInt(s -> s.element().row).min().orElse(row);
        row = Math.max(row, e.row + inputs.size() + 1);
        elements.add(e);
        return e;
    }

    void write(XmlText x) {
        x.open("FBD");
        elements.forEach(e -> write(x, e));
        x.close();
    }

    private static void write(XmlText x, Element e) {
        List<String> attributes = new ArrayList<>(List.of("localId", "" + e.id));
        boolean box = e.kind.equals("block");
        if (box) {
            attributes.addAll(List.of("typeName", e.text));
            if (!e.instance.isEmpty()) {
                attributes.addAll(List.of("instanceName", e.instance));
            }
            attributes.addAll(List.of("width", "" + WIDTH, "height", "" + ROW * (1 + Math.max(e.inputs.size(), e.outputs.size()))));
        }
        if (e.order > 0) {
            attributes.addAll(List.of("executionOrderId", "" + e.order));
        }
        x.open(e.kind, attributes.toArray(String[]::new));
        x.empty("position", "x", "" + (40 + COLUMN * e.column), "y", "" + (40 + ROW * e.row));
        if (box) {
            x.open("inputVariables");
            e.inputs.forEach((name, from) -> {
                x.open("variable", "formalParameter", name);
                connection(x, from);
                x.close();
            });
            x.close().empty("inOutVariables").open("outputVariables");
            e.outputs.forEach(name -> x.open("variable", "formalParameter", name).empty("connectionPointOut").close());
            x.close();
        } else if (e.inputs.isEmpty()) {
            x.empty("connectionPointOut").text("expression", e.text);
        } else {
            connection(x, e.inputs.get(""));
            x.text("expression", e.text);
        }
        x.close();
    }

    private static void connection(XmlText x, Source from) {
        x.open("connectionPointIn");
        x.empty("connection", from.output().isEmpty() ? new String[] {"refLocalId", "" + from.element().id}
                : new String[] {"refLocalId", "" + from.element().id, "formalParameter", from.output()});
        x.close();
    }
}
