package boldanvil.standin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;
import static org.awaitility.Awaitility.await;

import boldanvil.core.bench.BenchRun;
import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.measure.StepMetrics;
import boldanvil.core.runs.Comparison;
import boldanvil.core.samples.RunData;

import boldanvil.core.simulate.Change;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** Whole rigs: build, bench process, download, measurement, tuning, unplugging. */
@Timeout(120)
class BenchRunTest {
    private static final double MAX = Double.POSITIVE_INFINITY;

    @TempDir
    private Path build;

    private static Project demo() {
        return ProjectReader.read(Path.of("../demo/larkmere-lock"));
    }

    private LiveRun prepare(String rig, double seconds, double speed, Progress progress, Change... changes) {
        return RigStarter.prepare(demo(), rig, new RunOptions((long) (seconds * 1e9), speed, List.of(changes), build), progress);
    }

    private RunData run(String rig, double seconds, Change... changes) throws InterruptedException {
        try (var run = prepare(rig, seconds, MAX, Progress.NONE, changes)) {
            run.start();
            run.awaitEnd();
            assertThat(run.state()).isEqualTo(LiveRun.State.ENDED);
            assertThat(run.findings()).isEmpty();
            return run.store().snapshot();
        }
    }

    private static void assertNoDeviation(RunData a, RunData b) {
        var c = Comparison.of(a, b, Map.of());
        assertThat(c.passes()).as("%s", c).isTrue();
        assertThat(c.rows()).hasSizeGreaterThan(8).allMatch(r -> r.largest() == 0 && r.compared() > 100);
    }

    @Test
    void compiledCodeDoesBitForBitWhatTheModelDoes() throws Exception {
        Change[] changes = {new Change("controller.position_loop.target", 0.05, 700_000_000),
            new Change("controller.position_loop.Kp_position.k", 20, 900_000_000),
            new Change("drive.paddle.water_load", 100, 1_000_000_000),
            new Change("panel.enable", 0, 1_300_000_000)};
        assertNoDeviation(run("desk", 1.5, changes), run("code", 1.5, changes));
    }

    @Test
    void theStandInDoesBitForBitWhatTheModelWithItsConvertersDoes() throws Exception {
        assertNoDeviation(run("asbuilt", 1.2), run("swage", 1.2));
    }

    @Test
    void onTheStandInThePaddleSettlesAndStaysNearTheModel() throws Exception {
        RunData swage = run("swage", 6);
        var position = swage.find("drive.position").orElseThrow();
        var step = StepMetrics.of(position, 0.2, 0, 0.4, 0.001);
        assertThat(step.settlingTime()).isLessThan(5.5);
        assertThat(step.overshoot()).isLessThan(0.002);
        var c = Comparison.of(run("desk", 6), swage, Map.of("drive.position", 0.002));
        assertThat(c.rows()).allSatisfy(r -> assertThat(r.largest()).as(r.name()).isFinite());
        assertThat(c.rows().stream().filter(r -> r.name().equals("drive.position")).findFirst().orElseThrow().within()).isTrue();
        assertThat(c.rows()).anyMatch(r -> r.largest() > 0);
    }

    @Test
    void inStepWithTheWallClockItIsDrivenLive() throws Exception {
        try (var run = prepare("swage", 1e6, 1, Progress.NONE)) {
            run.start();
            run.set("controller.position_loop.target", 0.02);
            assertThat(run.get("controller.position_loop.target")).isEqualTo(0.02);
            int position = run.store().indexOf("drive.position");
            until(() -> Math.abs(run.store().latest(position) - 0.02) <= 0.002);
            run.pause(true);
            assertThat(run.state()).isEqualTo(LiveRun.State.PAUSED);
            assertThat(run.get("controller.position_loop.target")).isEqualTo(0.02);
            run.pause(false);
            assertThatThrownBy(() -> run.set("controller.position_loop.target", 7)).isInstanceOf(FindingException.class);
            run.stop();
            assertThat(run.state()).isEqualTo(LiveRun.State.ENDED);
            assertThat(run.images()).containsOnlyKeys("controller");
            assertThat(run.interventions()).singleElement().satisfies(i -> {
                assertThat(i.address()).isEqualTo("controller.position_loop.target");
                assertThat(i.value()).isEqualTo(0.02);
            });
            assertThatThrownBy(() -> run.set("controller.position_loop.target", 0.1)).hasMessageContaining("ended");
        }
    }

