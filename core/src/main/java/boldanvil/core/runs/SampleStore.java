package boldanvil.core.runs;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** Collects samples while a run goes on. One thread writes; any thread may take copies. */
public final class SampleStore {
    /** What a column is. */
    public record Column(String name, String unit) {}

    private static final class Buffer {
        private double[] times = new double[1024];
        private double[] values = new double[1024];
        private int size;

        void add(double t, double v) {
            if (size == times.length) {
                times = Arrays.copyOf(times, size * 2);
                values = Arrays.copyOf(values, size * 2);
            }
            times[size] = t;
            values[size++] = v;
        }
    }

    private final List<Column> columns;
    private final Buffer[] buffers;

    public SampleStore(List<Column> columns) {
        this.columns = List.copyOf(columns);
        buffers = new Buffer[columns.size()];
        Arrays.setAll(buffers, _ -> new Buffer());
    }

    public List<Column> columns() {
        return columns;
    }

    /** Adds one sample of a column. */
    public synchronized void add(int column, double seconds, double value) {
        buffers[column].add(seconds, value);
    }

    /** Number of samples of a column so far. */
    public synchronized int size(int column) {
        return buffers[column].size;
    }

    /** The samples of a column from an index on, as they are now. */
    public synchronized Series tail(int column, int from) {
        Buffer b = buffers[column];
        int start = Math.clamp(from, 0, b.size);
        var c = columns.get(column);
        return new Series(c.name(), c.unit(), Arrays.copyOfRange(b.times, start, b.size),
                Arrays.copyOfRange(b.values, start, b.size));
    }

    /** The newest value of a column; NaN before the first. */
    public synchronized double latest(int column) {
        Buffer b = buffers[column];
        return b.size == 0 ? Double.NaN : b.values[b.size - 1];
    }

    /** Everything so far. */
    public synchronized RunData snapshot() {
        List<Series> all = new ArrayList<>();
        for (int i = 0; i < buffers.length; i++) {
            all.add(tail(i, 0));
        }
        return new RunData(all);
    }
}
