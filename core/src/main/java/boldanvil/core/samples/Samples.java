package boldanvil.core.samples;

import java.util.List;

/** Samples of several taps, wherever they are kept. Instants are in seconds, values in SI. Safe for several threads. */
public interface Samples extends AutoCloseable {
    List<Column> columns();

    /** Index of the column with a name; -1 when there is none. */
    default int indexOf(String name) {
        for (int i = 0; i < columns().size(); i++) {
            if (columns().get(i).name().equals(name)) {
                return i;
            }
        }
        return -1;
    }

    /** The first instant of any column that is kept; 0 when there is none. */
    double begin();

    /** The last instant of any column; 0 when there is none. */
    double end();

    /**
     * The course of a column over a span of time, reduced to what a chart can show. Where a bin holds many samples, one near the
     * border of two bins may count for its neighbour.
     *
     * @param from first instant
     * @param to last instant
     * @param bins number of equal parts of the span
     * @return least and greatest value of each part, {@code [0][i]} and {@code [1][i]}; NaN where there is no sample
     */
    default double[][] envelope(int column, double from, double to, int bins) {
        var e = new Envelope(from, to, bins);
        envelope(column, e);
        return e.extremes();
    }

    /** Adds a column's samples to an envelope. */
    void envelope(int column, Envelope to);

    /** The value of a column at an instant: of the last sample not after it; NaN before the first. */
    double valueAt(int column, double seconds);

    /** Number of samples of a column in a span, both ends included. */
    long count(int column, double from, double to);

    /** The samples of a column in a span, both ends included. */
    Series series(int column, double from, double to);

    /** All samples of a column. */
    default Series series(int column) {
        return series(column, Double.NEGATIVE_INFINITY, Double.POSITIVE_INFINITY);
    }

    /** Everything, in memory. */
    default RunData snapshot() {
        return new RunData(java.util.stream.IntStream.range(0, columns().size()).mapToObj(this::series).toList());
    }

    /** Lets go of the file, where there is one. */
    @Override
    default void close() {}
}
