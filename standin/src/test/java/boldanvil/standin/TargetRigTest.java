package boldanvil.standin;

import static org.assertj.core.api.Assertions.within;
import boldanvil.core.target.TargetLog.Keep;
import boldanvil.core.control.DeviceFault;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.diagram.Mapping;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.instance.Instance;
import boldanvil.core.review.Review;
import boldanvil.core.samples.Samples;
import boldanvil.core.simulate.Recorder;
import boldanvil.core.testing.RigModels;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Rigs with a real-time target, in the bench process. */
class TargetRigTest {
    private static final long NANOS = 100_000_000;

    @TempDir
    private Path build;

    private static Project demo(String name) {
        return ProjectReader.read(Path.of("../demo/" + name));
    }

    private LiveRun run(Project p, String rig) throws InterruptedException {
        var run = RigStarter.prepare(p, rig, new RunOptions(NANOS, Double.POSITIVE_INFINITY, List.of(), build), Progress.NONE);
        run.start();
        run.awaitEnd();
        return run;
    }

    /** The same rig in this process: its device as a model with the converters of its board. */
    private static Samples here(Project project, String rigName) {
        Rig rig = project.rig(rigName).orElseThrow();
        var review = Review.of(project.as(rig)).orThrow();
        Map<String, Instance> instances = RigModels.instances(review, rig);
        var conductor = RigModels.conductor(review, instances);
        var recorder = new Recorder(review.system(), instances, Integer.MAX_VALUE);
        recorder.record(conductor);
        while (conductor.nowNanos() < NANOS) {
            conductor.tick();
        }
        return recorder.store();
    }

    private static void same(LiveRun run, Samples model, String... taps) {
        for (String tap : taps) {
            var a = run.store().series(run.store().indexOf(tap));
            var b = model.series(model.indexOf(tap));
            assertThat(a.values()).as(tap).isEqualTo(b.values());
            assertThat(a.size()).isGreaterThan(100);
        }
    }

    @Test
    void aDeviceAgainstATargetIsTheSameBitForBitInBothProcesses() throws Exception {
        var p = demo("gate-network");
        try (var run = run(p, "hearth")) {
            same(run, here(p, "hearth"), "servo.shaft_speed", "servo.A_amps", "controller.iq", "controller.speed_loop.speed");
            assertThat(run.findings()).noneMatch(Finding::isError);
            var health = run.health().parts().stream().filter(x -> x.name().equals("servo")).findFirst().orElseThrow();
            assertThat(health.where()).isEqualTo("Hearth RT8 'bench', core 1");
            assertThat(health.latency()).hasValueSatisfying(l -> {
                assertThat(l.longest()).isBetween(25e-6, 52.01e-6);
                assertThat(l.budget()).isEqualTo(60e-6);
                assertThat(l.overruns()).isZero();
            });
        }
    }

    @Test
    void aControllerOnOneTargetDrivesAPowerStageOnAnother() throws Exception {
        var p = demo("gate-network");
        try (var run = run(p, "prototype")) {
            same(run, here(p, "prototype"), "servo.shaft_speed", "controller.iq");
            var speed = run.store().series(run.store().indexOf("servo.shaft_speed"));
            assertThat(speed.values()[speed.size() - 1]).as("the drive has begun to turn").isGreaterThan(5);
        }
    }

    @Test
    void aTooSlowCoreEndsTheRunWhereItIsToStop() throws Exception {
        // The solver takes a hundred steps in each of its own.
        var p = demo("larkmere-lock");
        Rig.Seat seat = new Rig.Seat("bench", 1, Rig.Overrun.STOP, "25 us");
        assertThat(p.rig("hearth").orElseThrow().place("drive").seat()).isEqualTo(seat);
        String slow = new String(boldanvil.core.board.Board.class.getResourceAsStream("hearth-rt8.json").readAllBytes(),
                java.nio.charset.StandardCharsets.UTF_8).replace("\"name\": \"hearth-rt8\"", "\"name\": \"slow\"")
                .replace("2400000000", "12000000");
        var mapping = p.mappings().get("drive");
        Project slowed = p.withBoards(Map.of("slow", slow)).withMapping("drive", new Mapping("slow", 0, mapping.rows()))
                .withRigs(p.rigs().stream().map(r -> r.name().equals("hearth") ? r.with("drive", new Rig.Place("slow", seat))
                        .with("chamber", Rig.Place.MODEL) : r).toList());
        try (var run = run(slowed, "hearth")) {
            assertThat(run.findings()).anyMatch(f -> f.isError() && f.cause().startsWith("The core did not end a step in time"));
            assertThat(run.seconds()).isLessThan(0.01);
        }
        Project skipping = slowed.withRigs(slowed.rigs().stream().map(r -> r.name().equals("hearth") ? r.with("drive",
                new Rig.Place("slow", new Rig.Seat("bench", 1, Rig.Overrun.SKIP, "25 us"))) : r).toList());
        try (var run = run(skipping, "hearth")) {
            assertThat(run.findings()).anyMatch(f -> !f.isError() && f.cause().contains("Such steps are left out"));
            assertThat(run.seconds()).isEqualTo(0.1);
            assertThat(run.overruns()).isPositive();
        }
    }

