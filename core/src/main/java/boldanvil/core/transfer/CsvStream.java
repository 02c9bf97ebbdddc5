package boldanvil.core.transfer;

import boldanvil.core.samples.SampleStore;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayDeque;
import java.util.List;

/** Rows of several tracks in the order of their instants, as a growing file of comma-separated values; see {@link RunCsv}. */
final class CsvStream {
    private final FileChannel channel;
    private final List<int[]> members;
    private final RunCsv.Lines lines;
    private final List<ArrayDeque<SampleStore.Piece>> waiting;
    private final int[] at;
    /** Up to when each track has come. */
    private final double[] reached;
    private final double[] row;

    CsvStream(SampleStore store, Path file) throws IOException {
        members = store.tracks();
        lines = new RunCsv.Lines(store.columns());
        waiting = members.stream().map(_ -> new ArrayDeque<SampleStore.Piece>()).toList();
        at = new int[members.size()];
        reached = new double[members.size()];
        java.util.Arrays.fill(reached, Double.NEGATIVE_INFINITY);
        row = new double[store.columns().size()];
        channel = FileChannel.open(file, StandardOpenOption.CREATE, StandardOpenOption.TRUNCATE_EXISTING, StandardOpenOption.WRITE);
        put(lines.header());
    }

    private void put(String text) throws IOException {
        var bytes = ByteBuffer.wrap(text.getBytes(StandardCharsets.UTF_8));
        while (bytes.hasRemaining()) {
            channel.write(bytes);
        }
    }

    void add(int track, SampleStore.Piece piece) {
        if (piece.count() > 0) {
            waiting.get(track).add(piece);
            reached[track] = piece.times()[piece.first() + piece.count() - 1];
        }
    }

    /** Writes every row that no track can add to any more. */
    void flush() throws IOException {
        double until = Double.POSITIVE_INFINITY;
        for (double r : reached) {
            until = Math.min(until, r);
        }
        rows(until);
    }

    void close() throws IOException {
        rows(Double.POSITIVE_INFINITY);
        channel.close();
    }

    private double next(int track) {
        var piece = waiting.get(track).peek();
        return piece == null ? Double.POSITIVE_INFINITY : piece.times()[piece.first() + at[track]];
    }

    private void rows(double until) throws IOException {
        var text = new StringBuilder();
        while (true) {
            double now = Double.POSITIVE_INFINITY;
            for (int t = 0; t < members.size(); t++) {
                now = Math.min(now, next(t));
            }
            if (now == Double.POSITIVE_INFINITY || now > until) {
                break;
            }
            java.util.Arrays.fill(row, 0);
            boolean[] here = new boolean[row.length];
            for (int t = 0; t < members.size(); t++) {
                if (next(t) == now) {
                    take(t, here);
                }
            }
            lines.row(now, row, here, text);
            if (text.length() > 1 << 16) {
                put(text.toString());
                text.setLength(0);
            }
        }
        put(text.toString());
    }

    private void take(int track, boolean[] here) {
        var piece = waiting.get(track).peek();
        int[] columns = members.get(track);
        int from = (piece.first() + at[track]) * columns.length;
        for (int c = 0; c < columns.length; c++) {
            row[columns[c]] = piece.values()[from + c];
            here[columns[c]] = true;
        }
        if (++at[track] == piece.count()) {
            waiting.get(track).poll();
            at[track] = 0;
        }
    }
}
