package boldanvil.core.lower;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.testing.PartBuilder;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Slots that share a place in memory, and what must not change by it. */
class SharedSlotsTest {
    private static List<Double> outputs(Program p, String tap) {
        Instance i = JvmCompiler.compile(p).instantiate();
        Slot u = p.slots().stream().filter(s -> s.role() == Slot.Role.INPUT).findFirst().orElseThrow();
        List<Double> all = new ArrayList<>();
        for (int k = 0; k < 6; k++) {
            i.set(u, k + 1);
            i.sample();
            i.step();
            all.add(i.get(p.tap(tap).orElseThrow().slot()));
            i.advance();
        }
        return all;
    }

    private static long states(Program p) {
        return p.slots().stream().filter(s -> s.role() == Slot.Role.STATE && s != p.fault()).count();
    }

    /** u through two delays in a row; every signal is recorded. The order of the blocks decides which delay is kept first. */
    @ParameterizedTest
    @ValueSource(booleans = {true, false})
    void delaysOfRecordedSignalsAreTheSignals(boolean firstFirst) {
        var b = new PartBuilder("p").block("u", "inlet").block("x", "gain", "k=10");
        b.block(firstFirst ? "a" : "b", "delay").block(firstFirst ? "b" : "a", "delay");
        var p = b.block("tx", "tap").block("ta", "tap").block("tb", "tap").wire("u.y", "x.u").wire("x.y", "a.u").wire("a.y", "b.u")
                .wire("x.y", "tx.u")
                .wire("a.y", "ta.u").wire("b.y", "tb.u").program();
        assertThat(outputs(p, "tx")).containsExactly(10.0, 20.0, 30.0, 40.0, 50.0, 60.0);
        assertThat(outputs(p, "ta")).containsExactly(0.0, 10.0, 20.0, 30.0, 40.0, 50.0);
        assertThat(outputs(p, "tb")).containsExactly(0.0, 0.0, 10.0, 20.0, 30.0, 40.0);
        assertThat(p.slots().stream().filter(s -> s.role() != Slot.Role.INPUT && s != p.fault()))
                .as("x, a and b; a delay that cannot be its signal keeps its own")
                .hasSizeBetween(3, 4);
    }

    @Test
    void aRecordedInputNeedsNoCopy() {
        var p = new PartBuilder("p").block("u", "inlet").block("t", "tap").block("g", "gain", "k=2").block("v", "tap").wire("u.y", "t.u")
                .wire("u.y", "g.u")
                .wire("g.y", "v.u").program();
        assertThat(p.tap("t").orElseThrow().slot().role()).isEqualTo(Slot.Role.INPUT);
        assertThat(outputs(p, "t")).containsExactly(1.0, 2.0, 3.0, 4.0, 5.0, 6.0);
    }

    @Test
    void aRecordedInputOfASlowTaskIsACopy() {
        var p = new PartBuilder("p").block("u", "inlet", "sample time=2 ms").block("t", "tap", "sample time=2 ms")
                .block("f", "inlet", "sample time=1 ms")
                .block("v", "tap", "sample time=1 ms").wire("u.y", "t.u").wire("f.y", "v.u").program();
        assertThat(p.tap("t").orElseThrow().slot().role()).isEqualTo(Slot.Role.SIGNAL);
        assertThat(outputs(p, "t")).containsExactly(1.0, 1.0, 3.0, 3.0, 5.0, 5.0);
    }

    @Test
    void aStateWithAnotherBeginningStaysApart() {
        var b = new PartBuilder("p").block("u", "inlet").block("g", "gain", "k=2").block("t", "tap").block("d", "delay", "initial=7")
                .block("v", "tap")
                .wire("u.y", "g.u").wire("g.y", "t.u").wire("g.y", "d.u").wire("d.y", "v.u");
        assertThat(outputs(b.program(), "v")).containsExactly(7.0, 2.0, 4.0, 6.0, 8.0, 10.0);
        assertThat(states(b.program())).isEqualTo(1);
    }

    @Test
    void anOldValueNeededLaterKeepsItsState() {
        var b = new PartBuilder("p").block("u", "inlet").block("e", "sum", "signs=+-").block("t", "tap").block("g", "gain", "k=2")
                .block("d", "delay")
                .block("v", "tap").wire("u.y", "g.u").wire("g.y", "t.u").wire("g.y", "d.u").wire("g.y", "e.u1").wire("d.y", "e.u2")
                .wire("e.y", "v.u");
        assertThat(outputs(b.program(), "v")).containsExactly(2.0, 2.0, 2.0, 2.0, 2.0, 2.0);
        assertThat(outputs(b.program(), "t")).containsExactly(2.0, 4.0, 6.0, 8.0, 10.0, 12.0);
    }
}
