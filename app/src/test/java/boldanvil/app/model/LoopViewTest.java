package boldanvil.app.model;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.app.Demo;
import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.loop.Cut;
import boldanvil.core.loop.Linearisation;
import boldanvil.core.loop.PidDesign;
import java.nio.file.Path;
import java.util.List;
import java.util.Queue;
import java.util.concurrent.ConcurrentLinkedQueue;
import org.hipparchus.complex.Complex;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What the Loop page shows, without a window. */
class LoopViewTest {
    private static final Linearisation.OperatingPoint POINT = new Linearisation.OperatingPoint(0.5, List.of());

    @TempDir
    private Path folder;

    private Project project;
    private Cut cut;
    private final Queue<Runnable> window = new ConcurrentLinkedQueue<>();

    @BeforeEach
    void open() throws Exception {
        project = ProjectReader.read(Demo.copyTo(folder.resolve("motor"), "motor-position"));
        cut = Cut.at(project, "controller/position");
    }

    private LoopView view() {
        return new LoopView(Linearisation.open(project, project.rigs().getFirst(), cut, POINT));
    }

    @Test
    void aGainMovesTheMagnitudeAndAllThatFollows() {
        var v = view();
        var one = v.at(1);
        var two = v.at(2);
        for (int i = 0; i < one.loop().omega().length; i++) {
            assertThat(two.loop().magnitude()[i]).isCloseTo(2 * one.loop().magnitude()[i], within(1e-9 * one.loop().magnitude()[i]));
            assertThat(one.sensitivity()[i]).isCloseTo(1 / one.points()[i].add(1).norm(), within(1e-12));
        }
        double up = one.margins().up().orElseThrow().value();
        assertThat(v.at(up * 0.99).isStable()).isTrue();
        assertThat(v.at(up * 1.01).isStable()).isFalse();
        assertThat(one.step().orElseThrow().y()[one.step().orElseThrow().y().length - 1]).isCloseTo(1, within(0.05));
    }

    /** Pulling a pole along its branch picks the gain that it has there. */
    @Test
    void aPoleThatIsPulledPicksItsGain() {
        var v = view();
        Complex[] poles = v.at(3).closed().orElseThrow().poles();
        for (Complex p : poles) {
            double gain = v.gainNear(p);
            double nearest = java.util.Arrays.stream(v.at(gain).closed().orElseThrow().poles()).mapToDouble(q -> q.subtract(p).norm()).min()
                    .orElseThrow();
            assertThat(nearest).isLessThan(0.02);
        }
    }

    private void settle(LoopSession s) throws InterruptedException {
        long end = System.nanoTime() + 30_000_000_000L;
        do {
            Runnable next = window.poll();
            if (next != null) {
                next.run();
            } else {
                Thread.sleep(5);
            }
        } while ((s.isBusy() || !window.isEmpty()) && System.nanoTime() < end);
    }

    @Test
    void designsAreKeptShownAndDropped() throws Exception {
        var s = new LoopSession(window::add);
        s.design("too early", (d, _) -> d.byMargin(100, 1, false));
        assertThat(s.isBusy()).isFalse();
        s.open(project, project.rigs().getFirst(), cut, POINT);
        settle(s);
        assertThat(s.controller().orElseThrow().name()).isEqualTo("position");
        var asDrawn = s.shown().orElseThrow();
        s.design("PID", (d, _) -> d.byMargin(100, Math.toRadians(65), true));
        settle(s);
        assertThat(s.message()).isEmpty();
        assertThat(s.kept()).containsExactly(asDrawn);
        assertThat(s.shown().orElseThrow().at().margins().phase().orElseThrow().omega()).isCloseTo(100, within(0.5));
        assertThat(s.gains()).containsOnlyKeys("kp", "ki", "kd");
        s.show(asDrawn);
        assertThat(s.gains().get("kp")).isEqualTo(8);
        assertThat(s.kept()).extracting(LoopSession.Design::name).containsExactly("PID");
        s.drop(s.kept().getFirst());
        assertThat(s.kept()).isEmpty();
        s.design("impossible", (d, _) -> d.byMargin(1500, Math.toRadians(80), false));
        settle(s);
        assertThat(s.message()).contains("does not come to its operating point with kp = ", "lower crossover");
        s.design("too fast", (d, _) -> d.byMargin(5000, 1, false));
        settle(s);
        assertThat(s.message()).contains("below half of the sample rate");
        assertThat(s.shown().orElseThrow().name()).isEqualTo("as on the sheet");
        s.clear();
        assertThat(s.shown()).isEmpty();
        assertThat(new PidDesign(asControllerOf(), view().loop()).byUltimateGain(true).get("kd")).isPositive();
    }

    private boldanvil.core.loop.Controller asControllerOf() {
        return boldanvil.core.loop.Controller.of(project, cut).orElseThrow();
    }
}
