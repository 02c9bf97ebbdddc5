package boldanvil.core.study;

import boldanvil.core.escape.Escape;
import boldanvil.core.quantity.Units;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalInt;

/**
 * What came of the runs of a study: a row for each run, a column for each value that varies and for each result, all SI. Values lie column
 * by column, so that a hundred thousand runs are small and quick to look at. One thread may add rows while others read.
 */
public final class RunTable {
    /**
     * What one number of each run is.
     *
     * @param name of what varies, or of the signal
     * @param figure what of the signal, such as {@code maximum}; empty for what varies
     * @param unit for people; empty for none
     */
    public record Column(String name, String figure, String unit, boolean isVaried) {
        /** Its name for people, without unit. */
        public String label() {
            return figure.isEmpty() ? name : name + " " + figure;
        }

        /** Its name with the unit, as axes and heads of tables have it. */
        public String head() {
            return unit.isEmpty() ? label() : label() + " [" + unit + "]";
        }
    }

    private final List<Column> columns;
    private final double[][] values;
    private final Map<Integer, String> notes = new HashMap<>();
    private int size;

    public RunTable(List<Column> columns) {
        this.columns = List.copyOf(columns);
        values = new double[columns.size()][16];
    }

    /**
     * Adds a run.
     *
     * @param row a value for each column; NaN where the run has none
     * @param note what went wrong; empty for nothing
     */
    public synchronized void add(double[] row, String note) {
        if (row.length != values.length) {
            throw new IllegalArgumentException(row.length + " values for " + values.length + " columns");
        }
        for (int c = 0; c < row.length; c++) {
            if (size == values[c].length) {
                values[c] = Arrays.copyOf(values[c], 2 * size);
            }
            values[c][size] = row[c];
        }
        if (!note.isEmpty()) {
            notes.put(size, note);
        }
        size++;
    }

    public List<Column> columns() {
        return columns;
    }

    /** The column with a label, in whatever case. */
    public OptionalInt find(String label) {
        for (int i = 0; i < columns.size(); i++) {
            if (columns.get(i).label().equalsIgnoreCase(label.strip())) {
                return OptionalInt.of(i);
            }
        }
        return OptionalInt.empty();
    }

    /** Indices of the columns of what varies, or of the results. */
    public List<Integer> indices(boolean varied) {
        List<Integer> all = new ArrayList<>();
        for (int i = 0; i < columns.size(); i++) {
            if (columns.get(i).isVaried() == varied) {
                all.add(i);
            }
        }
        return all;
    }

    /** Number of runs. */
    public synchronized int size() {
        return size;
    }

    /** The values of a column, one for each run so far; a copy. */
    public synchronized double[] values(int column) {
        return Arrays.copyOf(values[column], size);
    }

    public synchronized double value(int run, int column) {
        if (run >= size) {
            throw new IndexOutOfBoundsException(run);
        }
        return values[column][run];
    }

    /** What went wrong in a run; empty for nothing. */
    public synchronized String note(int run) {
        return notes.getOrDefault(run, "");
    }

    /** Number of runs in which something went wrong. */
    public synchronized int notes() {
        return notes.size();
    }

    /** The values that varied, by name: what makes a run again. */
    public Map<String, Double> point(int run) {
        Map<String, Double> point = new java.util.LinkedHashMap<>();
        for (int i : indices(true)) {
            point.put(columns.get(i).name(), value(run, i));
        }
        return point;
    }

    /** The head over lines of CSV. */
    public static String csvHead(List<Column> columns) {
        return String.join(",", columns.stream().map(c -> Escape.csvText(c.head())).toList());
    }

    /** A run as a line of CSV, values in the units of the head. */
    public static String csvLine(List<Column> columns, double[] row) {
        var line = new StringBuilder();
        for (int i = 0; i < row.length; i++) {
            line.append(i == 0 ? "" : ",").append(Units.fromSi(columns.get(i).unit(), row[i]));
        }
        return line.toString();
    }
}
