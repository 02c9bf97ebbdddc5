package boldanvil.core.identify;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.linear.Response;
import boldanvil.core.linear.StateSpace;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.hipparchus.complex.Complex;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Known values come back from records with noise, within their bounds. */
class IdentifyTest {
    private static final int SEEDS = 300;

    /** A random sequence of two levels, each held for some samples. */
    private static double[] excitation(Random r, int n, int least) {
        double[] u = new double[n];
        double level = 1;
        for (int i = 0; i < n; i++) {
            if (i % least == 0 && r.nextBoolean()) {
                level = -level;
            }
            u[i] = level;
        }
        return u;
    }

    /** y[n] = 1.5 y[n−1] − 0.7 y[n−2] + u[n−1] + 0.5 u[n−2], the equation or the output disturbed. */
    private static double[] response(double[] u, Random noise, double inEquation, double atOutput) {
        double[] x = new double[u.length];
        double[] y = new double[u.length];
        for (int i = 0; i < u.length; i++) {
            x[i] = (i > 0 ? 1.5 * x[i - 1] + u[i - 1] : 0) + (i > 1 ? -0.7 * x[i - 2] + 0.5 * u[i - 2] : 0)
                    + inEquation * noise.nextGaussian();
            y[i] = x[i] + atOutput * noise.nextGaussian();
        }
        return y;
    }

    private static int[] held(int[] held, Estimate e, double... truth) {
        for (int i = 0; i < truth.length; i++) {
            held[i] += e.values().get(i).holds(truth[i]) ? 1 : 0;
        }
        return held;
    }

    @Test
    void equationsAreFoundWithinTheirBounds() {
        int[] held = new int[4];
        for (int seed = 0; seed < SEEDS; seed++) {
            var r = new Random(seed);
            double[] u = excitation(r, 400, 3);
            var m = DifferenceModel.equationError(new Record(0.1, u, response(u, r, 0.3, 0)), 2, 2, 1);
            held(held, m.estimate(), -1.5, 0.7, 1, 0.5);
        }
        assertThat(Arrays.stream(held).min().orElseThrow()).isGreaterThanOrEqualTo(SEEDS * 9 / 10);
    }

    @Test
    void outputErrorsAreFoundWithinTheirBounds() {
        int[] held = new int[4];
        int white = 0;
        for (int seed = 0; seed < SEEDS; seed++) {
            var r = new Random(1000 + seed);
            double[] u = excitation(r, 400, 3);
            var m = DifferenceModel.outputError(new Record(0.1, u, response(u, r, 0, 0.5)), 2, 2, 1);
            held(held, m.estimate(), -1.5, 0.7, 1, 0.5);
            white += m.estimate().white().isWhite() ? 1 : 0;
        }
        assertThat(Arrays.stream(held).min().orElseThrow()).isGreaterThanOrEqualTo(SEEDS * 9 / 10);
        assertThat(white).isGreaterThanOrEqualTo(SEEDS * 95 / 100);
    }

    /** An equation error with noise at the output is pulled aside, and its residuals say so. */
    @Test
    void theWrongKindOfErrorIsNoticed() {
        var r = new Random(5);
        double[] u = excitation(r, 3000, 3);
        var m = DifferenceModel.equationError(new Record(0.1, u, response(u, r, 0, 0.5)), 2, 2, 1);
        assertThat(m.estimate().white().isWhite()).isFalse();
        assertThat(m.estimate().warnings()).singleElement().asString().contains("not white");
        assertThat(m.estimate().value("a1").holds(-1.5)).isFalse();
    }

    /** 2 exp(−0.23 s) / (0.8 s + 1), sampled at 0.1 s: the delay divides a sample. */
    @ParameterizedTest
    @ValueSource(ints = {1, 2})
    void aProcessWithDelayIsFoundWithinItsBounds(int order) {
        double[] truth = order == 1 ? new double[] {2, 0.8, 0.23} : new double[] {2, 0.8, 0.25, 0.17};
        int[] held = new int[truth.length];
        for (int seed = 0; seed < SEEDS; seed++) {
            var r = new Random(77 + seed);
            double[] u = excitation(r, 250, 8);
            double[] y = process(u, 0.1, truth[truth.length - 1], order == 1 ? new double[] {0.8} : new double[] {0.8, 0.25}, 2);
            for (int i = 0; i < y.length; i++) {
                y[i] += 0.1 * r.nextGaussian();
            }
            Estimate e = ProcessModel.fit(new Record(0.1, u, y), order).estimate();
            // Two lags may change places.
            if (order == 2 && e.value("T1").value() < e.value("T2").value()) {
                e = new Estimate(List.of(e.values().get(0), new Estimate.Value("T1", e.value("T2").value(), e.value("T2").sigma()),
                        new Estimate.Value("T2", e.value("T1").value(), e.value("T1").sigma()), e.values().get(3)), e.correlation(),
                                e.rms(),
                        e.fit(), e.white(), e.warnings());
            }
            held(held, e, truth);
        }
        assertThat(Arrays.stream(held).min().orElseThrow()).isGreaterThanOrEqualTo(SEEDS * 9 / 10);
    }

