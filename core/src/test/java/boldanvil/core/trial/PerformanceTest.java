package boldanvil.core.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Wire;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.simulate.Conductor;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.trial.StepResult.State;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Trials on a set-point of a controller and a lag of 100 ms that follows it. */
class PerformanceTest {
    private static Project project(Map<String, String> trials) {
        Project p = PartBuilder.project(List.of(
                new PartBuilder("c").block("target", "constant", "*value=0").block("t", "tap").block("out", "outlet")
                        .block("fed", "inlet").block("seen", "tap").wire("target.y", "t.u").wire("target.y", "out.u")
                                .wire("fed.y", "seen.u")
                        .part(),
                new PartBuilder("lag").plant("1 ms", "rk4").block("in", "inlet").block("x", "transfer", "num=[1]", "den=[0.1, 1]")
                        .block("y", "tap")
                        .block("out", "outlet").wire("in.y", "x.u").wire("x.y", "y.u").wire("x.y", "out.u").part()),
                new Wire("c", "out", "lag", "in"), new Wire("lag", "out", "c", "fed"));
        for (var t : trials.entrySet()) {
            p = p.withTrial(t.getKey(), t.getValue());
        }
        return p;
    }

    private static List<StepResult> run(Map<String, String> trials, Map<String, Boolean> answers) {
        var project = project(trials);
        var system = LoweredSystem.of(project).orThrow();
        Map<String, Instance> instances = new LinkedHashMap<>();
        system.parts().keySet().forEach(id -> instances.put(id, JvmCompiler.compile(system.program(id).orElseThrow()).instantiate()));
        var conductor = new Conductor(system, instances);
        var playing = Playing.begin(project, system, instances, conductor, new Playing.Order("t", answers, false));
        for (int i = 0; i < 100_000 && !conductor.isOver(); i++) {
            conductor.tick();
        }
        assertThat(conductor.isOver()).isTrue();
        return playing.progress().steps();
    }

    private static List<StepResult> run(String text) {
        return run(Map.of("t.trial", text), Map.of());
    }

    private static StepResult last(String text) {
        return run("set c.target.value to 1\n" + text).getLast();
    }

    @Test
    void aValueTakesEffectInTheTickInWhichItIsSetAndIsSeenInIt() {
        var steps = run("wait 10 ms\nset c.target.value to 1\nexpect c.t = 1\nexpect lag.y = 0");
        assertThat(steps).extracting(StepResult::state).containsExactly(State.DONE, State.DONE, State.PASSED, State.PASSED);
        assertThat(steps).extracting(StepResult::to).containsExactly(0.01, 0.011, 0.011, 0.011);
    }

    @Test
    void theInstantOfAnEventIsExactToATick() {
        // 1 − exp(−t/T) passes ½ at T ln 2, 69.3 ms.
        var r = last("expect lag.y > 0.5 within 1 s");
        assertThat(r.state()).isEqualTo(State.PASSED);
        assertThat(r.to()).isEqualTo(0.070);
        assertThat(r.words()).startsWith("after 0.07 s: lag.y = 0.503");
    }

    @ParameterizedTest
    @CsvSource(delimiter = ';', value = {
        "expect lag.y < 0.5 for 69 ms; PASSED", "expect lag.y < 0.5 for 71 ms; FAILED",
        "expect lag.y > 0.5 for 100 ms within 80 ms; PASSED", "expect lag.y > 0.9 within 200 ms; FAILED",
        "expect lag.y > 0.9 within 165 ms after lag.y > 0.5; PASSED", "expect lag.y > 0.9 within 160 ms after lag.y > 0.5; FAILED",
        "expect order lag.y > 0.1, then lag.y > 0.2, then lag.y > 0.3 within 1 s; PASSED",
        "expect order lag.y > 0.2, then lag.y > 0.1 within 1 s; FAILED",
        "expect lag.y rising for 0.3 s; PASSED", "expect lag.y falling for 0.3 s; FAILED",
        "expect rise time of lag.y from 0 to 1 between 0.2177 s and 0.2217 s over 2 s; PASSED",
        "expect settling time of lag.y from 0 to 1 = 391 ms ± 1 ms over 2 s; PASSED",
        "expect overshoot of lag.y from 0 to 1 > 0.001 over 2 s; FAILED", "expect maximum of lag.y < 0.5 over 70 ms; FAILED",
        "expect mean of c.t = 1 over 70 ms; PASSED", "expect time between 0 s and 1 ms; PASSED"})
    void anExpectationIsDecidedByWhatTheLagDoes(String line, State wanted) {
        assertThat(last(line).state()).isEqualTo(wanted);
    }

