package boldanvil.app.model;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.Demo;
import boldanvil.core.bench.LiveRun;
import boldanvil.core.control.DeviceFault;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.review.Review;
import boldanvil.core.runs.RunShelf;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

@Timeout(90)
class RigSessionTest {
    @TempDir
    private Path folder;

    private final RigSession session = new RigSession(Runnable::run);
    private Project project;

    @BeforeEach
    void open() throws IOException {
        project = ProjectReader.read(Demo.copyTo(folder));
    }

    @AfterEach
    void close() {
        session.close();
    }

    private static void await(Callable<Boolean> condition) {
        Awaitility.await().atMost(Duration.ofSeconds(40)).pollInterval(Duration.ofMillis(5)).until(condition);
    }

    private void startAndAwait(String rig) throws InterruptedException {
        session.start(project, folder, rig, 1);
        await(() -> session.phase() == RigSession.Phase.RUNNING && session.run().orElseThrow().seconds() > 0.05);
    }

    @Test
    void aRigRunsIsDrivenAndEndsOnTheShelf() throws Exception {
        startAndAwait("desk");
        session.set("controller.position_loop.target", 0.1);
        await(() -> session.run().orElseThrow().get("controller.position_loop.target") == 0.1);
        session.refreshValues(Review.of(project));
        await(() -> session.values().stream().anyMatch(r -> r.differs()));
        session.pause(true);
        await(() -> session.phase() == RigSession.Phase.PAUSED);
        session.pause(false);
        await(() -> session.phase() == RigSession.Phase.RUNNING);
        session.stop();
        await(() -> session.phase() == RigSession.Phase.ENDED && new RunShelf(folder.resolve("runs")).list().stream()
                .anyMatch(e -> e.note().whole()));
        var entry = new RunShelf(folder.resolve("runs")).list().getFirst();
        assertThat(entry.note().rig()).isEqualTo("desk");
        assertThat(entry.note().changes()).singleElement().satisfies(c -> assertThat(c).contains("controller.position_loop.target = 0.1"));
        assertThat(entry.open().indexOf("drive.position")).isNotNegative();
        assertThat(entry.folder().resolve("project/parts/controller.json")).exists();
    }

    @Test
    void theStepsOfStartingAreKept() throws Exception {
        startAndAwait("code");
        assertThat(session.steps()).allMatch(StepLog.Step::done).noneMatch(StepLog.Step::failed)
                .extracting(StepLog.Step::name).startsWith("Check the project", "Build controller");
        assertThat(session.log()).anyMatch(l -> l.contains("gcc"));
    }

    @Test
    void aRigThatCannotStartSaysWhy() throws Exception {
        session.start(project.withVariables(List.of()), folder, "desk", 1);
        await(() -> session.phase() == RigSession.Phase.IDLE && !session.findings().isEmpty());
        assertThat(session.steps().getLast().failed()).isTrue();
        assertThat(session.run()).isEmpty();
    }

    @Test
    void aLostBenchIsToldAndTheNextStartWorks() throws Exception {
        startAndAwait("code");
        session.unplug();
        await(() -> session.phase() == RigSession.Phase.LOST);
        assertThat(session.findings()).anyMatch(f -> f.cause().contains("lost"));
        assertThat(session.run().orElseThrow().state()).isEqualTo(LiveRun.State.LOST);
        startAndAwait("code");
        assertThat(session.findings()).isEmpty();
    }

    @Test
    void startingTwiceStartsOnce() throws Exception {
        startAndAwait("desk");
        var first = session.run().orElseThrow();
        session.start(project, folder, "desk", 1);
        assertThat(session.run().orElseThrow()).isSameAs(first);
    }

    @Test
    void aValueOutOfRangeIsAFindingAndTheRunGoesOn() throws Exception {
        startAndAwait("desk");
        session.set("controller.position_loop.target", 99);
        await(() -> !session.findings().isEmpty());
        assertThat(session.findings().getFirst().cause()).contains("outside");
        assertThat(session.phase()).isEqualTo(RigSession.Phase.RUNNING);
    }

    @Test
    void aBuildStartsNothingAndKnowsItsImages() throws Exception {
        session.build(project, folder, "swage");
        await(() -> session.phase() == RigSession.Phase.IDLE && session.built().containsKey("controller"));
        assertThat(session.run()).isEmpty();
        assertThat(session.steps()).extracting(StepLog.Step::name).containsExactly("Check the project", "Build controller");
        assertThat(session.built().get("controller").sizes().stack()).isPositive();
        session.build(project.withVariables(List.of()), folder, "swage");
        await(() -> session.phase() == RigSession.Phase.IDLE && !session.findings().isEmpty());
        assertThat(session.steps().getLast().failed()).isTrue();
    }

    @Test
    void aFaultThatIsPlayedEndsTheStartWithItsFinding() throws Exception {
        session.playFaults(Map.of("controller", DeviceFault.WRONG_IDENTITY));
        session.start(project, folder, "swage", 1);
        await(() -> session.phase() == RigSession.Phase.IDLE && !session.findings().isEmpty());
        assertThat(session.findings().getFirst().cause()).contains("is a 'stranger'");
        session.playFaults(Map.of("controller", DeviceFault.NONE));
        startAndAwait("swage");
    }

    @Test
    void aProjectThatHasChangedMakesWhatRunsOlder() throws Exception {
        startAndAwait("code");
        session.compareBuild(Review.of(project.change("controller", p -> new Part(p.id(), p.title(), p.kind(), "200 us", p.step(),
                p.solver(), p.real(), p.x(), p.y(), p.sheets()))));
        await(() -> session.isOlder());
        session.compareBuild(Review.of(project));
        await(() -> !session.isOlder());
        session.forget();
        assertThat(session.isOlder()).isFalse();
    }

    @Test
    void whatGoesOnNowhereCannotBeTakenUp() throws Exception {
        session.reconnect(project.withVariables(project.variables()), folder.resolve("elsewhere"), "asbuilt");
        await(() -> session.phase() == RigSession.Phase.IDLE && !session.findings().isEmpty());
        assertThat(session.findings().getFirst().cause()).contains("not running standalone");
    }
}
