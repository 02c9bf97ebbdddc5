package boldanvil.core.iec;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Pattern;

/** Types of the language as the exchange file writes them, and back. */
final class PlcOpenTypes {
    private static final Set<String> ELEMENTARY = Set.of("BOOL", "BYTE", "WORD", "DWORD", "LWORD", "SINT", "INT", "DINT", "LINT", "USINT",
            "UINT", "UDINT", "ULINT", "REAL", "LREAL", "TIME", "DATE", "DT", "TOD");
    private static final Pattern ARRAY = Pattern.compile("(?is)ARRAY\\s*\\[(.*?)]\\s*OF\\s+(.*)");
    private static final Pattern TEXT = Pattern.compile("(?i)(W?STRING)\\s*(?:\\[\\s*(\\d+)\\s*])?");
    private static final Pattern RANGE = Pattern.compile("(?is)(\\w+)\\s*\\(\\s*(.+?)\\s*\\.\\.\\s*(.+?)\\s*\\)");
    private static final Pattern ENUMERATION = Pattern.compile("(?is)(\\w*)\\s*\\((.*)\\)");
    private static final Pattern STRUCTURE = Pattern.compile("(?is)STRUCT\\b(.*)END_STRUCT");

    private PlcOpenTypes() {}

    /** Writes the element of a type. */
    static void write(XmlText x, String type) {
        String t = type.strip();
        var array = ARRAY.matcher(t);
        var text = TEXT.matcher(t);
        var structure = STRUCTURE.matcher(t);
        var range = RANGE.matcher(t);
        var enumeration = ENUMERATION.matcher(t);
        String upper = switch (t.toUpperCase(Locale.ROOT)) {
            case "DATE_AND_TIME" -> "DT";
            case "TIME_OF_DAY" -> "TOD";
            default -> t.toUpperCase(Locale.ROOT);
        };
        if (ELEMENTARY.contains(upper)) {
            x.empty(upper);
        } else if (text.matches()) {
            x.empty(text.group(1).toLowerCase(Locale.ROOT), text.group(2) == null ? new String[0] : new String[] {"length", text.group(2)});
        } else if (array.matches()) {
            x.open("array");
            for (String d : array.group(1).split(",")) {
                String[] bounds = d.split("\\.\\.");
                x.empty("dimension", "lower", bounds[0].strip(), "upper", bounds.length > 1 ? bounds[1].strip() : bounds[0].strip());
            }
            x.open("baseType");
            write(x, array.group(2));
            x.close().close();
        } else if (structure.matches()) {
            x.open("struct");
            members(structure.group(1)).forEach(m -> variable(x, m));
            x.close();
        } else if (range.matches() && t.contains("..")) {
            x.open(range.group(1).toUpperCase(Locale.ROOT).startsWith("U") ? "subrangeUnsigned" : "subrangeSigned");
            x.empty("range", "lower", range.group(2), "upper", range.group(3)).open("baseType");
            write(x, range.group(1));
            x.close().close();
        } else if (enumeration.matches()) {
            x.open("enum").open("values");
            for (String v : enumeration.group(2).split(",")) {
                String[] parts = v.split(":=");
                x.empty("value", parts.length > 1 ? new String[] {"name", parts[0].strip(), "value", parts[1].strip()}
                        : new String[] {"name", parts[0].strip()});
            }
            x.close();
            if (!enumeration.group(1).isEmpty()) {
                x.open("baseType");
                write(x, enumeration.group(1));
                x.close();
            }
            x.close();
        } else {
            x.empty("derived", "name", t);
        }
    }

    private static List<String> members(String body) {
        List<String> all = new ArrayList<>();
        for (String m : body.split(";")) {
            if (!m.isBlank()) {
                all.add(m.strip());
            }
        }
        return all;
    }

    private static void variable(XmlText x, String member) {
        int colon = member.indexOf(':');
        String rest = member.substring(colon + 1);
        int initial = rest.indexOf(":=");
        for (String name : member.substring(0, colon).split(",")) {
            x.open("variable", "name", name.strip()).open("type");
            write(x, initial < 0 ? rest : rest.substring(0, initial));
            x.close();
            if (initial >= 0) {
                x.open("initialValue").empty("simpleValue", "value", rest.substring(initial + 2).strip()).close();
            }
            x.close();
        }
    }

    /** The type in an element such as {@code type} or {@code baseType}, as the language writes it. */
    static String read(XmlTree holder) {
        XmlTree t = holder.children().isEmpty() ? holder : holder.children().getFirst();
        return switch (t.name()) {
            case "string", "wstring" -> t.name().toUpperCase(Locale.ROOT) + (t.attribute("length").isEmpty() ? "" : "["
                    + t.attribute("length") + "]");
            case "array" -> "ARRAY [" + String.join(", ", t.all("dimension").stream().map(d -> d.attribute("lower") + ".."
                    + d.attribute("upper")).toList()) + "] OF " + t.child("baseType").map(PlcOpenTypes::read).orElse("");
            case "derived" -> t.attribute("name");
            case "struct" -> "STRUCT " + String.join(" ", t.all("variable").stream().map(PlcOpenTypes::member).toList()) + " END_STRUCT";
            case "enum" -> t.child("baseType").map(PlcOpenTypes::read).map(b -> b + " ").orElse("") + "("
                    + String.join(", ", t.child("values")
                    .map(v -> v.all("value")).orElse(List.of()).stream().map(v -> v.attribute("name") + (v.attribute("value").isEmpty() ? ""
                    : " := " + v.attribute("value"))).toList()) + ")";
            case "subrangeSigned", "subrangeUnsigned" -> t.child("baseType").map(PlcOpenTypes::read).orElse("INT") + "("
                    + t.child("range").map(r -> r.attribute("lower") + ".." + r.attribute("upper")).orElse("") + ")";
            default -> t.name();
        };
    }

    private static String member(XmlTree v) {
        return v.attribute("name") + " : " + v.child("type").map(PlcOpenTypes::read).orElse("") + v.at("initialValue", "simpleValue")
                .map(i -> " := " + i.attribute("value")).orElse("") + ";";
    }
}
