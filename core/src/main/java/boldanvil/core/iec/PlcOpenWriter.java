package boldanvil.core.iec;

import boldanvil.core.text.Chart;
import boldanvil.core.text.PlcText;
import boldanvil.core.text.PlcText.Block;
import boldanvil.core.text.PlcText.Declared;
import boldanvil.core.text.PlcText.Kind;
import boldanvil.core.text.PlcText.Pou;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;

/** Writes the text of a PLC's program as an exchange file (PLCopen TC6 XML 2.01). */
public final class PlcOpenWriter {
    /** The namespace of the format. */
    public static final String NAMESPACE = "http://www.plcopen.org/xml/tc6_0201";
    private static final Pattern ACTION = Pattern.compile("(?is)\\bACTION\\s+(\\w+)\\s*:(.*?)\\bEND_ACTION");
    private static final int ROW = 120;
    private static final int COLUMN = 240;

    /**
     * A file.
     *
     * @param remarks what the format has no place for
     */
    public record Result(String xml, List<String> remarks) {}

    private final XmlText x = new XmlText();
    private final List<String> remarks = new ArrayList<>();

    private final Map<String, List<String>> functions = new HashMap<>();
    private final boolean diagrams;

    private PlcOpenWriter(boolean diagrams) {
        this.diagrams = diagrams;
    }

    /**
     * @param time of the file, such as {@code 2026-12-01T08:30:00}
     * @throws IllegalArgumentException when the text has mistakes
     */
    public static Result write(PlcText text, String name, String time) {
        return write(text, name, time, false);
    }

    /**
     * @param diagrams whether a body of calls and assignments becomes a function block diagram; else it stays a text
     * @throws IllegalArgumentException when the text has mistakes
     */
    public static Result write(PlcText text, String name, String time, boolean diagrams) {
        if (!text.mistakes().isEmpty()) {
            throw new IllegalArgumentException(text.mistakes().getFirst().located());
        }
        var w = new PlcOpenWriter(diagrams);
        text.pous().stream().filter(p -> p.kind() == Kind.FUNCTION).forEach(f -> w.functions.put(f.name().toLowerCase(Locale.ROOT),
                f.variables().stream().filter(b -> b.kind().equals("VAR_INPUT")).flatMap(b -> b.variables().stream()).map(Declared::name)
                        .toList()));
        w.project(text, name, time);
        return new Result(w.x.toString(), List.copyOf(w.remarks));
    }

    private void project(PlcText text, String name, String time) {
        x.open("project", "xmlns", NAMESPACE, "xmlns:xhtml", "http://www.w3.org/1999/xhtml");
        x.empty("fileHeader", "companyName", "Bold Anvil", "productName", "Bold Anvil", "productVersion", "1", "creationDateTime", time);
        x.open("contentHeader", "name", name, "modificationDateTime", time).open("coordinateInfo");
        for (String language : List.of("fbd", "ld", "sfc")) {
            x.open(language).empty("scaling", "x", "1", "y", "1").close();
        }
        x.close().close();
        x.open("types").open("dataTypes");
        text.types().forEach(t -> {
            int initial = t.text().indexOf(":=");
            boolean plain = initial >= 0 && !t.text().contains("(") && !t.text().toUpperCase(Locale.ROOT).startsWith("STRUCT");
            x.open("dataType", "name", t.name()).open("baseType");
            PlcOpenTypes.write(x, plain ? t.text().substring(0, initial) : t.text());
            x.close();
            if (plain) {
                x.open("initialValue").empty("simpleValue", "value", t.text().substring(initial + 2).strip()).close();
            }
            x.close();
        });
        x.close().open("pous");
        text.pous().forEach(this::pou);
        x.close().close();
        instances(text);
        x.close();
    }

