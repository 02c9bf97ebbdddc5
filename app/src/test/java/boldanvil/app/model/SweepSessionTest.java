package boldanvil.app.model;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.Demo;
import boldanvil.core.bench.Sweep;
import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
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

    private static List<Map<String, Double>> points() {
        return Sweep.grid(List.of(new Sweep.Axis("Kp_x", List.of(8.0, 12.0, 16.0))));
    }

    private void awaitEnd() throws InterruptedException {
        while (session.isRunning()) {
            TimeUnit.MILLISECONDS.sleep(5);
        }
    }

    @Test
    void everyPointIsRunAndCounted() throws Exception {
        session.start(project, "desk", END, SweepSessionTest::points);
        awaitEnd();
        assertThat(session.outcomes()).extracting(o -> o.point().get("Kp_x")).containsExactly(8.0, 12.0, 16.0);
        assertThat(session.done()).isEqualTo(3).isEqualTo(session.all());
        assertThat(session.findings()).isEmpty();
        assertThat(session.isCancelled()).isFalse();
    }

    @Test
    void whyThereIsNoSweepIsAFinding() throws Exception {
        session.start(project, "code", END, SweepSessionTest::points);
        awaitEnd();
        assertThat(session.outcomes()).isEmpty();
        assertThat(session.findings()).singleElement().satisfies(f -> assertThat(f.cause()).contains("code or devices"));
        session.start(project, "desk", END, () -> {
            throw FindingException.of("sweep", "Too many.", "Fewer.");
        });
        awaitEnd();
        assertThat(session.findings()).singleElement().satisfies(f -> assertThat(f.cause()).isEqualTo("Too many."));
    }

    @Test
    void whatIsUnderWayWhenAnotherProjectOpensIsForgotten() throws Exception {
        var hold = new CountDownLatch(1);
        session.start(project, "desk", END, () -> {
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
        assertThat(session.outcomes()).isEmpty();
        assertThat(session.findings()).isEmpty();
        session.start(project, "desk", END, SweepSessionTest::points);
        awaitEnd();
        assertThat(session.outcomes()).hasSize(3);
    }
}
