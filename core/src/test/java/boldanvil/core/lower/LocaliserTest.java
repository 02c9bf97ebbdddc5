package boldanvil.core.lower;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.testing.PartBuilder;
import org.junit.jupiter.api.Test;

class LocaliserTest {
    private static boolean inMemory(Program p, String name) {
        return p.slots().stream().anyMatch(s -> s.name().equals(name));
    }

    @Test
    void aSignalOfOneTaskTakesNoMemory() {
        var p = new PartBuilder("p").block("a", "inlet").block("g", "gain", "k=2").block("h", "gain", "k=3").block("o", "outlet")
                .wire("a.y", "g.u").wire("g.y", "h.u").wire("h.y", "o.u").program();
        assertThat(inMemory(p, "g")).isFalse();
    }

    @Test
    void aTappedSignalStays() {
        var p = new PartBuilder("p").block("a", "inlet").block("g", "gain", "k=2").block("t", "tap").wire("a.y", "g.u").wire("g.y", "t.u")
                .program();
        assertThat(inMemory(p, "g")).isTrue();
        assertThat(p.tap("t").orElseThrow().slot().name()).isEqualTo("g");
    }

    @Test
    void whatNobodyReadsIsNotComputed() {
        var p = new PartBuilder("p").block("a", "inlet").block("g", "gain", "k=2").block("h", "gain", "k=3").block("o", "outlet")
                .wire("a.y", "g.u").wire("g.y", "h.u").wire("a.y", "o.u").program();
        assertThat(inMemory(p, "g")).isFalse();
        var task = p.procedures().stream().filter(q -> q.name().equals("task_1ms_run")).findFirst().orElseThrow();
        // What is left: the inlet's value and the outlet.
        assertThat(task.body()).hasSize(2);
    }

    @Test
    void aStateStaysInMemoryEvenIfOnlyOneTaskUsesIt() {
        var p = new PartBuilder("p").block("a", "inlet").block("d", "delay").block("o", "outlet").wire("a.y", "d.u").wire("d.y", "o.u")
                .program();
        assertThat(p.slots()).anyMatch(s -> s.role() == Slot.Role.STATE && s.name().equals("d_kept"));
    }

    @Test
    void timeIsKeptOnlyWhereABlockReadsIt() {
        var without = new PartBuilder("p").block("a", "inlet").block("o", "outlet").wire("a.y", "o.u").program();
        assertThat(inMemory(without, "time_s")).isFalse();
        var with = new PartBuilder("p").block("a", "sine").block("o", "outlet").wire("a.y", "o.u").program();
        assertThat(inMemory(with, "time_s")).isTrue();
        assertThat(with.functions()).hasSize(1);
    }

    @Test
    void namesBecomeIdentifiers() {
        assertThat(Names.address("shunt A")).isEqualTo("shunt_A");
        assertThat(Names.address("  °C / min ")).isEqualTo("C_min");
        assertThat(Names.address("···")).isEqualTo("x");
        var names = new Names();
        assertThat(names.fresh("gain")).isEqualTo("gain");
        assertThat(names.fresh("gain")).isEqualTo("gain_2");
        assertThat(names.fresh("while")).as("outputs reserve their own words").isEqualTo("while");
        assertThat(names.fresh("9 lives")).isEqualTo("x_9_lives");
        assertThat(names.fresh("a".repeat(200))).hasSizeLessThan(60);
    }
}
