package boldanvil.core.linear;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.Random;
import org.ejml.simple.SimpleMatrix;
import org.hipparchus.complex.Complex;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Regulators, estimators and placement against closed forms and residuals. */
class DesignTest {
    private static final StateSpace DOUBLE = StateSpace.single(new double[][] {{0, 1}, {0, 0}}, new double[] {0, 1}, new double[] {1, 0}, 0,
            0);

    private static SimpleMatrix diagonal(double... v) {
        return SimpleMatrix.diag(v);
    }

    /** Double integrator with Q = diag(1, 0), R = 1: K = (1, √2). */
    @Test
    void theDoubleIntegratorsRegulatorIsKnown() {
        SimpleMatrix k = Design.regulator(DOUBLE, diagonal(1, 0), diagonal(1));
        assertThat(k.get(0, 0)).isCloseTo(1, within(1e-12));
        assertThat(k.get(0, 1)).isCloseTo(Math.sqrt(2), within(1e-12));
    }

    /** Scalar: 2 a x − x² b²/r + q = 0; and sampled x = a² x r / (r + b² x) + q. */
    @Test
    void scalarEquationsHaveTheirRoots() {
        double a = 0.7;
        double b = 2;
        double q = 3;
        double r = 0.5;
        var plant = StateSpace.single(new double[][] {{a}}, new double[] {b}, new double[] {1}, 0, 0);
        double x = (a + Math.sqrt(a * a + b * b * q / r)) * r / (b * b);
        assertThat(Design.regulator(plant, diagonal(q), diagonal(r)).get(0, 0)).isCloseTo(b * x / r, within(1e-12));
        double p = r * (1 - a * a) - q * b * b;
        double y = (-p + Math.sqrt(p * p + 4 * b * b * q * r)) / (2 * b * b);
        SimpleMatrix found = Riccati.sampled(plant.a(), plant.b(), diagonal(q), diagonal(r));
        assertThat(found.get(0, 0)).isCloseTo(y, within(1e-12));
    }

    @ParameterizedTest
    @ValueSource(ints = {2, 4, 7, 10})
    void residualsVanish(int n) {
        var random = new Random(n);
        for (int run = 0; run < 20; run++) {
            var a = SimpleMatrix.random_DDRM(n, n, -1, 1, random);
            var b = SimpleMatrix.random_DDRM(n, 2, -1, 1, random);
            var half = SimpleMatrix.random_DDRM(n, n, -1, 1, random);
            SimpleMatrix q = half.mult(half.transpose());
            SimpleMatrix r = diagonal(0.3, 2);
            SimpleMatrix x = Riccati.continuous(a, b, q, r);
            SimpleMatrix left = a.transpose().mult(x).plus(x.mult(a)).minus(x.mult(b).mult(r.solve(b.transpose())).mult(x)).plus(q);
            assertThat(left.normF()).isLessThan(1e-9 * (x.normF() * x.normF() + q.normF()));
            SimpleMatrix d = Riccati.sampled(a, b, q, r);
            SimpleMatrix inner = r.plus(b.transpose().mult(d).mult(b));
            SimpleMatrix right = a.transpose().mult(d).mult(a).plus(q)
                    .minus(a.transpose().mult(d).mult(b).mult(inner.solve(b.transpose().mult(d).mult(a))));
            assertThat(right.minus(d).normF()).isLessThan(1e-10 * d.normF());
        }
    }

    /** The sampled regulator of a continuous cost goes to the continuous one with the sample time. */
    @Test
    void theSampledRegulatorGoesToTheContinuousOne() {
        SimpleMatrix k = Design.regulator(DOUBLE, diagonal(4, 1), diagonal(0.5));
        SimpleMatrix fine = Design.sampledRegulator(DOUBLE, diagonal(4, 1), diagonal(0.5), 1e-4);
        assertThat(fine.minus(k).normF()).isLessThan(1e-3 * k.normF());
    }

    /** Its cost from a start equals that of a simulation of the held input, integrated between the samples. */
    @Test
    void theSampledRegulatorIsTheBestOfItsNeighbours() {
        double h = 0.3;
        SimpleMatrix k = Design.sampledRegulator(DOUBLE, diagonal(1, 0), diagonal(1), h);
        double best = cost(k, h);
        for (double[] by : new double[][] {{0.02, 0}, {-0.02, 0}, {0, 0.02}, {0, -0.02}}) {
            assertThat(cost(k.plus(new SimpleMatrix(1, 2, true, by)), h)).isGreaterThan(best);
        }
    }

