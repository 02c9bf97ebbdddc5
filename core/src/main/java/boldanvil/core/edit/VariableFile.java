package boldanvil.core.edit;

import boldanvil.core.diagram.Variable;
import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.io.StringReader;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVRecord;

/** Variables as CSV (RFC 4180) with the columns name, value, unit, group and note; all but the first two may be missing. */
public final class VariableFile {
    private static final int MOST = 100_000;

    private VariableFile() {}

    /** The variables as a text. */
    public static String write(List<Variable> variables) {
        var out = new StringBuilder();
        try (var csv = CSVFormat.RFC4180.builder().setHeader("name", "value", "unit", "group", "note").get().print(out)) {
            for (Variable v : variables) {
                csv.printRecord(v.name(), v.value(), v.unit(), v.group(), v.note());
            }
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
        return out.toString();
    }

    /**
     * Takes values from a text: variables there are get them, others are added at the end.
     *
     * @param place of the text, for findings
     * @throws FindingException when a column is missing, or a name cannot be one or is there twice
     */
    public static List<Variable> read(String text, String place, List<Variable> present) {
        Map<String, Variable> all = new LinkedHashMap<>();
        present.forEach(v -> all.put(v.name(), v));
        Set<String> seen = new HashSet<>();
        try (var csv = CSVFormat.RFC4180.builder().setHeader().setSkipHeaderRecord(true).setIgnoreSurroundingSpaces(true)
                .setIgnoreHeaderCase(true).get().parse(new StringReader(text.startsWith("\uFEFF") ? text.substring(1) : text))) {
            if (!csv.getHeaderMap().containsKey("name") || !csv.getHeaderMap().containsKey("value")) {
                throw FindingException.of(place, "The first line does not name the columns 'name' and 'value'.",
                        "Write: name,value,unit,group,note.");
            }
            for (CSVRecord r : csv) {
                String name = r.get("name");
                String at = place + ":" + csv.getCurrentLineNumber();
                if (!name.matches("[A-Za-z_][A-Za-z0-9_]{0,60}")) {
                    throw FindingException.of(at, "'" + name + "' is not a name.",
                            "Use letters, digits and underscores, beginning with a letter.");
                }
                if (!seen.add(name) || seen.size() > MOST) {
                    throw FindingException.of(at, "The variable '" + name + "' is there twice.", "Remove one of the lines.");
                }
                Variable old = all.getOrDefault(name, new Variable(name, "", ""));
                all.put(name, new Variable(name, r.get("value"), cell(r, "note", old.note()), cell(r, "unit", old.unit()),
                        cell(r, "group", old.group())));
            }
        } catch (IOException | java.io.UncheckedIOException | IllegalArgumentException e) {
            throw FindingException.of(place, "The table cannot be read: " + e.getMessage() + ".", "Save it as CSV with commas and UTF-8.");
        }
        return new ArrayList<>(all.values());
    }

    private static String cell(CSVRecord r, String column, String otherwise) {
        return r.isSet(column) ? r.get(column) : otherwise;
    }
}
