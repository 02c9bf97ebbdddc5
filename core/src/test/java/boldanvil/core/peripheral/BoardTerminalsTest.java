package boldanvil.core.peripheral;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import boldanvil.core.diagram.Patch;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.patch.AutoPatch;
import boldanvil.core.program.Program;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Parts seen through the peripherals of a board. */
class BoardTerminalsTest {
    private static final Board SWAGE = Boards.shipped().find("swage32").orElseThrow();

    private static Stepper asBuilt(Program p) {
        var setup = new BoardSetup(SWAGE, AutoPatch.complete(SWAGE, p, new Patch("swage32", List.of())).patch(), p);
        return new Stepper(p, new BoardTerminals(JvmCompiler.compile(p).instantiate(), setup));
    }

    private static PartBuilder through(String type, String... settings) {
        return new PartBuilder("t").block("x", type, settings).block("y", "tap").wire("x.y", "y.u");
    }

    @Test
    void voltagesComeInCounts() {
        var s = asBuilt(through("analog in").program());
        double lsb = 3.3 / 4096;
        assertThat(s.set("x", 1.7001).step().tap("y")).isEqualTo(Math.rint(1.7001 / lsb) * lsb);
        assertThat(s.set("x", 9).step().tap("y")).isEqualTo(4095 * lsb);
    }

    @Test
    void noiseHasItsSizeAndIsTheSameEachTime() {
        var p = through("analog in", "noise=10 mV").program();
        double[] first = new double[4_000];
        for (int run = 0; run < 2; run++) {
            var s = asBuilt(p);
            double sum = 0;
            double squares = 0;
            for (int i = 0; i < first.length; i++) {
                double v = s.set("x", 1.65).step().advance().tap("y");
                assertThat(run == 0 || v == first[i]).isTrue();
                first[i] = v;
                sum += v;
                squares += (v - 1.65) * (v - 1.65);
            }
            assertThat(sum / first.length).isCloseTo(1.65, within(6e-4));
            assertThat(Math.sqrt(squares / first.length)).isCloseTo(0.01, within(5e-4));
        }
    }

    @Test
    void anEncoderLosesCountsThatItsFilterDoesNotPass() {
        // 800 ns pass at most 1250 counts in a tick of 1 ms; 100 lines make 400 counts a turn.
        var p = through("encoder in", "lines=100", "filter=800 ns").program();
        var s = asBuilt(p);
        double turn = 2 * Math.PI;
        s.set("x", 0).step().advance();
        assertThat(s.set("x", 3 * turn + 1e-9).step().advance().tap("y")).isCloseTo(3 * turn, within(1e-6));
        assertThat(s.set("x", 7 * turn + 1e-9).step().advance().tap("y")).as("1600 counts in a tick").isCloseTo(3 * turn, within(1e-6));
        assertThat(s.set("x", 8 * turn + 1e-9).step().advance().tap("y")).isCloseTo(4 * turn, within(1e-6));
    }

    @Test
    void anIndexSetsTheZeroWhateverCameBefore() {
        var p = new PartBuilder("t").block("x", "encoder in", "lines=100", "index=sets zero").block("y", "tap").block("f", "tap")
                .wire("x.y", "y.u").wire("x.found", "f.u").program();
        for (Stepper s : List.of(asBuilt(p), new Stepper(p, JvmCompiler.compile(p).instantiate()))) {
            double turn = 2 * Math.PI;
            s.set("x", 5.5 * turn).step().advance();
            assertThat(s.tap("f")).isZero();
            s.set("x", 6.25 * turn).step().advance();
            assertThat(s.tap("f")).isEqualTo(1);
            assertThat(s.tap("y")).isCloseTo(0.25 * turn, within(turn / 400 + 1e-9));
            s.set("x", 4.75 * turn).step().advance();
            assertThat(s.tap("y")).as("the first index counts").isCloseTo(-1.25 * turn, within(turn / 400 + 1e-9));
        }
    }

    @Test
    void anIdealEncoderWithIndexBeginsAtZero() {
        var p = through("encoder in", "index=sets zero").program();
        assertThat(new Stepper(p, JvmCompiler.compile(p).instantiate()).set("x", 2.5).step().tap("y")).isZero();
    }

    @Test
    void pulsesComeAtFrequenciesTheTimerMakes() {
        var p = new PartBuilder("t").block("u", "inlet").block("x", "pulse out", "maximum=10 MHz").wire("u.y", "x.u").program();
        var s = asBuilt(p);
        assertThat(s.set("u", 9.3e6).step().out("x")).isEqualTo(168e6 / 18);
        assertThat(s.set("u", 1_000).step().out("x")).isEqualTo(168e6 / 4 / 42_000);
        assertThat(s.set("u", 5).step().out("x")).as("below the least").isZero();
    }

    @Test
    void frequencyAndDutyComeInCountsOfTheCaptureTimer() {
        var p = new PartBuilder("t").block("x", "capture in", "slowest=3 kHz").block("f", "tap").block("d", "tap").block("T", "tap")
                .wire("x.f", "f.u").wire("x.d", "d.u")
                .wire("x.T", "T.u").program();
        var s = asBuilt(p);
        s.set("x", 16_001).set("x duty", 0.3).step();
        double counts = Math.rint(168e6 / 16_001);
        assertThat(s.tap("f")).isEqualTo(168e6 / counts);
        assertThat(s.tap("d")).isEqualTo(Math.round(0.3 * counts) / counts);
        assertThat(s.tap("T")).isCloseTo(counts / 168e6, within(1e-18));
        assertThat(s.set("x", 1).step().tap("f")).as("too slow to be told").isZero();
        assertThat(s.tap("T")).isZero();
    }

    @Test
    void aPairIsShortenedByItsDeadTime() {
        var p = new PartBuilder("t").block("u", "inlet").block("x", "pwm out", "outputs=complementary pair", "dead time=1 us",
                "frequency=10 kHz").wire("u.y", "x.u").program();
        var s = asBuilt(p);
        s.set("u", 0.3).step();
        assertThat(s.out("x")).isCloseTo(0.3 - 0.01, within(1e-4));
        assertThat(s.out("x low")).isCloseTo(0.7 - 0.01, within(1e-4));
        s.set("u", 1).step();
        assertThat(s.out("x")).isEqualTo(1);
        assertThat(s.out("x low")).isZero();
        s.set("u", 0).step();
        assertThat(s.out("x low")).isEqualTo(1);
    }

    @Test
    void anAnalogOutputComesInCounts() {
        var p = new PartBuilder("t").block("u", "inlet").block("x", "analog out", "sensitivity=0.5 V", "offset=1 V").wire("u.y", "x.u")
                .program();
        assertThat(asBuilt(p).set("u", 1.1).step().out("x")).isEqualTo(Math.rint(1.55 / (3.3 / 4096)) * 3.3 / 4096);
    }

    @Test
    void aPortThatIsNoTerminalPassesAsItIs() {
        var p = new PartBuilder("t").block("u", "inlet").block("o", "outlet").wire("u.y", "o.u").program();
        assertThat(asBuilt(p).set("u", 0.123456789).step().out("o")).isEqualTo(0.123456789);
    }
}
