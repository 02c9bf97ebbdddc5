package boldanvil.core.network;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import org.junit.jupiter.api.Test;

/** Elements that are not linear, or switch by themselves, against closed forms and integration by hand. */
class ElementsTest {
    private static PartBuilder plant(String step) {
        return new PartBuilder("p").plant(step, "rk4");
    }

    private static PartBuilder supplied(String step, String volts) {
        return plant(step).block("supply", "voltage source", "V=" + volts).block("gnd", "ground").net("supply.b", "gnd.a");
    }

    /** Torricelli: the root of the level falls evenly. */
    @Test
    void aTankEmptiesThroughAnOrifice() {
        var s = Stepper.of(plant("10 ms").block("tank", "tank", "area=0.5", "level0=2").block("hole", "orifice", "area=1e-3")
                .block("air", "open air").block("h", "tap").net("tank.a", "hole.a").net("hole.b", "air.a").wire("tank.level", "h.u"));
        double slope = 0.62 * 1e-3 * Math.sqrt(2 * 9.80665) / (2 * 0.5);
        for (int n = 0; n < 40_000; n += 1000) {
            s.step();
            double root = Math.sqrt(2) - slope * n * 0.01;
            assertThat(s.tap("h")).isCloseTo(root * root, within(2e-6));
            s.advance();
            s.ticks(999);
        }
    }

    /** The panel's current at a resistor, by bisection of its equation. */
    @Test
    void aSolarPanelFeedsAResistor() {
        double a = 1.3 * 36 * 1.380649e-23 / 1.602176634e-19 * 298.15;
        double i0 = (1.2 - 21.6 / 400) / Math.expm1(21.6 / a);
        for (double load : new double[] {0.1, 5, 14, 18, 60, 1000}) {
            var s = Stepper.of(plant("1 ms").block("panel", "solar panel").block("gnd", "ground").block("R", "resistor", "R=" + load)
                    .block("m", "ammeter").block("i", "tap").net("panel.a", "m.a").net("m.b", "R.a").net("R.b", "panel.b", "gnd.a")
                    .wire("m.i", "i.u"));
            double low = 0;
            double high = 1.2;
            for (int k = 0; k < 100; k++) {
                double i = (low + high) / 2;
                double z = i * (load + 0.3);
                boolean less = i < 1.2 - i0 * Math.expm1(z / a) - z / 400;
                low = less ? i : low;
                high = less ? high : i;
            }
            assertThat(s.step().tap("i")).isCloseTo(low, within(1e-9));
        }
    }

    @Test
    void aBatteryGivesItsChargeAlongItsCurve() {
        var s = Stepper.of(plant("1 s").block("cell", "battery", "capacity=3600", "charge0=0.5", "charges=[0, 0.5, 1]",
                "voltages=[10, 12, 13]",
                        "R=0.1", "R1=0.2", "C1=500").block("gnd", "ground").block("load", "current source", "I=-1").block("m", "voltmeter")
                .block("v", "tap").block("q", "tap").net("cell.a", "load.a", "m.a").net("cell.b", "load.b", "m.b", "gnd.a")
                .wire("m.v", "v.u").wire("cell.charge", "q.u"));
        s.ticks(360).step();
        assertThat(s.tap("q")).isCloseTo(0.4, within(1e-12));
        assertThat(s.tap("v")).isCloseTo(11.6 - 0.1 - 0.2 * (1 - Math.exp(-360 / 100.0)), within(1e-9));
    }

    @Test
    void anAlternatingSourceTurnsWithoutError() {
        var s = Stepper.of(plant("1 ms").block("net", "three-phase source", "V=325", "frequency=50").block("gnd", "ground")
                .block("m", "voltmeter").block("v", "tap").net("net.n", "gnd.a").net("net.b", "m.a").net("m.b", "net.c")
                .wire("m.v", "v.u"));
        s.ticks(12_345).step();
        double t = 12.345;
        double w = 2 * Math.PI * 50;
        assertThat(s.tap("v")).isCloseTo(325 * (Math.sin(w * t - 2 * Math.PI / 3) - Math.sin(w * t - 4 * Math.PI / 3)), within(1e-6));
    }

