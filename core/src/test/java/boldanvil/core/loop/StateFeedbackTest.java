package boldanvil.core.loop;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Wire;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.linear.Balanced;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.linear.Response;
import boldanvil.core.linear.Sampling;
import boldanvil.core.linear.StateSpace;
import boldanvil.core.linear.TimeResponse;
import boldanvil.core.loop.Linearisation.OperatingPoint;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.simulate.Conductor;
import boldanvil.core.testing.PartBuilder;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.hipparchus.complex.Complex;
import org.junit.jupiter.api.Test;

/** Plants from a wire to outputs, and state feedback with estimators for them. */
class StateFeedbackTest {
    /** A mass with a damper behind the hold of its controller, which holds it by a proportional gain so far. */
    private static Project cart(double to) {
        var controller = new PartBuilder("c").sampleTime("10 ms").block("position", "inlet").block("r", "constant", "value=" + to)
                .block("e", "sum", "signs=+-").block("k", "gain", "k=6").block("force", "outlet").wire("r.y", "e.u1")
                .wire("position.y", "e.u2").wire("e.y", "k.u").wire("k.y", "force.u").part();
        var plant = new PartBuilder("p").plant("1 ms", "rk4").block("force", "inlet").block("mass", "transfer", "num=[1]", "den=[2, 3, 0]")
                .block("position", "outlet").wire("force.y", "mass.u").wire("mass.y", "position.u").part();
        return PartBuilder.project(List.of(controller, plant), new Wire("c", "force", "p", "force"),
                new Wire("p", "position", "c", "position"));
    }

    private static Plant plant() {
        var p = cart(0);
        return Linearisation.plant(p, p.rigs().getFirst(), Cut.at(p, "c/k"), List.of(Cut.at(p, "c/position")), new OperatingPoint(10,
                List.of()));
    }

    private static final StateFeedback.Noise NOISE = new StateFeedback.Noise(1, new double[] {0.01});

    /** Whatever the controller was, the plant is its transfer function behind a hold. */
    @Test
    void aPlantIsFoundWithoutItsController() {
        Plant plant = plant();
        assertThat(plant.system().states()).isEqualTo(2);
        assertThat(plant.states()).allMatch(s -> s.startsWith("p/"));
        assertThat(plant.values()[0]).isZero();
        var expected = new Response(Sampling.ZERO_ORDER_HOLD.of(StateSpace.transfer(new double[] {1}, new double[] {2, 3, 0}, 0), 0.01, 0));
        for (double w : new double[] {0.1, 2, 40, 250}) {
            assertThat(new Response(plant.system()).at(w).subtract(expected.at(w)).norm()).isLessThan(1e-8 * expected.at(w).norm());
        }
    }

    @Test
    void theClosedLoopHasThePolesOfRegulatorAndEstimator() {
        var f = StateFeedback.least(plant(), new StateFeedback.Weights(new double[] {0.1}, 5, 0.1), NOISE);
        Complex[] all = f.closed().poles();
        Complex[] apart = java.util.stream.Stream.concat(Arrays.stream(f.regulatorPoles()), Arrays.stream(f.estimatorPoles()))
                .toArray(Complex[]::new);
        assertThat(all).hasSize(5).allMatch(p -> Arrays.stream(apart).anyMatch(q -> q.subtract(p).norm() < 1e-7));
        assertThat(f.closed().isStable()).isTrue();
        assertThat(f.loop().closed(1).poles()).allMatch(p -> Arrays.stream(apart).anyMatch(q -> q.subtract(p).norm() < 1e-7));
        // With the integral a constant load leaves no error, whatever the plant is.
        assertThat(f.disturbed().channel(0, 0).gainAtRest()).isCloseTo(0, within(1e-9));
        assertThat(f.closed().channel(0, 0).gainAtRest()).isCloseTo(1, within(1e-9));
    }

    @Test
    void givenPolesAreThosePlacedAndTheReferenceIsReached() {
        Complex[] wanted = {new Complex(0.9, 0.05), new Complex(0.9, -0.05)};
        var f = StateFeedback.placed(plant(), wanted, false, NOISE).estimating(new Complex(0.7), new Complex(0.6)).referenced(true);
        assertThat(sorted(f.regulatorPoles())).zipSatisfy(sorted(wanted), (a, b) -> assertThat(a.subtract(b).norm()).isLessThan(1e-9));
        assertThat(sorted(f.estimatorPoles())).zipSatisfy(sorted(new Complex(0.7), new Complex(0.6)),
                (a, b) -> assertThat(a.subtract(b).norm()).isLessThan(1e-8));
        assertThat(f.integral()).isZero();
        assertThat(f.closed().channel(0, 0).gainAtRest()).isCloseTo(1, within(1e-9));
        assertThat(f.referenced(false).reference()).isZero();
    }

    private static List<Complex> sorted(Complex... all) {
        return Arrays.stream(all).sorted(Comparator.comparingDouble(Complex::getImaginaryPart).thenComparingDouble(Complex::getRealPart))
                .toList();
    }

