package boldanvil.core.identify;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.samples.Series;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Ready experiments find the values of a simulated motor, sensor and gear within their bounds. */
class GuidedTestTest {
    private static final double T = 1e-4;
    private static final double R = 0.6;
    private static final double L = 9e-4;

    private static Series series(String name, double[] values) {
        double[] t = new double[values.length];
        for (int i = 0; i < t.length; i++) {
            t[i] = i * T;
        }
        return new Series(name, "", t, values);
    }

    private static void holds(Estimate e, String name, double truth) {
        // Four standard deviations, so that one seed in ten thousand fails.
        assertThat(Math.abs(e.value(name).value() - truth)).as("%s = %s ± %s", name, e.value(name).value(), e.value(name).bound())
                .isLessThan(2.05 * e.value(name).bound() + 1e-12);
    }

    @Test
    void aLockedMotorShowsResistanceAndInductance() {
        var random = new Random(5);
        int n = 4000;
        double[] u = new double[n];
        double[] i = new double[n];
        double a = Math.exp(-R / L * T);
        double now = 0;
        double level = 1;
        for (int k = 0; k < n; k++) {
            i[k] = now + 0.01 * random.nextGaussian();
            level = k % 20 == 0 && random.nextBoolean() ? -level : level;
            u[k] = 1 + level;
            now = a * now + (1 - a) / R * u[k];
        }
        var e = GuidedTest.LOCKED.evaluation().apply(new GuidedTest.Given(Map.of("voltage", series("u", u), "current", series("i", i)),
                Map.of()));
        holds(e, "R", R);
        holds(e, "L", L);
        assertThat(e.value("L").bound()).isLessThan(0.05 * L);
    }

    @Test
    void aFreeMotorShowsItsConstantAndFrictionAndThenItsInertia() {
        var random = new Random(6);
        double k = 0.042;
        double coulomb = 0.004;
        double viscous = 2e-5;
        double inertia = 2.2e-5;
        int n = 30_000;
        double[] u = new double[n];
        double[] i = new double[n];
        double[] w = new double[n];
        double speed = 0;
        double current = 0;
        for (int s = 0; s < n; s++) {
            u[s] = 6 + 3 * Math.floor(s / 6000.0);
            for (int m = 0; m < 10; m++) {
                current += T / 10 * (u[s] - R * current - k * speed) / L;
                speed += T / 10 * (k * current - coulomb - viscous * speed) / inertia;
            }
            i[s] = current + 0.002 * random.nextGaussian();
            w[s] = speed;
        }
        var e = GuidedTest.RUNNING.evaluation().apply(new GuidedTest.Given(Map.of("voltage", series("u", u), "current", series("i", i),
                "speed", series("w", w)), Map.of("R", R)));
        assertThat(e.value("k").value()).isCloseTo(k, within(0.002 * k));
        assertThat(e.value("Coulomb friction").value()).isCloseTo(coulomb, within(0.03 * coulomb));
        assertThat(e.value("viscous friction").value()).isCloseTo(viscous, within(0.05 * viscous));
        double[] coast = new double[2000];
        double free = 300;
        for (int s = 0; s < coast.length; s++) {
            coast[s] = free + 0.2 * random.nextGaussian();
            for (int m = 0; m < 10; m++) {
                free -= T / 10 * (coulomb + viscous * free) / inertia;
            }
        }
        var j = GuidedTest.COASTING.evaluation().apply(new GuidedTest.Given(Map.of("speed", series("w", coast)), Map.of("Coulomb friction",
                coulomb, "viscous friction", viscous)));
        holds(j, "J", inertia);
        assertThatThrownBy(() -> GuidedTest.COASTING.evaluation().apply(new GuidedTest.Given(Map.of("speed", series("w", w)), Map.of(
                "Coulomb friction", coulomb, "viscous friction", viscous)))).isInstanceOf(NoSolutionException.class)
                .hasMessageContaining("does not fall");
    }

    @Test
    void aSensorsOffsetAndSensitivityComeFromTwoPoints() {
        var random = new Random(7);
        double[] v = new double[1000];
        for (int i = 0; i < v.length; i++) {
            v[i] = 0.37 + 1.32 * (i < 500 ? 0.2 : 1.6) + 0.004 * random.nextGaussian();
        }
        var e = GuidedTest.TWO_POINTS.evaluation().apply(new GuidedTest.Given(Map.of("signal", series("v", v)), Map.of("first value", 0.2,
                "second value", 1.6)));
        holds(e, "offset", 0.37);
        holds(e, "sensitivity", 1.32);
        assertThatThrownBy(() -> GuidedTest.TWO_POINTS.evaluation().apply(new GuidedTest.Given(Map.of("signal", series("v", v)),
                Map.of("first value", 1.0, "second value", 1.0)))).isInstanceOf(NoSolutionException.class)
                .hasMessageContaining("does not determine");
    }

    @Test
    void playAndDelayAreFound() {
        var random = new Random(8);
        int n = 20_000;
        double[] before = new double[n];
        double[] behind = new double[n];
        double at = 0;
        for (int i = 0; i < n; i++) {
            before[i] = 0.1 * Math.sin(2 * Math.PI * i / 5000.0);
            at = Math.clamp(at, before[i] - 0.004, before[i] + 0.004);
            behind[i] = at + 0.01;
        }
        var play = GuidedTest.BACKLASH.evaluation().apply(new GuidedTest.Given(Map.of("before", series("a", before), "behind",
                series("b", behind)), Map.of()));
        assertThat(play.value("backlash").value()).isCloseTo(0.008, within(1e-4));
        double[] u = new double[n];
        double[] y = new double[n];
        double lag = 3;
        for (int i = 0; i < n; i++) {
            u[i] = i / 1500 % 2 == 0 ? 1 : 0;
            double late = i >= 123 ? u[i - 123] : u[0];
            y[i] = lag + 0.01 * random.nextGaussian();
            lag += (1 - Math.exp(-T / 0.02)) * (3 * late - lag);
        }
        var delay = GuidedTest.DELAY.evaluation().apply(new GuidedTest.Given(Map.of("from", series("u", u), "to", series("y", y)),
                Map.of()));
        assertThat(delay.value("L").value()).isCloseTo(123 * T, within(5e-4));
        assertThat(GuidedTest.all()).hasSize(6).allSatisfy(g -> assertThat(g.steps()).isNotEmpty());
    }
}
