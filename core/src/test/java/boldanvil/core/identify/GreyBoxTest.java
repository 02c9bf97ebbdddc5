package boldanvil.core.identify;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Variable;
import boldanvil.core.edit.VariableValues;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.quantity.Rescaled;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import boldanvil.core.simulate.Change;
import boldanvil.core.simulate.Intervention;
import boldanvil.core.testing.PartBuilder;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** The sheet's own plant, found again from its record. */
class GreyBoxTest {
    /** A DC machine with friction, driven by a square wave of voltage. */
    private static Project motor(double r, double l, double k, double j, double b) {
        var part = new PartBuilder("m").plant("1 ms", "rk4").block("supply", "square", "amplitude=12", "frequency=1.5")
                .block("volts", "tap")
                .block("net", "sum", "signs=+--").block("current", "integrator").block("rl", "gain", "k=1/L").block("drop", "gain", "k=R")
                .block("emf", "gain", "k=k").block("torque", "gain", "k=k").block("sum", "sum", "signs=+-").block("friction", "gain", "k=b")
                .block("rj", "gain", "k=1/J").block("speed", "integrator").block("i", "tap").block("w", "tap")
                .wire("supply.y", "volts.u").wire("supply.y", "net.u1").wire("drop.y", "net.u2").wire("emf.y", "net.u3")
                        .wire("net.y", "rl.u")
                .wire("rl.y", "current.u").wire("current.y", "drop.u").wire("current.y", "torque.u").wire("torque.y", "sum.u1")
                .wire("friction.y", "sum.u2").wire("sum.y", "rj.u").wire("rj.y", "speed.u").wire("speed.y", "friction.u")
                .wire("speed.y", "emf.u").wire("current.y", "i.u").wire("speed.y", "w.u").part();
        return PartBuilder.project(List.of(part)).withVariables(List.of(variable("R", r), variable("L", l), variable("k", k),
                variable("J", j), variable("b", b)));
    }

    private static Variable variable(String name, double v) {
        return new Variable(name, Double.toString(v), "");
    }

    private static SampleStore run(Project p, String rig, double seconds, Change... changes) throws InterruptedException {
        try (var run = RigStarter.prepare(p, rig, new RunOptions(Math.round(seconds * 1e9), Double.POSITIVE_INFINITY, List.of(changes),
                Path.of("target/build")), Progress.NONE)) {
            run.start();
            run.awaitEnd();
            return run.store();
        }
    }

    private static Samples noisy(SampleStore clean, Random r, Map<String, Double> noise) {
        List<Series> all = new ArrayList<>();
        for (int c = 0; c < clean.columns().size(); c++) {
            Series s = clean.series(c);
            double[] v = s.values().clone();
            for (int i = 0; i < v.length; i++) {
                v[i] += noise.getOrDefault(s.name(), 0.0) * r.nextGaussian();
            }
            all.add(new Series(s.name(), s.unit(), s.times(), v));
        }
        return SampleStore.of(new RunData(all));
    }

    @Test
    void fiveValuesOfAMachineAreFoundWithinTheirBounds() throws Exception {
        double[] truth = {0.6, 0.02, 0.05, 4e-4, 2e-4};
        var clean = run(motor(0.6, 0.02, 0.05, 4e-4, 2e-4), "desk", 2);
        var start = motor(1.2, 0.01, 0.08, 9e-4, 1e-4);
        var free = List.of(new GreyBox.Free("R", 0.1, 5), new GreyBox.Free("L", 1e-3, 0.1), new GreyBox.Free("k", 0.01, 0.3),
                new GreyBox.Free("J", 1e-5, 1e-2), new GreyBox.Free("b", 1e-6, 1e-2));
        int[] held = new int[5];
        for (int seed = 0; seed < 8; seed++) {
            var samples = noisy(clean, new Random(seed), Map.of("m.i", 0.3, "m.w", 3.0));
            var e = GreyBox.fit(start, free, new GreyBox.Recorded(samples, List.of(), List.of("m.i", "m.w"), 0, 2, List.of()));
            for (int i = 0; i < truth.length; i++) {
                assertThat(e.values().get(i).value()).isCloseTo(truth[i], within(0.1 * truth[i]));
                held[i] += e.values().get(i).holds(truth[i]) ? 1 : 0;
            }
        }
        assertThat(Arrays.stream(held).min().orElseThrow()).isGreaterThanOrEqualTo(6);
    }

    /**
     * The paddle's motor, from a run with quantised terminals as on the stand-in. The recorded voltage and the speed drive the
     * plant, so that the trip of the controller has no part in it.
     */
    @Test
    void thePaddlesMotorIsFoundFromARunOfItsController() throws Exception {
        var demo = ProjectReader.read(Path.of("../demo/larkmere-lock"));
        var target = new Change("controller.position_loop.target", 0.3, 250_000_000L);
        var samples = run(demo, "asbuilt", 1.2, target);
        var as = demo.as(demo.rig("asbuilt").orElseThrow());
        var recorded = new GreyBox.Recorded(samples, List.of("drive.voltage", "drive.speed"), List.of("drive.current"), 0,
                1.2,
                List.of(Intervention.set(target)));
        var wrong = VariableValues.with(as, Map.of("R", 0.9, "k_motor", 0.036, "L", 7e-4), Rescaled.EXACT);
        var e = GreyBox.fit(wrong, List.of(new GreyBox.Free("R", 0.2, 3), new GreyBox.Free("k_motor", 0.01, 0.1),
                new GreyBox.Free("L", 1e-4, 1e-2)), recorded);
        assertThat(e.value("R").value()).isCloseTo(0.6, within(0.005));
        assertThat(e.value("k_motor").value()).isCloseTo(0.042, within(5e-5));
        assertThat(e.value("L").value()).isCloseTo(9e-4, within(5e-5));
        assertThat(e.fit()).isGreaterThan(0.99);
        assertThat(GreyBox.predictions(wrong, recorded).getFirst().fit()).isLessThan(0.9);
    }

    @Test
    void missingNamesAreReported() throws Exception {
        var p = motor(0.6, 0.02, 0.05, 4e-4, 2e-4);
        var samples = run(p, "desk", 0.2);
        var r = new GreyBox.Free("R", 0.1, 5);
        assertThatThrownBy(() -> GreyBox.fit(p, List.of(new GreyBox.Free("Q", 0, 1)),
                new GreyBox.Recorded(samples, List.of(), List.of("m.i"), 0,
                0.2, List.of()))).isInstanceOf(FindingException.class).hasMessageContaining("no variable 'Q'");
        assertThatThrownBy(() -> GreyBox.fit(p, List.of(r), new GreyBox.Recorded(samples, List.of(), List.of("m.x"), 0, 0.2, List.of())))
                .isInstanceOf(FindingException.class).hasMessageContaining("no tap 'm.x'");
        assertThatThrownBy(() -> GreyBox.fit(p, List.of(r), new GreyBox.Recorded(samples, List.of("m.nothing"), List.of("m.i"), 0, 0.2,
                List.of()))).isInstanceOf(FindingException.class).hasMessageContaining("no tap 'm.nothing'");
        assertThat(VariableValues.with(p, Map.of("R", 0.75), Rescaled.SHORT).variableTexts().get("R")).isEqualTo("0.75");
    }
}
