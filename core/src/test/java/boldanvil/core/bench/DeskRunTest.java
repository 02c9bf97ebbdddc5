package boldanvil.core.bench;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;
import static org.awaitility.Awaitility.await;

import boldanvil.core.diagram.Places;
import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.review.Review;
import boldanvil.core.simulate.Change;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

@Timeout(60)
class DeskRunTest {
    private static final double MAX = Double.POSITIVE_INFINITY;

    private static Project demo() {
        return ProjectReader.read(Path.of("../demo/larkmere-lock"));
    }

    private static LiveRun prepare(String rig, double seconds, double speed, Change... changes) {
        return RigStarter.prepare(demo(), rig, new RunOptions((long) (seconds * 1e9), speed, List.of(changes), Path.of("target/build")),
                Progress.NONE);
    }

    private static double last(LiveRun run, String tap) {
        return run.store().latest(run.store().indexOf(tap));
    }

    @Test
    void aRunGoesThroughItsLife() throws Exception {
        try (var run = prepare("desk", 0.5, MAX)) {
            assertThat(run.state()).isEqualTo(LiveRun.State.READY);
            run.start();
            run.awaitEnd();
            assertThat(run.state()).isEqualTo(LiveRun.State.ENDED);
            assertThat(run.seconds()).isCloseTo(0.5, within(1e-12));
            assertThat(run.findings()).isEmpty();
            assertThat(run.images()).isEmpty();
            assertThat(run.store().size(run.store().indexOf("controller.current"))).isEqualTo(5_000);
            assertThat(run.store().size(run.store().indexOf("controller.position_loop.position"))).isEqualTo(500);
        }
    }

    @Test
    void plannedChangesAreMade() throws Exception {
        try (var run = prepare("desk", 4, MAX, new Change("controller.position_loop.target", 0.1, 0))) {
            run.start();
            run.awaitEnd();
            assertThat(last(run, "drive.position")).isCloseTo(0.1, within(1e-3));
        }
    }

    @Test
    void switchingOffLetsThePaddleSink() throws Exception {
        try (var run = prepare("desk", 5, MAX, new Change("panel.enable", 0, 4_000_000_000L))) {
            run.start();
            run.awaitEnd();
            assertThat(last(run, "drive.position")).isLessThan(0.39);
            assertThat(last(run, "controller.bridge.duty")).isEqualTo(0.5);
        }
    }

    @Test
    void anOvercurrentTripsUntilItIsReset() throws Exception {
        // With the wrong sign of the gain the current runs away beyond 25 A.
        Change wild = new Change("controller.current_loop.current_controller.kp", -60, 500_000_000);
        Change tame = new Change("controller.current_loop.current_controller.kp", 1.35, 900_000_000);
        Change press = new Change("panel.reset", 1, 1_000_000_000);
        Change release = new Change("panel.reset", 0, 1_100_000_000);
        try (var run = prepare("desk", 0.95, MAX, wild, tame)) {
            run.start();
            run.awaitEnd();
            assertThat(last(run, "controller.tripped")).isEqualTo(1);
            assertThat(last(run, "panel.fault_lamp")).isEqualTo(1);
        }
        try (var run = prepare("desk", 1.5, MAX, wild, tame, press, release)) {
            run.start();
            run.awaitEnd();
            assertThat(last(run, "controller.tripped")).isZero();
        }
    }

    @Test
    void tunablesAreSetAndReadLive() throws Exception {
        try (var run = prepare("desk", 1e6, 1)) {
            run.start();
            run.set("controller.position_loop.target", 0.2);
            await().until(() -> run.get("controller.position_loop.target") == 0.2);
            assertThat(run.get("controller.position_loop.target")).isEqualTo(0.2);
            await().until(() -> run.interventions().size() == 1);
            assertThatThrownBy(() -> run.set("controller.position_loop.target", 5)).isInstanceOf(FindingException.class);
            assertThatThrownBy(() -> run.set("controller.nothing", 5)).isInstanceOf(FindingException.class);
            run.stop();
            assertThatThrownBy(() -> run.set("controller.position_loop.target", 0.3)).hasMessageContaining("ended");
        }
    }

    @Test
    void pausedTimeStandsStill() throws Exception {
        try (var run = prepare("desk", 1e6, 1)) {
            run.start();
            run.pause(true);
            await().until(() -> run.state() == LiveRun.State.PAUSED);
            // A step that had begun is finished first.
            var at = new AtomicReference<>(-1.0);
            await().during(Duration.ofMillis(50)).until(() -> at.getAndSet(run.seconds()) == run.seconds());
            run.pause(false);
            await().until(() -> run.seconds() > at.get());
        }
    }

