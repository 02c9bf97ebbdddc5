package boldanvil.core.runs;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;

/**
 * Collects samples while a run goes on. Columns that get their samples at the same instants share a track, which keeps the
 * instants once. One thread writes; any thread may take copies.
 */
public final class SampleStore {
    /** Numbers of a block, about 256 KiB of them. */
    private static final int BLOCK = 32_768;

    /** What a column is. */
    public record Column(String name, String unit) {}

    /** A stretch of samples of a track, one row of values after the other. */
    private static final class Block {
        private final double[] times;
        private final double[] values;
        private int size;

        Block(double[] times, double[] values, int size) {
            this.times = times;
            this.values = values;
            this.size = size;
        }
    }

    private final class Track {
        private final int width;
        private final int capacity;
        private final List<Block> blocks = new ArrayList<>();
        private int size;

        Track(int width) {
            this.width = width;
            capacity = Math.clamp(limit / 4, 1, Math.max(1, BLOCK / (width + 1)));
        }

        /** The block that takes the next sample. */
        private Block next() {
            if (size >= limit) {
                // The oldest quarter goes at once, so that this happens seldom.
                int gone = 0;
                while (size > limit - limit / 4) {
                    size -= blocks.get(gone++).size;
                }
                blocks.subList(0, gone).clear();
                kept = blocks.isEmpty() ? kept : blocks.getFirst().times[0];
            }
            if (blocks.isEmpty() || blocks.getLast().size == blocks.getLast().times.length) {
                blocks.add(new Block(new double[capacity], new double[capacity * width], 0));
            }
            size++;
            return blocks.getLast();
        }

        /** Number of samples before an instant, or not after it. */
        int before(double seconds, boolean inclusive) {
            int at = 0;
            for (Block b : blocks) {
                double last = b.times[b.size - 1];
                if (inclusive ? last > seconds : last >= seconds) {
                    int i = Arrays.binarySearch(b.times, 0, b.size, seconds);
                    return at + (i < 0 ? -i - 1 : inclusive ? i + 1 : i);
                }
                at += b.size;
            }
            return at;
        }

        double[] times(int from) {
            double[] all = new double[size - from];
            copy(from, (b, first, to, n) -> System.arraycopy(b.times, first, all, to, n));
            return all;
        }

        double[] values(int offset, int from) {
            double[] all = new double[size - from];
            copy(from, (b, first, to, n) -> {
                for (int i = 0; i < n; i++) {
                    all[to + i] = b.values[(first + i) * width + offset];
                }
            });
            return all;
        }

        void copy(int from, Stretch stretch) {
            int at = 0;
            for (Block b : blocks) {
                int first = Math.max(0, from - at);
                if (first < b.size) {
                    stretch.take(b, first, at + first - from, b.size - first);
                }
                at += b.size;
            }
        }

        /** The value of the n-th last sample, from 1; the newest are asked for most. */
        double value(int offset, int fromEnd) {
            int left = fromEnd;
            for (Block b : blocks.reversed()) {
                if (left <= b.size) {
                    return b.values[(b.size - left) * width + offset];
                }
                left -= b.size;
            }
            throw new IndexOutOfBoundsException(fromEnd);
        }
    }

    /** Values of a track's columns at one instant. */
    public interface Row {
        /**
         * @param values gets a value for each column
         * @param at where the first goes
         */
        void write(double[] values, int at);
    }

    /** Part of a block, from one of its samples on, with its place in what is copied. */
    private interface Stretch {
        void take(Block block, int first, int to, int count);
    }

    private final List<Column> columns;
    private final List<Track> tracks = new ArrayList<>();
    private final Track[] trackOf;
    private final int[] offset;
    private final int limit;
    private double kept;

    /** A store that keeps everything; each column is a track of its own. */
    public SampleStore(List<Column> columns) {
        this(columns, Integer.MAX_VALUE);
    }

    /**
     * A store whose columns are tracks of their own.
     *
     * @param limit most samples of a column; when it is reached, the oldest quarter is given up
     */
    public SampleStore(List<Column> columns, int limit) {
        this(columns, IntStream.range(0, columns.size()).mapToObj(i -> new int[] {i}).toList(), limit);
    }

