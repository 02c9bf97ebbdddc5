package boldanvil.benchmarks;

import boldanvil.core.c.CGenerator;
import boldanvil.core.diagram.Part;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.instance.Instance;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.output.GeneratedFile;
import boldanvil.core.program.Program;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.RandomSheets;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Set;
import java.util.function.Consumer;

/** Programs to measure, and their C with a main program around it. */
final class Programs {
    private static final Set<String> EVERYDAY = Set.of("constant", "gain", "sum", "product", "minmax", "abs", "compare", "threshold",
            "logic", "switch",
            "latch", "edge", "saturation", "deadzone", "ratelimit", "delay", "accumulator", "pid", "derivative", "transfer in z",
            "function", "lookup");

    private Programs() {}

    /** A part of a project, computed in float64 whatever it says, so that all are measured alike. */
    static Program part(String project, String part) throws IOException {
        var read = ProjectReader.read(Path.of(project)).change(part, p -> new Part(p.id(), p.title(), p.kind(), p.sampleTime(), p.step(),
                p.solver(), "float64", p.x(), p.y(),
                p.sheets()));
        return LoweredSystem.of(read).orThrow().program(part).orElseThrow();
    }

    static Program random(int blocks) {
        return sheet(blocks).program();
    }

    /** A discrete random sheet in float64 of about as many blocks. */
    static PartBuilder sheet(int blocks) {
        return RandomSheets.part(seed(), blocks);
    }

    /** One of the blocks most controllers are made of. */
    static PartBuilder everyday(int blocks) {
        return RandomSheets.part(seed(), blocks, EVERYDAY);
    }

    /** A seed that makes a discrete part in float64. */
    private static long seed() {
        for (long seed = 1;; seed++) {
            var part = RandomSheets.part(seed, 30).part();
            if (part.kind() == Part.Kind.CONTROLLER && part.real().equals("float64")) {
                return seed;
            }
        }
    }

    /** Writes the C of a program and a main program that runs some ticks with changing inputs; {@code body} may print. */
    static void write(Path folder, Program p, String main) throws IOException {
        Files.createDirectories(folder);
        for (GeneratedFile f : CGenerator.C99.generate(p)) {
            Files.writeString(folder.resolve(f.name()), f.text());
        }
        Files.writeString(folder.resolve("main.c"), main);
    }

    /** A main program that runs some ticks and prints the nanoseconds of one; {@code set} is done behind the start. */
    static String timed(Program p, int ticks, String set) {
        return """
                #define _POSIX_C_SOURCE 199309L
                #include "%1$s.h"
                #include <stdio.h>
                #include <time.h>
                static %2$s c;
                int main(void)
                {
                    struct timespec a, b;
                    %1$s_init(&c);
                    %4$s
                    clock_gettime(CLOCK_MONOTONIC, &a);
                    for (int k = 0; k < %3$d; k++) {
                        %1$s_sample(&c);
                        %1$s_step(&c);
                        %1$s_advance(&c);
                    }
                    clock_gettime(CLOCK_MONOTONIC, &b);
                    printf("%%.3f", ((double)(b.tv_sec - a.tv_sec) * 1e9 + (double)(b.tv_nsec - a.tv_nsec)) / %3$d);
                    return 0;
                }
                """.formatted(p.name(), CGenerator.contextType(p), ticks, set);
    }

    /** Nanoseconds of a tick from the start; {@code set} is done behind it. */
    static double nanos(Instance i, int ticks, Consumer<Instance> set) {
        i.init();
        set.accept(i);
        long begin = System.nanoTime();
        for (int k = 0; k < ticks; k++) {
            i.sample();
            i.step();
            i.advance();
        }
        return (System.nanoTime() - begin) / (double) ticks;
    }

    /** The value in the middle; sorts. */
    static double median(double[] x) {
        Arrays.sort(x);
        return x[x.length / 2];
    }

    static String run(Path folder, List<String> command) throws IOException {
        Process process = new ProcessBuilder(command).directory(folder.toFile()).redirectErrorStream(true).start();
        String text = new String(process.getInputStream().readAllBytes());
        try {
            if (process.waitFor() != 0) {
                throw new IOException(String.join(" ", command) + ":\n" + text);
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        return text;
    }
}
