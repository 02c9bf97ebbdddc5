package boldanvil.core.network;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Converters against the formulas of textbooks (Erickson and Maksimović, Fundamentals of Power Electronics, 2001). */
class ConvertersTest {
    private static final double PERIOD = 1e-5;

    private static PartBuilder supplied(double volts, double duty, String fidelity) {
        return new PartBuilder("p").plant("1 us", "rk4").block("supply", "voltage source", "V=" + volts).block("gnd", "ground")
                .net("supply.b", "gnd.a").block("d", "constant", "value=" + duty)
                .block("pair", "switch and diode", "frequency=100 kHz", "on resistance=1e-4", "off resistance=1e7", "forward voltage=0",
                        "L=50e-6", "fidelity=" + fidelity).wire("d.y", "pair.duty");
    }

    private static PartBuilder boost(double duty, double ohms, String fidelity) {
        return supplied(12, duty, fidelity).block("L", "inductor", "L=50e-6").block("C", "capacitor", "C=47e-6", "v0=20")
                .block("R", "resistor", "R=" + ohms).block("m", "voltmeter").block("v", "tap").net("supply.a", "L.a")
                .net("L.b", "pair.s1", "pair.anode").net("pair.s2", "gnd.a").net("pair.cathode", "C.a", "R.a", "m.a")
                .net("C.b", "R.b", "m.b", "gnd.a").wire("m.v", "v.u");
    }

    private static PartBuilder sepic(double duty, String fidelity) {
        return supplied(12, duty, fidelity).block("L1", "inductor", "L=100e-6", "R=1e-3")
                .block("Cs", "capacitor", "C=10e-6", "v0=12", "ESR=0.05")
                .block("L2", "inductor", "L=100e-6", "R=1e-3").block("C", "capacitor", "C=100e-6", "v0=8").block("R", "resistor", "R=8")
                .block("m", "voltmeter").block("v", "tap").net("supply.a", "L1.a").net("L1.b", "pair.s1", "Cs.a").net("pair.s2", "gnd.a")
                .net("Cs.b", "L2.a", "pair.anode").net("pair.cathode", "C.a", "R.a", "m.a").net("L2.b", "C.b", "R.b", "m.b", "gnd.a")
                .wire("m.v", "v.u");
    }

    /** Mean, least and greatest value over whole periods. */
    private static double[] over(Stepper s, int periods) {
        double sum = 0;
        double least = Double.MAX_VALUE;
        double greatest = -Double.MAX_VALUE;
        for (int n = 0; n < 10 * periods; n++) {
            double v = s.step().tap("v");
            sum += v;
            least = Math.min(least, v);
            greatest = Math.max(greatest, v);
            s.advance();
        }
        return new double[] {sum / (10 * periods), least, greatest};
    }

    /** In continuous conduction V / (1 − D), beyond the boundary K = D (1 − D)² the formula of discontinuous conduction. */
    @ParameterizedTest
    @CsvSource({"0.4, 10", "0.4, 60", "0.4, 80", "0.4, 300", "0.6, 25", "0.6, 200"})
    void aBoostConverterInBothModes(double d, double ohms) {
        double k = 2 * 50e-6 / (ohms * PERIOD);
        double ratio = k > d * (1 - d) * (1 - d) ? 1 / (1 - d) : (1 + Math.sqrt(1 + 4 * d * d / k)) / 2;
        for (String fidelity : new String[] {"switching", "averaged"}) {
            var s = Stepper.of(boost(d, ohms, fidelity));
            s.ticks(200_000);
            assertThat(over(s, 100)[0]).as(fidelity).isCloseTo(12 * ratio, within(0.005 * 12 * ratio));
        }
    }

