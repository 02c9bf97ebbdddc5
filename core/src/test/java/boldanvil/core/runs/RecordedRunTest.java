package boldanvil.core.runs;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.finding.FindingException;
import boldanvil.core.hdf5.NumberType;
import boldanvil.core.samples.Column;
import boldanvil.core.samples.Envelope;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.samples.Series;
import boldanvil.core.storage.RunFile;
import boldanvil.core.storage.RunWriter;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Runs in files: what charts and measurements read equals what went in. */
class RecordedRunTest {
    private static final int ROWS = 200_000;
    private static final List<Column> COLUMNS = List.of(new Column("a.x", "V"), new Column("a.y", "", NumberType.FLOAT32),
            new Column("b.z", "A"));
    private static final List<int[]> TRACKS = List.of(new int[] {0, 1}, new int[] {2});

    @TempDir
    Path folder;

    private final double[] times = new double[ROWS];
    private final double[] values = new double[2 * ROWS];
    private final double[] slowTimes = new double[ROWS / 100];
    private final double[] slow = new double[ROWS / 100];

    RecordedRunTest() {
        var random = new Random(9);
        double walk = 0;
        for (int i = 0; i < ROWS; i++) {
            // A gap in the middle, as lost samples leave it.
            times[i] = i * 50e-6 + (i > ROWS / 2 ? 0.7 : 0);
            walk += random.nextGaussian();
            values[2 * i] = walk;
            values[2 * i + 1] = (float) Math.sin(times[i] * 40) + (i == 77_777 ? 50 : 0);
        }
        for (int i = 0; i < slow.length; i++) {
            slowTimes[i] = i * 5e-3;
            slow[i] = i % 7;
        }
    }

    private Path file(int piece) throws IOException {
        Path path = folder.resolve("run.h5");
        try (var w = new RunWriter(path, COLUMNS, TRACKS, new double[] {50e-6, 5e-3}, Long.MAX_VALUE)) {
            for (int at = 0; at < ROWS; at += piece) {
                w.append(0, times, values, at, Math.min(piece, ROWS - at));
                w.commit();
            }
            w.append(1, slowTimes, slow, 0, slow.length);
        }
        return path;
    }

    @Test
    void everySampleComesBack() throws IOException {
        try (var run = RunFile.open(file(70_001))) {
            assertThat(run.columns()).isEqualTo(COLUMNS);
            for (int c = 0; c < 2; c++) {
                Series s = run.series(c);
                assertThat(s.times()).isEqualTo(times);
                for (int i = 0; i < ROWS; i++) {
                    assertThat(s.values()[i]).isEqualTo(values[2 * i + c]);
                }
            }
            assertThat(run.series(2).values()).isEqualTo(slow);
            assertThat(run.end()).isEqualTo(times[ROWS - 1]);
        }
    }

    /** The overviews give what a walk over every sample gives, but for the neighbour bins they may share a group with. */
    @ParameterizedTest
    @ValueSource(ints = {3, 40, 900, 5_000})
    void anEnvelopeHoldsTheExtremesOfItsBins(int bins) throws IOException {
        try (var run = RunFile.open(file(33_333))) {
            for (double[] span : new double[][] {{0, 10.7}, {3.3, 3.9}, {4.9, 6.2}, {-1, 30}}) {
                for (int c = 0; c < 2; c++) {
                    double[][] e = run.envelope(c, span[0], span[1], bins);
                    double[][] exact = exact(c, span[0], span[1], bins);
                    assertThat(greatest(e[1])).isEqualTo(greatest(exact[1]));
                    for (int i = 0; i < bins; i++) {
                        if (!Double.isNaN(exact[0][i])) {
                            int a = Math.max(0, i - 2);
                            int b = Math.min(bins - 1, i + 2);
                            double low = least(java.util.Arrays.copyOfRange(e[0], a, b + 1));
                            assertThat(low).isLessThanOrEqualTo(exact[0][i]);
                            assertThat(low).isGreaterThanOrEqualTo(least(java.util.Arrays.copyOfRange(exact[0], Math.max(0, i - 4),
                                    Math.min(bins, i + 5))));
                        }
                    }
                }
            }
        }
    }

    private double[][] exact(int column, double from, double to, int bins) {
        var e = new Envelope(from, to, bins);
        for (int i = 0; i < ROWS; i++) {
            if (times[i] >= from && times[i] <= to) {
                e.add(times[i], values[2 * i + column], values[2 * i + column]);
            }
        }
        return e.extremes();
    }

    private static double greatest(double[] v) {
        return java.util.Arrays.stream(v).filter(x -> !Double.isNaN(x)).max().orElse(Double.NaN);
    }

    private static double least(double[] v) {
        return java.util.Arrays.stream(v).filter(x -> !Double.isNaN(x)).min().orElse(Double.NaN);
    }

    @Test
    void aSingleSpikeIsSeenHoweverFarOneZoomsOut() throws IOException {
        try (var run = RunFile.open(file(50_000))) {
            double[][] e = run.envelope(1, 0, 100, 20);
            assertThat(greatest(e[1])).isGreaterThan(49);
        }
    }

    @Test
    void valuesCountsAndSpansAreThoseOfTheSamples() throws IOException {
        try (var run = RunFile.open(file(50_000))) {
            assertThat(run.valueAt(2, 0.0199)).isEqualTo(3);
            assertThat(run.valueAt(2, -1)).isNaN();
            assertThat(run.count(2, 0.01, 0.02)).isEqualTo(3);
            assertThat(run.series(2, 0.01, 0.02).values()).containsExactly(2, 3, 4);
            assertThat(run.indexOf("b.z")).isEqualTo(2);
            assertThat(run.indexOf("none")).isEqualTo(-1);
        }
    }