    @Test
    void whatIsWatchedGoesOnBesideTheNextSteps() {
        var steps = run("never lag.y > 0.5\nalways c.t < 2\nset c.target.value to 1\nwait 0.2 s");
        assertThat(steps).extracting(StepResult::state).containsExactly(State.FAILED, State.PASSED, State.DONE, State.DONE);
        assertThat(steps.getFirst().words()).startsWith("It held at 0.071 s: lag.y = 0.503");
    }

    @Test
    void aConditionThatIsWaitedForInVainEndsTheTrial() {
        var steps = run("wait until lag.y > 0.5 within 20 ms\nexpect c.t = 0");
        assertThat(steps).extracting(StepResult::state).containsExactly(State.FAILED, State.NOT_REACHED);
        assertThat(Verdict.of(steps)).isEqualTo(Verdict.FAILED);
    }

    @Test
    void aRampArrivesAtItsEnd() {
        var steps = run("ramp c.target.value to 3 in 30 ms\nexpect c.t = 3");
        assertThat(steps.getLast().state()).isEqualTo(State.PASSED);
        assertThat(steps.getFirst().to()).isEqualTo(0.030);
    }

    @Test
    void aStimulusDrivesBesideTheNextSteps() {
        var steps = run("apply square from 1 until 2 to c.target.value every 20 ms\nexpect c.t = 2\nwait 10 ms\nexpect c.t = 1\n"
                + "release c.target.value\nwait 50 ms\nexpect c.t = 1");
        assertThat(steps).filteredOn(s -> s.text().startsWith("expect")).extracting(StepResult::state).containsOnly(State.PASSED);
    }

    @Test
    void aFaultIsInsertedForItsTimeOrUntilItIsCleared() {
        var steps = run("""
                set c.target.value to 1
                insert fixed at 7 on lag.out for 20 ms
                wait 5 ms
                expect c.seen = 7
                wait 20 ms
                expect c.seen < 1
                insert offset of -2 on c.fed
                wait 1 ms
                expect c.seen < 0
                clear c.fed
                wait 1 ms
                expect c.seen > 0
                """);
        assertThat(steps).filteredOn(s -> s.text().startsWith("expect")).extracting(StepResult::state).containsOnly(State.PASSED);
    }

    @Test
    void aTableRepeatsItsStepsWithValuesAndTexts() {
        var steps = run("""
                repeat for
                    | v | fault           | seen |
                    | 1 | fixed at 4      | 4    |
                    | 2 | fixed at -1     | -1   |
                    set c.target.value to v
                    insert {fault} on lag.out
                    wait 2 ms
                    expect c.seen = {seen} and c.t = v
                end
                """);
        assertThat(steps).hasSize(8);
        assertThat(steps).filteredOn(s -> s.text().startsWith("expect")).extracting(StepResult::state).containsOnly(State.PASSED);
        assertThat(steps.getLast().text()).isEqualTo("expect c.seen = -1 and c.t = v (v = 2, fault = fixed at -1, seen = -1)");
    }

    @Test
    void aTrialCallsAnother() {
        var steps = run(Map.of("t.trial", "call up\nexpect c.t = 5", "up.trial", "set c.target.value to 5"), Map.of());
        assertThat(steps).extracting(StepResult::trial).containsExactly("up", "t");
        assertThat(steps.getLast().state()).isEqualTo(State.PASSED);
    }

    @Test
    void aQuestionThatNobodyAnswersLeavesTheVerdictOpen() {
        String text = "ask \"Does it turn?\"\nexpect c.t = 0";
        assertThat(Verdict.of(run(text))).isEqualTo(Verdict.OPEN);
        assertThat(Verdict.of(run(Map.of("t.trial", text), Map.of("Does it turn?", true)))).isEqualTo(Verdict.PASSED);
        assertThat(Verdict.of(run(Map.of("t.trial", text), Map.of("Does it turn?", false)))).isEqualTo(Verdict.FAILED);
        assertThat(Verdict.of(run("wait 1 ms"))).as("nothing was expected").isEqualTo(Verdict.OPEN);
    }