    @Test
    void aLogInTheMemoryOfATargetHasEveryStep() throws Exception {
        var p = demo("gate-network");
        try (var run = RigStarter.prepare(p, "hearth", new RunOptions(NANOS, Double.POSITIVE_INFINITY, List.of(), build), Progress.NONE)) {
            var logs = run.targetLogs().orElseThrow();
            assertThatThrownBy(() -> logs.start("servo", List.of("nothing"), 1, Keep.FIRST))
                    .hasMessageContaining("There is no tap 'nothing'");
            assertThatThrownBy(() -> logs.upload("servo")).hasMessageContaining("has no log");
            assertThatThrownBy(() -> logs.start("controller", List.of(), 1, Keep.FIRST)).hasMessageContaining("does not run on a target");
            logs.start("servo", List.of("shaft_speed"), 1, Keep.FIRST);
            run.start();
            run.awaitEnd();
            var speed = logs.upload("servo").find("servo.shaft_speed").orElseThrow();
            // A step of 25 µs, from 0 on.
            assertThat(speed.size()).isEqualTo((int) (NANOS / 25_000));
            assertThat(speed.times()[1]).isCloseTo(25e-6, within(1e-12));
            var recorded = run.store().series(run.store().indexOf("servo.shaft_speed"));
            for (int i = 0; i < speed.size(); i += 97) {
                assertThat(speed.values()[i]).isEqualTo(recorded.at(speed.times()[i]));
            }
        }
    }

    @Test
    void aFullMemoryIsAFindingAndWhatIsInItStays() throws Exception {
        var p = demo("gate-network");
        String small = new String(boldanvil.core.board.Board.class.getResourceAsStream("hearth-rt8.json").readAllBytes(),
                java.nio.charset.StandardCharsets.UTF_8).replace("\"name\": \"hearth-rt8\"", "\"name\": \"small\"")
                .replace("\"logBytes\": 67108864", "\"logBytes\": 16000");
        var seat = p.rig("hearth").orElseThrow().place("servo").seat();
        var mapping = new Mapping("small", 0, p.mappings().get("servo").rows());
        Project little = p.withBoards(Map.of("small", small)).withMapping("servo", mapping).withRigs(p.rigs().stream()
                .map(r -> r.name().equals("hearth") ? r.with("servo", new Rig.Place("small", seat)) : r).toList());
        try (var run = RigStarter.prepare(little, "hearth", new RunOptions(NANOS, Double.POSITIVE_INFINITY, List.of(), build),
                Progress.NONE)) {
            run.targetLogs().orElseThrow().start("servo", List.of("shaft_speed"), 1, Keep.FIRST);
            run.start();
            run.awaitEnd();
            assertThat(run.findings()).anySatisfy(f -> {
                assertThat(f.cause()).isEqualTo("The memory of the target 'bench' for logs is full since 0.025 s; later steps are not "
                        + "logged.");
                assertThat(f.cure()).contains("keep the last steps");
            });
            assertThat(run.targetLogs().orElseThrow().upload("servo").series().getFirst().size()).isEqualTo(1_000);
        }
    }

    @Test
    void aTargetThatDoesNotAnswerOrIsAnotherBoardIsNotStarted() {
        var p = demo("gate-network");
        for (var fault : List.of(DeviceFault.UNPLUGGED, DeviceFault.WRONG_IDENTITY)) {
            var options = new RunOptions(NANOS, Double.POSITIVE_INFINITY, List.of(), build, Map.of("servo", fault));
            assertThatThrownBy(() -> RigStarter.prepare(p, "hearth", options, Progress.NONE)).isInstanceOfSatisfying(FindingException.class,
                    e -> assertThat(e.findings().getFirst().toString()).contains("servo", "'bench'", fault == DeviceFault.UNPLUGGED
                            ? "does not answer" : "a board of another kind"));
        }
    }

    @Test
    void aRigWithoutAChannelIsNotStarted() {
        var p = demo("larkmere-lock");
        var bare = p.withMapping("drive", new Mapping("hearth-rt8", List.of()));
        assertThatThrownBy(() -> run(bare, "hearth")).isInstanceOfSatisfying(FindingException.class, e -> assertThat(e.findings())
                .anySatisfy(f -> assertThat(f.toString()).contains("mapping · drive · leg A").contains("Assign a channel")));
    }
}
