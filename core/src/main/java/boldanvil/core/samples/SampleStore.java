package boldanvil.core.samples;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;

/**
 * Collects samples during a run. Columns that get their samples at the same instants share a track, which keeps the
 * instants once. One thread writes; any thread may take copies.
 */
public final class SampleStore implements Samples {
    /** How many times its limit a store grows while what it holds waits to be taken. */
    private static final int PATIENCE = 8;
    /** Numbers of a block, about 256 KiB of them. */
    private static final int BLOCK = 32_768;


    /**
     * Rows of a track.
     *
     * @param times instants
     * @param values row after row
     * @param first index of the first row in both
     * @param count number of rows
     */
    public record Piece(double[] times, double[] values, int first, int count) {}

    private final class Track {
        private final int width;
        private final int capacity;
        private final List<Block> blocks = new ArrayList<>();
        private int size;
        /** Rows discarded so far, rows someone has taken to keep them. */
        private long gone;
        private long taken;

        Track(int width) {
            this.width = width;
            capacity = Math.clamp(limit / 4, 1, Math.max(Block.GROUP, BLOCK / (width + 1) / Block.GROUP * Block.GROUP));
        }

        /** The block that takes the next sample. */
        private Block next() {
            if (size >= limit) {
                makeRoom();
            }
            if (blocks.isEmpty() || blocks.getLast().size == blocks.getLast().times.length) {
                blocks.add(new Block(new double[capacity], new double[capacity * width], 0, width));
            }
            size++;
            return blocks.getLast();
        }

        /** The oldest quarter goes at once, so that this happens seldom; what is to be kept elsewhere waits for that, within bounds. */
        private void makeRoom() {
            int n = 0;
            while (size > limit - limit / 4 && (!keepsAll || gone + blocks.get(n).size <= taken || size > PATIENCE * limit)) {
                size -= blocks.get(n).size;
                gone += blocks.get(n++).size;
            }
            blocks.subList(0, n).clear();
            kept = n == 0 || blocks.isEmpty() ? kept : Math.max(kept, blocks.getFirst().times[0]);
            if (keepsAll && gone > taken) {
                lost += gone - taken;
                taken = gone;
            }
        }

        List<Piece> take() {
            List<Piece> pieces = new ArrayList<>();
            long at = gone;
            for (Block b : blocks) {
                int first = Math.clamp(taken - at, 0, b.size);
                if (first < b.size) {
                    pieces.add(new Piece(b.times, b.values, first, b.size - first));
                }
                at += b.size;
            }
            taken = at;
            return pieces;
        }

        /** The first block that reaches up to an instant. */
        int blockAt(double seconds) {
            int a = 0;
            int b = blocks.size();
            while (a < b) {
                int middle = (a + b) >>> 1;
                Block x = blocks.get(middle);
                if (x.times[x.size - 1] < seconds) {
                    a = middle + 1;
                } else {
                    b = middle;
                }
            }
            return a;
        }