    private void pou(Pou p) {
        x.open("pou", "name", p.name(), "pouType", switch (p.kind()) {
            case FUNCTION -> "function";
            case FUNCTION_BLOCK -> "functionBlock";
            case PROGRAM -> "program";
        });
        x.open("interface");
        if (p.kind() == Kind.FUNCTION && !p.result().isEmpty()) {
            x.open("returnType");
            PlcOpenTypes.write(x, p.result());
            x.close();
        }
        p.variables().forEach(b -> variables(switch (b.kind()) {
            case "VAR_INPUT" -> "inputVars";
            case "VAR_OUTPUT" -> "outputVars";
            case "VAR_IN_OUT" -> "inOutVars";
            case "VAR_EXTERNAL" -> "externalVars";
            case "VAR_TEMP" -> "tempVars";
            default -> "localVars";
        }, b));
        x.close();
        p.methods().forEach(m -> remarks.add("The method '" + m.name() + "' of '" + p.name()
                + "' is left out: the format has no methods."));
        var diagram = diagrams ? FunctionDiagram.of(p, functions) : Optional.<FunctionDiagram>empty();
        if (diagram.isPresent()) {
            x.open("body");
            diagram.get().write(x);
            x.close();
        } else if (p.chart().isEmpty()) {
            x.open("body").open("ST").text("xhtml:p", "\n" + p.body() + "\n").close().close();
        } else {
            chart(p);
        }
        x.close();
    }

    private void variables(String element, Block b) {
        List<String> attributes = new ArrayList<>();
        if (b.constant()) {
            attributes.addAll(List.of("constant", "true"));
        }
        if (b.retained()) {
            attributes.addAll(List.of("retain", "true"));
        }
        x.open(element, attributes.toArray(String[]::new));
        for (Declared d : b.variables()) {
            x.open("variable", d.address().isEmpty() ? new String[] {"name", d.name()}
                    : new String[] {"name", d.name(), "address", d.address()});
            x.open("type");
            PlcOpenTypes.write(x, d.type());
            x.close();
            if (!d.initial().isEmpty()) {
                x.open("initialValue");
                initial(d.initial().strip());
                x.close();
            }
            x.close();
            if (!d.edge().isEmpty()) {
                remarks.add("'" + d.name() + "' is an ordinary input in the file: the format has no " + d.edge() + ".");
            }
        }
        x.close();
    }

    private void initial(String value) {
        if (value.startsWith("[")) {
            x.open("arrayValue");
            for (String item : items(value)) {
                var repeated = Pattern.compile("(?s)(\\d+)\\s*\\((.*)\\)").matcher(item);
                x.open("value", repeated.matches() ? new String[] {"repetitionValue", repeated.group(1)} : new String[0]);
                initial(repeated.matches() ? repeated.group(2).strip() : item);
                x.close();
            }
            x.close();
        } else if (value.startsWith("(") && value.contains(":=")) {
            x.open("structValue");
            for (String item : items(value)) {
                int at = item.indexOf(":=");
                x.open("value", "member", item.substring(0, at).strip());
                initial(item.substring(at + 2).strip());
                x.close();
            }
            x.close();
        } else {
            x.empty("simpleValue", "value", value);
        }
    }

    /** What stands between commas of a list in brackets. */
    private static List<String> items(String list) {
        List<String> all = new ArrayList<>();
        int depth = 0;
        int begin = 1;
        for (int i = 1; i < list.length(); i++) {
            char c = list.charAt(i);
            depth += c == '(' || c == '[' ? 1 : (c == ')' || c == ']') && i < list.length() - 1 ? -1 : 0;
            if (i == list.length() - 1 || c == ',' && depth == 0) {
                all.add(list.substring(begin, i).strip());
                begin = i + 1;
            }
        }
        return all;
    }

