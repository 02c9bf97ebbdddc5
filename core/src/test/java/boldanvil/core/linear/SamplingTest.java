package boldanvil.core.linear;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import org.hipparchus.complex.Complex;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Ways of sampling against their formulas. */
class SamplingTest {
    private static final double T = 0.1;
    private static final double[] NUM = {3, 5};
    private static final double[] DEN = {1, 2, 26};
    private static final StateSpace PLANT = StateSpace.transfer(NUM, DEN, 0);

    private static Complex continuous(Complex s) {
        return Polynomials.at(NUM, s).divide(Polynomials.at(DEN, s));
    }

    /** Where s is a function of z, so is the transfer function. */
    @ParameterizedTest
    @EnumSource(value = Sampling.class, names = {"TUSTIN", "PREWARPED", "FORWARD_EULER", "BACKWARD_EULER"})
    void substitutionsAreExact(Sampling way) {
        double at = 7;
        var sampled = new Response(way.of(PLANT, T, at));
        for (double w : new double[] {0.2, 3, 7, 25}) {
            Complex z = new Complex(0, w * T).exp();
            Complex s = switch (way) {
                case TUSTIN -> z.subtract(1).divide(z.add(1)).multiply(2 / T);
                case PREWARPED -> z.subtract(1).divide(z.add(1)).multiply(at / Math.tan(at * T / 2));
                case FORWARD_EULER -> z.subtract(1).divide(T);
                default -> z.subtract(1).divide(z.multiply(T));
            };
            assertThat(sampled.at(w).subtract(continuous(s)).norm()).isLessThan(1e-13);
        }
    }

    @Test
    void prewarpingIsExactAtItsFrequency() {
        assertThat(new Response(Sampling.PREWARPED.of(PLANT, T, 7)).at(7).subtract(continuous(new Complex(0, 7))).norm()).isLessThan(1e-13);
        assertThatThrownBy(() -> Sampling.PREWARPED.of(PLANT, T, 40)).isInstanceOf(NoSolutionException.class);
    }

    /**
     * 1/(s+a) behind a hold is (1 − e)/a over z − e; 1/s² is T²/2 (z + 1)/(z − 1)² (Franklin, Powell and Workman, table of z-transforms).
     */
    @Test
    void heldPlantsEqualTheTable() {
        var lag = Sampling.ZERO_ORDER_HOLD.of(StateSpace.transfer(new double[] {1}, new double[] {1, 4}, 0), T, 0);
        double e = Math.exp(-0.4);
        assertThat(lag.poles()[0].getRealPart()).isCloseTo(e, within(1e-15));
        assertThat(Zeros.of(lag).gain()).isCloseTo((1 - e) / 4, within(1e-15));
        var twice = Sampling.ZERO_ORDER_HOLD.of(StateSpace.transfer(new double[] {1}, new double[] {1, 0, 0}, 0), T, 0);
        Zeros z = Zeros.of(twice);
        assertThat(z.gain()).isCloseTo(T * T / 2, within(1e-16));
        assertThat(z.zeros()[0].getRealPart()).isCloseTo(-1, within(1e-9));
    }

    /** 1/s with straight lines is T/2 (z + 1)/(z − 1); 1/s² is T²/6 (z² + 4z + 1)/(z − 1)². */
    @Test
    void firstOrderHoldEqualsTheTable() {
        Zeros one = Zeros.of(Sampling.FIRST_ORDER_HOLD.of(StateSpace.transfer(new double[] {1}, new double[] {1, 0}, 0), T, 0));
        assertThat(one.gain()).isCloseTo(T / 2, within(1e-16));
        assertThat(one.zeros()[0].getRealPart()).isCloseTo(-1, within(1e-12));
        Zeros two = Zeros.of(Sampling.FIRST_ORDER_HOLD.of(StateSpace.transfer(new double[] {1}, new double[] {1, 0, 0}, 0), T, 0));
        assertThat(two.gain()).isCloseTo(T * T / 6, within(1e-16));
        double root = Math.sqrt(3);
        assertThat(two.zeros()[0].getRealPart()).isCloseTo(-2 - root, within(1e-7));
        assertThat(two.zeros()[1].getRealPart()).isCloseTo(-2 + root, within(1e-7));
    }

    @Test
    void matchedPolesAndZerosAreMapped() {
        var s = Sampling.MATCHED.of(PLANT, T, 0);
        Complex p = new Complex(-1, 5).multiply(T).exp();
        assertThat(s.poles()[1].subtract(p).norm()).isLessThan(1e-12);
        assertThat(Zeros.of(s).zeros()[0].getRealPart()).isCloseTo(Math.exp(-5.0 / 3 * T), within(1e-12));
        assertThat(s.gainAtRest()).isCloseTo(5.0 / 26, within(1e-13));
        // An integrator has no gain at rest; slow signals go through alike.
        var i = new Response(Sampling.MATCHED.of(StateSpace.transfer(new double[] {1}, new double[] {1, 3, 0}, 0), T, 0));
        assertThat(i.at(0.01).norm()).isCloseTo(1 / (0.01 * Math.hypot(3, 0.01)), within(0.02));
    }

    /** Each way agrees with the plant at a hundredth of the sample rate. */
    @ParameterizedTest
    @EnumSource(Sampling.class)
    void slowSignalsGoThroughAlike(Sampling way) {
        double h = 1e-4;
        double w = 3;
        Complex delay = way == Sampling.ZERO_ORDER_HOLD ? new Complex(0, -w * h / 2).exp() : Complex.ONE;
        assertThat(new Response(way.of(PLANT, h, 1)).at(w).subtract(continuous(new Complex(0, w)).multiply(delay)).norm()).isLessThan(2e-4);
        assertThat(way.label()).isNotBlank();
    }
}
