package boldanvil.core.linear;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.Random;
import org.ejml.simple.SimpleMatrix;
import org.hipparchus.complex.Complex;
import org.junit.jupiter.api.Test;

class StateSpaceTest {
    private static StateSpace random(Random r, int n, double period) {
        double[][] a = new double[n][n];
        double[] b = new double[n];
        double[] c = new double[n];
        for (int i = 0; i < n; i++) {
            for (int j = 0; j < n; j++) {
                a[i][j] = r.nextGaussian() / (period > 0 ? 2 * n : 1);
            }
            b[i] = r.nextGaussian();
            c[i] = r.nextGaussian();
        }
        return StateSpace.single(a, b, c, r.nextGaussian(), period);
    }

    /** (2 s² + 3 s + 4) / (s³ + 5 s² + 6 s + 7) at s = j ω, by the polynomials. */
    @Test
    void theResponseIsThatOfThePolynomials() {
        double[] num = {2, 3, 4};
        double[] den = {1, 5, 6, 7};
        var r = new Response(StateSpace.transfer(num, den, 0));
        for (double w : new double[] {0, 0.1, 1, 7, 200}) {
            Complex s = new Complex(0, w);
            Complex expected = Polynomials.at(num, s).divide(Polynomials.at(den, s));
            assertThat(r.at(w).subtract(expected).norm()).isLessThan(1e-14 * expected.norm() + 1e-15);
        }
    }

    /** Against a solution of the full complex equations, written as real ones of twice the size. */
    @Test
    void hessenbergFormChangesNothing() {
        var random = new Random(3);
        for (int n = 1; n < 14; n++) {
            var s = random(random, n, 0.1);
            double w = 11.0;
            double re = Math.cos(w * 0.1);
            double im = Math.sin(w * 0.1);
            var m = new SimpleMatrix(2 * n, 2 * n);
            var unit = SimpleMatrix.identity(n);
            m.insertIntoThis(0, 0, unit.scale(re).minus(s.a()));
            m.insertIntoThis(0, n, unit.scale(-im));
            m.insertIntoThis(n, 0, unit.scale(im));
            m.insertIntoThis(n, n, unit.scale(re).minus(s.a()));
            SimpleMatrix x = m.solve(s.b().concatRows(new SimpleMatrix(n, 1)));
            double real = s.c().mult(x.rows(0, n)).get(0, 0) + s.d().get(0, 0);
            double imaginary = s.c().mult(x.rows(n, 2 * n)).get(0, 0);
            assertThat(new Response(s).at(w).subtract(new Complex(real, imaginary)).norm()).isLessThan(1e-12);
        }
    }

    @Test
    void seriesSumAndFeedbackFollowTheirFormulas() {
        var g = StateSpace.transfer(new double[] {1, 3}, new double[] {1, 2, 5}, 0);
        var h = StateSpace.transfer(new double[] {4}, new double[] {1, 7}, 0);
        for (double w : new double[] {0.3, 2, 30}) {
            Complex a = new Response(g).at(w);
            Complex b = new Response(h).at(w);
            assertThat(new Response(h.after(g)).at(w).subtract(a.multiply(b)).norm()).isLessThan(1e-14);
            assertThat(new Response(h.plus(g)).at(w).subtract(a.add(b)).norm()).isLessThan(1e-14);
            assertThat(new Response(g.closed()).at(w).subtract(a.divide(a.add(1))).norm()).isLessThan(1e-14);
            assertThat(new Response(g.sensitivity()).at(w).subtract(Complex.ONE.divide(a.add(1))).norm()).isLessThan(1e-14);
        }
        assertThat(h.gainAtRest()).isCloseTo(4.0 / 7, within(1e-15));
        assertThat(StateSpace.transfer(new double[] {1}, new double[] {1, 0}, 0).gainAtRest()).isInfinite();
        assertThatThrownBy(() -> StateSpace.gain(-1, 0).closed()).isInstanceOf(NoSolutionException.class)
                .hasMessageContaining("direct gain");
    }

    @Test
    void zerosAndGainComeBackFromTheStates() {
        Complex[] zeros = {new Complex(-2, 5), new Complex(-2, -5), new Complex(30, 0)};
        Complex[] poles = {new Complex(-1, 0), new Complex(-4, 1), new Complex(-4, -1), new Complex(-60, 0), new Complex(-700, 0),
            new Complex(0, 0)};
        Zeros found = Zeros.of(StateSpace.zerosPolesGain(zeros, poles, -3.5, 0));
        assertThat(found.gain()).isCloseTo(-3.5, within(1e-9));
        assertThat(found.zeros()).hasSize(3);
        for (int i = 0; i < 3; i++) {
            Complex z = found.zeros()[i];
            assertThat(java.util.Arrays.stream(zeros).mapToDouble(x -> x.subtract(z).norm()).min().orElseThrow()).isLessThan(1e-7);
        }
    }

    /** The input moves one state, the output shows another. */
    @Test
    void nothingGoesThroughWhatIsNotJoined() {
        var s = StateSpace.single(new double[][] {{-1, 0}, {0, -2}}, new double[] {1, 0}, new double[] {0, 1}, 0, 0);
        assertThat(Zeros.of(s).gain()).isZero();
        assertThat(Zeros.of(s).zeros()).isEmpty();
    }