    @Test
    void stepsAreToldInOrderAndABadRigStopsAtTheFirst() {
        List<String> steps = new ArrayList<>();
        Progress p = new Progress() {
            @Override
            public void step(String name) {
                steps.add(name);
            }

            @Override
            public void share(double done) { }

            @Override
            public void log(String line) { }

            @Override
            public boolean cancelled() {
                return false;
            }
        };
        var options = new RunOptions(1, MAX, List.of(), Path.of("target/build"));
        RigStarter.prepare(demo(), "desk", options, p).close();
        assertThat(steps).containsExactly("Check the project", "Compile the models");
        assertThatThrownBy(() -> RigStarter.prepare(demo(), "nowhere", options, p)).isInstanceOf(FindingException.class)
                .hasMessageContaining("desk, code, swage, hearth, clinker, asbuilt");
        assertThatThrownBy(() -> prepare("desk", 1, MAX, new Change("no.such", 1, 0))).isInstanceOf(FindingException.class);
    }

    @Test
    void theBoardsConvertersMakeADifference() throws Exception {
        try (var ideal = prepare("desk", 1, MAX); var real = prepare("asbuilt", 1, MAX)) {
            ideal.start();
            real.start();
            ideal.awaitEnd();
            real.awaitEnd();
            double a = last(ideal, "controller.current");
            double b = last(real, "controller.current");
            assertThat(a).isNotEqualTo(b);
            assertThat(b).isCloseTo(a, within(1.0));
        }
    }

    @Test
    void valuesAreComparedBetweenProjectBuildAndDevice() throws Exception {
        try (var run = prepare("desk", 1e6, 1)) {
            run.start();
            run.set("controller.position_loop.Kp_position.k", 9);
            await().until(() -> run.get("controller.position_loop.Kp_position.k") == 9);
            var row = Values.compare(Review.of(demo()), run).stream()
                    .filter(r -> r.address().equals("controller.position_loop.Kp_position.k")).findFirst().orElseThrow();
            assertThat(row.project()).isEqualTo(12);
            assertThat(row.built()).isEqualTo(12);
            assertThat(row.device()).isEqualTo(9);
            assertThat(row.differs()).isTrue();
        }
    }

    @Test
    void aValueTakenBackGoesToItsHome() {
        Project p = demo();
        var review = Review.of(p);
        // The parameter is just the variable Kp_x: the variable is its home.
        Project viaVariable = Values.copyToProject(p, review, "controller.position_loop.Kp_position.k", 9);
        assertThat(viaVariable.variableTexts()).containsEntry("Kp_x", "9");
        // A text of its own is replaced, with its unit.
        Project own = Values.copyToProject(p, review, "controller.position_loop.target", 0.25);
        assertThat(Places.find(own, "controller/position loop/target").orElseThrow().block().settings()).containsEntry("value", "0.25 m");
        Project logic = Values.copyToProject(p, review, "panel.enable", 0);
        assertThat(Places.find(logic, "panel/enable").orElseThrow().block().settings()).containsEntry("value", "off");
        assertThat(Review.of(own).hasErrors()).isFalse();
        assertThat(Review.of(own).system().program("controller").orElseThrow().tunable("position_loop.target").orElseThrow().slot()
                .initial()).isEqualTo(0.25);
    }

    @Test
    void aBlockThatIsGoneCannotTakeAValueBack() {
        Project p = demo();
        var review = Review.of(p);
        Project without = p.change("panel", q -> q.withSheets(List.of(boldanvil.core.diagram.Sheet.empty("main"))));
        assertThatThrownBy(() -> Values.copyToProject(without, review, "panel.enable", 0)).isInstanceOf(FindingException.class);
    }

    private static final String TARGET = "controller.position_loop.target";
    private static final String SETPOINT = "controller.position_loop.setpoint";

    @Test
    void aStimulusDrivesATunableTickByTick() throws Exception {
        try (var run = prepare("desk", 2, MAX)) {
            run.drive(TARGET, boldanvil.core.simulate.Stimulus.staircase(0.1, 0.3, 2, 1.5, false));
            run.start();
            run.awaitEnd();
            var target = run.store().series(run.store().indexOf(SETPOINT));
            assertThat(run.get(TARGET)).isEqualTo(0.3);
            assertThat(target.values()[target.size() - 1]).isGreaterThan(0.1);
        }
    }

