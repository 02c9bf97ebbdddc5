package boldanvil.core.samples;

import java.util.List;

/**
 * Samples in a file, with overviews: least and greatest value of every 64 rows, of every 1024, and so on. A chart reads from the
 * overview that is just fine enough, so what it costs depends on its width and not on the length of the run.
 */
public class Archive implements Samples {
    /** Rows of a group of the finest overview. */
    public static final int FINEST = 64;
    /** Groups of an overview that make one of the next. */
    public static final int NEXT = 16;
    private static final int PIECE = 4096;

    /**
     * Columns with common instants.
     *
     * @param taps a dataset of single values for each column
     */
    public record Track(Rows times, List<Rows> taps, List<Overview> overviews) {}

    /**
     * An overview of a track; the first one is the finest.
     *
     * @param rowsPer rows of the track in a group
     * @param times the instant of each group's first row
     * @param taps least and greatest value of each group, for each column
     */
    public record Overview(int rowsPer, Rows times, List<Rows> taps) {}

    private record Place(Track track, int index) {}

    private final List<Column> columns;
    private final List<Place> places;
    private final List<Track> tracks;

    /** @param trackOf the track of each column and its place there */
    public Archive(List<Column> columns, List<Track> tracks, List<int[]> trackOf) {
        this.columns = List.copyOf(columns);
        this.tracks = tracks;
        places = trackOf.stream().map(p -> new Place(tracks.get(p[0]), p[1])).toList();
    }

    @Override
    public List<Column> columns() {
        return columns;
    }

    @Override
    public double begin() {
        return tracks.stream().filter(t -> t.times().size() > 0).mapToDouble(t -> t.times().at(0)).min().orElse(0);
    }

    @Override
    public double end() {
        return tracks.stream().filter(t -> t.times().size() > 0).mapToDouble(t -> t.times().at(t.times().size() - 1)).max().orElse(0);
    }

    @Override
    public void envelope(int column, Envelope to) {
        Track t = places.get(column).track();
        int index = places.get(column).index();
        long first = t.times().before(to.from(), false);
        long last = t.times().before(to.to(), true);
        int level = -1;
        while (level + 1 < t.overviews().size() && t.overviews().get(level + 1).rowsPer() <= (last - first) / to.bins()) {
            level++;
        }
        add(t, index, level, first, last, to);
    }

    /** Rows of a span: whole groups from an overview, what is left at both ends from finer ones. */
    private static void add(Track t, int index, int level, long from, long until, Envelope to) {
        if (from >= until) {
            return;
        }
        if (level < 0) {
            raw(t, index, from, until, to);
            return;
        }
        Overview o = t.overviews().get(level);
        long first = (from + o.rowsPer() - 1) / o.rowsPer();
        long last = Math.min(until / o.rowsPer(), Math.min(o.times().size(), o.taps().get(index).size()));
        if (first >= last) {
            add(t, index, level - 1, from, until, to);
            return;
        }
        add(t, index, level - 1, from, first * o.rowsPer(), to);
        groups(t, index, level, first, last, to);
        add(t, index, level - 1, last * o.rowsPer(), until, to);
    }

    private static void raw(Track t, int index, long from, long until, Envelope to) {
        double[] times = new double[PIECE];
        double[] values = new double[PIECE];
        for (long at = from; at < until; at += PIECE) {
            int n = (int) Math.min(PIECE, until - at);
            t.times().read(at, n, times);
            t.taps().get(index).read(at, n, values);
            for (int i = 0; i < n; i++) {
                to.add(times[i], values[i], values[i]);
            }
        }
    }

    /** Groups of an overview; one that lies across a gap in time is taken apart. */
    private static void groups(Track t, int index, int level, long from, long until, Envelope to) {
        Overview o = t.overviews().get(level);
        double bin = (to.to() - to.from()) / to.bins();
        double[] times = new double[PIECE + 1];
        double[] values = new double[2 * PIECE];
        for (long at = from; at < until; at += PIECE) {
            int n = (int) Math.min(PIECE, until - at);
            int known = (int) Math.min(n + 1, o.times().size() - at);
            o.times().read(at, known, times);
            o.taps().get(index).read(at, n, values);
            for (int i = 0; i < n; i++) {
                if (i + 1 < known && times[i + 1] - times[i] > 2 * bin) {
                    add(t, index, level - 1, (at + i) * o.rowsPer(), (at + i + 1) * o.rowsPer(), to);
                } else {
                    to.add(times[i], values[2 * i], values[2 * i + 1]);
                }
            }
        }
    }

    @Override
    public double valueAt(int column, double seconds) {
        Place p = places.get(column);
        long n = p.track().times().before(seconds, true);
        return n == 0 ? Double.NaN : p.track().taps().get(p.index()).at(n - 1);
    }

    @Override
    public long count(int column, double from, double to) {
        Rows times = places.get(column).track().times();
        return times.before(to, true) - times.before(from, false);
    }

    @Override
    public Series series(int column, double from, double to) {
        Place p = places.get(column);
        Rows times = p.track().times();
        long first = times.before(from, false);
        int n = Math.toIntExact(Math.max(0, times.before(to, true) - first));
        double[] t = new double[n];
        double[] v = new double[n];
        times.read(first, n, t);
        p.track().taps().get(p.index()).read(first, n, v);
        return new Series(columns.get(column).name(), columns.get(column).unit(), t, v);
    }
}