    /** Independent of the model: Euler's method with a thousand steps to a sample. */
    private static double[] process(double[] u, double h, double delay, double[] lags, double gain) {
        double[] y = new double[u.length];
        double x1 = gain * u[0] * 0;
        double x2 = 0;
        int fine = 1000;
        int late = (int) Math.round(delay / h * fine);
        for (int n = 0; n < u.length; n++) {
            y[n] = lags.length == 1 ? x1 : x2;
            for (int i = 0; i < fine; i++) {
                int at = Math.floorDiv(n * fine + i - late, fine);
                double in = gain * u[Math.max(0, at)];
                double d1 = (in - x1) / lags[0];
                x2 += lags.length > 1 ? h / fine * (x1 - x2) / lags[1] : 0;
                x1 += h / fine * d1;
            }
        }
        return y;
    }

    @Test
    void aSubspaceHasThePolesOfThePlant() {
        var r = new Random(9);
        double[] u = excitation(r, 2000, 2);
        var plant = StateSpace.zerosPolesGain(new Complex[] {new Complex(0.3, 0)},
                new Complex[] {new Complex(0.8, 0.3), new Complex(0.8, -0.3),
            new Complex(0.5, 0)}, 0.2, 0.05);
        double[] y = simulated(plant, u);
        var found = Subspace.of(new Record(0.05, u, y), 0, 12);
        assertThat(found.system().states()).isEqualTo(3);
        assertThat(found.fit()).isGreaterThan(0.999999);
        for (Complex p : plant.poles()) {
            assertThat(Arrays.stream(found.system().poles()).mapToDouble(q -> q.subtract(p).norm()).min().orElseThrow()).isLessThan(1e-6);
        }
        double[] noisy = y.clone();
        for (int i = 0; i < y.length; i++) {
            noisy[i] += 0.02 * r.nextGaussian();
        }
        var rough = Subspace.of(new Record(0.05, u, noisy), 3, 12);
        for (Complex p : plant.poles()) {
            assertThat(Arrays.stream(rough.system().poles()).mapToDouble(q -> q.subtract(p).norm()).min().orElseThrow()).isLessThan(0.03);
        }
    }

    private static double[] simulated(StateSpace s, double[] u) {
        var x = new org.ejml.simple.SimpleMatrix(s.states(), 1);
        double[] y = new double[u.length];
        for (int i = 0; i < u.length; i++) {
            y[i] = s.c().mult(x).get(0, 0) + s.d().get(0, 0) * u[i];
            x = s.a().mult(x).plus(s.b().scale(u[i]));
        }
        return y;
    }

    /** White input and white noise at the output: the coherence is the share of power that comes from the input. */
    @Test
    void aResponseIsMeasuredWithItsCoherence() {
        var r = new Random(4);
        var plant = StateSpace.transfer(new double[] {0.1}, new double[] {1, -0.9}, 0.01);
        double[] u = r.doubles(400_000, -1, 1).toArray();
        double[] y = simulated(plant, u);
        double noise = 0.05;
        for (int i = 0; i < y.length; i++) {
            y[i] += noise * r.nextGaussian();
        }
        var m = MeasuredResponse.of(new Record(0.01, u, y), 400);
        var exact = new Response(plant);
        int compared = 0;
        for (int i = 0; i < m.omega().length; i++) {
            Complex g = exact.at(m.omega()[i]);
            double power = g.norm() * g.norm() / 3;
            assertThat(m.coherence()[i]).isCloseTo(power / (power + noise * noise), within(0.15));
            if (m.coherence()[i] > 0.97) {
                assertThat(20 * Math.log10(m.response()[i].norm() / g.norm())).isCloseTo(0, within(0.6));
                assertThat(Math.toDegrees(m.response()[i].divide(g).getArgument())).isCloseTo(0, within(4.0));
                compared++;
            }
        }
        assertThat(compared).isGreaterThan(20);
    }

