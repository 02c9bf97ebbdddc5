package boldanvil.standin;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.replay.Replay;
import boldanvil.core.replay.Why;
import boldanvil.core.simulate.Stimulus;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Runs of code and of devices, repeated by the model. */
class RepeatedRunTest {
    private static final SheetRef CONTROLLER = new SheetRef("controller", "main");
    private static final SheetRef BRIDGE = new SheetRef("controller", "bridge");

    @TempDir
    private Path build;

    private static Project demo() {
        return ProjectReader.read(Path.of("../demo/larkmere-lock"));
    }

    /** A run with a live change and a stimulus. */
    private LiveRun run(String rig, double seconds) throws Exception {
        var run = RigStarter.prepare(demo(), rig, new RunOptions((long) (seconds * 1e9), 1, List.of(), build), Progress.NONE);
        run.start();
        while (run.seconds() < 0.6) {
            Thread.sleep(10);
        }
        run.set("controller.position_loop.target", 0.05);
        run.drive("drive.paddle.water_load", Stimulus.ramp(0, 100, 0.5, false));
        run.awaitEnd();
        return run;
    }

    private static Replay repeat(Project p, LiveRun run) throws InterruptedException {
        var replay = new Replay(p, run.rig(), run.interventions(), run.store());
        replay.prepare(_ -> { });
        return replay;
    }

    @Test
    void codeThatWasChangedLiveRepeatsBitForBit() throws Exception {
        try (var run = run("code", 1.6)) {
            assertThat(run.interventions()).hasSize(2);
            var replay = repeat(demo(), run);
            assertThat(replay.differences()).isEmpty();
            assertThat(replay.isMeasured()).isFalse();
        }
    }

    @Test
    void whatADeviceMeasuredIsFedToTheModelAndTheRestIsComputedFromIt() throws Exception {
        try (var run = run("swage", 1.6)) {
            var replay = repeat(demo(), run);
            assertThat(replay.isMeasured()).isTrue();
            assertThat(replay.differences()).isEmpty();
            var values = replay.values(CONTROLLER, "controller", 1.5);
            // The tap 'current' is on the output of block 'mean'.
            int current = run.store().indexOf("controller.current");
            assertThat(values.get("b7.y")).isEqualTo(new Replay.Value(run.store().valueAt(current, 1.5), true));
            assertThat(values.get("b6.y").measured()).isFalse();
            assertThat(values.get("b9.y")).isEqualTo(new Replay.Value(Math.abs(values.get("b7.y").value()), false));
        }
    }

    @Test
    void aModelThatIsNotTheDeviceIsComparedAndDoesNotLeadThePlantAstray() throws Exception {
        Project other = demo();
        other = other.withVariables(other.variables().stream().map(v -> v.name().equals("Kp_x") ? v.valued("5") : v).toList());
        try (var run = run("swage", 1.6)) {
            var replay = repeat(other, run);
            // The device had another gain: the model's speed demand differs, but the plant follows the measured duty.
            assertThat(replay.differences()).extracting(Replay.Difference::tap).isNotEmpty().allMatch(t -> t.startsWith("controller."));
            int position = run.store().indexOf("drive.position");
            var ref = new SheetRef("drive", "main");
            var drive = other.sheet(ref).orElseThrow();
            var tap = drive.blocks().stream().filter(b -> b.name().equals("position")).findFirst().orElseThrow();
            var wire = drive.wireInto(tap.id(), "u").orElseThrow();
            assertThat(replay.values(ref, "drive", 1.55).get(wire.from() + "." + wire.fromPort()).value())
                    .isEqualTo(run.store().valueAt(position, 1.55));
        }
    }

    @Test
    void whyEndsWhereAValueWasMeasured() throws Exception {
        try (var run = run("swage", 1.2)) {
            var replay = repeat(demo(), run);
            var why = replay.why(CONTROLLER, "controller", "b9", "y", 1.1).orElseThrow();
            assertThat(why.steps()).filteredOn(s -> s.words().equals("measured")).extracting(Why.Step::path)
                    .containsExactly("controller/mean");
            assertThat(replay.values(BRIDGE, "controller/bridge", 1.1)).anySatisfy((_, v) -> assertThat(v.measured()).isTrue());
        }
    }
}
