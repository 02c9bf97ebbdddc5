package boldanvil.core.replay;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.edit.Paths;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.lower.Names;
import boldanvil.core.simulate.Change;
import boldanvil.core.simulate.Intervention;
import boldanvil.core.simulate.Stimulus;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What a run was is computed anew, bit for bit, at any instant. */
class ReplayTest {
    private static LiveRun run(Project p, String rig, double seconds, Change... changes) throws InterruptedException {
        var run = RigStarter.prepare(p, rig,
                new RunOptions((long) (seconds * 1e9), Double.POSITIVE_INFINITY,
                List.of(changes), Path.of("target/build")), Progress.NONE);
        run.start();
        run.awaitEnd();
        return run;
    }

    @ParameterizedTest
    @ValueSource(strings = {"larkmere-lock", "gate-drive", "motor-position", "paddle-modes", "workboat", "lift-platform", "paddle-network",
            "level-hold", "lock-sequence"})
    void theDemosRepeatExactlyAndEveryTapIsFoundOnItsWire(String name) throws Exception {
        Project p = ProjectReader.read(Path.of("../demo", name));
        try (var run = run(p, "desk", 1.3)) {
            var replay = new Replay(p, run.rig(), run.interventions(), run.store());
            replay.prepare(_ -> { });
            assertThat(replay.differences()).isEmpty();
            var random = new Random(1);
            for (int i = 0; i < 4; i++) {
                double at = random.nextDouble() * run.seconds();
                assertTapsAgree(p, run, replay, at);
            }
        }
    }

    /** The start is searched again, and found again to the last bit. */
    @Test
    void aRunFromTheSteadyStateRepeatsExactly() throws Exception {
        Project charger = ProjectReader.read(Path.of("../demo/lamp-charger"));
        Project p = charger.withRigs(charger.rigs().stream().map(r -> r.settled("1 / 20 kHz")).toList());
        try (var run = run(p, "desk", 0.01)) {
            assertThat(run.store().series(run.store().indexOf("stage.coil_amps")).values()[0]).isGreaterThan(0.1);
            var replay = new Replay(p, run.rig(), run.interventions(), run.store());
            replay.prepare(_ -> { });
            assertThat(replay.differences()).isEmpty();
        }
    }

    /** The value on the wire into each tap of the project is what was recorded. */
    private static void assertTapsAgree(Project p, LiveRun run, Replay replay, double at) {
        for (var e : Paths.of(p).entrySet()) {
            var sheet = p.sheet(e.getKey()).orElseThrow();
            for (String path : e.getValue()) {
                var values = replay.values(e.getKey(), path, at);
                sheet.blocks().stream().filter(b -> b.type().equals("tap")).forEach(b -> {
                    String address = Names.addressOf(path + "/" + b.name());
                    int column = run.store().indexOf(address);
                    var wire = sheet.wireInto(b.id(), "u");
                    if (column >= 0 && wire.isPresent() && values.containsKey(wire.get().from() + "." + wire.get().fromPort())) {
                        var v = values.get(wire.get().from() + "." + wire.get().fromPort());
                        assertThat(v.measured()).isFalse();
                        assertThat(v.value()).as("%s at %s", address, at).isEqualTo(run.store().valueAt(column, at));
                    }
                });
            }
        }
    }

    @org.junit.jupiter.api.Test
    void liveChangesTakePlaceAtTheirInstantsAndStatesAreKept() throws Exception {
        Project p = ProjectReader.read(Path.of("../demo/motor-position"));
        try (var run = run(p, "desk", 30, new Change("controller.target", 2, 12_345_000_000L),
                new Change("motor.load_torque", 0.01, 20_000_000_000L))) {
            var replay = new Replay(p, run.rig(), run.interventions(), run.store());
            replay.prepare(_ -> { });
            assertThat(replay.differences()).isEmpty();
            // In any order: later instants first, from kept states, are what a fresh replay computes from the start.
            var fresh = new Replay(p, run.rig(), run.interventions(), run.store());
            var ref = new SheetRef("controller", p.part("controller").orElseThrow().main().id());
            for (double at : new double[] {29.9, 12.3451, 0.002, 25}) {
                assertThat(replay.values(ref, "controller", at)).isEqualTo(fresh.values(ref, "controller", at)).isNotEmpty();
            }
        }
    }

