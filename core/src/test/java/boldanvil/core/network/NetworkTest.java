package boldanvil.core.network;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.finding.Finding;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Networks against closed forms. */
class NetworkTest {
    private static PartBuilder plant(String step) {
        return new PartBuilder("p").plant(step, "rk4");
    }

    /** A voltage source from the ground, whose contact a is the supply. */
    private static PartBuilder supplied(String step, String volts) {
        return plant(step).block("supply", "voltage source", "V=" + volts).block("gnd", "ground").net("supply.b", "gnd.a");
    }

    private static List<Finding> findings(PartBuilder b) {
        return b.lower().findings();
    }

    @Test
    void aSeriesCircuitRingsAsItsEquationSays() {
        var s = Stepper.of(supplied("1 us", "10").block("R", "resistor", "R=20").block("L", "inductor", "L=1 mH")
                .block("C", "capacitor", "C=1 uF")
                .block("meter", "voltmeter").block("v", "tap").net("supply.a", "R.a").net("R.b", "L.a").net("L.b", "C.a", "meter.a")
                .net("C.b", "gnd.a", "meter.b").wire("meter.v", "v.u"));
        double a = 20 / 2e-3;
        double w = Math.sqrt(1e9 - a * a);
        for (int n = 0; n <= 300; n++) {
            s.step();
            double t = n * 1e-6;
            assertThat(s.tap("v")).isCloseTo(10 * (1 - Math.exp(-a * t) * (Math.cos(w * t) + a / w * Math.sin(w * t))), within(1e-6));
            s.advance();
        }
    }

    @Test
    void aDividerHasNoStateAndFollowsAtOnce() {
        var s = Stepper.of(supplied("1 ms", "0").block("u", "tunable", "value=9").wire("u.y", "supply.u")
                .block("R1", "resistor", "R=2 kohm")
                .block("R2", "resistor", "R=1 kohm").block("meter", "ammeter").block("m", "voltmeter").block("v", "tap").block("i", "tap")
                .net("supply.a", "meter.a").net("meter.b", "R1.a").net("R1.b", "R2.a", "m.a").net("R2.b", "m.b", "gnd.a")
                .wire("m.v", "v.u").wire("meter.i", "i.u"));
        assertThat(s.step().tap("v")).isCloseTo(3, within(1e-12));
        assertThat(s.tap("i")).isCloseTo(3e-3, within(1e-15));
        assertThat(s.tune("u", 18).ticks(1).step().tap("v")).isCloseTo(6, within(1e-12));
    }

    /** Two capacitors in parallel are one; three inductors at a net share two currents. */
    @Test
    void dependentStatesAreFoundAndReduced() {
        var s = Stepper.of(supplied("1 us", "5").block("R", "resistor", "R=10").block("C1", "capacitor", "C=1 uF")
                .block("C2", "capacitor", "C=3 uF").block("m", "voltmeter").block("v", "tap").net("supply.a", "R.a")
                .net("R.b", "C1.a", "C2.a", "m.a").net("C1.b", "C2.b", "m.b", "gnd.a").wire("m.v", "v.u"));
        s.ticks(50).step();
        assertThat(s.tap("v")).isCloseTo(5 * (1 - Math.exp(-50e-6 / 40e-6)), within(1e-8));
        var t = Stepper.of(supplied("1 us", "5").block("L1", "inductor", "L=1 mH").block("L2", "inductor", "L=2 mH")
                .block("L3", "inductor", "L=2 mH").block("R2", "resistor", "R=10").block("R3", "resistor", "R=10").block("m", "ammeter")
                .block("i", "tap").net("supply.a", "m.a").net("m.b", "L1.a").net("L1.b", "L2.a", "L3.a").net("L2.b", "R2.a")
                .net("L3.b", "R3.a")
                .net("R2.b", "R3.b", "gnd.a").wire("m.i", "i.u"));
        t.ticks(200).step();
        assertThat(t.tap("i")).isCloseTo(1 - Math.exp(-200e-6 * 5 / 2e-3), within(1e-8));
    }