    @Test
    void whenTheProcessDiesTheRunSaysSoAndKeepsItsSamples() throws Exception {
        try (var run = prepare("code", 1e6, 1, Progress.NONE)) {
            run.start();
            until(() -> run.seconds() >= 0.1);
            ((BenchRun) run).unplug();
            run.awaitEnd();
            assertThat(run.state()).isEqualTo(LiveRun.State.LOST);
            assertThat(run.findings()).anyMatch(f -> f.cause().contains("lost"));
            assertThat(run.store().size(0)).isPositive();
            assertThatThrownBy(() -> run.set("panel.enable", 0)).isInstanceOf(FindingException.class);
        }
        // And the next start works again.
        assertThat(run("code", 0.01).series()).isNotEmpty();
    }

    /** Notes steps and cancels at one of them. */
    private static final class Recorder implements Progress {
        final List<String> steps = new ArrayList<>();
        final List<String> log = new ArrayList<>();
        double share;
        String cancelAt = "";

        @Override
        public void step(String name) {
            steps.add(name);
        }

        @Override
        public void share(double done) {
            share = done;
        }

        @Override
        public void log(String line) {
            log.add(line);
        }

        @Override
        public boolean cancelled() {
            return !steps.isEmpty() && steps.getLast().equals(cancelAt);
        }
    }

    @Test
    void theStepsOfADeployment() {
        var r = new Recorder();
        prepare("swage", 1, MAX, r).close();
        assertThat(r.steps).containsExactly("Check the project", "Build controller", "Start the bench process",
                "Find swage32", "Check identity and link of swage32", "Download to swage32", "Verify swage32", "Prepare to run");
        assertThat(r.share).isEqualTo(1);
        assertThat(r.log).anyMatch(l -> l.contains("swage32, serial") && l.contains("firmware 1.1")).anyMatch(l -> l.contains("SHA-256"));
        var again = new Recorder();
        prepare("swage", 1, MAX, again).close();
        assertThat(again.log).anyMatch(l -> l.startsWith("Unchanged")).anyMatch(l -> l.contains("already has this build"));
        assertThat(again.steps).doesNotContain("Download to swage32");
    }

    @Test
    void aDeploymentCanBeCancelled() {
        var r = new Recorder();
        r.cancelAt = "Download to swage32";
        assertThatThrownBy(() -> prepare("swage", 1, MAX, r)).isInstanceOf(FindingException.class).hasMessageContaining("cancelled");
        var early = new Recorder();
        early.cancelAt = "Check the project";
        assertThatThrownBy(() -> prepare("swage", 1, MAX, early)).isInstanceOf(FindingException.class).hasMessageContaining("cancelled");
    }

    private static void until(Callable<Boolean> condition) {
        await().atMost(Duration.ofSeconds(20)).until(condition);
    }

    @Test
    void onTheDeviceTunablesAreDrivenAndSeveralAreSetAtOnce() throws Exception {
        String target = "controller.position_loop.target";
        try (var run = prepare("swage", 1e6, 1, Progress.NONE)) {
            run.start();
            run.drive(target, boldanvil.core.simulate.Stimulus.ramp(0, 0.05, 0.2, false));
            until(() -> run.get(target) == 0.05f || run.get(target) == 0.05);
            run.set(Map.of(target, 0.03, "controller.position_loop.Kp_position.k", 12.0));
            assertThat(run.get("controller.position_loop.Kp_position.k")).isEqualTo(12);
            assertThat(run.get(target)).isCloseTo(0.03, within(1e-6));
            until(() -> !run.health().parts().isEmpty());
            var controller = run.health().parts().stream().filter(p -> p.name().equals("controller")).findFirst().orElseThrow();
            assertThat(controller.where()).isEqualTo("Swage 32");
            assertThat(controller.load()).isBetween(0.01, 1.0);
            assertThat(controller.tasks()).isNotEmpty();
            assertThatThrownBy(() -> run.drive("controller.none", boldanvil.core.simulate.Stimulus.ramp(0, 1, 1, false)))
                    .hasMessageContaining("no tunable");
            assertThatThrownBy(() -> run.guard(List.of(new boldanvil.core.simulate.Guard("drive.none", 0, 1, 1, 0))))
                    .hasMessageContaining("no tap");
            run.halt();
            assertThat(run.state()).isEqualTo(LiveRun.State.ENDED);
        }
    }

    @Test
    void aLimitOnTheDeviceEndsTheRunAndSaysWhy() throws Exception {
        try (var run = prepare("swage", 6, MAX, Progress.NONE)) {
            run.guard(List.of(new boldanvil.core.simulate.Guard("drive.position", Double.NEGATIVE_INFINITY, 0.1, Double.POSITIVE_INFINITY,
                    0)));
            run.start();
            run.awaitEnd();
            assertThat(run.seconds()).isBetween(0.2, 4.0);
            assertThat(run.findings()).anyMatch(f -> f.isError() && f.cause().contains("drive")
                    || f.cause().contains("above its limit 0.1"));
            assertThat(run.store().latest(run.store().indexOf("drive.position"))).isCloseTo(0.1, within(1e-3));
        }
    }
}