    /**
     * @param tracks the columns of each track; every column is in one of them
     * @param limit most samples of a column; when it is reached, the oldest quarter is given up
     */
    public SampleStore(List<Column> columns, List<int[]> tracks, int limit) {
        this.columns = List.copyOf(columns);
        this.limit = limit;
        trackOf = new Track[columns.size()];
        offset = new int[columns.size()];
        for (int[] members : tracks) {
            var track = new Track(members.length);
            this.tracks.add(track);
            for (int i = 0; i < members.length; i++) {
                trackOf[members[i]] = track;
                offset[members[i]] = i;
            }
        }
    }

    public List<Column> columns() {
        return columns;
    }

    /** Since when samples are kept, in seconds; 0 as long as none was given up. */
    public synchronized double keptSince() {
        return kept;
    }

    /**
     * Adds a sample to every column of a track.
     *
     * @param seconds after the track's last
     * @param row gives a value for each column of the track
     */
    public synchronized void add(int track, double seconds, Row row) {
        Track t = tracks.get(track);
        Block b = t.next();
        b.times[b.size] = seconds;
        row.write(b.values, b.size++ * t.width);
    }

    /** Adds one sample of a column that is a track of its own. */
    public synchronized void add(int column, double seconds, double value) {
        if (trackOf[column].width != 1) {
            throw new IllegalArgumentException(columns.get(column).name() + " shares its instants with others");
        }
        Block b = trackOf[column].next();
        b.times[b.size] = seconds;
        b.values[b.size++] = value;
    }

    /** Number of samples of a column so far. */
    public synchronized int size(int column) {
        return trackOf[column].size;
    }

    /** The samples of a column from an index on, as they are now. */
    public synchronized Series tail(int column, int from) {
        Track t = trackOf[column];
        int start = Math.clamp(from, 0, t.size);
        return series(column, t.times(start), start);
    }

    private Series series(int column, double[] times, int from) {
        var c = columns.get(column);
        return new Series(c.name(), c.unit(), times, trackOf[column].values(offset[column], from));
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
        Track t = trackOf[column];
        double scale = bins / (to - from);
        t.copy(t.before(from, false), (b, first, _, count) -> {
            for (int i = first; i < first + count && b.times[i] <= to; i++) {
                int bin = Math.min(bins - 1, (int) ((b.times[i] - from) * scale));
                double v = b.values[i * t.width + offset[column]];
                least[bin] = !(least[bin] <= v) ? v : least[bin];
                greatest[bin] = !(greatest[bin] >= v) ? v : greatest[bin];
            }
        });
        return new double[][] {least, greatest};
    }

    /** The value of a column at an instant: of the last sample not after it; NaN before the first. */
    public synchronized double valueAt(int column, double seconds) {
        Track t = trackOf[column];
        int n = t.before(seconds, true);
        return n == 0 ? Double.NaN : t.value(offset[column], t.size - n + 1);
    }

    /** A store with the samples of a finished run. */
    public static SampleStore of(RunData run) {
        var store = new SampleStore(run.series().stream().map(s -> new Column(s.name(), s.unit())).toList());
        for (int i = 0; i < store.trackOf.length; i++) {
            Series s = run.series().get(i);
            if (s.size() > 0) {
                store.trackOf[i].blocks.add(new Block(s.times(), s.values(), s.size()));
                store.trackOf[i].size = s.size();
            }
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
        Track t = trackOf[column];
        return t.size == 0 ? Double.NaN : t.value(offset[column], 1);
    }

    /** Everything so far. The series of a track have the same array of instants. */
    public synchronized RunData snapshot() {
        double[][] times = new double[columns.size()][];
        for (Track t : tracks) {
            double[] shared = t.times(0);
            for (int i = 0; i < times.length; i++) {
                times[i] = trackOf[i] == t ? shared : times[i];
            }
        }
        List<Series> all = new ArrayList<>();
        for (int i = 0; i < times.length; i++) {
            all.add(series(i, times[i], 0));
        }
        return new RunData(all);
    }
}