    @Test
    void aMachineRunsUpToTheSpeedOfItsEquations() {
        var s = Stepper.of(supplied("10 us", "12").block("M", "dc machine", "R=0.6", "L=0.9 mH", "k=0.042")
                .block("J", "inertia", "J=2.2e-5")
                .block("d", "rotational damper", "d=1e-4").block("frame", "frame").block("speed", "speed sensor").block("w", "tap")
                .net("supply.a", "M.a").net("M.b", "gnd.a").net("M.shaft", "J.a", "speed.a").net("J.b", "d.a").net("d.b", "frame.a")
                .wire("speed.w", "w.u"));
        s.ticks(100_000).step();
        double end = 12 * 0.042 / (0.042 * 0.042 + 0.6 * 1e-4);
        assertThat(s.tap("w")).isCloseTo(end, within(1e-6 * end));
    }

    @Test
    void aTransformerAndAGearScaleWithoutLoss() {
        var s = Stepper.of(supplied("1 ms", "24").block("T", "ideal transformer", "n=4").block("R", "resistor", "R=3")
                .block("m", "voltmeter")
                .block("a", "ammeter").block("gnd2", "ground").block("v", "tap").block("i", "tap")
                .net("supply.a", "a.a").net("a.b", "T.a1").net("T.b1", "gnd.a").net("T.a2", "R.a", "m.a")
                .net("R.b", "T.b2", "m.b", "gnd2.a")
                .wire("m.v", "v.u").wire("a.i", "i.u"));
        assertThat(s.step().tap("v")).isCloseTo(6, within(1e-12));
        assertThat(s.tap("i")).isCloseTo(0.5, within(1e-12));
    }

    @Test
    void twoMassesOnASpringSwingAtTheirFrequency() {
        var s = Stepper.of(plant("10 us").block("J1", "inertia", "J=2e-3", "w0=1").block("c", "rotational spring", "c=50")
                .block("J2", "inertia", "J=1e-3").block("s", "speed sensor").block("w", "tap").net("J1.b", "c.a").net("c.b", "J2.a", "s.a")
                .wire("s.w", "w.u"));
        double omega = Math.sqrt(50 * (1 / 2e-3 + 1 / 1e-3));
        for (int n = 0; n < 3_000; n++) {
            s.step();
            assertThat(s.tap("w")).isCloseTo(2.0 / 3 * (1 - Math.cos(omega * n * 1e-5)), within(1e-6));
            s.advance();
        }
    }

    @Test
    void aTankEmptiesThroughAResistance() {
        var s = Stepper.of(plant("10 ms").block("tank", "tank", "area=0.5", "level0=2").block("R", "laminar resistance", "R=4e6")
                .block("air", "open air").block("h", "tap").net("tank.a", "R.a").net("R.b", "air.a").wire("tank.level", "h.u"));
        s.ticks(10_000).step();
        assertThat(s.tap("h")).isCloseTo(2 * Math.exp(-100 * 1000 * 9.80665 / (4e6 * 0.5)), within(1e-9));
    }

    @Test
    void aDiodeRectifiesAndABridgeFollowsBothHalves() {
        var b = supplied("10 us", "0").block("ac", "sine", "amplitude=20", "frequency=50 Hz").wire("ac.y", "supply.u");
        for (int i = 1; i <= 4; i++) {
            b.block("D" + i, "diode", "forward voltage=0 V", "on resistance=1 mohm", "off resistance=100 Mohm");
        }
        var s = Stepper.of(b.block("R", "resistor", "R=10").block("m", "voltmeter").block("v", "tap").block("u", "tap")
                .net("supply.a", "D1.a", "D2.b").net("supply.b", "D3.a", "D4.b").net("D1.b", "D3.b", "R.a", "m.a")
                .net("D2.a", "D4.a", "R.b", "m.b").wire("m.v", "v.u").wire("ac.y", "u.u"));
        double sum = 0;
        for (int n = 0; n < 4_000; n++) {
            s.step();
            assertThat(s.tap("v")).isCloseTo(Math.abs(s.tap("u")), within(0.2));
            sum += s.tap("v");
            s.advance();
        }
        assertThat(sum / 4_000).isCloseTo(2 / Math.PI * 20, within(0.02));
    }

