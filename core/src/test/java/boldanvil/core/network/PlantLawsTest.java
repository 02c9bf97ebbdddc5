package boldanvil.core.network;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.measure.Spectrum;
import boldanvil.core.samples.Series;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Laws of whole plants that textbooks state. */
class PlantLawsTest {
    private static PartBuilder plant(String step) {
        return new PartBuilder("p").plant(step, "rk4");
    }

    /**
     * Six diodes with an even direct current: the current of a line has the harmonics 6k ± 1 with 1/n of the fundamental 2 √3 / π, and the
     * mean voltage is 3 √3 / π of the peak of a phase, 1.35 of the voltage between two lines.
     */
    @Test
    void aRectifierDrawsItsHarmonics() {
        var b = plant("10 us").block("net", "three-phase source", "V=325", "frequency=50").block("gnd", "ground").net("net.n", "gnd.a")
                .block("load", "current source", "I=-10").block("line", "ammeter").block("i", "tap").block("dc", "voltmeter")
                .block("v", "tap").wire("line.i", "i.u").wire("dc.v", "v.u").net("net.a", "line.a").net("load.a", "dc.a")
                .net("load.b", "dc.b");
        String[] phases = {"line.b", "net.b", "net.c"};
        for (int k = 0; k < 3; k++) {
            b.block("up" + k, "diode", "forward voltage=0", "on resistance=1 mohm", "off resistance=1 Mohm")
                    .block("down" + k, "diode", "forward voltage=0", "on resistance=1 mohm", "off resistance=1 Mohm")
                    .net(phases[k], "up" + k + ".a").net("up" + k + ".b", "load.a").net("load.b", "down" + k + ".a")
                    .net("down" + k + ".b", phases[k]);
        }
        var s = Stepper.of(b);
        double[] t = new double[4000];
        double[] i = new double[4000];
        double mean = 0;
        s.ticks(100);
        for (int n = 0; n < t.length; n++) {
            s.step();
            t[n] = n * 1e-5;
            i[n] = s.tap("i");
            mean += s.tap("v") / t.length;
            s.advance();
        }
        assertThat(mean).isCloseTo(3 * Math.sqrt(3) / Math.PI * 325, within(0.1));
        assertThat(mean / (325 * Math.sqrt(1.5))).isCloseTo(1.35, within(1e-3));
        double[] a = Spectrum.harmonics(new Series("i", "A", t, i), 50, 14);
        double first = 2 * Math.sqrt(3) / Math.PI * 10;
        assertThat(a[0]).isCloseTo(first, within(2e-3 * first));
        for (int n = 2; n <= 14; n++) {
            double expected = n % 6 == 1 || n % 6 == 5 ? first / n : 0;
            assertThat(a[n - 1]).as("harmonic " + n).isCloseTo(expected, within(5e-3 * first));
        }
    }

    /** A chip, its case and its sink, each a capacity with a resistance to the next: against integration by hand. */
    @Test
    void heatGoesDownALadder() {
        double[] c = {0.02, 3, 80};
        double[] r = {0.4, 0.8, 1.5};
        var b = plant("10 ms").block("loss", "heat source", "P=40").block("air", "ambient", "T=300").block("m", "thermometer")
                .block("T", "tap").wire("m.T", "T.u").net("loss.a", "C0.a", "m.a");
        for (int k = 0; k < 3; k++) {
            b.block("C" + k, "heat capacity", "C=" + c[k], "T0=300").block("R" + k, "thermal resistance", "R=" + r[k])
                    .net("C" + k + ".a", "R" + k + ".a").net("R" + k + ".b", k < 2 ? "C" + (k + 1) + ".a" : "air.a");
        }
        var s = Stepper.of(b);
        double[] x = {300, 300, 300};
        int steps = 20;
        double h = 0.01 / steps;
        for (int n = 0; n < 3000; n++) {
            s.step();
            if (n % 500 == 0) {
                assertThat(s.tap("T")).isCloseTo(x[0], within(1e-5));
            }
            s.advance();
            for (int k = 0; k < steps; k++) {
                double[] k1 = ladder(x, c, r);
                double[] k2 = ladder(plus(x, k1, h / 2), c, r);
                double[] k3 = ladder(plus(x, k2, h / 2), c, r);
                double[] k4 = ladder(plus(x, k3, h), c, r);
                for (int i = 0; i < 3; i++) {
                    x[i] += h / 6 * (k1[i] + 2 * k2[i] + 2 * k3[i] + k4[i]);
                }
            }
        }
    }

    private static double[] ladder(double[] x, double[] c, double[] r) {
        double q0 = (x[0] - x[1]) / r[0];
        double q1 = (x[1] - x[2]) / r[1];
        double q2 = (x[2] - 300) / r[2];
        return new double[] {(40 - q0) / c[0], (q0 - q1) / c[1], (q1 - q2) / c[2]};
    }