    /** A chart with its places: steps below each other, transitions between them. */
    private void chart(Pou p) {
        var chart = Chart.of(p.chart()).orElseThrow();
        Map<String, String> actions = new LinkedHashMap<>();
        var m = ACTION.matcher(p.chart());
        while (m.find()) {
            actions.put(m.group(1), m.group(2).strip());
        }
        if (!actions.isEmpty()) {
            x.open("actions");
            actions.forEach((name, text) -> x.open("action", "name", name).open("body").open("ST").text("xhtml:p", "\n" + text + "\n")
                    .close()
                    .close().close());
            x.close();
        }
        x.open("body").open("SFC");
        Map<String, Integer> ids = new LinkedHashMap<>();
        chart.steps().forEach(s -> ids.put(s.name().toLowerCase(Locale.ROOT), ids.size() + 1));
        int next = ids.size() + 1;
        Map<String, List<Integer>> into = new LinkedHashMap<>();
        List<Integer> transitions = new ArrayList<>();
        for (var t : chart.transitions()) {
            int id = next++;
            transitions.add(id);
            t.to().forEach(s -> into.computeIfAbsent(s.toLowerCase(Locale.ROOT), _ -> new ArrayList<>()).add(id));
        }
        for (int i = 0; i < chart.steps().size(); i++) {
            var s = chart.steps().get(i);
            int id = i + 1;
            x.open("step", s.initial() ? new String[] {"localId", "" + id, "name", s.name(), "initialStep", "true"}
                    : new String[] {"localId", "" + id, "name", s.name()});
            place(COLUMN, ROW * i);
            x.open("connectionPointIn");
            into.getOrDefault(s.name().toLowerCase(Locale.ROOT), List.of()).forEach(t -> x.empty("connection", "refLocalId", "" + t));
            x.close().empty("connectionPointOut", "formalParameter", "sfc").close();
            if (!s.actions().isEmpty()) {
                x.open("actionBlock", "localId", "" + next++);
                place(2 * COLUMN, ROW * i);
                x.open("connectionPointIn").empty("connection", "refLocalId", "" + id).close();
                s.actions().forEach(a -> {
                    x.open("action", a.time().isEmpty() ? new String[] {"qualifier", a.qualifier()}
                            : new String[] {"qualifier", a.qualifier(), "duration", a.time()});
                    x.empty("relPosition", "x", "0", "y", "0").empty("reference", "name", a.action()).close();
                });
                x.close();
            }
        }
        for (int i = 0; i < chart.transitions().size(); i++) {
            var t = chart.transitions().get(i);
            x.open("transition", "localId", "" + transitions.get(i));
            place(COLUMN, ROW * i + ROW / 2);
            x.open("connectionPointIn");
            t.from().forEach(s -> x.empty("connection", "refLocalId", "" + ids.get(s.toLowerCase(Locale.ROOT))));
            x.close().empty("connectionPointOut").open("condition").open("inline", "name", t.name()).open("ST")
                    .text("xhtml:p", t.condition())
                    .close().close().close().close();
        }
        x.close().close();
    }

    private void place(int px, int py) {
        x.empty("position", "x", "" + px, "y", "" + py);
    }

    private void instances(PlcText text) {
        x.open("instances").open("configurations");
        text.configuration().ifPresent(c -> {
            x.open("configuration", "name", c.name()).open("resource", "name", c.resource());
            c.tasks().forEach(t -> {
                List<String> attributes = new ArrayList<>(List.of("name", t.name()));
                t.properties().forEach((name, value) -> attributes.addAll(List.of(name.toLowerCase(Locale.ROOT), value)));
                if (!t.properties().containsKey("PRIORITY")) {
                    attributes.addAll(List.of("priority", "0"));
                }
                x.open("task", attributes.toArray(String[]::new));
                c.uses().stream().filter(u -> u.task().equalsIgnoreCase(t.name())).forEach(u -> use(u));
                x.close();
            });
            c.globals().forEach(b -> variables("globalVars", b));
            c.uses().stream().filter(u -> u.task().isEmpty()).forEach(this::use);
            x.close();
            text.globals().forEach(b -> variables("globalVars", b));
            x.close();
        });
        if (text.configuration().isEmpty() && !text.globals().isEmpty()) {
            x.open("configuration", "name", "configuration").open("resource", "name", "main").close();
            text.globals().forEach(b -> variables("globalVars", b));
            x.close();
        }
        x.close().close();
    }

    private void use(PlcText.Use u) {
        x.empty("pouInstance", "name", u.name(), "typeName", u.program());
        if (!u.arguments().isEmpty()) {
            remarks.add("What the program '" + u.name() + "' is given in the configuration is left out: the format has no place for it.");
        }
    }
}
