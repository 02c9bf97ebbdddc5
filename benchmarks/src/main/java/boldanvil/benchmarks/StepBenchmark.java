package boldanvil.benchmarks;

import boldanvil.core.build.Builder;
import boldanvil.core.build.Sources;
import boldanvil.core.files.Folders;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Instance;
import boldanvil.core.program.Program;
import boldanvil.standin.CodeInstance;
import java.io.IOException;
import java.lang.foreign.Arena;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Locale;

/**
 * Time of one tick (sample, step, advance) of each part of a project: as Java class and as C through the foreign-function
 * interface. Medians of interleaved rounds, so that both see the same machine.
 */
public final class StepBenchmark {
    private static final int TICKS = 200_000;
    private static final int ROUNDS = 11;

    private StepBenchmark() {}

    /** @param args the project's folder */
    public static void main(String[] args) throws IOException {
        var system = LoweredSystem.of(ProjectReader.read(Path.of(args.length > 0 ? args[0] : "demo/larkmere-lock"))).orThrow();
        System.out.printf("%-12s %12s %12s %14s%n", "part", "Java ns", "C ns", "Java / C");
        Path folder = Files.createTempDirectory("bold-anvil-benchmark");
        try (Arena arena = Arena.ofConfined()) {
            for (String part : system.parts().keySet()) {
                Program p = system.program(part).orElseThrow();
                var image = new Builder(folder.resolve(part), _ -> { }, () -> false).build(p, Sources.of(p));
                measure(part, JvmCompiler.compile(p).instantiate(), new CodeInstance(image.file(), p, arena));
            }
        } finally {
            Folders.delete(folder);
        }
    }

    private static void measure(String part, Instance java, Instance code) {
        double[] a = new double[ROUNDS];
        double[] b = new double[ROUNDS];
        for (int r = 0; r < ROUNDS; r++) {
            a[r] = nanosPerTick(java);
            b[r] = nanosPerTick(code);
        }
        Arrays.sort(a);
        Arrays.sort(b);
        System.out.printf(Locale.ROOT, "%-12s %12.1f %12.1f %14.2f%n", part, a[ROUNDS / 2], b[ROUNDS / 2],
                a[ROUNDS / 2] / b[ROUNDS / 2]);
    }

    private static double nanosPerTick(Instance i) {
        i.init();
        long begin = System.nanoTime();
        for (int k = 0; k < TICKS; k++) {
            i.sample();
            i.step();
            i.advance();
        }
        return (System.nanoTime() - begin) / (double) TICKS;
    }
}