    /** What is put on the sheet does what was designed: the simulated step is the predicted one. */
    @Test
    void theBlocksOnTheSheetDoWhatWasDesigned() {
        var p = cart(0);
        var cut = Cut.at(p, "c/k");
        var outputs = List.of(Cut.at(p, "c/position"));
        var f = StateFeedback.least(plant(), new StateFeedback.Weights(new double[] {0.1}, 5, 0.1), NOISE);
        var to = cart(0.5);
        double[] simulated = positions(StateFeedbackBlocks.put(to, cut, f, outputs, Optional.of(Cut.at(to, "c/r")),
                Double.NEGATIVE_INFINITY,
                Double.POSITIVE_INFINITY), 300);
        double[] predicted = TimeResponse.of(f.closed(), TimeResponse.Input.STEP, 3, 0).y();
        for (int n = 0; n < 299; n++) {
            assertThat(simulated[n]).as("sample " + n).isCloseTo(0.5 * predicted[n], within(1e-6));
        }
        // With a limit it takes longer, without running away.
        double[] limited = positions(StateFeedbackBlocks.put(to, cut, f, outputs, Optional.of(Cut.at(to, "c/r")), -1.5, 1.5), 800);
        assertThat(limited[799]).isCloseTo(0.5, within(2e-3));
        assertThat(Arrays.stream(limited).max().orElseThrow()).isLessThan(0.6);
    }

    /** A controller that was designed away from zero works with deviations from there, and has a reference of its own. */
    @Test
    void anOperatingPointAwayFromZeroIsKeptOnTheSheet() {
        var p = cart(0.5);
        var cut = Cut.at(p, "c/k");
        var outputs = List.of(Cut.at(p, "c/position"));
        Plant plant = Linearisation.plant(p, p.rigs().getFirst(), cut, outputs, new OperatingPoint(10, List.of()));
        assertThat(plant.values()[0]).isCloseTo(0.5, within(1e-3));
        var f = StateFeedback.least(plant, new StateFeedback.Weights(new double[] {0.1}, 5, 0.1), NOISE);
        var put = StateFeedbackBlocks.put(p, cut, f, outputs, Optional.empty(), -20, 20);
        assertThat(put.sheet(cut.sheet()).orElseThrow().blocks()).anyMatch(b -> b.type().equals("tunable") && b.name().equals("reference"));
        double[] y = positions(put, 500);
        assertThat(y[499]).isCloseTo(plant.values()[0], within(1e-3));
    }

    private static double[] positions(Project p, int samples) {
        var system = LoweredSystem.of(p).orThrow();
        Map<String, Instance> parts = new HashMap<>();
        system.parts().keySet().forEach(id -> parts.put(id, JvmCompiler.compile(system.program(id).orElseThrow()).instantiate()));
        var conductor = new Conductor(system, parts);
        double[] y = new double[samples];
        for (int n = 0; n < samples; n++) {
            conductor.tick();
            y[n] = parts.get("c").get(system.program("c").orElseThrow().port("position").orElseThrow().slot());
            for (int k = 1; k < 10; k++) {
                conductor.tick();
            }
        }
        return y;
    }

    /** The paddle's motor from the demanded voltage to current and speed: states that no output shows are gone. */
    @Test
    void thePaddlesMotorIsAPlantOfTwoOutputs() {
        var p = ProjectReader.read(Path.of("../demo/larkmere-lock"));
        var point = new OperatingPoint(0.4, List.of(new boldanvil.core.simulate.Change("controller.position_loop.target", 0.3,
                100_000_000L)));
        var plant = Linearisation.plant(p, p.rig("desk").orElseThrow(), Cut.at(p, "controller/current loop/current controller"),
                List.of(Cut.at(p, "controller/shaft"), Cut.at(p, "controller/mean")), point);
        assertThat(plant.outputs()).hasSize(2);
        assertThat(plant.system().period()).isEqualTo(1e-4);
        assertThat(plant.states()).noneMatch(x -> x.contains("controller_integral"));
        var small = Balanced.within(plant.system().channel(1, 0), 4096);
        assertThat(small.hankel().length).isLessThanOrEqualTo(plant.system().states());
    }

    @Test
    void whatCannotBeDesignedIsSaidWithCauseAndCure() {
        var p = cart(0);
        assertThatThrownBy(() -> Linearisation.plant(p, p.rigs().getFirst(), Cut.at(p, "c/k"), List.of(Cut.at(p, "c/r")),
                OperatingPoint.START)).isInstanceOf(FindingException.class).hasMessageContaining("does not reach the output");
        Plant plant = plant();
        assertThatThrownBy(() -> StateFeedback.placed(plant, new Complex[] {Complex.ZERO}, false, NOISE))
                .isInstanceOf(NoSolutionException.class).hasMessageContaining("1 poles were given for 2 states");
        assertThatThrownBy(() -> StateFeedback.least(plant, new StateFeedback.Weights(new double[] {0}, 5, 0), NOISE))
                .isInstanceOf(NoSolutionException.class).hasMessageContaining("not above 0");
        var through = plant.as(StateSpace.single(new double[][] {{0.5}}, new double[] {1}, new double[] {1}, 1, 0.01));
        assertThatThrownBy(() -> StateFeedback.least(through, new StateFeedback.Weights(new double[] {1}, 1, 0), NOISE))
                .isInstanceOf(NoSolutionException.class).hasMessageContaining("within the same sample");
        // A mode that grows and that nothing moves.
        var stuck = plant.as(StateSpace.single(new double[][] {{1.2, 0}, {0, 0.5}}, new double[] {0, 1}, new double[] {1, 1}, 0, 0.01));
        assertThatThrownBy(() -> StateFeedback.least(stuck, new StateFeedback.Weights(new double[] {1}, 1, 0), NOISE))
                .isInstanceOf(NoSolutionException.class).hasMessageContaining("no stabilising solution");
    }
}
