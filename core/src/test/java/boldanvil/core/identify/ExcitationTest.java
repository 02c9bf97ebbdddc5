package boldanvil.core.identify;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Wire;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.linear.Response;
import boldanvil.core.linear.StateSpace;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Program;
import boldanvil.core.simulate.Conductor;
import boldanvil.core.simulate.Stimulus;
import boldanvil.core.testing.PartBuilder;
import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;
import java.util.List;
import java.util.Random;
import org.hipparchus.complex.Complex;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.EnumSource.Mode;

/** Excitations: they stay within their amplitude, and the response of a known plant comes back from what was recorded. */
class ExcitationTest {
    private static final double T = 0.002;
    /** y[n] = 1.6 y[n−1] − 0.68 y[n−2] + 0.05 u[n−1] + 0.03 u[n−2]. */
    private static final StateSpace PLANT = StateSpace.transfer(new double[] {0.05, 0.03}, new double[] {1, -1.6, 0.68}, T);

    private static Record record(Excitation e, double noise) {
        Stimulus s = e.stimulus();
        int n = (int) Math.round(e.duration() / T);
        double[] u = new double[n];
        double[] y = new double[n];
        var random = new Random(3);
        double[] x = new double[n];
        for (int i = 0; i < n; i++) {
            u[i] = s.at(i * T);
            x[i] = (i > 0 ? 1.6 * x[i - 1] + 0.05 * u[i - 1] : 0) + (i > 1 ? -0.68 * x[i - 2] + 0.03 * u[i - 2] : 0);
            y[i] = x[i] + noise * random.nextGaussian();
        }
        return new Record(T, u, y);
    }

    @ParameterizedTest
    @EnumSource(mode = Mode.EXCLUDE, names = {"STEP", "RELAY"})
    void theResponseOfAKnownPlantComesBack(Excitation.Kind kind) {
        var e = new Excitation(kind, 2, 0.5, 0.5, 80, 40, T);
        var truth = new Response(PLANT);
        var clean = e.response(record(e, 0));
        // Sines have nearly died into their steady state; a chirp never quite has.
        double allowed = kind == Excitation.Kind.CHIRP ? 0.15 : kind == Excitation.Kind.SINES ? 3e-3 : 1e-6;
        assertThat(clean.omega().length).isGreaterThan(10);
        int compared = 0;
        for (int i = 0; i < clean.omega().length; i++) {
            Complex expected = truth.at(clean.omega()[i]);
            double hertz = clean.omega()[i] / (2 * Math.PI);
            if (clean.coherence()[i] > 0.95 && hertz > 0.7 && hertz < (kind == Excitation.Kind.CHIRP ? 45 : 75)) {
                compared++;
                assertThat(clean.response()[i].subtract(expected).norm()).as("%s at %.3g Hz", kind, hertz)
                        .isLessThan(allowed * expected.norm() + 1e-9);
            }
        }
        assertThat(compared).isGreaterThan(8);
        var noisy = e.response(record(e, 0.02));
        assertThat(Arrays.stream(noisy.coherence()).average().orElse(1)).isLessThan(Arrays.stream(clean.coherence()).average().orElse(0));
    }

    @ParameterizedTest
    @EnumSource(mode = Mode.EXCLUDE, names = "RELAY")
    void noExcitationLeavesItsAmplitude(Excitation.Kind kind) {
        var e = new Excitation(kind, -1, 0.3, 0.5, 80, 40, T);
        Stimulus s = e.stimulus();
        double most = 0;
        for (double t = 0; t < e.duration(); t += T) {
            most = Math.max(most, Math.abs(s.at(t) + 1));
        }
        assertThat(most).isBetween(0.29, 0.3 + 1e-9);
    }

    /** A shift register goes through all its states: as many high steps as low ones, but for one. */
    @Test
    void randomStepsHaveNoMean() {
        var e = new Excitation(Excitation.Kind.RANDOM, 0, 1, 1, 50, 10, T);
        Stimulus s = e.stimulus();
        double sum = Arrays.stream(s.values()).limit(s.values().length - 1L).sum();
        assertThat(s.values().length - 1).isEqualTo(127);
        assertThat(Math.abs(sum)).isEqualTo(1);
    }