    private static double cost(SimpleMatrix k, double h) {
        double x = 1;
        double v = 0.3;
        double sum = 0;
        int fine = 50;
        for (int n = 0; n < 200; n++) {
            double u = -(k.get(0, 0) * x + k.get(0, 1) * v);
            for (int i = 0; i < fine; i++) {
                double t = h / fine;
                double middle = x + v * t / 2 + u * t * t / 8;
                double next = x + v * t + u * t * t / 2;
                sum += t / 6 * (x * x + 4 * middle * middle + next * next) + t * u * u;
                x = next;
                v += u * t;
            }
        }
        return sum;
    }

    /**
     * A constant measured with noise: the filter's gain of x[n+1] = x[n] + w solves p² = q (p + r) (Anderson and Moore, Optimal Filtering).
     */
    @Test
    void theScalarKalmanGainIsKnown() {
        double q = 0.01;
        double r = 1;
        var plant = StateSpace.single(new double[][] {{1}}, new double[] {1}, new double[] {1}, 0, 1);
        double p = (q + Math.sqrt(q * q + 4 * q * r)) / 2;
        assertThat(Design.estimator(plant, diagonal(q), diagonal(r)).get(0, 0)).isCloseTo(p / (p + r), within(1e-12));
    }

    @Test
    void polesComeToWhereTheyArePlaced() {
        var random = new Random(5);
        for (int n = 1; n <= 8; n++) {
            var plant = new StateSpace(SimpleMatrix.random_DDRM(n, n, -1, 1, random), SimpleMatrix.random_DDRM(n, 1, -1, 1, random),
                    new SimpleMatrix(1, n), new SimpleMatrix(1, 1), 0);
            Complex[] wanted = new Complex[n];
            for (int i = 0; i < n; i++) {
                wanted[i] = new Complex(-1 - i / 2, n - i == 1 && n % 2 == 1 ? 0 : (i % 2 == 0 ? -1 : 1) * 0.7);
            }
            SimpleMatrix k = Design.place(plant, wanted);
            Complex[] found = Eigenvalues.of(plant.a().minus(plant.b().mult(k)));
            for (Complex w : wanted) {
                assertThat(Arrays.stream(found).mapToDouble(f -> f.subtract(w).norm()).min().orElseThrow()).as("order " + n)
                        .isLessThan(1e-6);
            }
        }
    }

    /** Ten states in a chain, all poles at −2: the polynomial of the closed loop is (s + 2)¹⁰. */
    @Test
    void aTenfoldPoleHasItsPolynomial() {
        int n = 10;
        double[][] a = new double[n][n];
        double[] b = new double[n];
        for (int i = 0; i < n - 1; i++) {
            a[i][i + 1] = 1;
        }
        b[n - 1] = 1;
        Complex[] poles = new Complex[n];
        Arrays.fill(poles, new Complex(-2, 0));
        SimpleMatrix k = Design.place(StateSpace.single(a, b, new double[n], 0, 0), poles);
        double[] expected = Polynomials.withRoots(poles);
        for (int i = 0; i < n; i++) {
            assertThat(k.get(0, i)).isCloseTo(expected[n - i], within(1e-9 * expected[n - i]));
        }
    }

    /** Time constants of 1 s and 1 µs: both are placed, with an error of their own size. */
    @Test
    void aStiffPlantIsPlaced() {
        var plant = StateSpace.single(new double[][] {{-1, 0}, {0, -1e6}}, new double[] {1, 1e6}, new double[] {1, 1}, 0, 0);
        SimpleMatrix k = Design.place(plant, new Complex(-5, 0), new Complex(-2e6, 0));
        Complex[] found = Eigenvalues.of(plant.a().minus(plant.b().mult(k)));
        assertThat(found[0].getRealPart()).isCloseTo(-2e6, within(1e-3));
        assertThat(found[1].getRealPart()).isCloseTo(-5, within(1e-6));
    }

    @Test
    void modesThatNothingMovesAreReported() {
        var plant = StateSpace.single(new double[][] {{1, 0}, {0, -2}}, new double[] {0, 1}, new double[] {1, 1}, 0, 0);
        assertThatThrownBy(() -> Design.place(plant, new Complex(-1, 0), new Complex(-3, 0))).isInstanceOf(NoSolutionException.class)
                .hasMessageContaining("does not move all modes");
        assertThatThrownBy(() -> Design.regulator(plant, diagonal(1, 1), diagonal(1))).isInstanceOf(NoSolutionException.class)
                .satisfies(e -> assertThat(((NoSolutionException) e).cure()).isNotBlank());
        assertThatThrownBy(() -> Design.place(DOUBLE, new Complex(-1, 1), new Complex(-3, 0))).isInstanceOf(NoSolutionException.class)
                .hasMessageContaining("conjugate");
    }
}
