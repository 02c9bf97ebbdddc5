package boldanvil.core.storage;

import boldanvil.core.hdf5.GrowingDataset;
import boldanvil.core.hdf5.GrowingFile;
import boldanvil.core.hdf5.NumberType;
import boldanvil.core.samples.Archive;
import boldanvil.core.samples.Column;
import boldanvil.core.samples.Envelope;
import boldanvil.core.samples.Rows;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/**
 * Writes samples and their overviews into an HDF5 file as they come. In the file, {@code /t0/time} holds the instants of a track,
 * {@code /t0/signals/…} its columns, {@code /t0/overview/64/…} instants, least and greatest values of every 64 rows, and so on
 * for every 1024, 16 384 …. One thread writes; any may read {@link #samples()}.
 */
public final class RunWriter implements AutoCloseable {
    static final String FORMAT = "bold-anvil run 1";
    private static final int[] OVERVIEWS = {Archive.FINEST, Archive.FINEST * Archive.NEXT, Archive.FINEST * Archive.NEXT * Archive.NEXT,
        Archive.FINEST * Archive.NEXT * Archive.NEXT * Archive.NEXT};

    private final GrowingFile file;
    private final List<TrackWriter> tracks = new ArrayList<>();
    private final Archive archive;

    /** Extremes of a group of rows that is not complete yet. */
    private static final class Group {
        final int rowsPer;
        final GrowingDataset times;
        final List<GrowingDataset> taps = new ArrayList<>();
        final double[] low;
        final double[] high;
        double start;
        int rows;

        Group(int rowsPer, GrowingDataset times, int width) {
            this.rowsPer = rowsPer;
            this.times = times;
            low = new double[width];
            high = new double[width];
        }

        void add(double time, int count, double[] lows, double[] highs, int at) {
            boolean first = rows == 0;
            start = first ? time : start;
            for (int i = 0; i < low.length; i++) {
                low[i] = first ? lows[at + i] : Envelope.lower(low[i], lows[at + i]);
                high[i] = first ? highs[at + i] : Envelope.higher(high[i], highs[at + i]);
            }
            rows += count;
        }

        void write() throws IOException {
            times.append(new double[] {start}, 0, 1, 1);
            for (int i = 0; i < low.length; i++) {
                taps.get(i).append(new double[] {low[i], high[i]}, 0, 1, 2);
            }
            rows = 0;
        }
    }

    private static final class TrackWriter {
        GrowingDataset times;
        final List<GrowingDataset> taps = new ArrayList<>();
        final List<Group> groups = new ArrayList<>();

        void append(double[] t, double[] values, int first, int count) throws IOException {
            int width = taps.size();
            times.append(t, first, 1, count);
            for (int c = 0; c < width; c++) {
                taps.get(c).append(values, first * width + c, width, count);
            }
            for (int i = first; i < first + count; i++) {
                var finest = groups.getFirst();
                finest.add(t[i], 1, values, values, i * width);
                for (int g = 0; groups.get(g).rows == groups.get(g).rowsPer; g++) {
                    Group full = groups.get(g);
                    if (g + 1 == groups.size()) {
                        full.write();
                        break;
                    }
                    groups.get(g + 1).add(full.start, full.rowsPer, full.low, full.high, 0);
                    full.write();
                }
            }
        }
    }

    /** Rows of a dataset that still grows. */
    private record Growing(GrowingFile file, GrowingDataset data) implements Rows {
        @Override
        public long size() {
            synchronized (file) {
                return data.size();
            }
        }

        @Override
        public void read(long from, int count, double[] into) {
            synchronized (file) {
                try {
                    data.read(from, count, into);
                } catch (IOException e) {
                    throw new UncheckedIOException(e);
                }
            }
        }
    }

