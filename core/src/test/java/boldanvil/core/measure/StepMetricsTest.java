package boldanvil.core.measure;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.samples.Series;
import java.util.function.DoubleUnaryOperator;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Step metrics against the closed forms of first and second order. */
class StepMetricsTest {
    static Series secondOrder(double zeta) {
        // Step response with ω = 10 rad/s (Ogata, Modern Control Engineering, section 5-3).
        int n = 4_000;
        double[] t = new double[n];
        double[] y = new double[n];
        double wd = 10 * Math.sqrt(1 - zeta * zeta);
        for (int i = 0; i < n; i++) {
            t[i] = i * 1e-3;
            y[i] = 1 - Math.exp(-zeta * 10 * t[i]) * (Math.cos(wd * t[i]) + zeta * 10 / wd * Math.sin(wd * t[i]));
        }
        return new Series("y", "", t, y);
    }

    @Test
    void overshootIsThatOfTheClosedForm() {
        double zeta = 0.4;
        var m = StepMetrics.of(secondOrder(zeta), 0, 0, 1, 0.02);
        assertThat(m.overshoot()).isCloseTo(Math.exp(-Math.PI * zeta / Math.sqrt(1 - zeta * zeta)), within(1e-4));
        assertThat(m.finalError()).isCloseTo(0, within(1e-3));
    }

    @Test
    void settlingIsWhereTheBandIsLeftForTheLastTime() {
        var m = StepMetrics.of(secondOrder(0.4), 0, 0, 1, 0.02);
        assertThat(m.settlingTime()).isBetween(0.7, 1.0);
        assertThat(StepMetrics.of(secondOrder(0.4), 0, 0, 2, 0.02).settlingTime()).isNaN();
    }

    @Test
    void riseTimeOfAFirstOrderLag() {
        int n = 1_000;
        double[] t = new double[n];
        double[] y = new double[n];
        for (int i = 0; i < n; i++) {
            t[i] = i * 1e-3;
            y[i] = 1 - Math.exp(-t[i] / 0.1);
        }
        // ln 9 time constants from 10 % to 90 %.
        assertThat(StepMetrics.of(new Series("y", "", t, y), 0, 0, 1, 0.02).riseTime()).isCloseTo(0.1 * Math.log(9), within(2e-3));
    }

    @Test
    void aStepDownIsMeasuredLikeAStepUp() {
        var s = secondOrder(0.4);
        double[] mirrored = s.values().clone();
        for (int i = 0; i < mirrored.length; i++) {
            mirrored[i] = 3 - mirrored[i];
        }
        var up = StepMetrics.of(s, 0, 0, 1, 0.02);
        var down = StepMetrics.of(new Series("y", "", s.times(), mirrored), 0, 3, 2, 0.02);
        assertThat(down.overshoot()).isCloseTo(up.overshoot(), within(1e-12));
        assertThat(down.settlingTime()).isCloseTo(up.settlingTime(), within(1e-9));
    }

    @Test
    void noStepIsRefused() {
        assertThatThrownBy(() -> StepMetrics.of(secondOrder(0.5), 0, 1, 1, 0.1)).isInstanceOf(IllegalArgumentException.class);
    }

    static Series sampled(double seconds, double dt, DoubleUnaryOperator f) {
        int n = (int) Math.round(seconds / dt) + 1;
        double[] t = new double[n];
        double[] y = new double[n];
        for (int i = 0; i < n; i++) {
            t[i] = i * dt;
            y[i] = f.applyAsDouble(t[i]);
        }
        return new Series("y", "", t, y);
    }

    @ParameterizedTest
    @ValueSource(doubles = {0.2, 0.4, 0.6, 0.8})
    void peakAndItsTimeAreThoseOfTheClosedForm(double zeta) {
        var m = StepMetrics.of(secondOrder(zeta), 0, 0, 1, 0.02);
        double root = Math.sqrt(1 - zeta * zeta);
        assertThat(m.peakTime()).isCloseTo(Math.PI / (10 * root), within(1e-3));
        assertThat(m.peak()).isCloseTo(1 + Math.exp(-Math.PI * zeta / root), within(1e-4));
        assertThat(m.overshootShare()).isEqualTo(m.overshoot());
    }

    @Test
    void settlingOfAFirstOrderLagLiesBetweenSamples() {
        // ln 50 time constants to 2 %, on a grid that is far coarser than the precision asked for.
        var lag = sampled(2, 0.01, t -> 1 - Math.exp(-t / 0.1));
        assertThat(StepMetrics.of(lag, 0, 0, 1, 0.02).settlingTime()).isCloseTo(0.1 * Math.log(50), within(2e-4));
        assertThat(StepMetrics.of(lag, 0, 0, 1, 0.02).riseTime()).isCloseTo(0.1 * Math.log(9), within(2e-4));
    }

    @Test
    void everyStepOfADemandIsFoundAndMeasuredUpToTheNext() {
        var demand = sampled(6, 1e-3, t -> t < 1 ? 0 : t < 3 ? 0.8 : 0.2);
        var response = sampled(6, 1e-3, t -> t < 1 ? 0 : t < 3 ? 0.8 * (1 - Math.exp(-(t - 1) / 0.1))
                : 0.2 + 0.6 * Math.exp(-(t - 3) / 0.2));
        var all = StepMetrics.all(demand, response, 0.02);
        assertThat(all).hasSize(2);
        assertThat(all.get(0).start()).isEqualTo(1);
        assertThat(all.get(0).settlingTime()).isCloseTo(0.1 * Math.log(50), within(1e-3));
        assertThat(all.get(1).from()).isCloseTo(0.8, within(1e-9));
        assertThat(all.get(1).to()).isCloseTo(0.2, within(1e-9));
        assertThat(all.get(1).riseTime()).isCloseTo(0.2 * Math.log(9), within(1e-3));
        assertThat(all.get(1).finalError()).isCloseTo(0, within(1e-3));
    }

    @Test
    void aDemandWhoseRateIsLimitedStepsToo() {
        // 40 ms from 0 to 0.8, updated every 1 ms and sampled every 0.1 ms.
        var demand = sampled(2, 1e-4, t -> Math.floor(Math.clamp((t - 0.5) / 0.04, 0, 1) * 40 + 1e-9) / 40 * 0.8);
        var steps = StepMetrics.steps(demand);
        assertThat(steps).hasSize(1);
        assertThat(steps.getFirst().start()).isCloseTo(0.501, within(1e-3));
        assertThat(steps.getFirst().to()).isCloseTo(0.8, within(1e-9));
    }

    @Test
    void everyTreadOfAStaircaseIsAStep() {
        assertThat(StepMetrics.steps(sampled(5, 1e-3, t -> Math.floor(t)))).extracting(StepMetrics.Step::to)
                .containsExactly(1.0, 2.0, 3.0, 4.0);
    }

    @Test
    void aRampOrNoiseIsNoStep() {
        assertThat(StepMetrics.steps(sampled(2, 1e-3, t -> t))).isEmpty();
        assertThat(StepMetrics.steps(sampled(2, 1e-3, t -> Math.sin(300 * t)))).isEmpty();
        assertThat(StepMetrics.steps(sampled(1, 1e-3, _ -> 5))).isEmpty();
        var random = new java.util.Random(2);
        assertThat(StepMetrics.steps(sampled(2, 1e-3, _ -> random.nextGaussian()))).isEmpty();
    }
}