    @Test
    void whiteAndColouredResidualsAreDistinguished() {
        int wrong = 0;
        for (int seed = 0; seed < SEEDS; seed++) {
            var r = new Random(seed);
            double[] e = new double[500];
            double[] coloured = new double[500];
            for (int i = 0; i < e.length; i++) {
                e[i] = r.nextGaussian();
                coloured[i] = e[i] + (i > 0 ? 0.4 * coloured[i - 1] : 0);
            }
            wrong += Whiteness.of(e, 0).isWhite() ? 0 : 1;
            assertThat(Whiteness.of(coloured, 0).isWhite()).isFalse();
        }
        assertThat(wrong).isLessThanOrEqualTo(SEEDS * 4 / 100);
    }

    /** Two values of which only the product is seen, a value without effect, and one that comes to its limit. */
    @Test
    void whatARecordDoesNotShowIsReported() {
        var r = new Random(2);
        double[] x = r.doubles(200, 0, 1).toArray();
        double[] y = Arrays.stream(x).map(v -> 6 * v + 0.01 * r.nextGaussian()).toArray();
        var both = LeastSquares.fit(p -> Arrays.stream(x).map(v -> p[0] * p[1] * v).toArray(), y, List.of(
                new LeastSquares.Parameter("a", 1, 0.1, 100), new LeastSquares.Parameter("b", 1, 0.1, 100)));
        assertThat(both.values().get(0).value() * both.values().get(1).value()).isCloseTo(6, within(0.02));
        assertThat(both.warnings()).anyMatch(w -> w.contains("does not distinguish 'a' from 'b'"));
        var limited = LeastSquares.fit(p -> Arrays.stream(x).map(v -> p[0] * v).toArray(), y,
                List.of(new LeastSquares.Parameter("a", 1, 0, 4)));
        assertThat(limited.warnings()).anyMatch(w -> w.contains("came to its limit 4"));
        assertThatThrownBy(() -> LeastSquares.fit(p -> Arrays.stream(x).map(v -> p[0] * v).toArray(), y, List.of(
                new LeastSquares.Parameter("a", 1, 0, 9), new LeastSquares.Parameter("idle", 1, 0, 9))))
                        .isInstanceOf(NoSolutionException.class)
                .hasMessageContaining("does not depend on 'idle'");
        assertThatThrownBy(() -> new LeastSquares.Parameter("a", 5, 0, 4)).isInstanceOf(NoSolutionException.class);
    }

    @Test
    void recordsThatSayNothingAreRefused() {
        double[] line = new double[100];
        assertThatThrownBy(() -> new Record(0.1, line, line)).isInstanceOf(NoSolutionException.class)
                .hasMessageContaining("does not change");
        assertThatThrownBy(() -> new Record(0.1, new double[5], new double[5])).isInstanceOf(NoSolutionException.class)
                .hasMessageContaining("5 samples only");
        double[] bad = line.clone();
        bad[3] = Double.NaN;
        assertThatThrownBy(() -> new Record(0.1, bad, line)).isInstanceOf(NoSolutionException.class).hasMessageContaining("not finite");
        double[] u = excitation(new Random(1), 100, 2);
        var r = new Record(0.1, u, u);
        assertThatThrownBy(() -> MeasuredResponse.of(r, 40)).isInstanceOf(NoSolutionException.class).hasMessageContaining("too short");
        assertThatThrownBy(() -> Subspace.of(r, 2, 20)).isInstanceOf(NoSolutionException.class).hasMessageContaining("too short");
        assertThatThrownBy(() -> DifferenceModel.equationError(r, 30, 30, 1)).isInstanceOf(NoSolutionException.class);
    }

    /** A line through input and output is removed; what is left is that around it. */
    @Test
    void offsetAndDriftAreRemoved() {
        var r = new Random(3);
        double[] u = excitation(r, 500, 3);
        double[] y = response(u, r, 0, 0.01);
        double[] drifting = new double[y.length];
        for (int i = 0; i < y.length; i++) {
            drifting[i] = y[i] + 40 + 0.02 * i;
        }
        var clean = DifferenceModel.outputError(new Record(0.1, u, y).withoutDrift(), 2, 2, 1);
        var drift = DifferenceModel.outputError(new Record(0.1, u, drifting).withoutDrift(), 2, 2, 1);
        assertThat(drift.numerator()[0]).isCloseTo(clean.numerator()[0], within(1e-6));
        assertThat(new Record(0.1, u, drifting).withoutOffset().output()[0]).isLessThan(40);
        assertThat(drift.system().poles()).hasSize(2);
    }
}
