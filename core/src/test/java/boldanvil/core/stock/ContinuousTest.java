package boldanvil.core.stock;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ContinuousTest {
    /** dx/dt = −x, x(0) = 1. */
    private static double decay(String solver, int steps) {
        var s = Stepper.of(new PartBuilder("p").plant(1.0 / steps + " s", solver).block("x", "integrator", "initial=1")
                .block("minus", "gain", "k=-1").block("out", "outlet").wire("x.y", "minus.u").wire("minus.y", "x.u").wire("x.y", "out.u"));
        return s.ticks(steps).step().out("out");
    }

    @ParameterizedTest
    @CsvSource({"euler, 1", "rk4, 4"})
    void theErrorShrinksWithTheOrderOfTheSolver(String solver, double order) {
        double coarse = Math.abs(decay(solver, 16) - Math.exp(-1));
        double fine = Math.abs(decay(solver, 32) - Math.exp(-1));
        assertThat(Math.log(coarse / fine) / Math.log(2)).isCloseTo(order, within(0.1));
    }

    /** dx/dt = cos t by a block that reads the time: checks that stages see the time of the stage. */
    private static double sineBySolver(String solver, int steps) {
        var s = Stepper.of(new PartBuilder("p").plant(1.0 / steps + " s", solver)
                .block("cos", "sine", "frequency=1/(2*pi)", "phase=pi/2").block("x", "integrator").block("out", "outlet")
                .wire("cos.y", "x.u").wire("x.y", "out.u"));
        return s.ticks(steps).step().out("out");
    }

    @ParameterizedTest
    @CsvSource({"euler, 1", "rk4, 4"})
    void timeDependentRightSidesKeepTheOrder(String solver, double order) {
        double coarse = Math.abs(sineBySolver(solver, 8) - Math.sin(1));
        double fine = Math.abs(sineBySolver(solver, 16) - Math.sin(1));
        assertThat(Math.log(coarse / fine) / Math.log(2)).isCloseTo(order, within(0.15));
    }

    @Test
    void anOscillatorKeepsItsPeriod() {
        // x'' = −(2π)² x from x = 1 comes back after one second.
        var s = Stepper.of(new PartBuilder("p").plant("1 ms", "rk4").block("v", "integrator").block("x", "integrator", "initial=1")
                .block("k", "gain", "k=-(2*pi)^2").block("out", "outlet").wire("v.y", "x.u").wire("x.y", "k.u").wire("k.y", "v.u")
                .wire("x.y", "out.u"));
        assertThat(s.ticks(1_000).step().out("out")).isCloseTo(1, within(1e-8));
    }

    private static double[] stepResponse(String num, String den, int ticks) {
        var s = Stepper.of(new PartBuilder("p").plant("1 ms", "rk4").block("u", "constant", "value=1")
                .block("g", "transfer", "num=" + num, "den=" + den).block("out", "outlet").wire("u.y", "g.u").wire("g.y", "out.u"));
        return s.course("out", ticks);
    }

    @Test
    void aFirstOrderLagFollowsItsExponential() {
        double[] y = stepResponse("[2]", "[0.05, 1]", 400);
        for (int k = 0; k < y.length; k++) {
            assertThat(y[k]).isCloseTo(2 * (1 - Math.exp(-k * 1e-3 / 0.05)), within(1e-8));
        }
    }

    @Test
    void aSecondOrderSystemFollowsItsClosedForm() {
        // ω = 20 rad/s, ζ = 0.3 (Ogata, Modern Control Engineering, section 5-3).
        double w = 20;
        double z = 0.3;
        double wd = w * Math.sqrt(1 - z * z);
        double[] y = stepResponse("[400]", "[1, 12, 400]", 500);
        for (int k = 0; k < y.length; k++) {
            double t = k * 1e-3;
            double expected = 1 - Math.exp(-z * w * t) * (Math.cos(wd * t) + z / Math.sqrt(1 - z * z) * Math.sin(wd * t));
            assertThat(y[k]).isCloseTo(expected, within(1e-6));
        }
    }

    @Test
    void aLeadHasItsDirectPath() {
        double[] y = stepResponse("[0.1, 1]", "[0.02, 1]", 200);
        assertThat(y[0]).isCloseTo(5, within(1e-12));
        assertThat(y[199]).isCloseTo(1 + 4 * Math.exp(-0.199 / 0.02), within(1e-6));
    }

    @Test
    void coefficientsNeedNotBeNormalised() {
        double[] a = stepResponse("[2]", "[0.05, 1]", 50);
        double[] b = stepResponse("[6]", "[0.15, 3]", 50);
        for (int k = 0; k < a.length; k++) {
            assertThat(b[k]).isCloseTo(a[k], within(1e-12));
        }
    }

    @Test
    void animproperTransferFunctionIsAFinding() {
        var l = new PartBuilder("p").plant("1 ms", "rk4").block("u", "constant").block("g", "transfer", "num=[1, 1, 1]", "den=[1, 1]")
                .block("out", "outlet").wire("u.y", "g.u").wire("g.y", "out.u").lower();
        assertThat(l.findings()).singleElement().satisfies(f -> assertThat(f.cause()).contains("denominator"));
    }

    @Test
    void aSlowControllerLeavesThePlantItsFineSteps() {
        // One tick of 10 ms is cut into substeps of 1 ms; the result is as with 1 ms ticks.
        var b = new PartBuilder("p").sampleTime("10 ms");
        b.block("u", "constant", "value=1").block("g", "transfer", "num=[1]", "den=[0.05, 1]", "sample time=continuous")
                .block("n", "counter").block("count", "outlet").block("out", "outlet", "sample time=continuous").wire("u.y", "g.u")
                .wire("g.y", "out.u").wire("n.y", "count.u");
        var s = Stepper.of(b);
        assertThat(s.ticks(10).step().out("out")).isCloseTo(1 - Math.exp(-0.1 / 0.05), within(1e-8));
    }
}
