package boldanvil.app.model;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.Demo;
import boldanvil.core.bench.Sweep;
import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.farm.Crew;
import boldanvil.core.farm.TableStudy;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.study.PointSource;
import boldanvil.core.study.Spread;
import boldanvil.core.study.Way;
import boldanvil.core.study.WorstCase;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

@Timeout(60)
class SweepSessionTest {
    private static final long END = 5_000_000;

    @TempDir
    private Path folder;

    private final SweepSession session = new SweepSession(Runnable::run);
    private Project project;

    @BeforeEach
    void read() throws Exception {
        project = ProjectReader.read(Demo.copyTo(folder.resolve("lock")));
    }

    private static PointSource points() {
        return PointSource.of(Sweep.grid(List.of(new Sweep.Axis("Kp_x", List.of(8.0, 12.0, 16.0)))));
    }

    private void awaitEnd() throws InterruptedException {
        while (session.isRunning()) {
            TimeUnit.MILLISECONDS.sleep(5);
        }
    }

    private void start(String rig, Supplier<PointSource> points) {
        start(rig, "", Way.GRID, "", points);
    }

    private void start(String rig, String trial, Way way, String goal, Supplier<PointSource> points) {
        var order = new TableStudy.Order(project, rig, trial, END, folder.resolve("build"), Map.of("Kp_x", "1/s"));
        session.start(new SweepSession.Asked(order, way, points, goal, Crew.Where.here()));
    }

    @Test
    void everyPointIsRunAndCounted() throws Exception {
        start("desk", SweepSessionTest::points);
        awaitEnd();
        assertThat(session.table().orElseThrow().values(0)).containsExactly(8.0, 12.0, 16.0);
        assertThat(session.table().orElseThrow().columns().getFirst().head()).isEqualTo("Kp_x [1/s]");
        assertThat(session.done()).isEqualTo(3).isEqualTo(session.all());
        assertThat(session.findings()).isEmpty();
        assertThat(session.isCancelled()).isFalse();
    }

    @Test
    void whyThereIsNoSweepIsAFinding() throws Exception {
        start("code", SweepSessionTest::points);
        awaitEnd();
        assertThat(session.table()).isEmpty();
        assertThat(session.findings()).singleElement().satisfies(f -> assertThat(f.cause()).contains("code or devices"));
        start("desk", () -> {
            throw FindingException.of("sweep", "Too many.", "Fewer.");
        });
        awaitEnd();
        assertThat(session.findings()).singleElement().satisfies(f -> assertThat(f.cause()).isEqualTo("Too many."));
        session.start(new SweepSession.Asked(new TableStudy.Order(project, "desk", "", END, folder, Map.of()), Way.GRID,
                SweepSessionTest::points, "", new Crew.Where(1, List.of("127.0.0.1:47500"), null, Crew.LOOPBACK, 1)));
        awaitEnd();
        assertThat(session.findings()).singleElement().satisfies(f -> assertThat(f.cause()).isEqualTo("Workers need a key."));
    }

    @Test
    void whatIsUnderWayWhenAnotherProjectOpensIsForgotten() throws Exception {
        var hold = new CountDownLatch(1);
        start("desk", () -> {
            try {
                hold.await();
            } catch (InterruptedException e) {
                throw new IllegalStateException(e);
            }
            return points();
        });
        session.forget();
        hold.countDown();
        awaitEnd();
        assertThat(session.table()).isEmpty();
        assertThat(session.findings()).isEmpty();
        start("desk", SweepSessionTest::points);
        awaitEnd();
        assertThat(session.table().orElseThrow().size()).isEqualTo(3);
    }

    @Test
    void aRunIsDoneAgainOntoTheShelfWithItsValues() throws Exception {
        start("desk", SweepSessionTest::points);
        awaitEnd();
        String id = session.repeat(1, folder.resolve("runs"));
        var entry = new RunShelf(folder.resolve("runs")).list().getFirst();
        assertThat(entry.id()).isEqualTo(id);
        assertThat(entry.note().name()).isEqualTo("study, run 2");
        assertThat(Files.readString(entry.folder().resolve("project/project.json"))).contains("12.0");
    }

    @Test
    void aTrialIsRunWithManyValuesAndGivesVerdictsAndFigures() throws Exception {
        start("desk", "limits-hold", Way.GRID, "", () -> PointSource.of(Sweep.grid(List.of(new Sweep.Axis("Kp_x",
                List.of(12.0, 14.0))))));
        awaitEnd();
        var table = session.table().orElseThrow();
        assertThat(table.columns().get(1).label()).isEqualTo("limits-hold passed");
        assertThat(table.values(1)).containsExactly(1, 1);
        assertThat(table.columns()).extracting(c -> c.figure()).contains("maximum", "RMS");
    }

    @Test
    void aSearchIsLedByItsGoalAndAGoalThatIsNotThereIsAFinding() throws Exception {
        Map<String, Spread> ranges = Map.of("controller.position_loop.target", new Spread.Uniform(0.1, 0.3));
        start("desk", "", Way.WORST_CASE, "drive.position maximum", () -> new WorstCase(ranges, true, 24, 1));
        awaitEnd();
        assertThat(session.findings()).isEmpty();
        assertThat(session.table().orElseThrow().size()).isEqualTo(24);
        start("desk", "", Way.WORST_CASE, "no such maximum", () -> new WorstCase(ranges, true, 24, 1));
        awaitEnd();
        assertThat(session.findings()).singleElement().satisfies(f -> assertThat(f.cure()).contains("drive.position maximum"));
    }

    @Test
    void runsAreSavedAndOpenedAgain() throws Exception {
        start("desk", SweepSessionTest::points);
        awaitEnd();
        var before = session.table().orElseThrow();
        session.save(folder.resolve("runs.h5"));
        session.forget();
        session.open(folder.resolve("runs.h5"));
        assertThat(session.table().orElseThrow().values(3)).containsExactly(before.values(3));
        assertThat(session.way()).isEqualTo(Way.GRID);
        assertThat(session.canRepeat()).isFalse();
    }
}
