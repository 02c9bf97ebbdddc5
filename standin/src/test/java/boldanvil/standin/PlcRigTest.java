package boldanvil.standin;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.bench.BenchRun;
import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.iec.StGenerator;
import boldanvil.core.simulate.Change;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Parts on the PLC stand-in, in step with a plant. */
class PlcRigTest {
    @TempDir
    private Path build;

    private LiveRun run(Project p, String rig, double seconds, List<Change> changes) throws InterruptedException {
        var run = RigStarter.prepare(p, rig, new RunOptions((long) (seconds * 1e9), Double.POSITIVE_INFINITY, changes, build),
                Progress.NONE);
        run.start();
        run.awaitEnd();
        return run;
    }

    private static Project demo(String name) {
        return ProjectReader.read(Path.of("../demo/" + name));
    }

    private static void isTheSame(LiveRun one, LiveRun other, double seconds) {
        for (int i = 0; i < one.taps().entries().size(); i++) {
            for (double t = 0.5; t < seconds; t += 0.73) {
                assertThat(other.store().valueAt(i, t)).as("%s at %s s", one.taps().entries().get(i).address(), t)
                        .isEqualTo(one.store().valueAt(i, t));
            }
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"plc", "plc-modbus"})
    void theSequenceOnThePlcDoesWhatItsSheetDoes(String rig) throws InterruptedException {
        var changes = List.of(new Change("panel.emergency_stop", 1, 20_000_000_000L),
                new Change("panel.emergency_stop", 0, 24_000_000_000L));
        try (var model = run(demo("lock-sequence"), "desk", 30, changes); var plc = run(demo("lock-sequence"), rig, 30, changes)) {
            assertThat(plc.findings()).isEmpty();
            isTheSame(model, plc, 29);
        }
    }

    @Test
    void aProgramOfThePlcsOwnLocksTheBoatThroughAsTheSheetDoes() throws InterruptedException {
        try (var model = run(demo("lock-sequence"), "desk", 110, List.of()); var plc = run(demo("lock-sequence"), "cabinet", 110,
                List.of())) {
            assertThat(plc.findings()).isEmpty();
            for (String address : List.of("lock.chamber_level", "lock.boat", "sequence.filling", "sequence.low_light")) {
                int i = model.taps().entries().stream().map(e -> e.address()).toList().indexOf(address);
                for (double t = 0.5; t < 110; t += 0.73) {
                    // Its level is in whole millimetres, so it is a few scans early or late.
                    double now = t;
                    double nearest = java.util.stream.IntStream.rangeClosed(-15, 15).mapToDouble(k -> Math.abs(model.store().valueAt(i,
                            Math.max(0, now + 0.01 * k)) - plc.store().valueAt(i, now))).min().orElseThrow();
                    assertThat(nearest).as("%s at %s s", address, t).isLessThan(address.startsWith("lock.") ? 0.01 : 0.5);
                }
            }
        }
    }

    @Test
    void aPausedRigRunsOneScanAtATime() throws Exception {
        var run = (BenchRun) RigStarter.prepare(demo("lock-sequence"), "cabinet", new RunOptions(Long.MAX_VALUE, 1, List.of(), build),
                Progress.NONE);
        try (run) {
            run.start();
            while (run.seconds() < 0.2) {
                Thread.sleep(10);
            }
            run.pause(true);
            Thread.sleep(200);
            var plc = run.plc("sequence").orElseThrow().remote();
            long before = plc.status().tasks().getFirst().scans();
            for (int i = 1; i <= 3; i++) {
                run.step(10_000_000);
                long wanted = before + i;
                for (int k = 0; k < 100 && plc.status().tasks().getFirst().scans() < wanted; k++) {
                    Thread.sleep(10);
                }
                Thread.sleep(60);
                assertThat(plc.status().tasks().getFirst().scans()).isEqualTo(wanted);
            }
        }
    }

    @Test
    void aGainIsReducedInTheRunningProgramAndTheLiftIsCalm() throws InterruptedException {
        var changes = List.of(new Change("controller.gain", 12, 1_000_000_000L));
        try (var model = run(demo("lift-platform"), "desk", 2, changes); var plc = run(demo("lift-platform"), "plc", 2, changes)) {
            assertThat(plc.findings()).isEmpty();
            isTheSame(model, plc, 1.9);
        }
    }

    @Test
    void aPlcThatStopsLeavesThePlantSafeAndIsReported() throws Exception {
        var run = (BenchRun) RigStarter.prepare(demo("lock-sequence"), "plc", new RunOptions(Long.MAX_VALUE, 1, List.of(), build),
                Progress.NONE);
        try (run) {
            run.start();
            while (run.seconds() < 1) {
                Thread.sleep(20);
            }
            var plc = run.plc("sequence").orElseThrow();
            plc.control().ask("stop", Map.of());
            for (int i = 0; i < 100 && run.findings().isEmpty(); i++) {
                Thread.sleep(20);
            }
            assertThat(run.findings()).anyMatch(f -> f.cause().contains("gives no good value"));
            plc.control().ask("run", Map.of());
            String text = StGenerator.of(run.review().system().program("sequence").orElseThrow(), Map.of()).text();
            var done = plc.control().ask("change", Map.of("text", text.replace("T#4s", "T#5s")));
            assertThat(done.path("kept").asInt()).isGreaterThan(100);
        }
    }
}
