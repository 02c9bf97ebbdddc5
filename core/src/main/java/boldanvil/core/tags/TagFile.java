package boldanvil.core.tags;

import boldanvil.core.diagram.TagTable;
import boldanvil.core.diagram.TagTable.Direction;
import boldanvil.core.diagram.TagTable.Line;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.DeviceLink;
import boldanvil.core.link.TagType;
import java.io.IOException;
import java.io.StringReader;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVRecord;

/**
 * Tags as CSV (RFC 4180) with the columns name, type, address, unit, factor, offset, direction, rate, comment and port, in any order; all
 * but name and type may be missing. Semicolons and tabs between the columns are taken, too.
 */
public final class TagFile {
    private static final String[] COLUMNS = {"name", "type", "address", "unit", "factor", "offset", "direction", "rate", "comment", "port"};
    private static final int LONGEST_NAME = 500;
    /** Lines that are named one by one when they are wrong; the others are counted. */
    private static final int MOST_FINDINGS = 20;

    private TagFile() {}

    /**
     * What was read.
     *
     * @param bindings names of tags by port, where the file has that column
     * @param findings one for each line that was left out, as far as they are not too many
     */
    public record Result(List<Line> lines, Map<String, String> bindings, List<Finding> findings) {
        public Result {
            lines = List.copyOf(lines);
            bindings = Map.copyOf(bindings);
            findings = List.copyOf(findings);
        }
    }

    /** A table as a text. */
    public static String write(TagTable table) {
        Map<String, String> ports = new HashMap<>();
        table.bindings().forEach((port, tag) -> ports.merge(tag.toLowerCase(Locale.ROOT), port, (a, b) -> a + " + " + b));
        var out = new StringBuilder();
        try (var csv = CSVFormat.RFC4180.builder().setHeader(COLUMNS).get().print(out)) {
            for (Line l : table.lines()) {
                Map<String, String> cells = new HashMap<>(cells(l));
                cells.put("port", ports.getOrDefault(l.name().toLowerCase(Locale.ROOT), ""));
                csv.printRecord(Arrays.stream(COLUMNS).map(cells::get).toList());
            }
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
        return out.toString();
    }

    private static String number(double v) {
        return v == Math.rint(v) && Math.abs(v) < 1e15 ? Long.toString((long) v) : Double.toString(v);
    }

    /**
     * Reads a text.
     *
     * @param place of the text, for findings
     * @throws FindingException when the first line does not name the columns, or the text is no table at all
     */
    public static Result read(String text, String place) {
        String plain = text.startsWith("\uFEFF") ? text.substring(1) : text;
        String first = plain.lines().findFirst().orElse("");
        char separator = first.indexOf(';') >= 0 ? ';' : first.indexOf('\t') >= 0 ? '\t' : ',';
        List<Line> lines = new ArrayList<>();
        Map<String, String> bindings = new LinkedHashMap<>();
        List<Finding> findings = new ArrayList<>();
        Set<String> seen = new HashSet<>();
        int wrong = 0;
        try (var csv = CSVFormat.RFC4180.builder().setDelimiter(separator).setHeader().setSkipHeaderRecord(true).setTrim(true)
                .setIgnoreHeaderCase(true).get().parse(new StringReader(plain))) {
            var header = csv.getHeaderMap();
            if (!header.containsKey("name") || !header.containsKey("type")) {
                throw FindingException.of(place, "The first line does not name the columns 'name' and 'type'.",
                        "Write: " + String.join(",", COLUMNS) + ".");
            }
            for (CSVRecord r : csv) {
                Finding f = line(r, place + ":" + csv.getCurrentLineNumber(), seen, lines, bindings);
                if (f != null && wrong++ < MOST_FINDINGS) {
                    findings.add(f);
                }
            }
        } catch (IOException | UncheckedIOException | IllegalArgumentException e) {
            throw FindingException.of(place, "The table cannot be read: " + e.getMessage() + ".", "Save it as CSV with commas and UTF-8.");
        }
        if (wrong > MOST_FINDINGS) {
            findings.add(Finding.error(place, wrong - MOST_FINDINGS + " more lines are wrong and were left out.",
                    "Correct the first lines; the others often have the same cause."));
        }
        return new Result(lines, bindings, findings);
    }

    /** Adds a line. @return what is wrong with it; null where nothing is */
    private static Finding line(CSVRecord r, String at, Set<String> seen, List<Line> lines, Map<String, String> bindings) {
        if (r.size() == 1 && r.get(0).isBlank()) {
            return null;
        }
        if (lines.size() >= DeviceLink.MOST_TAGS) {
            return Finding.error(at, "There are more than " + DeviceLink.MOST_TAGS + " tags.", "Divide the file.");
        }
        Map<String, String> cells = new HashMap<>();
        for (String column : COLUMNS) {
            cells.put(column, r.isSet(column) ? r.get(column).strip() : "");
        }
        try {
            Line l = parsed(Place.named(at), cells);
            if (!seen.add(l.name().toLowerCase(Locale.ROOT))) {
                return Finding.error(at, "The tag '" + l.name() + "' is there twice.", "Remove one of the lines.");
            }
            lines.add(l);
            for (String port : cells.get("port").split(" \\+ ")) {
                if (!port.isBlank()) {
                    bindings.put(port.strip(), l.name());
                }
            }
            return null;
        } catch (FindingException e) {
            return e.findings().getFirst();
        }
    }

    /**
     * A tag with another text in one of its columns.
     *
     * @throws FindingException when the text does not fit there
     */
    public static Line edited(Line l, String column, String text) {
        Map<String, String> cells = new HashMap<>(cells(l));
        cells.put(column, text.strip());
        return parsed(Place.named(l.name()), cells);
    }

    /** The texts of a tag by column. */
    public static Map<String, String> cells(Line l) {
        return Map.of("name", l.name(), "type", l.type(), "address", l.address(), "unit", l.unit(), "factor", number(l.factor()), "offset",
                number(l.offset()), "direction", l.direction().label(), "rate", l.rate(), "comment", l.comment());
    }

    private static Line parsed(Place place, Map<String, String> cells) {
        String name = cells.get("name");
        String type = cells.get("type").toUpperCase(Locale.ROOT);
        String direction = cells.get("direction");
        if (name.isEmpty() || name.length() > LONGEST_NAME) {
            throw FindingException.of(place, "The tag has no name, or one that is too long.", "Write the name the PLC has for it.");
        }
        if (TagType.named(type).isEmpty()) {
            throw FindingException.of(place, "'" + type + "' is not a type of a tag.",
                    "Write BOOL, INT, DINT, REAL or another type of IEC 61131-3.");
        }
        var way = direction.isEmpty() ? Direction.BOTH : Direction.of(direction).orElseThrow(() -> FindingException.of(place,
                "'" + direction + "' is not a direction.", "Write in, out or both, seen from the PLC."));
        return new Line(name, type, cells.get("address"), cells.get("unit"), number(place, cells.get("factor"), 1),
                number(place, cells.get("offset"), 0), way, cells.get("rate"), cells.get("comment"));
    }

    private static double number(Place place, String text, double otherwise) {
        try {
            double v = text.isEmpty() ? otherwise : Double.parseDouble(text.replace('−', '-'));
            if (Double.isFinite(v)) {
                return v;
            }
        } catch (NumberFormatException e) {
            // It is refused below, with those that are not finite.
        }
        throw FindingException.of(place, "'" + text + "' is not a number.", "Write factor and offset such as 0.1, with a point.");
    }
}