    private static double[] plus(double[] x, double[] d, double h) {
        double[] y = x.clone();
        for (int i = 0; i < y.length; i++) {
            y[i] += h * d[i];
        }
        return y;
    }

    /**
     * A machine without losses on a stiff net, on which a torque is put at once: it swings to where the areas are equal,
     * T δ = Tmax (1 − cos δ), and beyond 0.7246 Tmax it falls out of step.
     */
    @ParameterizedTest
    @CsvSource({"0.3, 0.61957", "0.5, 1.10915", "0.7, 1.92777", "0.76, 0"})
    void aSynchronousMachineSwingsByEqualAreas(double share, double greatest) {
        double w1 = 2 * Math.PI * 50;
        double psi = 0.5;
        double volts = w1 * psi;
        double limit = 1.5 * 4 * psi * volts / (w1 * 10e-3);
        var s = Stepper.of(plant("50 us").block("net", "three-phase source", "V=" + volts, "frequency=50").block("gnd", "ground")
                .block("M", "synchronous machine", "R=0", "Ld=10 mH", "Lq=10 mH", "psi=" + psi, "p=4", "angle0=" + -Math.PI / 4)
                .block("J", "inertia", "J=15", "w0=" + w1 / 4).block("turbine", "torque source", "M=" + share * limit).block("angle", "tap")
                .net("net.n", "gnd.a").net("net.a", "M.a").net("net.b", "M.b").net("net.c", "M.c").net("M.shaft", "J.a", "turbine.a")
                .wire("M.angle", "angle.u"));
        double most = 0;
        for (int n = 0; n < 24_000; n++) {
            s.step();
            most = Math.max(most, 4 * s.tap("angle") + Math.PI - w1 * n * 50e-6);
            s.advance();
        }
        if (greatest == 0) {
            assertThat(most).isGreaterThan(2 * Math.PI);
        } else {
            assertThat(most).isCloseTo(greatest, within(0.02 * greatest));
        }
    }

    /** Integral control over a play never comes to rest; amplitude and period of its cycle, against integration by hand. */
    @Test
    void playAndIntegralControlMakeALimitCycle() {
        var b = plant("200 us").block("motor", "inertia", "J=1e-3").block("load", "inertia", "J=1e-3")
                .block("rub", "rotational damper", "d=5e-3")
                .block("frame", "frame").block("play", "rotational backlash", "play=0.2", "c=50", "d=0.02")
                .block("at", "angle sensor").block("drive", "torque source", "M=0").block("kp", "gain", "k=-0.05")
                .block("ki", "gain", "k=-0.1").block("sum", "sum", "signs=++").block("x", "integrator", "initial=0.2").block("y", "tap")
                .net("drive.a", "motor.a").net("motor.b", "rub.a", "play.a").net("rub.b", "frame.a").net("play.b", "load.a", "at.a")
                .wire("at.angle", "kp.u").wire("at.angle", "x.u").wire("x.y", "ki.u").wire("kp.y", "sum.u1").wire("ki.y", "sum.u2")
                .wire("sum.y", "drive.u").wire("at.angle", "y.u");
        var s = Stepper.of(b);
        double[] mine = new double[5];
        mine[4] = 0.2;
        double[] amplitude = new double[2];
        double[] crossings = new double[2];
        double[] before = new double[2];
        int steps = 300_000;
        for (int n = 0; n < steps; n++) {
            s.step();
            double[] y = {s.tap("y"), mine[2]};
            for (int k = 0; k < 2 && n > steps / 2; k++) {
                amplitude[k] = Math.max(amplitude[k], Math.abs(y[k]));
                crossings[k] += before[k] < 0 && y[k] >= 0 ? 1 : 0;
            }
            before = y;
            s.advance();
            // Twenty small steps of the midpoint method.
            for (int i = 0; i < 20; i++) {
                double[] half = plus(mine, cycle(mine), 5e-6);
                mine = plus(mine, cycle(half), 1e-5);
            }
        }
        assertThat(amplitude[1]).isGreaterThan(0.02);
        assertThat(amplitude[0]).isCloseTo(amplitude[1], within(0.03 * amplitude[1]));
        assertThat(crossings[1]).isGreaterThan(10);
        assertThat(crossings[0]).isCloseTo(crossings[1], within(1.0));
    }

    /** Rates of the angle and speed of the motor, of those of the load, and of the controller's integral. */
    private static double[] cycle(double[] x) {
        double over = x[0] - x[2];
        double beyond = over > 0.1 ? over - 0.1 : over < -0.1 ? over + 0.1 : 0;
        double torque = beyond == 0 ? 0 : 50 * beyond + 0.02 * (x[1] - x[3]);
        torque = beyond > 0 ? Math.max(0, torque) : Math.min(0, torque);
        double drive = -0.05 * x[2] - 0.1 * x[4];
        return new double[] {x[1], (drive - 5e-3 * x[1] - torque) / 1e-3, x[3], torque / 1e-3, x[2]};
    }
}
