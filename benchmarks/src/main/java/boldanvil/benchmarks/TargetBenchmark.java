package boldanvil.benchmarks;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.review.Review;
import boldanvil.core.simulate.Conductor;
import boldanvil.core.simulate.ExecutionTimes;
import boldanvil.core.testing.RigModels;
import java.nio.file.Path;
import java.util.Locale;

/**
 * The gate drive's network on Hearth RT8 with a step of 20 µs, in step with the wall clock, its controller beside it on the same thread:
 * how late each step begins, how long it takes, and how many have not ended as the next is due; and the same for a tenth of the time with
 * nothing to compute, which shows what the machine does. Arguments: folder of the demos, seconds (60).
 */
public final class TargetBenchmark {
    private static final long STEP = 20_000;
    private static final double USUAL_SECONDS = 60;
    private static final int WARM_UP_TICKS = 300_000;

    private TargetBenchmark() {}

    public static void main(String[] args) {
        double seconds = args.length > 1 ? Double.parseDouble(args[1]) : USUAL_SECONDS;
        Conductor conductor = conductor(ProjectReader.read(Path.of(args[0], "gate-network")));
        for (int i = 0; i < WARM_UP_TICKS; i++) {
            conductor.tick();
        }
        int ticks = (int) (STEP / conductor.tickNanos());
        long steps = (long) (seconds * 1e9 / STEP);
        measure("with the network", steps, () -> {
            for (int i = 0; i < ticks; i++) {
                conductor.tick();
            }
        });
        measure("control, with nothing to compute", steps / 10, () -> { });
    }

    private static void measure(String what, long steps, Runnable work) {
        var late = new ExecutionTimes();
        var took = new ExecutionTimes();
        long overruns = 0;
        long start = System.nanoTime();
        for (long k = 0; k < steps; k++) {
            long due = start + k * STEP;
            while (System.nanoTime() < due) {
                Thread.onSpinWait();
            }
            long begin = System.nanoTime();
            work.run();
            long end = System.nanoTime();
            late.add(begin - due);
            took.add(end - begin);
            overruns += end > due + STEP ? 1 : 0;
        }
        System.out.printf(Locale.ROOT, "%s: %d steps of 20 µs in %.1f s: %d not done as the next was due (%.4f %%)%n", what, steps,
                (System.nanoTime() - start) / 1e9, overruns, 100.0 * overruns / steps);
        print("begins late", late);
        print("takes", took);
    }

    private static Conductor conductor(Project demo) {
        Project p = demo.withRigs(demo.rigs().stream().map(r -> r.name().equals("hearth") ? r.with("servo", new Rig.Place("hearth-rt8",
                new Rig.Seat("bench", 1, Rig.Overrun.SKIP, "20 us"))) : r).toList());
        Rig rig = p.rig("hearth").orElseThrow();
        var review = Review.of(p.as(rig)).orThrow();
        return RigModels.conductor(review, RigModels.instances(review, rig));
    }

    private static void print(String what, ExecutionTimes times) {
        System.out.printf(Locale.ROOT, "%s: mean %.2f µs, 99 %% below %.2f µs, 99.99 %% below %.2f µs, longest %.0f µs%n", what,
                times.mean() * 1e6, times.below(0.99) * 1e6, times.below(0.9999) * 1e6, times.longest() * 1e6);
        long[] counts = times.counts();
        // Four classes are an octave.
        for (int c = 0; c < counts.length; c += 4) {
            long n = counts[c] + counts[c + 1] + counts[c + 2] + counts[c + 3];
            if (n > 0) {
                System.out.printf(Locale.ROOT, "  from %10.2f µs: %d%n", ExecutionTimes.lowerEnd(c) * 1e6, n);
            }
        }
    }
}
