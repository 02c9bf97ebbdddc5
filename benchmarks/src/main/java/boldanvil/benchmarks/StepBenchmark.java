package boldanvil.benchmarks;

import boldanvil.core.files.Folders;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.program.Program;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/**
 * Time of one tick (sample, step, advance): as Java class, as C at -O2 in a loop of its own, and by an evaluator that walks the
 * blocks. Medians of interleaved rounds, so that all see the same machine. An argument gives the number of blocks of a random
 * sheet to measure instead of the usual programs; gcc alone takes a quarter of an hour for 10,000.
 */
public final class StepBenchmark {
    private static final int ROUNDS = 9;
    private static final long WARM_UP_NANOS = 25_000_000_000L;
    /** More of it for each statement: the thorough compiler takes minutes where there are thousands of methods. */
    private static final long STATEMENT_NANOS = 1_500_000;

    private StepBenchmark() {}

    public static void main(String[] args) throws IOException {
        Map<String, Program> programs = new LinkedHashMap<>();
        if (args.length > 0) {
            int blocks = Integer.parseInt(args[0]);
            programs.put(String.format(Locale.ROOT, "random sheet, %,d blocks", blocks), Programs.random(blocks));
        } else {
            programs.put("paddle drive", Programs.part("demo/larkmere-lock", "controller"));
            programs.put("gate drive, field-oriented", Programs.part("demo/gate-drive", "controller"));
            programs.put("random sheet, 1,000 blocks", Programs.random(1_000));
        }
        System.out.printf("%-30s %12s %12s %12s %10s %12s%n", "program", "Java ns", "C ns", "walking ns", "Java / C", "walking / Java");
        Path folder = Files.createTempDirectory("bold-anvil-benchmark");
        try {
            for (var e : programs.entrySet()) {
                measure(e.getKey(), e.getValue(), folder.resolve(e.getValue().name()));
            }
        } finally {
            Folders.delete(folder);
        }
    }

    private static void measure(String title, Program p, Path folder) throws IOException {
        int ticks = Math.max(300, 40_000_000 / Math.max(20, p.statements()) / 10);
        Programs.write(folder, p, Programs.timed(p, ticks, ""));
        Programs.run(folder, List.of("gcc", "-std=c99", "-O2", "-ffp-contract=off", p.name() + ".c", "main.c", "-o", "main", "-lm"));
        Instance java = JvmCompiler.compile(p).instantiate();
        Instance walking = new Walking(p);
        for (long begin = System.nanoTime(); System.nanoTime() - begin < WARM_UP_NANOS + p.statements() * STATEMENT_NANOS;) {
            Programs.nanos(java, ticks, _ -> { });
        }
        Programs.nanos(walking, ticks / 4, _ -> { });
        double[] a = new double[ROUNDS];
        double[] b = new double[ROUNDS];
        double[] w = new double[ROUNDS];
        for (int r = 0; r < ROUNDS; r++) {
            a[r] = Programs.nanos(java, ticks, _ -> { });
            b[r] = Double.parseDouble(Programs.run(folder, List.of(folder.resolve("main").toString())));
            w[r] = Programs.nanos(walking, Math.max(50, ticks / 10), _ -> { });
        }
        double j = Programs.median(a);
        double c = Programs.median(b);
        double v = Programs.median(w);
        System.out.printf(Locale.ROOT, "%-30s %12.1f %12.1f %12.1f %10.2f %12.1f%n", title, j, c, v, j / c, v / j);
    }
}
