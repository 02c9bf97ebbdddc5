package boldanvil.benchmarks;

import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.simulate.Conductor;
import boldanvil.core.simulate.Recorder;
import boldanvil.core.testing.PartBuilder;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** What recording 32 taps at every tick adds to a tick: a part of sixteen loops, with and without a recorder. */
public final class TapBenchmark {
    private static final int TICKS = 100_000;
    private static final int ROUNDS = 41;

    private TapBenchmark() {}

    public static void main(String[] args) {
        double[] plain = new double[ROUNDS];
        double[] tapped = new double[ROUNDS];
        LoweredSystem system = LoweredSystem.of(Project.empty("taps").withParts(List.of(part()))).orThrow();
        var compiled = JvmCompiler.compile(system.program("loops").orElseThrow());
        for (int r = 0; r < ROUNDS; r++) {
            plain[r] = nanos(system, compiled.instantiate(), false);
            tapped[r] = nanos(system, compiled.instantiate(), true);
        }
        Arrays.sort(plain);
        Arrays.sort(tapped);
        double a = plain[ROUNDS / 2];
        double b = tapped[ROUNDS / 2];
        System.out.printf(Locale.ROOT, "tick %.1f ns, with 32 taps recorded %.1f ns: %.0f %% more%n", a, b, (b / a - 1) * 100);
    }

    private static double nanos(LoweredSystem system, Instance instance, boolean recording) {
        Map<String, Instance> instances = Map.of("loops", instance);
        var conductor = new Conductor(system, instances);
        if (recording) {
            new Recorder(system, instances, Integer.MAX_VALUE).record(conductor);
        }
        long begin = System.nanoTime();
        for (int k = 0; k < TICKS; k++) {
            conductor.tick();
        }
        return (System.nanoTime() - begin) / (double) TICKS;
    }

    /** Sixteen servo loops with filters, each with two taps. */
    private static Part part() {
        var b = new PartBuilder("loops");
        for (int i = 0; i < 16; i++) {
            String n = Integer.toString(i);
            b.block("r" + n, "sine", "frequency=" + (i + 1) + " Hz").block("e" + n, "sum", "signs=+-")
                    .block("c" + n, "pid", "kp=2", "ki=30", "kd=0.001")
                    .block("f" + n, "biquads", "sections=[[0.1, 0.2, 0.1, -0.5, 0.1], [0.2, 0.1, 0, -0.3, 0]]")
                    .block("x" + n, "accumulator")
                    .block("s" + n, "saturation", "low=-5", "high=5").block("a" + n, "tap").block("b" + n, "tap")
                    .wire("r" + n + ".y", "e" + n + ".u1")
                    .wire("x" + n + ".y", "e" + n + ".u2").wire("e" + n + ".y", "c" + n + ".e").wire("c" + n + ".y", "f" + n + ".u")
                    .wire("f" + n + ".y", "s" + n + ".u")
                    .wire("s" + n + ".y", "x" + n + ".u").wire("x" + n + ".y", "a" + n + ".u").wire("c" + n + ".y", "b" + n + ".u");
        }
        return b.part();
    }
}
