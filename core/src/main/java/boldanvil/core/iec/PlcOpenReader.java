package boldanvil.core.iec;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** Reads an exchange file (PLCopen TC6 XML) as Structured Text, as far as it is understood; the rest is named. */
public final class PlcOpenReader {
    /**
     * What was read.
     *
     * @param text the program in the textual languages
     * @param remarks what was not understood, each with its place
     */
    public record Result(String text, List<String> remarks) {}

    private final StringBuilder out = new StringBuilder();
    private final List<String> remarks = new ArrayList<>();

    private PlcOpenReader() {}

    /** @throws FindingException when the file is not XML, not of this format, or beyond the limits */
    public static Result read(String xml, Place place) {
        var root = XmlTree.read(xml, place);
        if (root == null || !root.name().equals("project")) {
            throw FindingException.of(place, "This is not an exchange file of PLCopen: it does not begin with 'project'.",
                    "Export as PLCopen XML from the other tool.");
        }
        var r = new PlcOpenReader();
        r.types(root);
        root.at("types", "pous").ifPresent(p -> p.all("pou").forEach(r::pou));
        root.at("instances", "configurations").ifPresent(c -> c.all("configuration").forEach(r::configuration));
        return new Result(r.out.toString(), List.copyOf(r.remarks));
    }

    private void line(String text) {
        out.append(text).append('\n');
    }

    private void types(XmlTree root) {
        var types = root.at("types", "dataTypes").map(t -> t.all("dataType")).orElse(List.of());
        if (!types.isEmpty()) {
            line("TYPE");
            types.forEach(t -> line("    " + t.attribute("name") + " : " + t.child("baseType").map(PlcOpenTypes::read).orElse("INT")
                    + t.child("initialValue").map(i -> " := " + initial(i)).orElse("") + ";"));
            line("END_TYPE\n");
        }
    }

    private void pou(XmlTree p) {
        String name = p.attribute("name");
        String kind = switch (p.attribute("pouType")) {
            case "function" -> "FUNCTION";
            case "program" -> "PROGRAM";
            default -> "FUNCTION_BLOCK";
        };
        line(kind + " " + name + p.at("interface", "returnType").map(t -> " : " + PlcOpenTypes.read(t)).orElse(""));
        p.child("interface").ifPresent(i -> i.children().forEach(v -> variables(v, name)));
        p.child("body").ifPresent(b -> body(p, b, name));
        line("END_" + kind + "\n");
    }

    private void variables(XmlTree block, String where) {
        String kind = switch (block.name()) {
            case "inputVars" -> "VAR_INPUT";
            case "outputVars" -> "VAR_OUTPUT";
            case "inOutVars" -> "VAR_IN_OUT";
            case "externalVars" -> "VAR_EXTERNAL";
            case "globalVars" -> "VAR_GLOBAL";
            case "tempVars" -> "VAR_TEMP";
            case "localVars" -> "VAR";
            default -> "";
        };
        if (kind.isEmpty()) {
            if (!block.name().equals("returnType") && !block.name().equals("documentation")) {
                remarks.add(where + ": '" + block.name() + "' is not understood and was left out.");
            }
            return;
        }
        line(kind + (block.attribute("constant").equals("true") ? " CONSTANT" : "") + (block.attribute("retain").equals("true") ? " RETAIN"
                : ""));
        for (XmlTree v : block.all("variable")) {
            line("    " + v.attribute("name") + (v.attribute("address").isEmpty() ? "" : " AT " + v.attribute("address")) + " : "
                    + v.child("type").map(PlcOpenTypes::read).orElse("INT") + v.child("initialValue").map(i -> " := " + initial(i))
                            .orElse("")
                    + ";");
        }
        line("END_VAR");
    }

    private static String initial(XmlTree holder) {
        if (holder.children().isEmpty()) {
            return "0";
        }
        var v = holder.children().getFirst();
        return switch (v.name()) {
            case "arrayValue" -> "[" + String.join(", ", v.all("value").stream().map(i -> i.attribute("repetitionValue").isEmpty()
                    ? initial(i) : i.attribute("repetitionValue") + "(" + initial(i) + ")").toList()) + "]";
            case "structValue" -> "(" + String.join(", ", v.all("value").stream().map(i -> i.attribute("member") + " := " + initial(i))
                    .toList()) + ")";
            default -> v.attribute("value");
        };
    }

    private void body(XmlTree pou, XmlTree body, String name) {
        if (body.child("ST").isPresent()) {
            line(body.child("ST").get().whole().strip());
        } else if (body.child("FBD").isPresent()) {
            line(FunctionDiagramReader.statements(body.child("FBD").get(), name, remarks));
        } else if (body.child("SFC").isPresent()) {
            chart(body.child("SFC").get(), name);
            pou.child("actions").ifPresent(a -> a.all("action").forEach(x -> {
                var text = x.at("body", "ST");
                if (text.isPresent()) {
                    line("ACTION " + x.attribute("name") + ":\n" + text.get().whole().strip() + "\nEND_ACTION");
                } else {
                    remarks.add(name + "." + x.attribute("name") + ": the language of this action is not understood; it is empty.");
                    line("ACTION " + x.attribute("name") + ":\n;\nEND_ACTION");
                }
            }));
        } else {
            body.children().stream().findFirst().ifPresent(c -> remarks.add(name + ": the language '" + c.name()
                    + "' is not understood; the body is empty."));
            line(";");
        }
    }

