package boldanvil.core.plc;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.plc.FirstOut.Event;
import boldanvil.core.text.Interlock;
import boldanvil.core.text.PlcProgram;
import boldanvil.core.text.PlcProgram.Surroundings;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Which condition of an interlock blocked first, scan by scan. */
class FirstOutTest {
    private static final String PUMP = """
            FUNCTION_BLOCK Pump
            VAR_INPUT ask, tank, guard : BOOL; pressure : REAL; END_VAR
            VAR_OUTPUT runs : BOOL; END_VAR
            VAR settled : TON; END_VAR
            settled(IN := guard, PT := T#20ms);
            runs := ask AND (tank AND settled.Q)
                AND NOT (pressure > 2.5);
            END_FUNCTION_BLOCK
            PROGRAM main
            VAR p : Pump; other : Pump; a, t, g : BOOL; bar : REAL; plain : BOOL; END_VAR
            p(ask := a, tank := t, guard := g, pressure := bar);
            plain := a OR t;
            END_PROGRAM
            CONFIGURATION c RESOURCE r ON PLC TASK k(INTERVAL := T#10ms, PRIORITY := 1); PROGRAM main WITH k : main; END_RESOURCE
            END_CONFIGURATION
            """;

    @Test
    void anInterlockIsAnAssignmentWithAndBetweenItsConditions() {
        var found = Interlock.of(PUMP);
        assertThat(found).hasSize(1);
        assertThat(found.getFirst().target()).isEqualTo("runs");
        assertThat(found.getFirst().line()).isEqualTo(6);
        assertThat(found.getFirst().conditions()).extracting(Interlock.Condition::text).containsExactly("ask", "tank", "settled.Q",
                "NOT (pressure > 2.5)");
        assertThat(Interlock.of("PROGRAM broken")).isEmpty();
    }

    @Test
    void theConditionThatFailsFirstIsNamedWithItsInstant() {
        var runtime = new PlcRuntime(Surroundings.USUAL);
        runtime.load(PlcProgram.of(PUMP, Surroundings.USUAL));
        runtime.run();
        var trace = new FirstOut(Interlock.of(PUMP).getFirst(), "main.p.");
        runtime.watch(trace);
        runtime.write("main.t", true);
        runtime.write("main.g", true);
        runtime.advance(30_000_000);
        assertThat(trace.events()).containsExactly(new Event(0, List.of("ask", "settled.Q")));
        runtime.write("main.a", true);
        runtime.advance(50_000_000);
        runtime.write("main.bar", 3.0);
        runtime.advance(60_000_000);
        // The tank comes second, so it is not the cause.
        runtime.write("main.t", false);
        runtime.advance(70_000_000);
        runtime.write("main.bar", 0.0);
        runtime.write("main.t", true);
        runtime.advance(80_000_000);
        runtime.write("main.g", false);
        runtime.write("main.a", false);
        runtime.advance(90_000_000);
        assertThat(trace.events()).containsExactly(new Event(0, List.of("ask", "settled.Q")), new Event(40_000_000, List.of()),
                new Event(60_000_000, List.of("NOT (pressure > 2.5)")), new Event(80_000_000, List.of()),
                new Event(90_000_000, List.of("ask", "settled.Q")));
        runtime.load(PlcProgram.of(PUMP, Surroundings.USUAL));
        assertThat(runtime.watched()).isEmpty();
    }

    @ParameterizedTest
    @CsvSource({"a AND b, false", "a OR b, true", "a XOR b, true", "NOT b AND n >= 3, true", "n + 1 = 4, true", "n * 2 - 1 <> 5, false",
        "ABS(n) < 2.5E0, false", "t > T#1s, true", "u AND b, false", "u OR a, true", "u AND a, ", "EXPT(n) > 1, "})
    void aConditionIsEvaluatedFromValues(String text, Boolean expected) {
        var interlock = Interlock.of("PROGRAM p VAR x : BOOL; END_VAR x := (" + text + " OR FALSE) AND TRUE; END_PROGRAM").getFirst();
        var values = java.util.Map.<String, Object>of("a", true, "b", false, "n", 3L, "t", 1.5);
        assertThat(interlock.conditions().getFirst().holds(values::get)).isEqualTo(Optional.ofNullable(expected));
    }
}