    @Test
    void aSubsystemHasNetworkPorts() {
        var s = Stepper.of(supplied("1 ms", "6").block("load", "subsystem", "sheet=inner").block("a", "ammeter").block("i", "tap")
                .net("supply.a", "a.a").net("a.b", "load.plus").net("load.minus", "gnd.a").wire("a.i", "i.u")
                .sheet("inner").block("plus", "network port").block("minus", "network port").block("R1", "resistor", "R=1")
                .block("R2", "resistor", "R=2").net("plus.a", "R1.a").net("R1.b", "R2.a").net("R2.b", "minus.a"));
        assertThat(s.step().tap("i")).isCloseTo(2, within(1e-12));
    }

    @Test
    void whatCannotBeSolvedIsNamed() {
        assertThat(findings(plant("1 ms").block("V", "voltage source").block("R", "resistor").net("V.a", "R.a").net("V.b", "R.b")))
                .singleElement().satisfies(f -> assertThat(f.cause()).isEqualTo("No reference holds the potential of 'V', 'R'."));
        assertThat(findings(supplied("1 ms", "5").block("other", "voltage source", "V=6").net("supply.a", "other.a")
                .net("other.b", "gnd.a")))
                .singleElement().satisfies(f -> assertThat(f.cause()).contains("fix the same quantity").contains("'supply'", "'other'"));
        assertThat(findings(supplied("1 ms", "5").block("I", "current source").block("I2", "current source").net("I.a", "I2.a")
                .net("I.b", "I2.b", "gnd.a").block("R", "resistor").net("supply.a", "R.a").net("R.b", "gnd.a")))
                .singleElement().satisfies(f -> assertThat(f.cause()).contains("'I'", "'I2'"));
        assertThat(findings(supplied("1 ms", "5").block("u", "tunable").wire("u.y", "supply.u").block("C", "capacitor")
                .net("supply.a", "C.a").net("C.b", "gnd.a"))).singleElement()
                .satisfies(f -> assertThat(f.cause()).contains("sets what 'C' stores").contains("supply"));
        assertThat(findings(supplied("1 ms", "5").block("J", "inertia").net("supply.a", "J.a"))).singleElement()
                .satisfies(f -> assertThat(f.cause()).contains("rotational").contains("electrical"));
        assertThat(findings(supplied("1 ms", "5").block("R", "resistor", "R=-1").net("supply.a", "R.a").net("R.b", "gnd.a")))
                .singleElement().satisfies(f -> assertThat(f.cause()).contains("outside"));
    }

    /** A buck stage: duty at 'd', voltage and current of the load at 'v', current of the choke at 'i'. */
    private static PartBuilder buck(double choke, double load) {
        return supplied("1 us", "24").block("t", "pulse", "period=20 us", "share=0.4").block("half", "constant", "value=0.5")
                .block("on", "compare", "relation=>").wire("t.y", "on.a").wire("half.y", "on.b").block("Q", "circuit switch",
                "on resistance=1e-6", "off resistance=100 Mohm").wire("on.y", "Q.on")
                .block("D", "diode", "forward voltage=0 V", "on resistance=1e-6", "off resistance=100 Mohm")
                .block("L", "inductor", "L=" + choke).block("C", "capacitor", "C=200 uF").block("R", "resistor", "R=" + load)
                .block("a", "ammeter").block("m", "voltmeter").block("v", "tap").block("i", "tap").wire("m.v", "v.u").wire("a.i", "i.u")
                .net("supply.a", "Q.a").net("Q.b", "D.b", "a.a").net("a.b", "L.a").net("L.b", "C.a", "R.a", "m.a")
                .net("C.b", "R.b", "m.b", "D.a", "gnd.a");
    }

