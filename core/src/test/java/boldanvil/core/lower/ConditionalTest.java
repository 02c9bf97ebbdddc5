package boldanvil.core.lower;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.program.Stmt;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Subsystems that run as one, or only at times. */
class ConditionalTest {
    /** A subsystem that counts its own runs, beside what drives its control input. */
    private static PartBuilder counting(String... settings) {
        var all = new java.util.ArrayList<>(List.of("sheet=inner"));
        all.addAll(List.of(settings));
        return new PartBuilder("p").block("on", "inlet", "type=bool").block("s", "subsystem", all.toArray(String[]::new))
                .block("n", "outlet").wire("on.y", "s.control")
                .wire("s.n", "n.u").sheet("inner").block("count", "counter").block("n", "outlet").wire("count.y", "n.u");
    }

    @ParameterizedTest
    @CsvSource({
        "while on, go on, 0110011, 0011123", "while on, restart, 0110011, 0011101", "on rise, go on, 0110011, 0000011",
                "on fall, go on, 0110011, 0000000",
        "on change, go on, 0110011, 0001122"})
    void runsOnlyWhenItShould(String runs, String when, String control, String seen) {
        var s = Stepper.of(counting("runs=" + runs, "when switched on=" + when));
        var n = new StringBuilder();
        for (char c : control.toCharArray()) {
            s.set("on", c - '0').step();
            n.append((int) s.out("n"));
            s.advance();
        }
        assertThat(n).hasToString(seen);
    }

    @Test
    void whileItIsOffItCostsNothing() {
        var p = counting("runs=while on").program();
        var task = p.procedures().stream().filter(q -> q.name().equals("task_1ms_run")).findFirst().orElseThrow();
        assertThat(task.body()).filteredOn(Stmt.If.class::isInstance).hasSize(2);
    }

    @Test
    void oneWithinAnotherRunsOnlyWhenBothDo() {
        var b = new PartBuilder("p").block("on", "inlet", "type=bool").block("go", "inlet", "type=bool")
                .block("s", "subsystem", "sheet=inner", "runs=while on")
                .block("n", "outlet").wire("on.y", "s.control").wire("go.y", "s.go").wire("s.n", "n.u").sheet("inner")
                .block("go", "inlet", "type=bool")
                .block("t", "subsystem", "sheet=core", "runs=while on").block("n", "outlet").wire("go.y", "t.control").wire("t.n", "n.u")
                .sheet("core")
                .block("count", "counter").block("n", "outlet").wire("count.y", "n.u");
        var s = Stepper.of(b);
        s.set("on", 1).set("go", 0).ticks(3);
        s.set("on", 0).set("go", 1).ticks(3);
        s.set("on", 1).ticks(4);
        assertThat(s.step().out("n")).isEqualTo(4);
    }

    @Test
    void aSubsystemThatRunsAsOneKeepsItsStatementsTogether() {
        var b = new PartBuilder("p").block("u", "inlet").block("a", "subsystem", "sheet=twice", "runs=as one")
                .block("b", "subsystem", "sheet=twice", "runs=as one")
                .block("y", "outlet").wire("u.y", "a.u").wire("a.y", "b.u").wire("b.y", "y.u").sheet("twice").block("u", "inlet")
                .block("g", "gain", "k=2")
                .block("y", "outlet").wire("u.y", "g.u").wire("g.y", "y.u");
        var s = Stepper.of(b);
        assertThat(s.set("u", 3).step().out("y")).isEqualTo(12);
        var task = b.program().procedures().stream().filter(q -> q.name().equals("task_1ms_run")).findFirst().orElseThrow();
        assertThat(task.body()).filteredOn(Stmt.Group.class::isInstance).hasSize(2);
    }

    @Test
    void mistakesAreFindings() {
        var open = new PartBuilder("p").block("s", "subsystem", "sheet=inner", "runs=while on").sheet("inner").block("c", "counter")
                .block("n", "tap").wire("c.y", "n.u");
        assertThat(open.lower().findings()).anyMatch(f -> f.place().text().equals("p/s · control")
                && f.cause().contains("nothing drives its control input"));
        var number = new PartBuilder("p").block("u", "inlet").block("s", "subsystem", "sheet=inner", "runs=while on")
                .wire("u.y", "s.control").sheet("inner")
                .block("c", "counter").block("n", "tap").wire("c.y", "n.u");
        assertThat(number.lower().findings()).anyMatch(f -> f.cause().contains("needs a logic value"));
        var rates = new PartBuilder("p").block("on", "inlet", "type=bool").block("s", "subsystem", "sheet=inner", "runs=while on")
                .wire("on.y", "s.control").sheet("inner")
                .block("c", "counter").block("d", "counter", "sample time=5 ms").block("n", "tap").block("m", "tap").wire("c.y", "n.u")
                .wire("d.y", "m.u");
        assertThat(rates.lower().findings()).anyMatch(f -> f.cause().contains("sample time differs"));
        var continuous = new PartBuilder("p").plant("1 ms", "rk4").block("on", "constant", "value=on", "type=bool")
                .block("s", "subsystem", "sheet=inner", "runs=while on")
                .wire("on.y", "s.control").sheet("inner").block("x", "integrator").block("t", "tap").wire("x.y", "x.u").wire("x.y", "t.u");
        assertThat(continuous.lower().findings()).anyMatch(f -> f.cause().contains("A continuous block is inside"));
    }

    @Test
    void aLoopThroughASubsystemThatRunsAsOneIsToldWithAWayOut() {
        var b = new PartBuilder("p").block("s", "subsystem", "sheet=inner", "runs=as one").block("g", "gain").block("y", "outlet")
                .wire("s.a", "g.u").wire("g.y", "s.b")
                .wire("s.c", "y.u").sheet("inner").block("one", "counter").block("r", "convert", "type=real").block("b", "inlet")
                .block("a", "outlet").block("c", "outlet")
                .wire("one.y", "r.u").wire("r.y", "a.u").wire("b.y", "c.u");
        assertThat(b.lower().findings().stream().filter(f -> f.cause().contains("Algebraic loop")))
                .allMatch(f -> f.cure().contains("'always'"));
    }
}
