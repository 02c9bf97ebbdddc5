package boldanvil.core.text;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.finding.Finding;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import java.util.List;
import org.junit.jupiter.api.Test;

class ChartTest {
    private static PartBuilder part(String text, String sampleTime) {
        var b = new PartBuilder("p").sampleTime(sampleTime).block("m", "modes", "text=" + text);
        var parsed = ParsedText.block(text);
        parsed.inputs().forEach(v -> b.block("in " + v.name(), "inlet", "type=" + v.type().label())
                .wire("in " + v.name() + ".y", "m." + v.name()));
        parsed.outputs().forEach(v -> b.block(v.name(), "outlet").wire("m." + v.name(), v.name() + ".u"));
        return b.block("active", "outlet").wire("m.active", "active.u");
    }

    private static Stepper run(String text) {
        return Stepper.of(part(text, "100 ms"));
    }

    private static final String DRIVE = """
            VAR_INPUT start : BOOL; stop : BOOL; obstacle : BOOL; END_VAR
            VAR_OUTPUT calibrating : BOOL; controlling : BOOL; END_VAR
            INITIAL_STEP idle: END_STEP
            STEP calibrate: calibrating(N); END_STEP
            STEP control: controlling(N); END_STEP
            TRANSITION FROM idle TO calibrate := start; END_TRANSITION
            TRANSITION FROM calibrate TO control := calibrate.T >= T#3s; END_TRANSITION
            TRANSITION FROM control TO idle := stop OR obstacle OR control.T >= T#5s; END_TRANSITION
            """;

    @Test
    void calibratesForThreeSecondsThenControlsUntilTimeOrObstacle() {
        var s = run(DRIVE);
        s.step();
        assertThat(s.out("active")).isEqualTo(1);
        s.set("in start", 1);
        int calibrating = 0;
        int controlling = 0;
        for (int k = 0; k < 85; k++) {
            s.advance();
            s.step();
            s.set("in start", 0);
            calibrating += (int) s.out("calibrating");
            controlling += (int) s.out("controlling");
        }
        assertThat(calibrating).isEqualTo(30);
        assertThat(controlling).isEqualTo(50);
        assertThat(s.out("active")).isEqualTo(1);
        s.set("in start", 1);
        for (int k = 0; k < 40; k++) {
            s.advance();
            s.step();
        }
        assertThat(s.out("controlling")).isEqualTo(1);
        s.set("in start", 0).set("in obstacle", 1);
        s.advance();
        s.step();
        assertThat(s.out("controlling")).isZero();
        assertThat(s.out("active")).isEqualTo(1);
    }

    @Test
    void ofAlternativesTheFirstOrTheOneWithPriorityWins() {
        String chart = """
                VAR_INPUT a : BOOL; b : BOOL; END_VAR VAR_OUTPUT n : INT; END_VAR
                INITIAL_STEP s: END_STEP STEP left: END_STEP STEP right: END_STEP
                TRANSITION %s FROM s TO left := a; END_TRANSITION
                TRANSITION %s FROM s TO right := b; END_TRANSITION
                """;
        var first = run(chart.formatted("", ""));
        first.step();
        first.set("in a", 1).set("in b", 1).advance();
        first.step();
        assertThat(first.out("active")).isEqualTo(2);
        var second = run(chart.formatted("t1 (PRIORITY := 2)", "t2 (PRIORITY := 1)"));
        second.step();
        second.set("in a", 1).set("in b", 1).advance();
        second.step();
        assertThat(second.out("active")).isEqualTo(3);
    }