    @Test
    void whatDoesNotFitIsRefusedWithACure() {
        assertThatThrownBy(() -> new Excitation(Excitation.Kind.CHIRP, 0, 1, 5, 300, 10, T)).isInstanceOf(NoSolutionException.class)
                .hasMessageContaining("below half of the sample rate, 250.0 Hz");
        assertThatThrownBy(() -> new Excitation(Excitation.Kind.STEP, 0, 0, 0, 0, 10, T)).isInstanceOf(NoSolutionException.class);
        assertThatThrownBy(() -> new Excitation(Excitation.Kind.SINES, 0, 1, 0.1, 10, 5, T).stimulus())
                .isInstanceOf(NoSolutionException.class).satisfies(x -> assertThat(((NoSolutionException) x).cure()).startsWith("Allow "));
        assertThatThrownBy(() -> MeasuredResponse.periodic(record(new Excitation(Excitation.Kind.CHIRP, 0, 1, 1, 10, 1, T), 0), 1,
                new double[] {6.28}, 1)).isInstanceOf(NoSolutionException.class).hasMessageContaining("whole periods");
    }

    /** An integrator behind a delay oscillates under a relay with four times the delay; its ultimate gain is π / (2 L). */
    @Test
    void aRelayFindsTheUltimateGain() {
        var controller = new PartBuilder("c").sampleTime("5 ms").block("position", "inlet").block("force", "tunable", "value=0", "low=-2",
                "high=2").block("out", "outlet").block("u", "tap").block("y", "tap").wire("force.y", "out.u").wire("force.y", "u.u")
                .wire("position.y", "y.u").part();
        var plant = new PartBuilder("p").plant("1 ms", "rk4").block("force", "inlet").block("late", "transport delay", "delay=0.2 s")
                .block("i", "integrator").block("position", "outlet").wire("force.y", "late.u").wire("late.y", "i.u")
                .wire("i.y", "position.u").part();
        Project p = PartBuilder.project(List.of(controller, plant), new Wire("c", "out", "p", "force"), new Wire("p", "position", "c",
                "position"));
        var system = LoweredSystem.of(p).orThrow();
        Map<String, Instance> parts = new HashMap<>();
        system.parts().keySet().forEach(id -> parts.put(id, JvmCompiler.compile(system.program(id).orElseThrow()).instantiate()));
        var conductor = new Conductor(system, parts);
        var e = new Excitation(Excitation.Kind.RELAY, 0, 1, 0, 0, 20, 5e-3);
        conductor.drive("c.force", e.relay("c.y", 0, 0));
        Program c = system.program("c").orElseThrow();
        double[] u = new double[4000];
        double[] y = new double[4000];
        for (int i = 0; i < u.length; i++) {
            u[i] = parts.get("c").get(c.tap("u").orElseThrow().slot());
            y[i] = parts.get("c").get(c.tap("y").orElseThrow().slot());
            for (int k = 0; k < 5; k++) {
                conductor.tick();
            }
        }
        var found = RelayOscillation.of(new Record(5e-3, u, y));
        // A sample of the relay and one of its controller come on top of the delay.
        assertThat(found.seconds()).isBetween(0.8, 0.86);
        assertThat(found.gain()).isCloseTo(Math.PI / (2 * found.seconds() / 4), within(0.05 * found.gain()));
        assertThat(found.spread()).isLessThan(0.05);
        assertThatThrownBy(() -> conductor.drive("c.force", e.relay("c.nothing", 0, 0)))
                .isInstanceOf(boldanvil.core.finding.FindingException.class).hasMessageContaining("There is no tap 'c.nothing' to follow");
        assertThatThrownBy(() -> RelayOscillation.of(new Record(5e-3, Arrays.copyOf(u, 100), Arrays.copyOf(y, 100))))
                .isInstanceOf(NoSolutionException.class);
    }
}
