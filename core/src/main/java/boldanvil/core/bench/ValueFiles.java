package boldanvil.core.bench;

import boldanvil.core.diagram.BenchLayout.ValueSet;
import boldanvil.core.files.SafeFile;
import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.io.StringReader;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.json.JsonMapper;

/** Sets of values of tunables as files: JSON, or CSV with the columns {@code tunable} and {@code value}. */
public final class ValueFiles {
    private static final JsonMapper MAPPER = JsonMapper.builder().enable(SerializationFeature.INDENT_OUTPUT).build();
    private static final long MAX_BYTES = 16 << 20;

    private ValueFiles() {}

    private static boolean isCsv(Path file) {
        return String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT).endsWith(".csv");
    }

    /** Writes a set; the ending of the file's name says how. */
    public static void write(ValueSet set, Path file) {
        try {
            if (!isCsv(file)) {
                Map<String, Object> json = new LinkedHashMap<>();
                json.put("format", 1);
                json.put("name", set.name());
                json.put("values", set.values());
                Files.writeString(file, MAPPER.writeValueAsString(json) + "\n");
                return;
            }
            try (var out = Files.newBufferedWriter(file); var csv = new CSVPrinter(out,
                    CSVFormat.RFC4180.builder().setRecordSeparator("\n").get())) {
                csv.printRecord("tunable", "value");
                for (var e : set.values().entrySet()) {
                    csv.printRecord(e.getKey(), e.getValue());
                }
            }
        } catch (IOException e) {
            throw FindingException.of(file.toString(), "The values cannot be written: " + e.getMessage() + ".",
                    "Choose a folder that exists and can be written to.");
        }
    }

    /**
     * Reads a set.
     *
     * @throws FindingException when the file is missing or no such set
     */
    public static ValueSet read(Path file) {
        try {
            String text = SafeFile.text(file, MAX_BYTES);
            return isCsv(file) ? readCsv(file, text) : readJson(file, text);
        } catch (IOException | UncheckedIOException e) {
            throw FindingException.of(file.toString(), "The values cannot be read: " + e.getMessage() + ".",
                    "Check that its quotes match.");
        } catch (IllegalArgumentException e) {
            throw FindingException.of(file + ":1", "A column has no heading, or two have the same.",
                    "Name the columns 'tunable' and 'value'.");
        } catch (JacksonException e) {
            throw FindingException.of(file.toString(), "The file is not JSON.", "Export the set again.");
        }
    }

    private static ValueSet readJson(Path file, String text) {
        JsonNode n = MAPPER.readTree(text);
        if (n.path("format").asInt(0) != 1 || !n.path("values").isObject()) {
            throw FindingException.of(file.toString(), "The file does not contain a set of values of format 1.", "Export the set again.");
        }
        Map<String, Double> values = new LinkedHashMap<>();
        n.path("values").properties().forEach(e -> {
            if (!e.getValue().isNumber()) {
                throw FindingException.of(file + " " + e.getKey(), "'" + e.getValue() + "' is not a number.", "Correct the value.");
            }
            values.put(e.getKey(), e.getValue().asDouble());
        });
        return new ValueSet(n.path("name").asString(name(file)), values);
    }

    private static String name(Path file) {
        return String.valueOf(file.getFileName()).replaceAll("\\.[^.]*$", "");
    }

    private static ValueSet readCsv(Path file, String text) throws IOException {
        Map<String, Double> values = new LinkedHashMap<>();
        try (var csv = CSVFormat.RFC4180.builder().setHeader().setSkipHeaderRecord(true).get().parse(new StringReader(text))) {
            if (!csv.getHeaderNames().contains("tunable") || !csv.getHeaderNames().contains("value")) {
                throw FindingException.of(file + ":1", "The columns are " + csv.getHeaderNames() + ", not 'tunable' and 'value'.",
                        "Use these names.");
            }
            for (var r : csv) {
                String place = file + ":" + (r.getRecordNumber() + 1);
                if (!r.isConsistent()) {
                    throw FindingException.of(place, "The row has " + r.size() + " cells, the header " + csv.getHeaderNames().size() + ".",
                            "The file may be cut off.");
                }
                try {
                    values.put(r.get("tunable"), Double.parseDouble(r.get("value")));
                } catch (NumberFormatException e) {
                    throw FindingException.of(place, "'" + r.get("value") + "' is not a number.", "Correct the cell.");
                }
            }
        }
        return new ValueSet(name(file), values);
    }
}
