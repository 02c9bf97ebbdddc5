package boldanvil.core.runs;

import boldanvil.core.escape.Escape;
import boldanvil.core.finding.FindingException;
import boldanvil.core.quantity.Unit;
import boldanvil.core.quantity.Units;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.apache.commons.csv.CSVRecord;

/**
 * Runs as CSV (RFC 4180): a column of instants, then one column for each tap with its unit in brackets and its values in that unit. A tap
 * has an empty cell where it has no sample. Values are written so that reading gives back the same bits, but for the rounding of a unit
 * that is not an SI unit.
 */
public final class RunCsv {
    private static final long MAX_BYTES = 4L << 30;

    private RunCsv() {}

    /** Writes a run; what was there before is replaced only when all is written. */
    public static void write(RunData run, Path file) throws IOException {
        Path temporary = file.resolveSibling("." + file.getFileName() + ".part");
        try (BufferedWriter out = Files.newBufferedWriter(temporary)) {
            print(run, out);
        } catch (IOException | RuntimeException e) {
            Files.deleteIfExists(temporary);
            throw e;
        }
        Files.move(temporary, file, java.nio.file.StandardCopyOption.REPLACE_EXISTING);
    }

    private static void print(RunData run, Appendable out) throws IOException {
        var csv = new CSVPrinter(out, CSVFormat.RFC4180.builder().setRecordSeparator("\n").get());
        List<String> header = new ArrayList<>(List.of("time [s]"));
        run.series().forEach(s -> header.add(Escape.csvText(s.unit().isEmpty() ? s.name() : s.name() + " [" + s.unit() + "]")));
        csv.printRecord(header);
        rows(run, csv);
    }

    /** A run as text. */
    public static String text(RunData run) {
        var out = new StringBuilder();
        try {
            print(run, out);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return out.toString();
    }

    private static void rows(RunData run, CSVPrinter csv) throws IOException {
        int n = run.series().size();
        int[] at = new int[n];
        Unit[] units = run.series().stream().map(s -> Units.orOne(s.unit())).toArray(Unit[]::new);
        Object[] cells = new Object[n + 1];
        while (true) {
            double next = Double.POSITIVE_INFINITY;
            for (int i = 0; i < n; i++) {
                Series s = run.series().get(i);
                if (at[i] < s.size()) {
                    next = Math.min(next, s.times()[at[i]]);
                }
            }
            if (next == Double.POSITIVE_INFINITY) {
                return;
            }
            cells[0] = text(next);
            for (int i = 0; i < n; i++) {
                Series s = run.series().get(i);
                boolean here = at[i] < s.size() && s.times()[at[i]] == next;
                cells[i + 1] = here ? text(units[i].fromSi(s.values()[at[i]++])) : "";
            }
            csv.printRecord(cells);
        }
    }

    private static String text(double v) {
        return v == Math.rint(v) && Math.abs(v) < 1e15 && !(v == 0 && 1 / v < 0) ? Long.toString((long) v) : Double.toString(v);
    }

    /**
     * Reads a run.
     *
     * @throws FindingException when the file is missing or is no such table
     */
    public static RunData read(Path file) {
        String place = file.toString();
        if (!Files.isRegularFile(file)) {
            throw FindingException.of(place, "There is no such file.", "Check the path; 'run --record' makes one.");
        }
        try {
            if (Files.size(file) > MAX_BYTES) {
                throw FindingException.of(place, "The file is larger than 4 GiB.", "Record fewer taps or a shorter time.");
            }
            try (var reader = Files.newBufferedReader(file, StandardCharsets.UTF_8);
                    var csv = CSVFormat.RFC4180.parse(reader)) {
                return table(csv.iterator(), place);
            }
        } catch (CharacterCodingException e) {
            throw FindingException.of(place, "The file is no UTF-8 text.", "Export it as CSV in UTF-8.");
        } catch (UncheckedIOException | IOException e) {
            throw FindingException.of(place, "The file cannot be read: " + e.getMessage() + ".", "Check the file.");
        }
    }

    private static RunData table(java.util.Iterator<CSVRecord> rows, String place) {
        if (!rows.hasNext()) {
            throw FindingException.of(place, "The file is empty.", "Record the run again.");
        }
        CSVRecord header = rows.next();
        if (!header.get(0).startsWith("time")) {
            throw FindingException.of(place + ":1", "The first column is '" + header.get(0) + "', not the time.",
                    "Name the first column 'time [s]'.");
        }
        List<Column> columns = new ArrayList<>();
        for (int i = 1; i < header.size(); i++) {
            columns.add(column(header.get(i), place, i));
        }
        var store = new SampleStore(columns);
        Unit[] units = columns.stream().map(c -> Units.orOne(c.unit())).toArray(Unit[]::new);
        double last = Double.NEGATIVE_INFINITY;
        while (rows.hasNext()) {
            CSVRecord row = rows.next();
            String line = place + ":" + (row.getRecordNumber());
            if (row.size() != header.size()) {
                throw FindingException.of(line, "The row has " + row.size() + " cells, the header " + header.size() + ".",
                        "The file may be cut off; record the run again.");
            }
            double t = number(row.get(0), line);
            if (!(t > last)) {
                throw FindingException.of(line, "The time does not rise.", "Sort the rows by time.");
            }
            last = t;
            for (int i = 1; i < row.size(); i++) {
                if (!row.get(i).isEmpty()) {
                    store.add(i - 1, t, units[i - 1].toSi(number(row.get(i), line)));
                }
            }
        }
        return store.snapshot();
    }

    /** A column from its heading, {@code name [unit]}. */
    private static Column column(String heading, String place, int i) {
        String text = heading.strip();
        int open = text.endsWith("]") ? text.indexOf('[') : -1;
        String name = open < 0 ? text : text.substring(0, open).strip();
        if (name.isEmpty()) {
            throw FindingException.of(place + ":1", "Column " + (i + 1) + " has no name.", "Give each column a heading such as 'drive.speed [rad/s]'.");
        }
        return new Column(name, open < 0 ? "" : text.substring(open + 1, text.length() - 1));
    }

    private static double number(String text, String line) {
        try {
            return Double.parseDouble(text);
        } catch (NumberFormatException e) {
            throw FindingException.of(line, "'" + text + "' is not a number.", "Correct the cell.");
        }
    }
}