    @ParameterizedTest
    @CsvSource({"0.3", "0.4", "0.5"})
    void aSepicHasItsRatioAndRipple(double d) {
        var s = Stepper.of(sepic(d, "switching"));
        s.ticks(400_000);
        double[] v = over(s, 50);
        double expected = 12 * d / (1 - d);
        assertThat(v[0]).isCloseTo(expected, within(0.02 * expected));
        // While the switch is on, the capacitor alone carries the load.
        double ripple = v[0] / 8 * d * PERIOD / 100e-6;
        assertThat(v[2] - v[1]).isCloseTo(ripple, within(0.08 * ripple));
        var averaged = Stepper.of(sepic(d, "averaged"));
        averaged.ticks(400_000);
        assertThat(over(averaged, 50)[0]).isCloseTo(v[0], within(0.01 * expected));
    }

    /** The boost converter's mean follows the duty at a step of 10 µs too, a whole period, since edges come at their instants. */
    @Test
    void edgesComeBetweenLongSteps() {
        var s = Stepper.of(new PartBuilder("p").plant("10 us", "rk4").block("supply", "voltage source", "V=10").block("gnd", "ground")
                .net("supply.b", "gnd.a").block("d", "constant", "value=0.3217")
                .block("leg", "half bridge", "frequency=20 kHz", "dead time=0",
                        "forward voltage=0", "fidelity=switching").wire("d.y", "leg.duty").block("L", "inductor", "L=1 mH")
                .block("C", "capacitor", "C=100e-6", "ESR=1").block("R", "resistor", "R=5").block("m", "voltmeter").block("v", "tap")
                .net("supply.a", "leg.plus").net("leg.minus", "gnd.a").net("leg.out", "L.a").net("L.b", "C.a", "R.a", "m.a")
                .net("C.b", "R.b", "m.b", "gnd.a").wire("m.v", "v.u"));
        s.ticks(20_000);
        assertThat(over(s, 50)[0]).isCloseTo(10 * 0.3217 * 5 / 5.01, within(3e-3));
    }

    /** A three-level bridge gives its mean against the middle, of either sign. */
    @ParameterizedTest
    @CsvSource({"0.37, switching", "-0.61, switching", "0.37, averaged", "-0.61, averaged"})
    void aThreeLevelBridgeGivesBothSigns(double m, String fidelity) {
        var s = Stepper.of(new PartBuilder("p").plant("1 us", "rk4").block("up", "voltage source", "V=100")
                .block("down", "voltage source", "V=100")
                .block("gnd", "ground").net("up.b", "down.a", "gnd.a").block("bridge", "three-level bridge", "frequency=10 kHz",
                "fidelity=" + fidelity)
                .net("up.a", "bridge.plus").net("down.b", "bridge.minus").net("bridge.mid", "gnd.a").block("m", "constant", "value=" + m)
                .block("zero", "constant", "value=0").wire("m.y", "bridge.m a").wire("zero.y", "bridge.m b").wire("zero.y", "bridge.m c")
                .block("L", "inductor", "L=10 mH").block("R", "resistor", "R=20").block("Rb", "resistor", "R=20")
                .block("Rc", "resistor", "R=20")
                .block("meter", "voltmeter").block("v", "tap").net("bridge.a", "L.a").net("L.b", "R.a", "meter.a").net("bridge.b", "Rb.a")
                .net("bridge.c", "Rc.a").net("R.b", "Rb.b", "Rc.b", "meter.b", "gnd.a").wire("meter.v", "v.u"));
        s.ticks(20_000);
        assertThat(over(s, 100)[0]).isCloseTo(100 * m, within(0.15));
    }

    /** Halving the step divides the error of the functions by four: the angle of a pendulum after a second. */
    @Test
    void functionsAreOfSecondOrder() {
        double[] angles = new double[4];
        for (int k = 0; k < 4; k++) {
            int n = 200 << k;
            var s = Stepper.of(new PartBuilder("p").plant(1.0 / n + " s", "rk4").block("load", "eccentric load", "angle0=1.5")
                    .block("a", "tap").wire("load.angle", "a.u"));
            s.ticks(n).step();
            angles[k] = s.tap("a");
        }
        assertThat((angles[0] - angles[1]) / (angles[1] - angles[2])).isBetween(3.8, 4.2);
        assertThat((angles[1] - angles[2]) / (angles[2] - angles[3])).isBetween(3.8, 4.2);
    }
}
