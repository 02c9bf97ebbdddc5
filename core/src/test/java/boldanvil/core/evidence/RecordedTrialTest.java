package boldanvil.core.evidence;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.simulate.Change;
import boldanvil.core.trial.Verdict;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

class RecordedTrialTest {
    private static final Project DEMO = ProjectReader.read(Path.of("../demo/larkmere-lock"));
    private static final TrialRunner.Options OPTIONS = new TrialRunner.Options(Path.of("target"), Map.of(), false, false);

    private static String recorded() throws Exception {
        var changes = List.of(new Change("panel.enable", 1, 100_000_000), new Change("controller.position_loop.target", 0.12345,
                200_000_000), new Change("controller.position_loop.target", 0.05, 3_000_000_000L));
        try (var run = RigStarter.prepare(DEMO, "desk", new RunOptions(5_000_000_000L, Double.POSITIVE_INFINITY, changes,
                Path.of("target")),
                Progress.NONE)) {
            run.start();
            run.awaitEnd();
            return RecordedTrial.of("Recorded", "desk", run.review().system(), run.interventions(), run.store(), run.seconds(), 0.02);
        }
    }

    private static Verdict verdict(String text) {
        return TrialRunner.run(DEMO.withTrial("recorded.trial", text), "recorded", "desk", OPTIONS, Progress.NONE, _ -> { }).verdict();
    }

    @Test
    void aTrialMadeOfARunDoesWhatWasDoneAndPasses() throws Exception {
        String text = recorded();
        assertThat(text).contains("wait 0.0999 s\n", "set panel.enable to 1\n", "set controller.position_loop.target to 0.12345 m\n",
                "wait 2.7999 s\n", "expect drive.position = 0.123");
        assertThat(verdict(text)).isEqualTo(Verdict.PASSED);
    }

    @Test
    void itFailsWhereTheRigDoesSomethingElse() throws Exception {
        assertThat(verdict(recorded().replace("to 0.12345 m", "to 0.2 m"))).isEqualTo(Verdict.FAILED);
    }

    @Test
    void stimuliAndFaultsBecomeStepsThatMakeTheSameRunAgain() throws Exception {
        String text = """
                rigs desk
                set panel.enable to on
                apply sine of 5 mm at 2 Hz around 100 mm to controller.position_loop.target for 1 s
                wait 1 s
                insert offset of 0.1 V on drive.shunt A
                apply square from 50 mm until 80 mm to controller.position_loop.target every 1 s
                wait 0.7 s
                insert delay of 1 ms on drive.shunt B
                insert loss of 20 % on drive.shaft
                wait 0.1 s
                clear drive.shunt A
                release controller.position_loop.target
                insert stuck on drive.shunt A
                wait 0.2 s
                clear all
                wait 0.1 s
                expect drive.position > -1 m
                """;
        var first = new java.util.ArrayList<boldanvil.core.bench.LiveRun>();
        var a = TrialRunner.run(DEMO.withTrial("a.trial", text), "a", "desk", OPTIONS, Progress.NONE, first::add);
        var run = first.getFirst();
        String again = RecordedTrial.of("Again", "desk", run.review().system(), run.interventions(), run.store(), run.seconds(), 0.02)
                + "expect drive.position > -1 m\n";
        assertThat(again).contains("apply sine of 0.005 m at 2 Hz around 0.1 m", "apply square from 0.05 m until 0.08 m",
                "insert offset of 0.1 V on drive.shunt A", "insert loss of 0.2 on drive.shaft", "clear drive.shunt A", "clear all");
        var b = TrialRunner.run(DEMO.withTrial("b.trial", again), "b", "desk", OPTIONS, Progress.NONE, _ -> { });
        double[] one = a.courses().get("drive.position").values();
        double[] two = b.courses().get("drive.position").values();
        int n = Math.min(one.length, two.length);
        assertThat(n).isGreaterThan(20_000);
        assertThat(java.util.Arrays.copyOf(two, n)).isEqualTo(java.util.Arrays.copyOf(one, n));
    }
}
