package boldanvil.benchmarks;

import boldanvil.core.hdf5.NumberType;
import boldanvil.core.samples.Column;
import boldanvil.core.storage.RunFile;
import boldanvil.core.storage.RunWriter;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Random;

/**
 * Writing, opening and zooming a run of 32 taps at 20 kHz. Arguments: minutes of the run (10), folder. Run it with a small heap, such as
 * -Xmx200m, to see that memory does not grow with the run.
 */
public final class RecordBenchmark {
    private static final int TAPS = 32;
    private static final int RATE = 20_000;

    private RecordBenchmark() {}

    public static void main(String[] args) throws IOException {
        double minutes = args.length > 0 ? Double.parseDouble(args[0]) : 10;
        Path file = (args.length > 1 ? Path.of(args[1]) : Files.createTempDirectory("record")).resolve("run.h5");
        List<Column> columns = new ArrayList<>();
        for (int i = 0; i < TAPS; i++) {
            columns.add(new Column("source.tap" + i, "V", NumberType.FLOAT32));
        }
        long seconds = Math.round(minutes * 60);
        write(file, columns, seconds);
        look(file, seconds);
        Files.delete(file);
    }

    private static void write(Path file, List<Column> columns, long seconds) throws IOException {
        double[] times = new double[RATE];
        double[] values = new double[RATE * TAPS];
        var random = new Random(1);
        for (int i = 0; i < values.length; i++) {
            values[i] = Math.sin(i * 1e-3) + 0.1 * random.nextGaussian();
        }
        long begin = System.nanoTime();
        try (var w = new RunWriter(file, columns, List.of(java.util.stream.IntStream.range(0, TAPS).toArray()), new double[] {1.0 / RATE},
                Long.MAX_VALUE)) {
            for (long s = 0; s < seconds; s++) {
                for (int i = 0; i < RATE; i++) {
                    times[i] = s + (double) i / RATE;
                }
                w.append(0, times, values, 0, RATE);
                w.commit();
            }
        }
        double wall = (System.nanoTime() - begin) / 1e9;
        double bytes = Files.size(file);
        System.out.printf(Locale.ROOT,
                "written: %d s of 32 taps at 20 kHz, %.0f million samples, %.2f GB in %.1f s: %.0f times as fast as they come%n", seconds,
                seconds * RATE * TAPS / 1e6, bytes / 1e9, wall, seconds / wall);
        System.out.printf(Locale.ROOT, "room: %.3f of the plain samples%n", bytes / (seconds * (double) RATE * (TAPS * 4 + 8)));
    }

    private static void look(Path file, long seconds) {
        long begin = System.nanoTime();
        try (var run = RunFile.open(file)) {
            double opened = (System.nanoTime() - begin) / 1e6;
            for (int c = 0; c < TAPS; c++) {
                run.envelope(c, 0, seconds, 1_200);
            }
            System.out.printf(Locale.ROOT, "opened in %.0f ms, first picture of all 32 taps after %.0f ms%n", opened,
                    (System.nanoTime() - begin) / 1e6);
            var random = new Random(2);
            double[] millis = new double[200];
            for (int i = 0; i < millis.length; i++) {
                double span = seconds * Math.pow(10, -4 * random.nextDouble());
                double from = random.nextDouble() * (seconds - span);
                long t = System.nanoTime();
                for (int c = 0; c < TAPS; c++) {
                    run.envelope(c, from, from + span, 1_200);
                }
                millis[i] = (System.nanoTime() - t) / 1e6;
            }
            Arrays.sort(millis);
            System.out.printf(Locale.ROOT,
                    "zoomed anywhere, all 32 taps at 1,200 columns: median %.1f ms, 95 %% below %.1f ms, longest %.1f ms%n", millis[100],
                    millis[190], millis[199]);
        }
    }
}