    @Test
    void theLimitEndsATrialThatDoesNot() {
        var steps = run("limit 50 ms\nexpect lag.y > 2 within 10 s\nexpect c.t = 0");
        assertThat(steps).extracting(StepResult::state).containsExactly(State.FAILED, State.NOT_REACHED);
        assertThat(steps.getFirst().words()).contains("limit of 50 ms");
    }

    @Test
    void aCourseHasEmptyCellsWhereASignalHasNoSample() {
        String course = "time [s],lag.y,c.t\n0,0,\n0.05,,1\n0.1,0.632,1\n0.2,0.865,\n0.3,0.950,1\n";
        assertThat(run(Map.of("t.trial", "set c.target.value to 1\nexpect lag.y like rise ± 0.13 for 0.3 s", "rise.csv", course), Map.of())
                .getLast().state()).isEqualTo(State.PASSED);
        assertThat(run(Map.of("t.trial", "set c.target.value to 1\nexpect c.t like rise ± 0.1 for 0.3 s", "rise.csv", course), Map.of())
                .getLast().state()).isEqualTo(State.PASSED);
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {"time|no column 'lag.y'", "time,lag.y\\n0,1\\n0,2|the times do not rise",
        "time,lag.y\\n0,x|is not a time and a value", "time,lag.y\\n0,|has no values of 'lag.y'", "#|is empty"})
    void aCourseThatIsNoneIsRefusedWithItsRow(String csv, String cause) {
        assertThatThrownBy(() -> Course.read("rise", csv.replace("\\n", "\n"), "lag.y", "")).isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining(cause);
    }

    @Test
    void aCourseIsComparedWithARecordedOne() {
        String good = "seconds,lag.y\n0,0\n0.1,0.632\n0.2,0.865\n0.3,0.950\n";
        String text = "set c.target.value to 1\nexpect lag.y like rise ± 0.13 for 0.3 s";
        assertThat(run(Map.of("t.trial", text, "rise.csv", good), Map.of()).getLast().state()).isEqualTo(State.PASSED);
        assertThat(run(Map.of("t.trial", text.replace("0.13", "0.05"), "rise.csv", good), Map.of()).getLast().state())
                .isEqualTo(State.FAILED);
    }

    @ParameterizedTest
    @CsvSource(delimiter = ';', value = {"set c.nothing to 1; no tunable 'nothing'",
            "set c.target.value to 3 q; neither a unit nor a variable",
        "expect c.nothing > 1; neither a signal", "wait 3; needs a unit", "expect lag.y; passes", "insert stuck on c.x; no wire at 'c.x'",
        "insert melted on lag.out; There is no fault", "insert offset on lag.out; needs 'of'", "insert reset on lag.out; not a part",
        "call other; There is no trial", "call t; calls itself", "expect mean of c.x < 1 over 1 s; no signal 'c.x'",
        "expect lag.y like rise ± 1 for 1 s; no recorded course", "insert stuck on lag.out every 1 s; needs 'lasting'",
        "wait 2e9 s; not a time", "expect lag.y > 1 after lag.y > 0; needs 'within'", "insert loss of 3 m on lag.out; pure number",
        "insert loss of 150 % on lag.out; share from 0 to 1"})
    void whatDoesNotFitTheRigIsFoundBeforeItRuns(String line, String cause) {
        var project = project(Map.of("t.trial", "wait 1 ms\n" + line));
        var plan = TrialPlan.of(new TrialSet(project.trials()), "t", Map.of(), LoweredSystem.of(project), Map.of());
        if (cause.equals("passes")) {
            assertThat(plan.findings()).isEmpty();
            return;
        }
        assertThat(plan.findings()).singleElement().satisfies(f -> {
            assertThat(f.place()).isEqualTo(Place.trial("t", 2));
            assertThat(f.cause()).contains(cause);
        });
    }

    @Test
    void aTrialWithoutEndIsRefused() {
        String inner = "repeat for a in 1, 2, 3, 4, 5, 6, 7, 8, 9, 10\n".repeat(6) + "wait 1 ms\n" + "end\n".repeat(6);
        var project = project(Map.of("t.trial", inner));
        var plan = TrialPlan.of(new TrialSet(project.trials()), "t", Map.of(), LoweredSystem.of(project), Map.of());
        assertThat(plan.findings()).anySatisfy(f -> assertThat(f.cause()).contains("more than"));
        assertThatThrownBy(plan::orThrow).isInstanceOf(FindingException.class);
    }
}
