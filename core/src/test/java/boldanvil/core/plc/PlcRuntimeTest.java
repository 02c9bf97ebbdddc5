package boldanvil.core.plc;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.finding.FindingException;
import boldanvil.core.text.PlcProgram;
import boldanvil.core.text.PlcProgram.Surroundings;
import java.math.BigInteger;
import java.util.Map;
import org.junit.jupiter.api.Test;

class PlcRuntimeTest {
    private static final String COUNTING = """
            PROGRAM p
            VAR n : DINT; first : DINT; in AT %IX0.0 : BOOL; out AT %QX0.0 : BOOL; END_VAR
            VAR RETAIN hours : LREAL; name : STRING[8]; END_VAR
            n := n + 1;
            IF FIRST_SCAN THEN first := first + 1; END_IF;
            hours := hours + 0.5;
            out := in;
            END_PROGRAM
            """;

    private static PlcProgram compiled(String text) {
        return PlcProgram.of(text, Surroundings.USUAL);
    }

    private static PlcRuntime running(String text) {
        var r = new PlcRuntime(Surroundings.USUAL);
        r.load(compiled(text));
        r.run();
        return r;
    }

    @Test
    void retainedValuesSurviveAWarmStartAndThePower() {
        var r = running(COUNTING);
        r.advance(90_000_000);
        r.write("p.name", "upper");
        assertThat(r.read("p.hours")).isEqualTo(5.0);
        r.warmStart();
        assertThat(r.read("p.hours")).isEqualTo(5.0);
        assertThat(r.read("p.n")).isEqualTo(0L);
        Map<String, Object> kept = r.retained();
        var again = new PlcRuntime(Surroundings.USUAL);
        again.load(compiled(COUNTING));
        again.powerOn(kept);
        assertThat(again.read("p.name")).isEqualTo("upper");
        again.coldStart();
        assertThat(again.read("p.hours")).isEqualTo(0.0);
        again.advance(30_000_000);
        assertThat(again.read("p.first")).isEqualTo(1L);
    }

    @Test
    void anIntegerThatDoesNotFitIsRefusedToTheLastBit() {
        var r = running("PROGRAM p VAR u : ULINT; l : LINT; END_VAR END_PROGRAM");
        var beyond = BigInteger.ONE.shiftLeft(64);
        r.write("p.u", beyond.subtract(BigInteger.ONE));
        assertThat(r.read("p.u")).isEqualTo(beyond.subtract(BigInteger.ONE));
        assertThatThrownBy(() -> r.write("p.u", beyond)).isInstanceOf(FindingException.class);
        assertThatThrownBy(() -> r.write("p.u", -1L)).isInstanceOf(FindingException.class);
        assertThatThrownBy(() -> r.write("p.l", beyond.shiftRight(1))).isInstanceOf(FindingException.class);
        assertThat(r.read("p.l")).isEqualTo(0L);
    }

    @Test
    void aForcedInputIsSeenInPlaceOfItsWireAndAForcedOutputIsGivenOut() {
        var r = running(COUNTING);
        r.force("p.in", true);
        r.scanOnce();
        assertThat(r.outputs()[0]).isEqualTo((byte) 1);
        r.force("p.out", false);
        r.scanOnce();
        assertThat(r.outputs()[0]).isZero();
        r.release("P.OUT");
        r.scanOnce();
        assertThat(r.outputs()[0]).isEqualTo((byte) 1);
        assertThat(r.forces()).containsOnlyKeys("p.in");
        assertThatThrownBy(() -> r.force("p.in", 3L)).isInstanceOf(FindingException.class);
    }

    @Test
    void stoppedItsOutputsAreOffAndItContinuesWhereItWas() {
        var r = running(COUNTING);
        r.input(0, 1);
        r.advance(20_000_000);
        assertThat(r.outputs()[0]).isEqualTo((byte) 1);
        r.stop();
        assertThat(r.outputs()[0]).isZero();
        r.advance(100_000_000);
        assertThat(r.read("p.n")).isEqualTo(3L);
        r.run();
        r.advance(100_000_000);
        assertThat(r.read("p.n")).isEqualTo(4L);
    }