    /** A coil that saturates takes the current its flux needs. */
    @Test
    void aCoilSaturates() {
        var s = Stepper.of(supplied("1 us", "10").block("L", "saturable inductor", "L=1 mH", "Ls=0.1 mH", "Is=2", "R=0")
                .block("m", "ammeter").block("i", "tap").net("supply.a", "m.a").net("m.b", "L.a").net("L.b", "gnd.a").wire("m.i", "i.u"));
        s.ticks(100).step();
        assertThat(s.tap("i")).isCloseTo(1, within(0.03));
        s.ticks(300).step();
        assertThat(s.tap("i")).isCloseTo(2 + (4e-3 - 2e-3) / 1e-4, within(0.03));
    }

    /** Single pulse: fired at 60°, off when the current has gone. */
    @Test
    void aThyristorWaitsForItsGate() {
        var s = Stepper.of(plant("10 us").block("net", "ac source", "V=100", "frequency=50").block("gnd", "ground")
                .block("T", "thyristor", "forward voltage=0", "on resistance=1e-6", "off resistance=1e9", "holding current=0.01")
                .block("R", "resistor", "R=10").block("fire", "pulse", "period=20 ms", "share=0.05", "delay=3.333333 ms")
                .block("on", "threshold", "relation=>", "value=0.5").block("m", "ammeter").block("i", "tap").net("net.a", "m.a")
                .net("m.b", "T.a")
                .net("T.b", "R.a").net("R.b", "net.b", "gnd.a").wire("fire.y", "on.u").wire("on.y", "T.gate").wire("m.i", "i.u"));
        double sum = 0;
        for (int n = 0; n < 2000; n++) {
            sum += s.step().tap("i");
            s.advance();
        }
        assertThat(sum / 2000).isCloseTo(100 / 10.0 * (1 + Math.cos(Math.PI / 3)) / (2 * Math.PI), within(0.01));
        assertThat(s.step().tap("i")).isCloseTo(0, within(1e-6));
    }

    /** A block on a belt of sine force: it stands while the force is small, and stays exactly where it is. */
    @Test
    void frictionHoldsUntilItBreaksAway() {
        var s = Stepper.of(plant("1 ms").block("m", "mass", "m=2").block("f", "line friction", "sliding=10", "static=12",
                        "Stribeck speed=1e-5").block("ground", "fixed point").block("push", "force source")
                        .block("force", "ramp", "at=0", "slope=4")
                .block("x", "position sensor").block("pos", "tap").net("push.a", "m.a").net("m.b", "f.a", "x.a").net("f.b", "ground.a")
                .wire("force.y", "push.u").wire("x.x", "pos.u"));
        s.ticks(2990).step();
        assertThat(s.tap("pos")).isEqualTo(0);
        s.advance();
        s.ticks(1009).step();
        // Breaks away at 12 N after 3 s; then m dv/dt = 4 t − 10, all but at once.
        assertThat(s.tap("pos")).isCloseTo((4.0 / 6 + 2.0 / 2) / 2, within(0.01));
    }

    /** Friction brings a mass to rest after a known way, and there it stays. */
    @Test
    void frictionEndsAtTrueStandstill() {
        var s = Stepper.of(plant("1 ms").block("m", "mass", "m=2", "v0=3").block("f", "line friction", "sliding=10", "static=10")
                .block("ground", "fixed point").block("x", "position sensor").block("speed", "line speed sensor").block("pos", "tap")
                .block("v", "tap").net("m.b", "f.a", "x.a", "speed.a").net("f.b", "ground.a").wire("x.x", "pos.u").wire("speed.v", "v.u"));
        s.ticks(700).step();
        assertThat(s.tap("pos")).isCloseTo(2 * 9 / (2 * 10.0), within(1e-6));
        double rest = s.tap("pos");
        s.advance();
        s.ticks(5000).step();
        assertThat(s.tap("pos")).isEqualTo(rest);
        assertThat(s.tap("v")).isCloseTo(0, within(1e-30));
    }