    /** A pole of multiplicity m moves by the m-th root of rounding: known, and stated. */
    @Test
    void multipleRootsAreAsGoodAsRoundingAllows() {
        double[] p = Polynomials.withRoots(new Complex(-1, 0), new Complex(-1, 0));
        for (Complex r : Polynomials.roots(p)) {
            assertThat(r.add(1).norm()).isLessThan(1e-7);
        }
        Complex[] four = {new Complex(-1, 0), new Complex(-1, 0), new Complex(-1, 0), new Complex(-1, 0)};
        for (Complex r : Polynomials.roots(Polynomials.withRoots(four))) {
            assertThat(r.add(1).norm()).isLessThan(1e-3);
        }
    }

    @Test
    void polesOfAStiffPlantAreFoundEach() {
        var s = StateSpace.transfer(new double[] {1}, Polynomials.withRoots(new Complex(-1, 0), new Complex(-1e6, 0), new Complex(-30, 40),
                new Complex(-30, -40)), 0);
        assertThat(java.util.Arrays.stream(s.poles()).mapToDouble(p -> Math.abs(p.getRealPart() + 1)).min().orElseThrow()).isLessThan(1e-8);
        assertThat(java.util.Arrays.stream(s.poles()).mapToDouble(p -> Math.abs(p.getRealPart() + 1e6)).min().orElseThrow())
                .isLessThan(1e-6);
    }

    @Test
    void improperAndEmptyTransferFunctionsAreRefused() {
        assertThatThrownBy(() -> StateSpace.transfer(new double[] {1, 0, 0}, new double[] {1, 1}, 0))
                .isInstanceOf(NoSolutionException.class)
                .hasMessageContaining("higher degree");
        assertThatThrownBy(() -> StateSpace.transfer(new double[] {1}, new double[] {0, 0}, 0)).isInstanceOf(NoSolutionException.class);
        assertThatThrownBy(() -> Eigenvalues.of(new SimpleMatrix(new double[][] {{Double.NaN}}))).isInstanceOf(NoSolutionException.class);
    }

    /**
     * A ladder of ten equal lags: reduced to four states the response at rest stays, the rest deviates by less than twice what is left out.
     */
    @Test
    void aReductionKeepsItsBound() {
        var lag = StateSpace.transfer(new double[] {1}, new double[] {0.1, 1}, 0);
        var chain = lag;
        for (int i = 1; i < 10; i++) {
            chain = lag.after(chain);
        }
        var b = Balanced.of(chain);
        var small = b.reduced(4);
        assertThat(small.gainAtRest()).isCloseTo(1, within(1e-9));
        double rest = 0;
        for (int i = 4; i < b.hankel().length; i++) {
            rest += b.hankel()[i];
        }
        for (double w : Frequencies.between(0.01, 1e3, 60)) {
            assertThat(new Response(small).at(w).subtract(new Response(chain).at(w)).norm()).isLessThan(2 * rest + 1e-9);
        }
        assertThatThrownBy(() -> Balanced.of(StateSpace.transfer(new double[] {1}, new double[] {1, 0}, 0)))
                .isInstanceOf(NoSolutionException.class).hasMessageContaining("stable");
    }

    /** First order: a jump by the gain at once follows 1 − e⁻ᵗ; second order against its closed form; a ramp lags by the time constant. */
    @Test
    void timeResponsesAreExactAtTheirInstants() {
        var lag = StateSpace.transfer(new double[] {2}, new double[] {0.5, 1}, 0);
        var step = TimeResponse.of(lag, TimeResponse.Input.STEP, 3, 30);
        var impulse = TimeResponse.of(lag, TimeResponse.Input.IMPULSE, 3, 30);
        var ramp = TimeResponse.of(lag, TimeResponse.Input.RAMP, 3, 30);
        for (int i = 0; i <= 30; i++) {
            double t = step.t()[i];
            assertThat(step.y()[i]).isCloseTo(2 * (1 - Math.exp(-2 * t)), within(1e-13));
            assertThat(impulse.y()[i]).isCloseTo(4 * Math.exp(-2 * t), within(1e-13));
            assertThat(ramp.y()[i]).isCloseTo(2 * (t - 0.5 + 0.5 * Math.exp(-2 * t)), within(1e-13));
        }
        double w = 10;
        double d = 0.2;
        var swing = TimeResponse.of(StateSpace.transfer(new double[] {w * w}, new double[] {1, 2 * d * w, w * w}, 0),
                TimeResponse.Input.STEP, 2,
                40);
        double wd = w * Math.sqrt(1 - d * d);
        for (int i = 0; i <= 40; i++) {
            double t = swing.t()[i];
            assertThat(swing.y()[i]).isCloseTo(1 - Math.exp(-d * w * t) * (Math.cos(wd * t) + d * w / wd * Math.sin(wd * t)),
                    within(1e-12));
        }
        assertThat(TimeResponse.settling(lag)).isCloseTo(3, within(1e-12));
    }
}
