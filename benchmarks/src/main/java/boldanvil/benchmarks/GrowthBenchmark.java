package boldanvil.benchmarks;

import boldanvil.core.diagram.Project;
import boldanvil.core.files.Folders;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.testing.PartBuilder;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;

/** From files to a class that is ready to run, for sheets of 1,000 to 100,000 blocks; the best of several. */
public final class GrowthBenchmark {
    private GrowthBenchmark() {}

    public static void main(String[] args) throws IOException {
        Path folder = Files.createTempDirectory("bold-anvil-growth");
        System.out.printf("%-12s %10s %10s %10s %10s %12s%n", "sheet", "blocks", "read s", "lower s", "compile s", "ms / block");
        try {
            for (int blocks : new int[] {1_000, 1_000, 10_000, 30_000, 100_000}) {
                measure("everyday", folder.resolve("e" + blocks), blocks, Programs.everyday(blocks));
            }
            for (int blocks : new int[] {1_000, 10_000}) {
                measure("all types", folder.resolve("a" + blocks), blocks, Programs.sheet(blocks));
            }
        } finally {
            Folders.delete(folder);
        }
    }

    private static void measure(String title, Path folder, int blocks, PartBuilder sheet) throws IOException {
        ProjectWriter.write(Project.empty("growth").withParts(List.of(sheet.part())), folder);
        double[] best = {Double.MAX_VALUE, 0, 0, 0};
        for (int i = 0; i < (blocks > 20_000 ? 3 : 6); i++) {
            long a = System.nanoTime();
            var project = ProjectReader.read(folder);
            long b = System.nanoTime();
            var program = LoweredSystem.of(project).parts().values().iterator().next().program().orElseThrow();
            long c = System.nanoTime();
            JvmCompiler.compile(program).instantiate();
            long d = System.nanoTime();
            if (d - a < best[0]) {
                best = new double[] {d - a, (b - a) / 1e9, (c - b) / 1e9, (d - c) / 1e9};
            }
        }
        System.out.printf(Locale.ROOT, "%-12s %,10d %10.3f %10.3f %10.3f %12.4f%n", title, blocks, best[1], best[2], best[3],
                best[0] / 1e6 / blocks);
    }
}