    @Test
    void aStimulusBeyondTheTunablesLimitsIsCutOff() throws Exception {
        try (var run = prepare("desk", 0.2, MAX)) {
            run.drive(TARGET, boldanvil.core.simulate.Stimulus.ramp(0, 100, 0.1, false));
            run.start();
            run.awaitEnd();
            assertThat(run.get(TARGET)).isLessThan(1);
            assertThatThrownBy(() -> run.drive("controller.nothing", boldanvil.core.simulate.Stimulus.ramp(0, 1, 1, false)))
                    .hasMessageContaining("no tunable");
            assertThatThrownBy(() -> run.drive(TARGET, boldanvil.core.simulate.Stimulus.ramp(0, 1, 1, false)))
                    .hasMessageContaining("ended");
        }
    }

    @Test
    void aReleasedTunableKeepsItsValue() throws Exception {
        try (var run = prepare("desk", 1e5, MAX)) {
            run.start();
            run.drive(TARGET, boldanvil.core.simulate.Stimulus.step(0.1, 0.2, 1e4, true));
            await().until(() -> run.get(TARGET) == 0.2);
            run.release(TARGET);
            run.set(TARGET, 0.05);
            await().until(() -> run.get(TARGET) == 0.05);
            assertThat(run.get(TARGET)).isEqualTo(0.05);
        }
    }

    @Test
    void aLimitEndsTheRunWhereItIsExceeded() throws Exception {
        try (var run = prepare("desk", 5, MAX)) {
            run.guard(List.of(new boldanvil.core.simulate.Guard("drive.position", Double.NEGATIVE_INFINITY, 0.2, Double.POSITIVE_INFINITY,
                    0)));
            run.start();
            run.awaitEnd();
            assertThat(run.seconds()).isLessThan(4);
            assertThat(last(run, "drive.position")).isCloseTo(0.2, within(1e-3));
            assertThat(run.findings()).anyMatch(f -> f.isError() && f.place().text().equals("drive.position")
                    && f.cause().contains("above its limit 0.2"));
        }
    }

    @Test
    void aLimitOnDurationPassesOverWhatIsShort() throws Exception {
        // The current peaks for a moment; it never lasts for a second.
        try (var run = prepare("desk", 3, MAX)) {
            run.guard(List.of(new boldanvil.core.simulate.Guard("controller.current", -1, 1, Double.POSITIVE_INFINITY, 30)));
            run.start();
            run.awaitEnd();
            assertThat(run.findings()).isEmpty();
            assertThat(run.seconds()).isCloseTo(3, within(1e-9));
        }
    }

    @Test
    void aLimitOnRateSeesAJump() throws Exception {
        try (var run = prepare("desk", 3, MAX)) {
            run.guard(List.of(new boldanvil.core.simulate.Guard("drive.position", -9, 9, 0.01, 0)));
            run.start();
            run.awaitEnd();
            assertThat(run.findings()).anyMatch(f -> f.cause().contains("per second, more than its limit 0.01"));
            assertThatThrownBy(() -> new boldanvil.core.simulate.Guard("x", 2, 1, 1, 0)).hasMessageContaining("allow no value");
        }
    }

    @Test
    void aLimitOnATapThatIsNotThereIsRefused() {
        try (var run = prepare("desk", 1, MAX)) {
            assertThatThrownBy(() -> run.guard(List.of(new boldanvil.core.simulate.Guard("drive.none", 0, 1, 1, 0))))
                    .hasMessageContaining("no tap");
        }
    }

    @Test
    void severalValuesAreSetAtOnceOrNotAtAll() throws Exception {
        try (var run = prepare("desk", 1e5, MAX)) {
            run.start();
            assertThatThrownBy(() -> run.set(java.util.Map.of("panel.enable", 0.0, TARGET, 7.0))).isInstanceOf(FindingException.class);
            run.set(java.util.Map.of(TARGET, 0.11, "panel.enable", 0.0));
            await().until(() -> run.get(TARGET) == 0.11);
            assertThat(run.get("panel.enable")).isZero();
            await().until(() -> run.interventions().size() == 2);
        }
    }

    @Test
    void healthTellsHowLongStepsTake() throws Exception {
        try (var run = prepare("desk", 0.5, MAX)) {
            run.start();
            run.awaitEnd();
            var health = run.health();
            assertThat(health.parts()).extracting(Health.Part::name).contains("controller", "drive");
            assertThat(health.parts()).allMatch(p -> p.mean() > 0 && p.longest() >= p.mean() && p.load() > 0);
            assertThat(health.lostRows()).isZero();
        }
    }
}