        /** Number of samples before an instant, or not after it. */
        int before(double seconds, boolean inclusive) {
            int first = blockAt(seconds);
            int at = 0;
            for (int i = 0; i < first; i++) {
                at += blocks.get(i).size;
            }
            for (Block b : blocks.subList(first, blocks.size())) {
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
    /** Most numbers that are held while they are also written. */
    private static final int HELD = 8_000_000;

    private int limit;
    private final List<int[]> members;
    private final double[] periods;
    private double kept;
    private boolean keepsAll;
    private long lost;
    private Samples older;

    /** A store that keeps everything; each column is a track of its own. */
    public SampleStore(List<Column> columns) {
        this(columns, Integer.MAX_VALUE);
    }

    /**
     * A store whose columns are tracks of their own.
     *
     * @param limit most samples of a column; when it is reached, the oldest quarter is discarded
     */
    public SampleStore(List<Column> columns, int limit) {
        this(columns, IntStream.range(0, columns.size()).mapToObj(i -> new int[] {i}).toList(), limit);
    }

    /**
     * @param tracks the columns of each track; every column is in one of them
     * @param limit most samples of a column; when it is reached, the oldest quarter is discarded
     */
    public SampleStore(List<Column> columns, List<int[]> tracks, int limit) {
        this(columns, tracks, tracks.stream().mapToDouble(_ -> 1e-3).toArray(), limit);
    }

    /** @param periods about how far apart the samples of each track are, in seconds */
    public SampleStore(List<Column> columns, List<int[]> tracks, double[] periods, int limit) {
        this.periods = periods.clone();
        this.columns = List.copyOf(columns);
        this.limit = limit;
        members = List.copyOf(tracks);
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

    @Override
    public List<Column> columns() {
        return columns;
    }

    /** Since when samples are kept, in seconds; 0 as long as none was discarded. */
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
        b.summarise(t.width);
    }

    /** The columns of each track. */
    public List<int[]> tracks() {
        return members;
    }

    /**
     * From now on nothing is discarded before it has been taken.
     *
     * @param from where samples can be read that are here no more
     */
    public synchronized void keepIn(Samples from) {
        keepsAll = true;
        older = from;
        limit = Math.min(limit, Math.max(4_096, HELD / Math.max(1, columns.size() + tracks.size())));
    }

    /** Nobody takes any more; what is discarded from now on is only to be had from where it was kept so far. */
    public synchronized void stopKeeping() {
        keepsAll = false;
    }

    /** What was discarded can be read from here. */
    public synchronized void keptIn(Samples from) {
        older = from;
    }

    /** About how far apart the samples of each track are, in seconds. */
    public double[] periods() {
        return periods.clone();
    }

    /** The rows of a track since the last call. Their arrays are shared; rows that are there never change. */
    public synchronized List<Piece> take(int track) {
        return tracks.get(track).take();
    }

    /** Rows that had to be discarded before they were taken. */
    public synchronized long lost() {
        return lost;
    }

    /** Adds one sample of a column that is a track of its own. */
    public synchronized void add(int column, double seconds, double value) {
        if (trackOf[column].width != 1) {
            throw new IllegalArgumentException(columns.get(column).name() + " shares its instants with others");
        }
        Block b = trackOf[column].next();
        b.times[b.size] = seconds;
        b.values[b.size++] = value;
        b.summarise(1);
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

    @Override
    public void envelope(int column, Envelope to) {
        Samples before;
        synchronized (this) {
            before = olderThan(column, to.from());
            if (before == null) {
                recent(column, to);
                return;
            }
        }
        before.envelope(column, to);
        synchronized (this) {
            recent(column, to);
        }
    }

    private void recent(int column, Envelope to) {
        Track t = trackOf[column];
        double bin = (to.to() - to.from()) / to.bins();
        int stride = t.width;
        int c = offset[column];
        for (int k = t.blockAt(to.from()); k < t.blocks.size() && t.blocks.get(k).times[0] <= to.to(); k++) {
            Block b = t.blocks.get(k);
            int i = b.times[0] >= to.from() ? 0 : first(b, to.from());
            boolean grouped = b.size > Block.GROUP && b.starts[0] + bin >= b.times[Block.GROUP];
            while (i < b.size) {
                int g = i / Block.GROUP;
                if (grouped && i % Block.GROUP == 0 && i + Block.GROUP <= b.size) {
                    double next = g + 1 < b.starts.length && i + 2 * Block.GROUP <= b.size ? b.starts[g + 1] : b.times[i + Block.GROUP - 1];
                    if (next <= to.to()) {
                        to.add(b.starts[g], b.low[c * b.starts.length + g], b.high[c * b.starts.length + g]);
                        i += Block.GROUP;
                        continue;
                    }
                }
                if (b.times[i] > to.to()) {
                    return;
                }
                double v = b.values[i * stride + c];
                to.add(b.times[i++], v, v);
            }
        }
    }

    private static int first(Block b, double seconds) {
        int i = Arrays.binarySearch(b.times, 0, b.size, seconds);
        return i < 0 ? -i - 1 : i;
    }

    @Override
    public double valueAt(int column, double seconds) {
        synchronized (this) {
            Track t = trackOf[column];
            int n = t.before(seconds, true);
            if (n > 0 || older == null) {
                return n == 0 ? Double.NaN : t.value(offset[column], t.size - n + 1);
            }
        }
        return older.valueAt(column, seconds);
    }

    @Override
    public long count(int column, double from, double to) {
        Samples before;
        synchronized (this) {
            before = olderThan(column, from);
            if (before == null) {
                return trackOf[column].before(to, true) - trackOf[column].before(from, false);
            }
        }
        return before.count(column, from, to);
    }

    /** Where a span that begins before what is here can be read; null when all of it is here. */
    private Samples olderThan(int column, double from) {
        Track t = trackOf[column];
        return older != null && t.gone > 0 && (t.blocks.isEmpty() || from < t.blocks.getFirst().times[0]) ? older : null;
    }

    @Override
    public Series series(int column, double from, double to) {
        Samples before;
        synchronized (this) {
            Track t = trackOf[column];
            before = olderThan(column, from);
            if (before == null) {
                int first = t.before(from, false);
                int count = Math.max(0, t.before(to, true) - first);
                double[] times = new double[count];
                double[] values = new double[count];
                t.copy(first, (b, at, into, n) -> {
                    for (int i = 0; i < Math.min(n, count - into); i++) {
                        times[into + i] = b.times[at + i];
                        values[into + i] = b.values[(at + i) * t.width + offset[column]];
                    }
                });
                return new Series(columns.get(column).name(), columns.get(column).unit(), times, values);
            }
        }
        return before.series(column, from, to);
    }

    @Override
    public synchronized double begin() {
        return older != null ? older.begin() : tracks.stream().filter(t -> t.size > 0).mapToDouble(t -> t.blocks.getFirst().times[0]).min()
                .orElse(0);
    }

    @Override
    public synchronized double end() {
        return tracks.stream().filter(t -> t.size > 0).mapToDouble(t -> t.blocks.getLast().times[t.blocks.getLast().size - 1]).max()
                .orElse(0);
    }

    /** A store with the samples of a finished run. */
    public static SampleStore of(RunData run) {
        var store = new SampleStore(run.series().stream().map(s -> new Column(s.name(), s.unit())).toList());
        for (int i = 0; i < store.trackOf.length; i++) {
            Series s = run.series().get(i);
            if (s.size() > 0) {
                store.trackOf[i].blocks.add(new Block(s.times(), s.values(), s.size(), 1));
                store.trackOf[i].size = s.size();
            }
        }
        return store;
    }

    /** The newest value of a column; NaN before the first. */
    public synchronized double latest(int column) {
        Track t = trackOf[column];
        return t.size == 0 ? Double.NaN : t.value(offset[column], 1);
    }

    /** Everything that is here. The series of a track have the same array of instants. */
    @Override
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
