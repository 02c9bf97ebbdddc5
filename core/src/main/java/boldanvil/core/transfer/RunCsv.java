package boldanvil.core.transfer;

import boldanvil.core.escape.Escape;
import boldanvil.core.finding.FindingException;
import boldanvil.core.quantity.Unit;
import boldanvil.core.quantity.Units;
import boldanvil.core.samples.Column;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.samples.Series;
import boldanvil.core.user.WholeFile;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVRecord;

/**
 * Runs as CSV (RFC 4180): a column of instants, then one column for each tap with its unit in brackets and its values in that unit. A tap
 * has an empty cell where it has no sample. Values are written so that reading gives back the same bits, but for the rounding of a unit
 * that is not an SI unit.
 */
public final class RunCsv {
    private static final long MAX_BYTES = 4L << 30;
    private static final CSVFormat FORMAT = CSVFormat.RFC4180.builder().setRecordSeparator("\n").get();

    private RunCsv() {}

    /** Writes a run; what was there before is replaced only when all is written. */
    public static void write(RunData run, Path file) throws IOException {
        WholeFile.write(file, beside -> {
            try (BufferedWriter out = Files.newBufferedWriter(beside)) {
                print(run, out);
            }
        });
    }

    private static void print(RunData run, Appendable out) throws IOException {
        var lines = new Lines(run.series().stream().map(s -> new Column(s.name(), s.unit())).toList());
        out.append(lines.header());
        rows(run, lines, out);
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

    private static void rows(RunData run, Lines lines, Appendable out) throws IOException {
        int n = run.series().size();
        int[] at = new int[n];
        double[] values = new double[n];
        boolean[] here = new boolean[n];
        var line = new StringBuilder();
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
            for (int i = 0; i < n; i++) {
                Series s = run.series().get(i);
                here[i] = at[i] < s.size() && s.times()[at[i]] == next;
                if (here[i]) {
                    values[i] = s.values()[at[i]++];
                }
            }
            line.setLength(0);
            lines.row(next, values, here, line);
            out.append(line);
        }
    }

    /** Header and rows as they are written. */
    static final class Lines {
        private final List<Column> columns;
        private final Unit[] units;

        Lines(List<Column> columns) {
            this.columns = columns;
            units = columns.stream().map(c -> Units.orOne(c.unit())).toArray(Unit[]::new);
        }

        String header() {
            List<String> header = new ArrayList<>(List.of("time [s]"));
            columns.forEach(c -> header.add(Escape.csvText(c.unit().isEmpty() ? c.name() : c.name() + " [" + c.unit() + "]")));
            return FORMAT.format(header.toArray()) + "\n";
        }

        /** @param here which columns have a value at the instant */
        void row(double seconds, double[] values, boolean[] here, StringBuilder out) {
            out.append(text(seconds));
            for (int i = 0; i < values.length; i++) {
                out.append(',');
                if (here[i]) {
                    out.append(text(units[i].fromSi(values[i])));
                }
            }
            out.append('\n');
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
            throw FindingException.of(place, "The file is not UTF-8 text.", "Export it as CSV in UTF-8.");
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
            if (row.size() != header.size() && !rows.hasNext() && isCutOff(place)) {
                // The program that wrote it was stopped within its last line.
                break;
            }
            if (row.size() != header.size()) {
                throw FindingException.of(line, "The row has " + row.size() + " cells, the header " + header.size() + ".",
                        "The file may be cut off; record the run again.");
            }
            double t = number(row.get(0), line);
            if (!(t > last)) {
                throw FindingException.of(line, "The time does not increase.", "Sort the rows by time.");
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

    private static boolean isCutOff(String place) {
        try (var channel = FileChannel.open(Path.of(place))) {
            var last = ByteBuffer.allocate(1);
            channel.read(last, Math.max(0, channel.size() - 1));
            return last.get(0) != '\n';
        } catch (IOException e) {
            return false;
        }
    }

    /** A column from its heading, {@code name [unit]}. */
    private static Column column(String heading, String place, int i) {
        Column column = Column.ofHeading(heading);
        if (column.name().isEmpty()) {
            throw FindingException.of(place + ":1", "Column " + (i + 1) + " has no name.",
                    "Give each column a heading such as 'drive.speed [rad/s]'.");
        }
        return column;
    }

    private static double number(String text, String line) {
        try {
            return Double.parseDouble(text);
        } catch (NumberFormatException e) {
            throw FindingException.of(line, "'" + text + "' is not a number.", "Correct the cell.");
        }
    }
}