    @org.junit.jupiter.api.Test
    void aRunOfAnotherProjectIsFoundToDiffer() throws Exception {
        Project p = ProjectReader.read(Path.of("../demo/motor-position"));
        Project other = p.withVariables(p.variables().stream().map(v -> v.name().equals("Kp") ? v.valued("7") : v).toList());
        try (var run = run(p, "desk", 0.5)) {
            var replay = new Replay(other, run.rig(), run.interventions(), run.store());
            replay.prepare(_ -> { });
            assertThat(replay.differences()).isNotEmpty();
            assertThat(replay.differences().getFirst().recorded()).isNotEqualTo(replay.differences().getFirst().computed());
        }
    }

    @org.junit.jupiter.api.Test
    void theLastStretchOfAWireIsComputed() throws Exception {
        Project p = ProjectReader.read(Path.of("../demo/motor-position"));
        try (var run = run(p, "desk", 0.5)) {
            var replay = new Replay(p, run.rig(), run.interventions(), run.store());
            var ref = new SheetRef("controller", p.part("controller").orElseThrow().main().id());
            String source = replay.values(ref, "controller", 0.4).keySet().iterator().next();
            int dot = source.indexOf('.');
            double[][] stretch = replay.stretch(ref, "controller", source.substring(0, dot), source.substring(dot + 1), 0.4, 0.1);
            assertThat(stretch[0]).hasSizeGreaterThan(90).isSorted();
            assertThat(stretch[0][0]).isGreaterThanOrEqualTo(0.3);
            assertThat(replay.stretch(ref, "controller", "no", "such", 0.4, 0.1)[0]).isEmpty();
        }
    }

    @org.junit.jupiter.api.Test
    void throughTheConvertersOfABoardARunRepeatsFromKeptStatesToo() throws Exception {
        Project p = ProjectReader.read(Path.of("../demo/larkmere-lock"));
        try (var run = run(p, "asbuilt", 4.5, new Change("controller.position_loop.target", 0.05, 700_000_000))) {
            var replay = new Replay(p, run.rig(), run.interventions(), run.store());
            replay.prepare(_ -> { });
            assertThat(replay.differences()).isEmpty();
            for (double at : new double[] {4.4, 2.0001, 0.9}) {
                assertTapsAgree(p, run, replay, at);
            }
        }
    }

    @org.junit.jupiter.api.Test
    void stimuliAndLiveChangesRepeatAtTheirTicksAndFromKeptStates() throws Exception {
        Project p = ProjectReader.read(Path.of("../demo/motor-position"));
        var run = RigStarter.prepare(p, "desk", new RunOptions(12_000_000_000L, 20, List.of(), Path.of("target/build")), Progress.NONE);
        try (run) {
            run.start();
            await().until(() -> run.seconds() > 0.7);
            run.drive("controller.target", Stimulus.sine(0.5, 1, 2, 10));
            run.drive("motor.load_torque", Stimulus.ramp(0, 0.01, 1.5, false));
            await().until(() -> run.seconds() > 5);
            run.set("motor.load_torque", 0.002);
            await().until(() -> run.seconds() > 7);
            run.release("controller.target");
            run.set("controller.target", 0.25);
            run.awaitEnd();
            var replay = new Replay(p, run.rig(), run.interventions(), run.store());
            replay.prepare(_ -> { });
            assertThat(run.interventions()).hasSize(5).isSortedAccordingTo(Comparator.comparingLong(Intervention::atNanos));
            assertThat(replay.differences()).isEmpty();
            for (double at : new double[] {11.5, 6.1, 4.05, 1.1, 8}) {
                assertTapsAgree(p, run, replay, at);
            }
        }
    }
}
