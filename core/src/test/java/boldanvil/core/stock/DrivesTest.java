package boldanvil.core.stock;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.DoubleRange;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class DrivesTest {
    private static PartBuilder one(String type, String[] inputs, String[] outputs, String... settings) {
        var b = new PartBuilder("p").sampleTime("100 us").block("f", type, settings);
        for (String i : inputs) {
            b.block(i, "inlet").wire(i + ".y", "f." + i);
        }
        for (String o : outputs) {
            b.block("out " + o, "outlet").wire("f." + o, "out " + o + ".u");
        }
        return b;
    }

    private static final String[] ABC = {"a", "b", "c"};
    private static final String[] REST = {"alpha", "beta", "zero"};

    @ParameterizedTest
    @ValueSource(strings = {"amplitude", "power"})
    void clarkeAndItsInverseCancel(String keeps) {
        var there = Stepper.of(one("clarke", ABC, REST, "keeps=" + keeps));
        var back = Stepper.of(one("inverse clarke", REST, ABC, "keeps=" + keeps));
        there.set("a", 3).set("b", -1.5).set("c", 0.25).step();
        for (String r : REST) {
            back.set(r, there.out("out " + r));
        }
        back.step();
        assertThat(back.out("out a")).isCloseTo(3, within(1e-15));
        assertThat(back.out("out b")).isCloseTo(-1.5, within(1e-15));
        assertThat(back.out("out c")).isCloseTo(0.25, within(1e-15));
        double norm = Math.pow(there.out("out alpha"), 2) + Math.pow(there.out("out beta"), 2) + Math.pow(there.out("out zero"), 2);
        if (keeps.equals("power")) {
            assertThat(norm).isCloseTo(9 + 2.25 + 0.0625, within(1e-14));
        }
    }

    @Test
    void clarkeOfABalancedSystemHasItsAmplitude() {
        var s = Stepper.of(one("clarke", ABC, REST));
        for (double phi = 0; phi < 6; phi += 0.7) {
            s.set("a", 5 * Math.cos(phi)).set("b", 5 * Math.cos(phi - 2 * Math.PI / 3)).set("c", 5 * Math.cos(phi + 2 * Math.PI / 3))
                    .step();
            assertThat(s.out("out alpha")).isCloseTo(5 * Math.cos(phi), within(1e-14));
            assertThat(s.out("out beta")).isCloseTo(5 * Math.sin(phi), within(1e-14));
            assertThat(s.out("out zero")).isCloseTo(0, within(1e-14));
        }
    }

    @Property(tries = 100)
    void parkTurnsAndItsInverseTurnsBack(@ForAll @DoubleRange(min = -100, max = 100) double theta) {
        var there = Stepper.of(one("park", new String[] {"alpha", "beta", "theta"}, new String[] {"d", "q"}));
        there.set("alpha", Math.cos(theta)).set("beta", Math.sin(theta)).set("theta", theta).step();
        assertThat(there.out("out d")).isCloseTo(1, within(1e-13));
        assertThat(there.out("out q")).isCloseTo(0, within(1e-13));
        var back = Stepper.of(one("inverse park", new String[] {"d", "q", "theta"}, new String[] {"alpha", "beta"}));
        back.set("d", 1).set("theta", theta).step();
        assertThat(back.out("out alpha")).isCloseTo(Math.cos(theta), within(1e-13));
        assertThat(back.out("out beta")).isCloseTo(Math.sin(theta), within(1e-13));
    }

    private static double[] duties(String method, double alpha, double beta, double udc) {
        var s = Stepper.of(one("modulator", new String[] {"alpha", "beta", "Udc"}, ABC, "method=" + method));
        s.set("alpha", alpha).set("beta", beta).set("Udc", udc).step();
        return new double[] {s.out("out a"), s.out("out b"), s.out("out c")};
    }

    @Property(tries = 300)
    void spaceVectorAndMinMaxAreTheSameWithinReach(@ForAll @DoubleRange(min = -3.2, max = 3.2) double phi,
            @ForAll @DoubleRange(min = 0, max = 0.57) double length) {
        double[] byVectors = duties("space vector", 48 * length * Math.cos(phi), 48 * length * Math.sin(phi), 48);
        assertThat(byVectors).containsExactly(duties("min-max", 48 * length * Math.cos(phi), 48 * length * Math.sin(phi), 48),
                within(1e-12));
    }

    @Property(tries = 100)
    void theDutiesGiveTheVoltageAskedFor(@ForAll @DoubleRange(min = -3.2, max = 3.2) double phi) {
        for (String method : new String[] {"min-max", "space vector", "sine"}) {
            double[] d = duties(method, 20 * Math.cos(phi), 20 * Math.sin(phi), 48);
            assertThat(48 * (2 * d[0] - d[1] - d[2]) / 3).as(method).isCloseTo(20 * Math.cos(phi), within(1e-12));
            assertThat(48 * (d[1] - d[2]) / Math.sqrt(3)).as(method).isCloseTo(20 * Math.sin(phi), within(1e-12));
        }
    }

    @Test
    void aVectorOutOfReachKeepsItsDirection() {
        double[] d = duties("space vector", 100, 100, 48);
        double alpha = 2 * d[0] - d[1] - d[2];
        double beta = (d[1] - d[2]) * Math.sqrt(3);
        assertThat(Math.atan2(beta, alpha)).isCloseTo(Math.PI / 4, within(1e-12));
        assertThat(java.util.Arrays.stream(d)).allMatch(x -> x >= -1e-15 && x <= 1 + 1e-15);
    }

    @Test
    void thePhaseLockedLoopLocks() {
        var b = new PartBuilder("p").sampleTime("100 us").block("t", "time").block("w", "gain", "k=2*pi*53").block("r", "three-phase sine")
                .block("one", "constant", "value=7")
                .block("c", "clarke").block("f", "pll").block("theta", "outlet").block("omega", "outlet").block("angle", "wrap")
                .block("truth", "outlet")
                .wire("t.y", "w.u").wire("w.y", "r.theta").wire("one.y", "r.amplitude").wire("r.a", "c.a").wire("r.b", "c.b")
                .wire("r.c", "c.c").wire("c.alpha", "f.alpha")
                .wire("c.beta", "f.beta").wire("f.theta", "theta.u").wire("f.omega", "omega.u").wire("w.y", "angle.u")
                .wire("angle.y", "truth.u");
        var s = Stepper.of(b).ticks(5_000).step();
        assertThat(s.out("omega")).isCloseTo(2 * Math.PI * 53, within(1e-3));
        assertThat(Math.sin(s.out("theta") - s.out("truth"))).isCloseTo(0, within(1e-3));
    }

    private static Stepper encoder(String... settings) {
        return Stepper.of(new PartBuilder("p").sampleTime("1 ms").block("n", "inlet", "type=int32").block("i", "inlet", "type=bool")
                .block("f", "encoder speed", settings)
                .block("speed", "outlet").block("angle", "outlet").wire("n.y", "f.count").wire("i.y", "f.index").wire("f.speed", "speed.u")
                .wire("f.angle", "angle.u"));
    }

    @Test
    void encoderSpeedByCountsAndByPeriod() {
        var byCounts = encoder("counts=1000", "n=10");
        var byPeriod = encoder("counts=1000", "method=period");
        var both = encoder("counts=1000", "n=10", "method=both");
        // One count in 8 ms: 0.785 rad/s.
        for (int k = 0; k < 400; k++) {
            for (var s : new Stepper[] {byCounts, byPeriod, both}) {
                s.set("n", k / 8).step();
            }
            if (k > 100) {
                assertThat(byPeriod.out("speed")).isCloseTo(2 * Math.PI / 1000 / 0.008, within(1e-12));
                assertThat(both.out("speed")).isEqualTo(byPeriod.out("speed"));
                assertThat(byCounts.out("speed")).isIn(0.0 + 2 * Math.PI / 1000 / 0.01, 2 * Math.PI / 1000 / 0.01 * 2);
            }
            byCounts.advance();
            byPeriod.advance();
            both.advance();
        }
        // At rest the speed falls as 1 / time.
        for (int k = 0; k < 1000; k++) {
            byPeriod.step().advance();
        }
        assertThat(byPeriod.out("speed")).isLessThan(0.0064);
    }

    @Test
    void theCountMayWrapAround() {
        var s = encoder("counts=1000");
        s.set("n", Integer.MAX_VALUE - 2).step().advance();
        s.set("n", Integer.MIN_VALUE + 2).step();
        assertThat(s.out("speed")).isCloseTo(5 * 2 * Math.PI / 1000 / 0.001, within(1e-9));
    }

    @Test
    void indexSetsTheOriginOfTheAngle() {
        var s = encoder("counts=1000");
        s.set("n", 700).set("i", 1).step().advance();
        assertThat(s.out("angle")).isZero();
        s.set("n", 950).set("i", 0).step();
        assertThat(s.out("angle")).isCloseTo(Math.PI / 2, within(1e-12));
        s.set("n", 450).step();
        assertThat(s.out("angle")).isCloseTo(1.5 * Math.PI, within(1e-12));
    }

    @Test
    void deadTimeKeepsBothSwitchesOff() {
        var b = new PartBuilder("p").sampleTime("1 us").block("on", "inlet", "type=bool").block("f", "dead time", "time=2 us")
                .block("h", "outlet").block("l", "outlet")
                .wire("on.y", "f.on").wire("f.upper", "h.u").wire("f.lower", "l.u");
        var s = Stepper.of(b);
        String upper = "";
        String lower = "";
        for (char c : "001111100000110000".toCharArray()) {
            s.set("on", c - '0').step();
            upper += (int) s.out("h");
            lower += (int) s.out("l");
            s.advance();
        }
        assertThat(upper).isEqualTo("000011100000000000");
        assertThat(lower).isEqualTo("110000000111000011");
    }

    @Test
    void theCarrierCutsASineIntoItsMean() {
        var b = new PartBuilder("p").sampleTime("1 us").block("u", "constant", "value=0.4").block("f", "carrier", "frequency=10 kHz")
                .block("y", "outlet").wire("u.y", "f.u")
                .wire("f.y", "y.u");
        double mean = 0;
        for (double y : Stepper.of(b).course("y", 1000)) {
            mean += y / 1000;
        }
        assertThat(mean).isCloseTo(0.7, within(0.011));
    }
}