    /** A chart: steps, transitions, and what leads over branches from one to the other. */
    private void chart(XmlTree sfc, String name) {
        Map<String, XmlTree> byId = new LinkedHashMap<>();
        sfc.children().forEach(e -> byId.put(e.attribute("localId"), e));
        Map<String, String> actions = new LinkedHashMap<>();
        for (XmlTree a : sfc.all("actionBlock")) {
            String step = a.at("connectionPointIn", "connection").map(c -> c.attribute("refLocalId")).orElse("");
            var text = new StringBuilder();
            a.all("action").forEach(x -> text.append("    ").append(x.at("reference").map(r -> r.attribute("name")).orElse("unnamed"))
                    .append('(').append(x.attribute("qualifier").isEmpty() ? "N" : x.attribute("qualifier"))
                    .append(x.attribute("duration").isEmpty() ? "" : ", " + x.attribute("duration")).append(");\n"));
            actions.merge(step, text.toString(), String::concat);
        }
        for (XmlTree s : sfc.all("step")) {
            line((s.attribute("initialStep").equals("true") ? "INITIAL_STEP " : "STEP ") + s.attribute("name") + ":\n"
                    + actions.getOrDefault(s.attribute("localId"), "") + "END_STEP");
        }
        for (XmlTree t : sfc.all("transition")) {
            List<String> from = steps(t, byId, 0);
            List<String> to = new ArrayList<>();
            sfc.children().stream().filter(e -> e.name().equals("step") || e.name().equals("jumpStep"))
                    .filter(e -> leads(t.attribute("localId"), e, byId, 0))
                    .forEach(e -> to.add(e.name().equals("step") ? e.attribute("name") : e.attribute("targetName")));
            var condition = t.at("condition", "inline", "ST");
            if (from.isEmpty() || to.isEmpty() || condition.isEmpty()) {
                remarks.add(name + ": the transition " + t.attribute("localId") + " has no text, or leads nowhere; it was left out.");
                continue;
            }
            line("TRANSITION FROM " + list(from) + " TO " + list(to) + " := " + condition.get().whole().strip() + "; END_TRANSITION");
        }
    }

    private static String list(List<String> steps) {
        return steps.size() == 1 ? steps.getFirst() : "(" + String.join(", ", steps) + ")";
    }

    private static List<String> sources(XmlTree e) {
        List<String> ids = new ArrayList<>();
        e.all("connectionPointIn").forEach(p -> p.all("connection").forEach(c -> ids.add(c.attribute("refLocalId"))));
        return ids;
    }

    /** The steps before an element, across branches. */
    private static List<String> steps(XmlTree e, Map<String, XmlTree> byId, int depth) {
        List<String> found = new ArrayList<>();
        for (String id : sources(e)) {
            XmlTree before = byId.get(id);
            if (before != null && before.name().equals("step")) {
                found.add(before.attribute("name"));
            } else if (before != null && depth < 20 && before.name().toLowerCase(Locale.ROOT).contains("vergence")) {
                found.addAll(steps(before, byId, depth + 1));
            }
        }
        return found;
    }

    /** Whether a transition leads to an element, across branches. */
    private static boolean leads(String transition, XmlTree e, Map<String, XmlTree> byId, int depth) {
        for (String id : sources(e)) {
            XmlTree before = byId.get(id);
            if (id.equals(transition) || before != null && depth < 20 && before.name().toLowerCase(Locale.ROOT).contains("vergence")
                    && leads(transition, before, byId, depth + 1)) {
                return true;
            }
        }
        return false;
    }

    private void configuration(XmlTree c) {
        line("CONFIGURATION " + c.attribute("name"));
        c.all("globalVars").forEach(v -> variables(v, c.attribute("name")));
        for (XmlTree r : c.all("resource")) {
            line("RESOURCE " + r.attribute("name") + " ON PLC");
            r.all("globalVars").forEach(v -> variables(v, r.attribute("name")));
            for (XmlTree t : r.all("task")) {
                List<String> properties = new ArrayList<>();
                t.attributes().forEach((key, value) -> {
                    if (List.of("interval", "single", "priority").contains(key)) {
                        properties.add(key.toUpperCase(Locale.ROOT) + " := " + value);
                    }
                });
                line("TASK " + t.attribute("name") + "(" + String.join(", ", properties) + ");");
                t.all("pouInstance").forEach(u -> line("PROGRAM " + u.attribute("name") + " WITH " + t.attribute("name") + " : "
                        + u.attribute("typeName") + ";"));
            }
            r.all("pouInstance").forEach(u -> line("PROGRAM " + u.attribute("name") + " : " + u.attribute("typeName") + ";"));
            line("END_RESOURCE");
        }
        line("END_CONFIGURATION");
    }
}