    @Test
    void aLoopWithoutEndStopsTheProgramWithAReason() {
        var r = running("PROGRAM p VAR i : DINT; k : DINT; END_VAR FOR i := 0 TO 2000000 DO FOR k := 0 TO 2000000 DO ; END_FOR; END_FOR; "
                + "WHILE i > -1 DO i := 1; END_WHILE; END_PROGRAM");
        r.scanOnce();
        assertThat(r.mode()).isEqualTo(PlcRuntime.Mode.FAULT);
        assertThat(r.reason()).contains("a loop in it does not end");
    }

    @Test
    void aScanThatTakesTooLongStopsTheProgram() {
        var r = running(COUNTING);
        r.watchdog(100_000_000);
        r.delay(30_000_000);
        r.advance(100_000_000);
        assertThat(r.mode()).isEqualTo(PlcRuntime.Mode.RUN);
        assertThat(r.tasks().getFirst().overruns()).isPositive();
        r.delay(150_000_000);
        r.advance(200_000_000);
        assertThat(r.mode()).isEqualTo(PlcRuntime.Mode.FAULT);
        assertThat(r.reason()).contains("watchdog");
    }

    @Test
    void aThousandChangesUnderLoadLoseNoScanAndNoValue() {
        var r = running(COUNTING);
        for (int i = 1; i <= 1_000; i++) {
            r.advance(i * 10_000_000L);
            r.change(compiled(COUNTING.replace("n := n + 1;", "n := n + 1; extra := extra + " + i + ";")
                    .replace("n : DINT;", "n : DINT; extra : DINT;")));
        }
        assertThat(r.read("p.n")).isEqualTo(1_001L);
        assertThat(r.read("p.hours")).isEqualTo(500.5);
        assertThat(r.read("p.first")).isEqualTo(1L);
        assertThat(r.tasks().getFirst().scans()).isEqualTo(1_001);
        assertThat(r.read("p.extra")).isEqualTo(999L * 1_000 / 2);
    }

    @Test
    void whatStartsAnewIsKnownBeforeAndAChangeCanBeTakenBack() {
        var r = running(COUNTING);
        r.advance(50_000_000);
        var next = compiled(COUNTING.replace("n : DINT", "n : INT").replace("first : DINT", "first : DINT; more : REAL")
                .replace("out := in;", ""));
        var plan = r.plan(next);
        assertThat(plan.fresh()).containsOnlyKeys("p.n", "p.more").containsEntry("p.n", "It was a DINT and is a INT now.");
        r.change(next);
        assertThat(r.read("p.n")).isEqualTo(0L);
        assertThat(r.read("p.hours")).isEqualTo(3.0);
        r.takeBack();
        r.advance(60_000_000);
        assertThat(r.read("p.hours")).isEqualTo(3.5);
        assertThatThrownBy(() -> r.change(compiled("PROGRAM p x := 1; END_PROGRAM"))).isInstanceOf(FindingException.class);
        assertThat(r.mode()).isEqualTo(PlcRuntime.Mode.RUN);
    }

    @Test
    void chartsAndTimersGoOnThroughAChange() {
        String text = """
                PROGRAM p
                VAR t : TON; seen : BOOL; END_VAR
                VAR_OUTPUT done : BOOL; END_VAR
                INITIAL_STEP one: run(N); END_STEP
                STEP two: done(N); END_STEP
                TRANSITION FROM one TO two := t.Q; END_TRANSITION
                ACTION run: t(IN := TRUE, PT := T#50ms); END_ACTION
                END_PROGRAM
                """;
        var r = running(text);
        r.advance(40_000_000);
        r.change(compiled(text.replace("t(IN", "seen := TRUE; t(IN")));
        r.advance(60_000_000);
        assertThat(r.read("p.done")).isEqualTo(true);
        assertThat(r.read("p.seen")).isEqualTo(true);
    }
}