    /** Erickson and Maksimović, Fundamentals of Power Electronics, 2001, chapters 2 and 5. */
    @Test
    void aBuckStageHasTheVoltageAndRippleOfItsConductionMode() {
        var steady = Stepper.of(buck(100e-6, 5));
        steady.ticks(40_000);
        double least = Double.POSITIVE_INFINITY;
        double most = 0;
        double sum = 0;
        for (int n = 0; n < 20; n++) {
            steady.step();
            least = Math.min(least, steady.tap("i"));
            most = Math.max(most, steady.tap("i"));
            sum += steady.tap("v") / 20;
            steady.advance();
        }
        assertThat(sum).isCloseTo(0.4 * 24, within(1e-3));
        assertThat(most - least).isCloseTo((24 - 9.6) * 0.4 * 20e-6 / 100e-6, within(2e-3));
        // Below the boundary the current rests at zero for a part of each period.
        double k = 2 * 100e-6 / (100 * 20e-6);
        var light = Stepper.of(buck(100e-6, 100));
        light.ticks(600_000);
        double mean = 0;
        double lowest = 0;
        for (int n = 0; n < 20; n++) {
            light.step();
            mean += light.tap("v") / 20;
            lowest = Math.min(lowest, light.tap("i"));
            light.advance();
        }
        assertThat(k).isLessThan(1 - 0.4);
        assertThat(mean).isCloseTo(24 * 2 / (1 + Math.sqrt(1 + 4 * k / (0.4 * 0.4))), within(5e-3));
        assertThat(lowest).isGreaterThan(-1e-4);
    }

    @Test
    void sixDiodesHaveTheMeanOfAThreePhaseRectifier() {
        var b = plant("10 us").block("gnd", "ground");
        for (int i = 0; i < 3; i++) {
            b.block("u" + i, "sine", "amplitude=100", "frequency=50 Hz", "phase=" + (-2 * Math.PI / 3 * i) + " rad")
                    .block("V" + i, "voltage source", "V=0").wire("u" + i + ".y", "V" + i + ".u").net("V" + i + ".b", "gnd.a")
                    .block("T" + i, "diode", "forward voltage=0 V", "on resistance=1 mohm", "off resistance=10 Mohm")
                    .block("B" + i, "diode", "forward voltage=0 V", "on resistance=1 mohm", "off resistance=10 Mohm")
                    .net("V" + i + ".a", "T" + i + ".a").net("V" + i + ".a", "B" + i + ".b");
        }
        var s = Stepper.of(b.block("R", "resistor", "R=20").block("m", "voltmeter").block("v", "tap").wire("m.v", "v.u")
                .net("T0.b", "T1.b", "T2.b", "R.a", "m.a").net("B0.a", "B1.a", "B2.a", "R.b", "m.b"));
        double sum = 0;
        for (int n = 0; n < 2_000; n++) {
            sum += s.step().tap("v") / 2_000;
            s.advance();
        }
        assertThat(sum).isCloseTo(3 * Math.sqrt(3) / Math.PI * 100, within(0.05));
    }

    /** A long ladder against Euler steps a hundred times as short, written out here. */
    @Test
    void aLongLadderIsLeftToTheSolverOfThePart() {
        int nodes = 120;
        var b = supplied("10 us", "10");
        String at = "supply.a";
        for (int i = 0; i < nodes; i++) {
            b.block("R" + i, "resistor", "R=10").block("C" + i, "capacitor", "C=10 uF").net(at, "R" + i + ".a")
                    .net("R" + i + ".b", "C" + i + ".a").net("C" + i + ".b", "gnd.a");
            at = "R" + i + ".b";
        }
        var s = Stepper.of(b.block("m", "voltmeter").block("v", "tap").wire("m.v", "v.u").net("R4.b", "m.a").net("m.b", "gnd.a"));
        double[] v = new double[nodes];
        double[] next = new double[nodes];
        for (int n = 0; n < 100_000; n++) {
            for (int i = 0; i < nodes; i++) {
                double left = i == 0 ? 10 : v[i - 1];
                double right = i == nodes - 1 ? v[i] : v[i + 1];
                next[i] = v[i] + 1e-7 * (left - 2 * v[i] + right) / (10 * 10e-6);
            }
            System.arraycopy(next, 0, v, 0, nodes);
        }
        assertThat(s.ticks(1_000).step().tap("v")).isCloseTo(v[4], within(1e-3));
    }

    /** A half bridge of 20 kHz on 24 V, with a coil and a resistor of 10 Ω at its output. */
    private static Stepper bridge(String step, String dead, String coil) {
        return Stepper.of(supplied(step, "24").block("d", "tunable", "value=0").block("B", "half bridge", "dead time=" + dead,
                "on resistance=1e-6", "off resistance=100 Mohm", "forward voltage=0.8 V").wire("d.y", "B.duty")
                .block("L", "inductor", "L=" + coil).block("R", "resistor", "R=10").block("a", "ammeter").block("i", "tap")
                .wire("a.i", "i.u").net("supply.a", "B.plus").net("B.minus", "gnd.a", "R.b").net("B.out", "L.a").net("L.b", "a.a")
                .net("a.b", "R.a"));
    }

