package boldanvil.core.trial;

import boldanvil.core.quantity.Units;
import boldanvil.core.samples.Series;
import java.io.IOException;
import java.io.StringReader;
import java.io.UncheckedIOException;
import java.util.Iterator;
import java.util.stream.DoubleStream;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVRecord;

/** Reads a recorded course: CSV with times in seconds in the first column, and a head such as {@code drive.position [mm]}. */
final class Course {
    private static final int MAX_ROWS = 5_000_000;

    private Course() {}

    /**
     * @param unit of the signal, where the head states none
     * @return values in SI
     * @throws IllegalArgumentException when there is no such column, or a value is not a number
     */
    static Series read(String name, String text, String signal, String unit) {
        var format = CSVFormat.RFC4180.builder().setDelimiter(text.lines().findFirst().orElse("").indexOf(';') >= 0 ? ';' : ',')
                .setCommentMarker('#').setIgnoreEmptyLines(true).setTrim(true).get();
        try (var rows = format.parse(new StringReader(text))) {
            return series(name, rows.iterator(), signal, unit);
        } catch (IOException | UncheckedIOException | IllegalStateException e) {
            throw new IllegalArgumentException("The course '" + name + "' is not CSV: " + e.getMessage() + ".");
        }
    }

    private static Series series(String name, Iterator<CSVRecord> rows, String signal, String unit) {
        if (!rows.hasNext()) {
            throw new IllegalArgumentException("The course '" + name + "' is empty.");
        }
        CSVRecord head = rows.next();
        int column = -1;
        String given = unit;
        for (int i = 1; i < head.size(); i++) {
            String h = head.get(i);
            int bracket = h.indexOf('[');
            if ((bracket < 0 ? h : h.substring(0, bracket)).strip().equals(signal)) {
                column = i;
                given = bracket < 0 ? unit : h.substring(bracket + 1).replace("]", "").strip();
            }
        }
        if (column < 0) {
            throw new IllegalArgumentException("The course '" + name + "' has no column '" + signal + "'.");
        }
        var times = DoubleStream.builder();
        var values = DoubleStream.builder();
        int n = 0;
        double last = Double.NEGATIVE_INFINITY;
        while (rows.hasNext()) {
            CSVRecord row = rows.next();
            String line = "Row " + row.getRecordNumber() + " of the course '" + name + "'";
            // A signal has an empty cell where it has no sample.
            if (row.size() > column && row.get(column).isEmpty()) {
                continue;
            }
            try {
                double t = Double.parseDouble(row.get(0));
                values.add(Units.toSi(given, Double.parseDouble(row.get(column))));
                times.add(t);
                if (!(t > last) || ++n > MAX_ROWS) {
                    throw new IllegalArgumentException(line + (n > MAX_ROWS ? " is beyond the most, " + MAX_ROWS + "."
                            : ": the times do not rise."));
                }
                last = t;
            } catch (NumberFormatException | ArrayIndexOutOfBoundsException e) {
                throw new IllegalArgumentException(line + " is not a time and a value.");
            }
        }
        if (n == 0) {
            throw new IllegalArgumentException("The course '" + name + "' has no values of '" + signal + "'.");
        }
        return new Series(signal, unit, times.build().toArray(), values.build().toArray());
    }
}