    @Test
    void parallelBranchesBeginTogetherAndJoinWhenBothAreDone() {
        var s = run("""
                VAR_INPUT go : BOOL; a : BOOL; END_VAR VAR_OUTPUT x : BOOL; y : BOOL; done : BOOL; END_VAR
                INITIAL_STEP s: END_STEP STEP p: x(N); END_STEP STEP q: y(N); END_STEP STEP r: y(N); END_STEP STEP e: done(N); END_STEP
                TRANSITION FROM s TO (p, q) := go; END_TRANSITION
                TRANSITION FROM q TO r := a; END_TRANSITION
                TRANSITION FROM (p, r) TO e := TRUE; END_TRANSITION
                """);
        s.step();
        s.set("in go", 1).advance();
        s.step();
        assertThat(List.of(s.out("x"), s.out("y"), s.out("done"))).containsExactly(1.0, 1.0, 0.0);
        s.advance();
        s.step();
        assertThat(s.out("done")).isZero();
        s.set("in a", 1).advance();
        s.step();
        assertThat(List.of(s.out("x"), s.out("y"), s.out("done"))).containsExactly(1.0, 1.0, 0.0);
        s.advance();
        s.step();
        assertThat(List.of(s.out("x"), s.out("y"), s.out("done"))).containsExactly(0.0, 0.0, 1.0);
    }

    @Test
    void actionQualifiers() {
        var s = run("""
                VAR_INPUT go : BOOL; back : BOOL; END_VAR VAR_OUTPUT n : BOOL; p : BOOL; l : BOOL; d : BOOL; st : BOOL; count : INT; END_VAR
                INITIAL_STEP idle: END_STEP
                STEP work: n(N); p(P); l(L, T#300ms); d(D, T#200ms); st(S); counting(P); END_STEP
                STEP rest: END_STEP
                STEP clear: st(R); END_STEP
                TRANSITION FROM idle TO work := go; END_TRANSITION
                TRANSITION FROM work TO rest := work.T >= T#500ms; END_TRANSITION
                TRANSITION FROM rest TO clear := back; END_TRANSITION
                TRANSITION FROM clear TO idle := NOT go; END_TRANSITION
                ACTION counting: count := count + 1; END_ACTION
                """);
        s.step();
        s.set("in go", 1);
        String n = "";
        String p = "";
        String l = "";
        String d = "";
        String st = "";
        for (int k = 0; k < 8; k++) {
            s.advance();
            s.step();
            n += (int) s.out("n");
            p += (int) s.out("p");
            l += (int) s.out("l");
            d += (int) s.out("d");
            st += (int) s.out("st");
        }
        assertThat(n).isEqualTo("11111000");
        assertThat(p).isEqualTo("10000000");
        assertThat(l).isEqualTo("11100000");
        assertThat(d).isEqualTo("00111000");
        assertThat(st).isEqualTo("11111111");
        assertThat(s.out("count")).isEqualTo(1);
        s.set("in back", 1).advance();
        s.step();
        assertThat(s.out("st")).isZero();
    }

    @Test
    void aChartIsChecked() {
        List<String> causes = part("""
                VAR_OUTPUT y : BOOL; END_VAR
                INITIAL_STEP a: y(N); END_STEP
                STEP b: nothing(N); y(X); y(L); END_STEP
                STEP lost: END_STEP
                TRANSITION FROM a TO b := TRUE; END_TRANSITION
                TRANSITION FROM b TO c := TRUE; END_TRANSITION
                TRANSITION FROM b TO a := 3; END_TRANSITION
                """, "1 ms").lower().findings().stream().map(Finding::cause).toList();
        assertThat(causes).anyMatch(c -> c.contains("There is no step 'c'"))
                .anyMatch(c -> c.contains("No transition leads to the step 'lost'"))
                .anyMatch(c -> c.contains("no action qualifier 'X'")).anyMatch(c -> c.contains("The qualifier L needs a time"))
                .anyMatch(c -> c.contains("There is no action and no BOOL variable 'nothing'")).anyMatch(c -> c.contains("BOOL"));
        assertThat(part("STEP a: END_STEP", "1 ms").lower().findings()).anyMatch(f -> f.cause().contains("no INITIAL_STEP"));
    }

    @Test
    void anUnreachableStepIsADoubtAndTheChartRuns() {
        var lowered = part("INITIAL_STEP a: END_STEP STEP lost: END_STEP", "1 ms").lower();
        assertThat(lowered.program()).isPresent();
        assertThat(lowered.findings()).singleElement().satisfies(f -> {
            assertThat(f.isError()).isFalse();
            assertThat(f.cause()).contains("Line 1, column 26").contains("lost");
            assertThat(f.place().text()).isEqualTo("p/m");
        });
    }
}
