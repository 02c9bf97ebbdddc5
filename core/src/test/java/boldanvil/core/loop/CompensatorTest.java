package boldanvil.core.loop;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Wire;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.linear.Response;
import boldanvil.core.linear.Sampling;
import boldanvil.core.linear.StateSpace;
import boldanvil.core.loop.Linearisation.OperatingPoint;
import boldanvil.core.testing.PartBuilder;
import java.util.List;
import java.util.Map;
import org.hipparchus.complex.Complex;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Leads, lags and notches in a wire, and loops whose plant is typed. */
class CompensatorTest {
    private static Project project() {
        var controller = new PartBuilder("c").sampleTime("1 ms").block("in", "inlet").block("k", "gain", "k=-3").block("out", "outlet")
                .wire("in.y", "k.u").wire("k.y", "out.u").part();
        var plant = new PartBuilder("p").plant("100 us", "rk4").block("in", "inlet").block("g", "transfer", "num=[50]", "den=[1, 10, 0]")
                .block("out", "outlet").wire("in.y", "g.u").wire("g.y", "out.u").part();
        return PartBuilder.project(List.of(controller, plant), new Wire("c", "out", "p", "in"), new Wire("p", "out", "c", "in"));
    }

    @ParameterizedTest
    @ValueSource(doubles = {40, -25})
    void aLeadTurnsThePhaseAtItsFrequencyAndLeavesTheGain(double degrees) {
        var c = Compensator.lead(20, Math.toRadians(degrees));
        Complex at = new Response(c.sampled(1e-3)).at(20);
        assertThat(at.norm()).isCloseTo(1, within(1e-9));
        assertThat(Math.toDegrees(at.getArgument())).isCloseTo(degrees, within(1e-6));
    }

    @Test
    void aNotchLeavesWhatWasAskedForAtItsFrequencyAndPassesTheRest() {
        Response n = new Response(Compensator.notch(300, 0.1, 0.2).sampled(1e-3));
        assertThat(n.at(300).norm()).isCloseTo(0.1, within(1e-9));
        assertThat(n.at(3).norm()).isCloseTo(1, within(1e-3));
        assertThat(n.at(2900).norm()).isCloseTo(1, within(0.02));
        assertThatThrownBy(() -> Compensator.notch(300, 1.5, 0.2)).isInstanceOf(NoSolutionException.class);
        assertThatThrownBy(() -> Compensator.lead(20, 1.57)).isInstanceOf(NoSolutionException.class).hasMessageContaining("less than 88°");
    }

    /** What is shown before is what the sheet does with the block in the wire. */
    @Test
    void theBlockInTheWireDoesWhatWasShown() {
        var p = project();
        var cut = Cut.at(p, "c/k");
        var loop = Linearisation.open(p, p.rigs().getFirst(), cut, OperatingPoint.START);
        var c = Compensator.lead(15, Math.toRadians(45));
        OpenLoop shown = loop.with(c.sampled(loop.samplePeriod()));
        Project put = c.insert(p, cut, loop.samplePeriod());
        var drawn = Linearisation.open(put, p.rigs().getFirst(), Cut.at(put, "c/lead"), OperatingPoint.START);
        for (double w : new double[] {1, 15, 200, 2500}) {
            assertThat(drawn.response().apply(w).subtract(shown.response().apply(w)).norm()).isLessThan(1e-8 * shown.response().apply(w)
                    .norm());
        }
        assertThatThrownBy(() -> c.insert(p, Cut.at(p, "p/g"), 1e-4)).isInstanceOf(NoSolutionException.class).hasMessageContaining(
                "continuous part");
    }

    /** In a loop of two rates a compensator of the wire's rate multiplies its response. */
    @Test
    void aCompensatorInAFastWireOfASlowLoopIsLifted() {
        var p = PartBuilder.project(List.of(new PartBuilder("c").sampleTime("1 ms").block("fast", "gain", "k=-1").block("slow", "subsystem",
                "sheet=slow", "sample time=4 ms").wire("slow.y", "fast.u").wire("fast.y", "slow.u").sheet("slow").block("u", "inlet")
                .block("i", "transfer in z", "b=[0, 0.3]", "a=[1, -1]").block("y", "outlet").wire("u.y", "i.u").wire("i.y", "y.u").part()));
        var loop = Linearisation.open(p, p.rigs().getFirst(), Cut.at(p, "c/fast"), OperatingPoint.START);
        assertThat(loop.samples()).isEqualTo(4);
        var lag = Compensator.lead(400, Math.toRadians(-30));
        OpenLoop with = loop.with(lag.sampled(1e-3));
        Project put = lag.insert(p, Cut.at(p, "c/fast"), 1e-3);
        var drawn = Linearisation.open(put, p.rigs().getFirst(), Cut.at(put, "c/fast"), OperatingPoint.START);
        assertThat(with.closed(1).isStable()).isEqualTo(drawn.closed(1).isStable());
        Complex[] a = with.closed(1).poles();
        assertThat(drawn.closed(1).poles()).filteredOn(q -> q.norm() > 1e-6)
                .allMatch(q -> java.util.Arrays.stream(a).anyMatch(r -> r.subtract(q).norm() < 1e-7));
    }

    /** The delay of 2.3 samples behind a hold, against the same sampled ten times as fast. */
    @Test
    void aTypedPlantWithDelayIsSampledExactly() {
        var lag = StateSpace.transfer(new double[] {2}, new double[] {0.5, 1}, 0);
        var loop = new TypedLoop(lag, 0.023, 0.01, Sampling.ZERO_ORDER_HOLD);
        double[] y = boldanvil.core.linear.TimeResponse.of(loop.sampled(), boldanvil.core.linear.TimeResponse.Input.STEP, 1, 0).y();
        for (int n = 0; n < y.length; n++) {
            double t = n * 0.01 - 0.023;
            assertThat(y[n]).isCloseTo(t <= 0 ? 0 : 2 * -Math.expm1(-t / 0.5), within(1e-12));
        }
        var c = Controller.free(Map.of("kp", 1.5, "ki", 2.0, "kd", 0.1), 0.05);
        OpenLoop open = loop.with(c, c.gains());
        for (double w : new double[] {1, 10, 100}) {
            Complex expected = new Response(loop.sampled()).at(w).multiply(c.response(c.gains(), w, 0.01));
            assertThat(open.response().apply(w).subtract(expected).norm()).isLessThan(1e-10 * expected.norm());
        }
        assertThatThrownBy(() -> loop.by(Sampling.TUSTIN)).isInstanceOf(NoSolutionException.class);
        assertThatThrownBy(() -> new TypedLoop(loop.sampled(), 0, 0.02, Sampling.ZERO_ORDER_HOLD)).isInstanceOf(NoSolutionException.class);
    }
}