    @Test
    void whatIsWrittenSoFarCanBeLookedAt() throws IOException {
        try (var w = new RunWriter(folder.resolve("live.h5"), COLUMNS, TRACKS, new double[] {50e-6, 5e-3}, Long.MAX_VALUE)) {
            w.append(0, times, values, 0, 100_000);
            assertThat(greatest(w.samples().envelope(1, 0, 10, 30)[1])).isGreaterThan(49);
            assertThat(w.samples().series(0).size()).isEqualTo(100_000);
            w.append(0, times, values, 100_000, 50_000);
            assertThat(w.samples().series(0).size()).isEqualTo(150_000);
        }
    }

    @Test
    void aStoreThatForgetsReadsOnFromTheFile() throws IOException {
        var store = new SampleStore(COLUMNS, TRACKS, 20_000);
        try (var w = new RunWriter(folder.resolve("both.h5"), COLUMNS, TRACKS, new double[] {50e-6, 5e-3}, Long.MAX_VALUE)) {
            store.keepIn(w.samples());
            for (int i = 0; i < ROWS; i++) {
                int row = i;
                store.add(0, times[i], (to, at) -> System.arraycopy(values, 2 * row, to, at, 2));
                if (i % 5_000 == 0) {
                    for (var p : store.take(0)) {
                        w.append(0, p.times(), p.values(), p.first(), p.count());
                    }
                }
            }
            assertThat(store.lost()).isZero();
            assertThat(store.size(0)).isLessThan(40_000);
            for (var p : store.take(0)) {
                w.append(0, p.times(), p.values(), p.first(), p.count());
            }
            assertThat(store.series(0).times()).isEqualTo(times);
            assertThat(store.valueAt(1, times[77_777])).isGreaterThan(49);
            assertThat(greatest(store.envelope(1, 0, 20, 200)[1])).isGreaterThan(49);
            assertThat(store.count(0, 0, 100)).isEqualTo(ROWS);
            assertThat(store.begin()).isZero();
        }
    }

    @Test
    void samplesThatNobodyTakesInTimeAreCounted() {
        var store = new SampleStore(COLUMNS, TRACKS, 1_000);
        store.keepIn(SampleStore.of(new RunData(List.of())));
        for (int i = 0; i < 50_000; i++) {
            int row = i;
            store.add(0, times[i], (to, at) -> System.arraycopy(values, 2 * row, to, at, 2));
        }
        long here = store.take(0).stream().mapToLong(SampleStore.Piece::count).sum();
        assertThat(store.lost()).isPositive();
        assertThat(store.lost() + here).isEqualTo(50_000);
    }

    @Test
    void samplesInMemoryBecomeAFile() throws IOException {
        var run = new RunData(List.of(new Series("p.a", "V", new double[] {0, 1, 2}, new double[] {5, 6, 7}),
                new Series("p.b/c", "A", new double[] {0, 2}, new double[] {-1, Double.NaN}),
                new Series("p.d", "", new double[] {0, 1, 2}, new double[] {0, 0, 1})));
        Path path = folder.resolve("small.h5");
        RunWriter.write(SampleStore.of(run), path);
        try (var read = RunFile.open(path)) {
            assertThat(read.snapshot()).isEqualTo(run);
        }
    }

    @Test
    void aFileOfSomethingElseIsRefusedWithAReason() throws IOException {
        assertThatThrownBy(() -> RunFile.open(folder.resolve("none.h5"))).isInstanceOf(FindingException.class)
                .hasMessageContaining("no such file");
        Path text = Files.writeString(folder.resolve("text.h5"), "time,a\n0,1\n");
        assertThatThrownBy(() -> RunFile.open(text)).isInstanceOf(FindingException.class)
                .hasMessageContaining("damaged or not an HDF5 file");
        Path other = folder.resolve("other.h5");
        try (var file = new boldanvil.core.hdf5.GrowingFile(other, java.util.Map.of())) {
            file.dataset("/x", NumberType.FLOAT64, 1, 8, java.util.Map.of());
        }
        assertThatThrownBy(() -> RunFile.open(other)).isInstanceOf(FindingException.class)
                .hasMessageContaining("does not contain a run of this program");
    }

    /** Whatever was done to a file, looking at it ends with samples or with a finding. */
    @Test
    void aDamagedFileNeverDoesMoreThanFail() throws IOException {
        Path path = folder.resolve("small.h5");
        try (var w = new RunWriter(path, COLUMNS, TRACKS, new double[] {50e-6, 5e-3}, Long.MAX_VALUE)) {
            w.append(0, times, values, 0, 3_000);
            w.append(1, slowTimes, slow, 0, 300);
        }
        byte[] whole = Files.readAllBytes(path);
        var random = new Random(1);
        int refused = 0;
        for (int k = 0; k < 300; k++) {
            byte[] b = k % 3 == 0 ? java.util.Arrays.copyOf(whole, random.nextInt(whole.length)) : whole.clone();
            for (int j = 0; k % 3 != 0 && j < 1 + k % 20; j++) {
                // Metadata lies at both ends of such a file.
                int at = random.nextBoolean() ? random.nextInt(64) : whole.length - 1 - random.nextInt(whole.length / 2);
                b[at] = (byte) random.nextInt();
            }
            Path bad = Files.write(folder.resolve("bad" + k + ".h5"), b);
            try (var run = RunFile.open(bad)) {
                for (int c = 0; c < run.columns().size(); c++) {
                    run.envelope(c, 0, 1, 50);
                }
            } catch (FindingException e) {
                refused++;
                assertThat(e.getMessage()).contains("bad" + k);
            }
        }
        assertThat(refused).isGreaterThan(100);
    }
}
