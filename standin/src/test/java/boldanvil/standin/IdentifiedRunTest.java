package boldanvil.standin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.diagram.Project;
import boldanvil.core.edit.VariableValues;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.identify.Estimate;
import boldanvil.core.identify.GreyBox;
import boldanvil.core.quantity.Rescaled;
import boldanvil.core.simulate.Change;
import boldanvil.core.simulate.Intervention;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** The paddle's motor, found from a run in which its controller was on the stand-in and measured the current in counts. */
@Timeout(120)
class IdentifiedRunTest {
    @TempDir
    private Path build;

    @Test
    void theMotorIsFoundWithinItsBoundsFromWhatTheStandInMeasured() throws Exception {
        Project demo = ProjectReader.read(Path.of("../demo/larkmere-lock"));
        var target = new Change("controller.position_loop.target", 0.3, 250_000_000L);
        try (LiveRun run = RigStarter.prepare(demo, "swage", new RunOptions(1_200_000_000L, Double.POSITIVE_INFINITY, List.of(target),
                build),
                Progress.NONE)) {
            run.start();
            run.awaitEnd();
            assertThat(run.findings()).isEmpty();
            var recorded = new GreyBox.Recorded(run.store(), List.of("drive.voltage", "drive.speed"), List.of("controller.current"), 0, 1.2,
                    List.of(Intervention.set(target)));
            Project as = demo.as(demo.rig("swage").orElseThrow());
            var wrong = VariableValues.with(as, Map.of("R", 0.9, "k_motor", 0.036, "L", 7e-4), Rescaled.EXACT);
            Estimate e = GreyBox.fit(wrong, List.of(new GreyBox.Free("R", 0.2, 3), new GreyBox.Free("k_motor", 0.01, 0.1),
                    new GreyBox.Free("L", 1e-4, 1e-2)), recorded);
            assertThat(e.white().isWhite()).isFalse();
            // Between two samples the recorded speed counts as its mean, which is exact to some hundredths of a per cent only.
            Map.of("R", 0.6, "k_motor", 0.042, "L", 9e-4).forEach((name, truth) -> assertThat(e.value(name).value()).as(name)
                    .isCloseTo(truth, within(Math.max(e.value(name).bound(), 2e-4 * truth))));
            assertThat(e.value("R").bound()).isLessThan(0.01);
            assertThat(e.value("k_motor").bound()).isLessThan(4e-4);
            assertThat(e.fit()).isGreaterThan(0.98);
        }
    }
}
