package boldanvil.core.runs;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** Collects samples while a run goes on. One thread writes; any thread may take copies. */
public final class SampleStore {
    /** What a column is. */
    public record Column(String name, String unit) {}

    private final class Buffer {
        private double[] times = new double[1024];
        private double[] values = new double[1024];
        private int size;

        void add(double t, double v) {
            if (size >= limit) {
                // The oldest quarter goes at once, so that this happens seldom.
                int gone = limit / 4;
                kept = times[gone];
                System.arraycopy(times, gone, times, 0, size - gone);
                System.arraycopy(values, gone, values, 0, size - gone);
                size -= gone;
            }
            if (size == times.length) {
                int larger = Math.max(1024, size * 2);
                times = Arrays.copyOf(times, larger);
                values = Arrays.copyOf(values, larger);
            }
            times[size] = t;
            values[size++] = v;
        }
    }

    private final List<Column> columns;
    private final Buffer[] buffers;
    private final int limit;
    private double kept;

    /** A store that keeps everything. */
    public SampleStore(List<Column> columns) {
        this(columns, Integer.MAX_VALUE);
    }

    /** @param limit most samples of a column; when it is reached, the oldest quarter is given up */
    public SampleStore(List<Column> columns, int limit) {
        this.columns = List.copyOf(columns);
        this.limit = limit;
        buffers = new Buffer[columns.size()];
        Arrays.setAll(buffers, _ -> new Buffer());
    }

    public List<Column> columns() {
        return columns;
    }

    /** Since when samples are kept, in seconds; 0 as long as none was given up. */
    public synchronized double keptSince() {
        return kept;
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

    /**
     * The course of a column over a span of time, reduced to what a chart can show.
     *
     * @param from first instant, seconds
     * @param to last instant, seconds
     * @param bins number of equal parts of the span
     * @return least and greatest value of each part, {@code [0][i]} and {@code [1][i]}; NaN where there is no sample
     */
    public synchronized double[][] envelope(int column, double from, double to, int bins) {
        double[] least = new double[bins];
        double[] greatest = new double[bins];
        Arrays.fill(least, Double.NaN);
        Arrays.fill(greatest, Double.NaN);
        Buffer b = buffers[column];
        int i = Arrays.binarySearch(b.times, 0, b.size, from);
        for (i = i < 0 ? -i - 1 : i; i < b.size && b.times[i] <= to; i++) {
            int bin = Math.min(bins - 1, (int) ((b.times[i] - from) / (to - from) * bins));
            double v = b.values[i];
            least[bin] = !(least[bin] <= v) ? v : least[bin];
            greatest[bin] = !(greatest[bin] >= v) ? v : greatest[bin];
        }
        return new double[][] {least, greatest};
    }

    /** The value of a column at an instant: of the last sample not after it; NaN before the first. */
    public synchronized double valueAt(int column, double seconds) {
        Buffer b = buffers[column];
        int i = Arrays.binarySearch(b.times, 0, b.size, seconds);
        i = i < 0 ? -i - 2 : i;
        return i < 0 ? Double.NaN : b.values[i];
    }

    /** A store with the samples of a finished run. */
    public static SampleStore of(RunData run) {
        var store = new SampleStore(run.series().stream().map(s -> new Column(s.name(), s.unit())).toList());
        for (int i = 0; i < store.buffers.length; i++) {
            Series s = run.series().get(i);
            store.buffers[i].times = s.times().clone();
            store.buffers[i].values = s.values().clone();
            store.buffers[i].size = s.size();
        }
        return store;
    }

    /** Index of the column with a name; -1 when there is none. */
    public int indexOf(String name) {
        for (int i = 0; i < columns.size(); i++) {
            if (columns.get(i).name().equals(name)) {
                return i;
            }
        }
        return -1;
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