    /**
     * @param columns what is recorded
     * @param members the columns of each track; every column is in one of them
     * @param periods of each track, in seconds; a guess will do, it only sets the size of chunks
     * @param limit most bytes of the file
     */
    public RunWriter(Path path, List<Column> columns, List<int[]> members, double[] periods, long limit) throws IOException {
        file = new GrowingFile(path, Map.of("format", FORMAT), limit);
        int[][] trackOf = new int[columns.size()][];
        for (int t = 0; t < members.size(); t++) {
            // About two seconds a chunk, so that short runs stay small and long ones have few chunks.
            int chunk = Math.clamp(Integer.highestOneBit((int) Math.clamp(2 / periods[t], 1, 1 << 20)), 256, 65_536);
            var track = new TrackWriter();
            track.times = file.dataset("/t" + t + "/time", NumberType.FLOAT64, 1, chunk, Map.of("unit", "s"));
            for (int c : members.get(t)) {
                trackOf[c] = new int[] {t, track.taps.size()};
                var column = columns.get(c);
                track.taps.add(file.dataset("/t" + t + "/signals/" + HdfFiles.linkName(column.name()), column.storage(), 1, chunk,
                        attributes(column, c)));
            }
            for (int per : OVERVIEWS) {
                String folder = "/t" + t + "/overview/" + per;
                int rows = Math.max(64, chunk / per);
                var group = new Group(per, file.dataset(folder + "/time", NumberType.FLOAT64, 1, rows, Map.of("unit", "s")),
                        track.taps.size());
                for (int c : members.get(t)) {
                    group.taps.add(file.dataset(folder + "/signals/" + HdfFiles.linkName(columns.get(c).name()), columns.get(c).storage(),
                            2, rows,
                            Map.of()));
                }
                track.groups.add(group);
            }
            tracks.add(track);
        }
        file.commit();
        archive = new Archive(columns, tracks.stream().map(this::rows).toList(), List.of(trackOf));
    }

    /** The numbers are in SI; the unit they are shown in is noted where it is another one. */
    private static Map<String, String> attributes(Column column, int number) {
        String si = HdfFiles.siUnit(column.unit());
        Map<String, String> all = new java.util.LinkedHashMap<>(Map.of("name", column.name(), "unit", si, "column",
                Integer.toString(number)));
        if (!si.equals(column.unit())) {
            all.put(RunFile.SHOWN_IN, column.unit());
        }
        return all;
    }

    private Archive.Track rows(TrackWriter t) {
        return new Archive.Track(new Growing(file, t.times), t.taps.stream().map(d -> (Rows) new Growing(file, d)).toList(),
                t.groups.stream().map(g -> new Archive.Overview(g.rowsPer, new Growing(file, g.times),
                        g.taps.stream().map(d -> (Rows) new Growing(file, d)).toList())).toList());
    }

    /**
     * Appends rows to a track.
     *
     * @param times instants; rising
     * @param values row after row
     * @param first index of the first row in both
     * @param count number of rows
     */
    public void append(int track, double[] times, double[] values, int first, int count) throws IOException {
        synchronized (file) {
            tracks.get(track).append(times, values, first, count);
        }
    }

    /** Makes all so far safe: whatever happens to this process, the file has it. */
    public void commit() throws IOException {
        file.commit();
    }

    /** What is written so far; not to be used after {@link #close}. */
    public Samples samples() {
        return archive;
    }

    @Override
    public void close() throws IOException {
        file.close();
    }

    /** Closes as things were at the last commit. */
    public void abandon() throws IOException {
        file.abandon();
    }

    /** Writes samples that are in memory or in another file. */
    public static void write(Samples samples, Path path) throws IOException {
        List<int[]> members = java.util.stream.IntStream.range(0, samples.columns().size()).mapToObj(i -> new int[] {i}).toList();
        double[] periods = new double[members.size()];
        List<Series> all = new ArrayList<>();
        for (int i = 0; i < periods.length; i++) {
            Series s = samples.series(i);
            all.add(s);
            periods[i] = s.size() < 2 ? 1 : Math.max(1e-9, (s.times()[s.size() - 1] - s.times()[0]) / (s.size() - 1));
        }
        // Columns with the same instants share a track.
        List<List<Integer>> shared = new ArrayList<>();
        for (int i = 0; i < all.size(); i++) {
            int column = i;
            shared.stream().filter(g -> java.util.Arrays.equals(all.get(g.getFirst()).times(), all.get(column).times())).findFirst()
                    .orElseGet(() -> {
                        shared.add(new ArrayList<>());
                        return shared.getLast();
                    }).add(i);
        }
        List<int[]> groups = shared.stream().map(g -> g.stream().mapToInt(Integer::intValue).toArray()).toList();
        double[] groupPeriods = shared.stream().mapToDouble(g -> periods[g.getFirst()]).toArray();
        try (var w = new RunWriter(path, samples.columns(), groups, groupPeriods, Long.MAX_VALUE)) {
            for (int g = 0; g < groups.size(); g++) {
                int[] columns = groups.get(g);
                int n = all.get(columns[0]).size();
                double[] values = new double[n * columns.length];
                for (int c = 0; c < columns.length; c++) {
                    for (int i = 0; i < n; i++) {
                        values[i * columns.length + c] = all.get(columns[c]).values()[i];
                    }
                }
                w.append(g, all.get(columns[0]).times(), values, 0, n);
            }
        }
    }
}
