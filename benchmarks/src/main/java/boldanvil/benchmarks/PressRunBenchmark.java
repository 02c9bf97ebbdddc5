package boldanvil.benchmarks;

import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Variable;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.review.Review;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;

/**
 * From pressing run to a controller that runs on its stand-in, after one gain was changed: check, generate, compile what changed, start the
 * bench process, download, verify, first measured value. And a build in which nothing has changed.
 */
public final class PressRunBenchmark {
    private PressRunBenchmark() {}

    public static void main(String[] args) throws Exception {
        Path build = Files.createTempDirectory("press-run");
        Project demo = ProjectReader.read(Path.of("demo/larkmere-lock"));
        for (int i = 0; i < 6; i++) {
            String gain = Integer.toString(10 + i);
            Project changed = demo.withVariables(demo.variables().stream().map(v -> v.name().equals("Kp_x")
                    ? new Variable("Kp_x", gain, v.note()) : v).toList());
            long begin = System.nanoTime();
            try (var run = RigStarter.prepare(changed, "swage", new RunOptions(Long.MAX_VALUE, 1, List.of(), build), Progress.NONE)) {
                long prepared = System.nanoTime();
                run.start();
                while (run.store().size(0) == 0) {
                    Thread.sleep(1);
                }
                long running = System.nanoTime();
                var review = Review.of(changed);
                long again = System.nanoTime();
                RigStarter.build(review, review.rig("swage"), "controller", build, Progress.NONE);
                System.out.printf(Locale.ROOT, "gain %s: prepared %.2f s, running %.2f s; a build without change %.0f ms%n", gain,
                        (prepared - begin) / 1e9, (running - begin) / 1e9,
                        (System.nanoTime() - again) / 1e6);
            }
        }
    }
}
