package boldanvil.core.trial;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.finding.Place;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class TrialReaderTest {
    private static Trial read(String text) {
        var r = TrialReader.read("t", text);
        assertThat(r.findings()).isEmpty();
        return r.trial();
    }

    @Test
    void theHeaderSaysWhatItIsFor() {
        var t = read("""
                trial The paddle rises
                rigs desk, code
                tags demo quick
                covers PD-1, PD-2
                limit 5 s

                wait 1 s
                """);
        assertThat(t.title()).isEqualTo("The paddle rises");
        assertThat(t.rigs()).containsExactly("desk", "code");
        assertThat(t.tags()).containsExactly("demo", "quick");
        assertThat(t.covers()).containsExactly("PD-1", "PD-2");
        assertThat(t.limit()).isEqualTo("5 s");
    }

    @Test
    void eachStepIsReadWithItsWordsAndRequirements() {
        var steps = read("""
                set a.x to min(1, 2), a.y to on   [R-1, R-2]
                ramp a.x to 200 mm in 2 s
                apply sine of 5 mm at 2 Hz around 100 mm to a.x for 3 s
                wait until a.z > 1 mm for 10 ms within 3 s
                expect a.z = 2 mm ± 1 mm within 20 ms after a.x > 1
                expect order a.b, then not a.c, then a.d within 1 s
                expect overshoot of a.z from 0 mm to 20 mm < 1 mm over 2 s
                expect a.z falling allowing 1 mm for 1 s
                expect a.z like rise ± 2 mm for 1 s
                insert short to supply at 3.3 V on b.in 1 for 20 ms
                clear all
                ask "Is the lamp lit?"
                """).steps();
        assertThat(steps.getFirst()).isEqualTo(new Step.Set(new Step.Line(1, "set a.x to min(1, 2), a.y to on", List.of("R-1", "R-2")),
                Map.of("a.x", "min(1, 2)", "a.y", "on")));
        assertThat(steps.get(3)).isInstanceOfSatisfying(Step.WaitUntil.class, w -> {
            assertThat(w.condition()).isEqualTo("a.z > 1 mm");
            assertThat(w.lasting()).isEqualTo("10 ms");
        });
        assertThat(steps.get(4)).isInstanceOfSatisfying(Step.Expect.class, e -> assertThat(e.after()).isEqualTo("a.x > 1"));
        assertThat(steps.get(5)).isInstanceOfSatisfying(Step.Order.class,
                o -> assertThat(o.conditions()).containsExactly("a.b", "not a.c", "a.d"));
        assertThat(steps.get(6)).isInstanceOfSatisfying(Step.Measure.class, m -> {
            assertThat(m.figure()).isEqualTo(Figure.OVERSHOOT);
            assertThat(m.to()).isEqualTo("20 mm");
            assertThat(m.comparison()).isEqualTo("< 1 mm");
        });
        assertThat(steps.get(7)).isInstanceOfSatisfying(Step.Trend.class, t -> assertThat(t.margin()).isEqualTo("1 mm"));
        assertThat(steps.get(8)).isInstanceOfSatisfying(Step.Like.class, l -> assertThat(l.reference()).isEqualTo("rise"));
        assertThat(steps.get(9)).isInstanceOfSatisfying(Step.Insert.class, i -> {
            assertThat(i.fault()).isEqualTo("short to supply");
            assertThat(i.address()).isEqualTo("b.in 1");
        });
        assertThat(steps.get(11)).isInstanceOfSatisfying(Step.Ask.class, a -> assertThat(a.question()).isEqualTo("Is the lamp lit?"));
    }

    @Test
    void aRepetitionHasATableOrAList() {
        var steps = read("""
                repeat for
                    | fault      | on    |
                    | stuck      | b.in  |
                    | noise of 1 | b.in  |
                    insert {fault} on {on}
                    repeat for t in 1 s, 2 s
                        wait t
                    end
                end
                """).steps();
        assertThat(steps).singleElement().isInstanceOfSatisfying(Step.Repeat.class, r -> {
            assertThat(r.rows()).containsExactly(List.of("stuck", "b.in"), List.of("noise of 1", "b.in"));
            assertThat(r.steps()).hasSize(2);
        });
    }

    @ParameterizedTest
    @CsvSource(delimiter = ';', value = {"jump 3; There is no step", "wait; The step is incomplete", "ramp a.x to 3; 'in' is missing",
        "set a.x to 1, a.x to 2; set twice", "expect overshoot of a.x < 3 over 1 s; 'from' is missing",
                "expect mean of a.x < 3; incomplete",
        "apply wobble of 1 to a.x; There is no stimulus", "apply sine of 1 at 1 Hz to a.x for 1 s every 2 s; has no 'every'",
        "end; no repetition", "| a |; belongs to nothing", "expect a.x like b for 1 s; tolerance is missing",
                "expect a.x > 1 within; Nothing follows",
        "insert stuck; 'on' is missing", "wait until a.x; 'within' is missing", "expect a.x rising; 'for' is missing"})
    void aLineThatIsNoStepIsFoundAtItsPlace(String line, String cause) {
        var findings = TrialReader.read("t", "wait 1 s\n" + line).findings();
        assertThat(findings).singleElement().satisfies(f -> {
            assertThat(f.place()).isEqualTo(Place.trial("t", 2));
            assertThat(f.cause()).contains(cause);
        });
    }

    @Test
    void whatDoesNotEndIsFound() {
        assertThat(TrialReader.read("t", "repeat for a in 1\nwait a s").findings()).singleElement()
                .satisfies(f -> assertThat(f.cause()).contains("does not end"));
        assertThat(TrialReader.read("t", "repeat for a in 1\n".repeat(20)).findings()).isNotEmpty();
        assertThat(TrialReader.read("t", "x".repeat(TrialReader.MAX_LENGTH + 1)).findings()).hasSize(1);
    }
}
