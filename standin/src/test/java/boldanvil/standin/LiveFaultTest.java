package boldanvil.standin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.simulate.WireFault;
import boldanvil.core.trial.FaultText;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Faults that are put on the wires of a rig by hand, while it runs. */
@Timeout(120)
class LiveFaultTest {
    @TempDir
    private Path folder;

    private interface Condition {
        boolean holds();
    }

    private static void await(Condition c) throws InterruptedException {
        while (!c.holds()) {
            Thread.sleep(20);
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"desk", "code"})
    void aFaultIsThereUntilItIsCleared(String rig) throws Exception {
        var beacon = ProjectReader.read(Path.of("../demo/beacon"));
        try (LiveRun run = RigStarter.prepare(beacon, rig, new RunOptions(Long.MAX_VALUE, 1, List.of(), folder), Progress.NONE)) {
            var system = run.review().system();
            run.start();
            int alarm = run.store().indexOf("lamps.alarm");
            await(() -> run.seconds() > 0.3);
            assertThat(run.store().latest(alarm)).isZero();
            var open = FaultText.of("open on mast.to pin", system, Map.of());
            run.insert(open.address(), open.fault());
            await(() -> run.faults().containsKey("mast.to pin") && run.store().latest(alarm) == 1);
            run.clear("");
            await(() -> run.faults().isEmpty());
            assertThatThrownBy(() -> run.insert("mast.nothing", WireFault.of(WireFault.Kind.STUCK, 0))).isInstanceOf(FindingException.class)
                    .hasMessageContaining("There is no wire at 'mast.nothing'");
            run.stop();
        }
    }
}