    /** A shaft drags another one over its play: they meet after the time the play takes, and the momentum is kept. */
    @Test
    void playIsPassedBeforeItDrives() {
        var s = Stepper.of(plant("100 us").block("J1", "inertia", "J=0.01", "w0=2").block("J2", "inertia", "J=0.03")
                .block("play", "rotational backlash", "play=0.02", "c=200", "d=0").block("s1", "speed sensor").block("s2", "speed sensor")
                .block("w1", "tap").block("w2", "tap").net("J1.b", "play.a", "s1.a").net("play.b", "J2.a", "s2.a").wire("s1.w", "w1.u")
                .wire("s2.w", "w2.u"));
        s.ticks(49).step();
        assertThat(s.tap("w2")).isCloseTo(0, within(1e-18));
        s.advance();
        s.ticks(2000).step();
        assertThat(0.01 * s.tap("w1") + 0.03 * s.tap("w2")).isCloseTo(0.02, within(1e-9));
        // Elastic: after the impact the speeds are those of a central elastic collision.
        assertThat(s.tap("w2")).isCloseTo(2 * 0.01 * 2 / 0.04, within(1e-4));
    }

    /** Large swings of a pendulum: the period by the complete elliptic integral, through the arithmetic-geometric mean. */
    @Test
    void anEccentricLoadSwingsAsAPendulum() {
        var s = Stepper.of(plant("1 ms").block("load", "eccentric load", "m=0.5", "r=0.1", "angle0=2").block("a", "tap")
                .wire("load.angle", "a.u"));
        double x = 1;
        double y = Math.cos(1);
        for (int k = 0; k < 20; k++) {
            double mean = (x + y) / 2;
            y = Math.sqrt(x * y);
            x = mean;
        }
        double period = 2 * Math.PI * Math.sqrt(0.1 / 9.80665) / x;
        int crossings = 0;
        double before = s.step().tap("a");
        double last = 0;
        for (int n = 1; crossings < 21; n++) {
            s.advance();
            double now = s.step().tap("a");
            if (before > 0 != now > 0) {
                crossings++;
                last = n - now / (now - before);
            }
            before = now;
        }
        assertThat(last * 1e-3).isCloseTo(period * (20 / 2.0 + 0.25), within(1e-3));
    }

    /** Torque of a machine held at a speed: from the equations of its steady state. */
    @Test
    void anInductionMachineHasItsTorqueOverSlip() {
        double w1 = 2 * Math.PI * 50;
        for (double slip : new double[] {1, 0.3, 0.1, 0.05, 0.02, -0.05}) {
            var s = Stepper.of(plant("20 us").block("net", "three-phase source", "V=325", "frequency=50").block("gnd", "ground")
                    .block("M", "induction machine").block("hold", "speed source").block("torque", "tap").net("net.n", "gnd.a")
                    .net("net.a", "M.a")
                    .net("net.b", "M.b").net("net.c", "M.c").net("M.shaft", "hold.a")
                    .block("w", "constant", "value=" + w1 * (1 - slip) / 2).wire("w.y", "hold.u").wire("M.torque", "torque.u"));
            s.ticks(100_000).step();
            double xs = w1 * (0.086 - 0.082);
            double xm = w1 * 0.082;
            double rr = 0.9 / slip;
            // Thévenin voltage and impedance at the rotor.
            double[] zs = {1.2, xs};
            double[] sum = {1.2, xs + xm};
            double n = sum[0] * sum[0] + sum[1] * sum[1];
            double[] ratio = {xm * sum[1] / n, xm * sum[0] / n};
            double vth = 325 * Math.hypot(ratio[0], ratio[1]);
            double rth = ratio[0] * zs[0] - ratio[1] * zs[1];
            double xth = ratio[0] * zs[1] + ratio[1] * zs[0];
            double i2 = vth * vth / ((rth + rr) * (rth + rr) + (xth + xs) * (xth + xs));
            double expected = 1.5 * i2 * rr / (w1 / 2);
            assertThat(s.tap("torque")).isCloseTo(expected, within(2e-3 * Math.abs(expected)));
        }
    }