    private static double mean(Stepper s, int ticks) {
        double sum = 0;
        for (int n = 0; n < ticks; n++) {
            sum += s.step().tap("i") / ticks;
            s.advance();
        }
        return sum;
    }

    @Test
    void edgesBetweenStepsGiveEveryDutyItsMean() {
        var s = bridge("1 us", "0", "2 mH");
        double before = -1;
        for (int n = 0; n < 1_000; n++) {
            double duty = (n + 0.5) / 1_000;
            s.tune("d", duty).ticks(2_000);
            double mean = mean(s, 50);
            assertThat(mean).isGreaterThan(before);
            // 10 ns of 50 µs.
            assertThat(mean).as("duty %s", duty).isCloseTo(2.4 * duty, within(2.4 * 10e-9 / 50e-6));
            before = mean;
        }
    }

    /** The current flows out of the bridge, so that during the dead time the lower diode carries it: the upper switch comes later. */
    @Test
    void deadTimeTakesItsShareOfTheVoltage() {
        var s = bridge("1 us", "1 us", "2 mH");
        s.tune("d", 0.6).ticks(4_000);
        double duty = 0.6 - 1e-6 / 50e-6;
        double expected = (24 * duty - 0.8 * 2 * 1e-6 / 50e-6) / 10;
        assertThat(mean(s, 50)).isCloseTo(expected, within(2.4 * 10e-9 / 50e-6));
    }

    @Test
    void theStepDoesNotChangeTheResult() {
        var fine = bridge("1 us", "500 ns", "2 mH");
        var coarse = bridge("10 us", "500 ns", "2 mH");
        fine.tune("d", 0.337).ticks(2_000);
        coarse.tune("d", 0.337).ticks(200);
        assertThat(coarse.step().tap("i")).isCloseTo(fine.step().tap("i"), within(2e-4));
    }

    /**
     * A line of 150 stages, whose equations are solved as sparse ones and whose states the part's solver takes: against the same by hand.
     */
    @Test
    void aLongLineIsSolvedAsSparseEquations() {
        int n = 150;
        var b = supplied("2 us", "10");
        String at = "supply.a";
        for (int i = 0; i < n; i++) {
            b.block("R" + i, "resistor", "R=10").block("C" + i, "capacitor", "C=1 uF").net(at, "R" + i + ".a")
                    .net("R" + i + ".b", "C" + i + ".a").net("C" + i + ".b", "gnd.a");
            at = "R" + i + ".b";
        }
        var s = Stepper.of(b.block("m", "voltmeter").block("v", "tap").net("C4.a", "m.a").net("m.b", "gnd.a").wire("m.v", "v.u"));
        double[] v = new double[n];
        double h = 2e-6;
        for (int k = 0; k < 400; k++) {
            double[] k1 = line(v);
            double[] k2 = line(moved(v, k1, h / 2));
            double[] k3 = line(moved(v, k2, h / 2));
            double[] k4 = line(moved(v, k3, h));
            for (int i = 0; i < n; i++) {
                v[i] += h / 6 * (k1[i] + 2 * k2[i] + 2 * k3[i] + k4[i]);
            }
        }
        s.ticks(400).step();
        assertThat(v[4]).isGreaterThan(1);
        assertThat(s.tap("v")).isCloseTo(v[4], within(1e-9));
    }

    private static double[] line(double[] v) {
        double[] d = new double[v.length];
        for (int i = 0; i < v.length; i++) {
            double before = i == 0 ? 10 : v[i - 1];
            double after = i + 1 < v.length ? v[i + 1] : v[i];
            d[i] = (before - 2 * v[i] + after) / 10 / 1e-6;
        }
        return d;
    }

    private static double[] moved(double[] v, double[] d, double h) {
        double[] x = v.clone();
        for (int i = 0; i < x.length; i++) {
            x[i] += h * d[i];
        }
        return x;
    }
}
