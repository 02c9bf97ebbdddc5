package boldanvil.standin;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.bench.Progress;
import boldanvil.core.diagram.BenchLayout;
import boldanvil.core.diagram.Project;
import boldanvil.core.evidence.TrialRecord;
import boldanvil.core.evidence.TrialRunner;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.trial.StepResult;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Sixty faults on the paddle drive have the same consequences for the controller as model, as code and on its board. */
class SixtyFaultsTest {
    private static final List<String> SENSOR = List.of("offset of 0.2 V", "offset of -0.4 V", "gain of 50 %", "gain of 120 %",
            "drift of 2 V",
            "stuck", "fixed at 2.4 V", "noise of 100 mV", "dropout", "open at 1.65 V", "short to ground", "short to supply at 3.3 V",
            "delay of 1 ms", "loss of 30 %", "repetition of 30 % by 5 ms", "open every 50 ms lasting 5 ms");
    private static final List<String> SWITCH = List.of("fixed at 0", "stuck", "loss of 50 %", "open", "open every 100 ms lasting 50 ms");
    private static final List<String> ACTUATOR = List.of("weak by 40 %", "blocked", "fixed at 0.5", "fixed at 1", "short to ground",
            "delay of 2 ms");
    /** The last one makes the paddle run away; a counter of 16 bits has lost count after it. */
    private static final List<String> ENCODER = List.of("offset of 5", "noise of 0.2", "delay of 5 ms", "loss of 50 %",
            "repetition of 20 % by 10 ms", "drift of 20", "stuck");

    @TempDir
    private Path folder;

    private static String trial() {
        var rows = new StringBuilder();
        List.of("drive.shunt A", "drive.shunt B").forEach(w -> SENSOR.forEach(f -> row(rows, f, w)));
        row(rows, "swap with drive.shunt B", "drive.shunt A");
        row(rows, "swap with drive.shunt A", "drive.shunt B");
        SWITCH.forEach(f -> row(rows, f, "panel.enable line"));
        List.of("controller.leg A", "controller.leg B").forEach(w -> ACTUATOR.forEach(f -> row(rows, f, w)));
        List.of("overrun of 2 ms", "overrun of 5 ms").forEach(f -> row(rows, f, "controller"));
        ENCODER.forEach(f -> row(rows, f, "drive.shaft"));
        assertThat(rows.toString().lines()).hasSize(60);
        return """
                trial Sixty faults
                limit 1000 s
                repeat for
                | fault | on |
                """ + rows + """
                set panel.enable to on
                set controller.position_loop.target to 100 mm
                wait until drive.position = 100 mm ± 3 mm for 0.2 s within 8 s
                insert {fault} on {on}
                expect controller.tripped within 150 ms
                expect drive.position = 100 mm ± 40 mm for 0.2 s
                expect maximum of drive.current < 15 A over 0.2 s
                clear all
                set panel.enable to off
                set panel.reset to on
                wait 0.3 s
                set panel.reset to off
                wait 0.1 s
                end
                """;
    }

    private static void row(StringBuilder rows, String fault, String on) {
        rows.append("| ").append(fault).append(" | ").append(on).append(" |\n");
    }

    @Test
    void eachFaultHasTheSameVerdictsOnModelCodeAndDevice() {
        Project demo = ProjectReader.read(Path.of("../demo/larkmere-lock")).withBench(BenchLayout.EMPTY).withTrial("sixty.trial", trial());
        List<TrialRecord> records = List.of("desk", "code", "swage").stream().map(rig -> TrialRunner.run(demo, "sixty", rig,
                new TrialRunner.Options(folder, Map.of(), false, false), Progress.NONE, _ -> { })).toList();
        var model = records.getFirst().steps();
        assertThat(model).extracting(StepResult::state).contains(StepResult.State.PASSED, StepResult.State.FAILED)
                .doesNotContain(StepResult.State.NOT_REACHED);
        for (TrialRecord r : records) {
            assertThat(r.findings()).isEmpty();
            assertThat(r.steps()).as(r.rig()).hasSize(60 * 13).extracting(StepResult::state)
                    .isEqualTo(model.stream().map(StepResult::state).toList());
        }
    }
}