    /** Salient machine on a stiff net at synchronous speed, by the steady state of its equations in rotor axes (Park). */
    @Test
    void aSynchronousMachineHasTheTorqueOfItsLoadAngle() {
        double w1 = 2 * Math.PI * 50;
        double ld = 8e-3;
        double lq = 14e-3;
        double psi = 0.5;
        double r = 0.5;
        for (double delta : new double[] {-0.6, 0.2, 0.5, 1.0, 2.5}) {
            // Phase a has the voltage V sin w t; the back-EMF −w psi sin θ leads it by delta.
            double angle = (delta - Math.PI) / 4;
            var s = Stepper.of(plant("20 us").block("net", "three-phase source", "V=150", "frequency=50").block("gnd", "ground")
                    .block("M", "synchronous machine", "R=" + r, "Ld=" + ld, "Lq=" + lq, "psi=" + psi, "angle0=" + angle)
                    .block("hold", "speed source", "w=" + w1 / 4).block("torque", "tap").net("net.n", "gnd.a").net("net.a", "M.a")
                    .net("net.b", "M.b").net("net.c", "M.c").net("M.shaft", "hold.a").wire("M.torque", "torque.u"));
            s.ticks(25_000).step();
            double vd = 150 * Math.sin(delta);
            double vq = 150 * Math.cos(delta) - w1 * psi;
            double n = r * r + w1 * ld * w1 * lq;
            double id = (r * vd + w1 * lq * vq) / n;
            double iq = (r * vq - w1 * ld * vd) / n;
            double expected = 1.5 * 4 * (psi * iq + (ld - lq) * id * iq);
            assertThat(s.tap("torque")).isCloseTo(expected, within(1e-3 * Math.abs(expected)));
        }
    }

    /**
     * The mean of a pulsed voltage over a period is the duty, however few steps the period has; of the samples it is only as fine as they
     * are.
     */
    @Test
    void theMeanOverAPeriodContainsTheEdges() {
        var s = Stepper.of(supplied("10 us", "10").block("chop", "pulsed switch", "frequency=20 kHz", "off resistance=1e9",
                "on resistance=1e-6")
                .block("duty", "constant", "value=0.43").block("R", "resistor", "R=10").block("flux", "flux meter")
                .block("volts", "voltmeter")
                .block("charge", "charge meter").block("exact", "period mean", "u is=its integral").block("amps", "period mean",
                        "u is=its integral").block("coarse", "period mean").block("y", "tap").block("i", "tap").block("z", "tap")
                .wire("duty.y", "chop.duty").net("supply.a", "chop.a").net("chop.b", "charge.a").net("charge.b", "R.a", "flux.a", "volts.a")
                .net("R.b", "flux.b", "volts.b", "gnd.a").wire("flux.flux", "exact.u").wire("charge.passed", "amps.u")
                .wire("volts.v", "coarse.u").wire("exact.y", "y.u").wire("amps.y", "i.u").wire("coarse.y", "z.u"));
        s.ticks(50);
        for (int n = 0; n < 20; n++) {
            s.step();
            assertThat(s.tap("y")).isCloseTo(4.3, within(1e-5));
            assertThat(s.tap("i")).isCloseTo(0.43, within(1e-5));
            assertThat(Math.abs(s.tap("z") - 4.3)).isBetween(1e-3, 2.1);
            s.advance();
        }
    }
}
