package boldanvil.standin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import boldanvil.core.build.Builder;
import boldanvil.core.build.Sources;
import boldanvil.core.build.Target;
import boldanvil.core.build.Toolchain;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Type;
import boldanvil.core.review.Review;
import boldanvil.core.runs.Comparison;
import boldanvil.core.samples.RunData;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.RandomSheets;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Images for a bare Cortex-M4F, run instruction by instruction on an emulator, do bit for bit what the same sheets do here. Where the cross
 * compiler or the emulator is missing, these tests are left out; the test command installs both.
 */
class EmulatedInstanceTest {
    private static final Board M4F = Boards.shipped().find("generic-m4f").orElseThrow();

    @TempDir
    private Path folder;

    @BeforeAll
    static void tools() {
        Assumptions.assumeTrue(Toolchain.find(Target.BARE_ARM).isPresent() && Toolchain.find("qemu-system-arm").isPresent());
    }

    private EmulatedInstance start(Program p) {
        var image = new Builder(folder, Target.bareArm(M4F.emulator().flags()), _ -> { }, () -> false).build(p, Sources.emulated(p, M4F));
        assertThat(image.sizes().code()).isPositive();
        return new EmulatedInstance(image.file(), p, M4F);
    }

    private RunData run(String rig, double seconds) throws InterruptedException {
        var options = new RunOptions((long) (seconds * 1e9), Double.POSITIVE_INFINITY, List.of(), folder);
        try (var run = RigStarter.prepare(ProjectReader.read(Path.of("../demo/gate-drive")), rig, options, Progress.NONE)) {
            run.start();
            run.awaitEnd();
            assertThat(run.state()).isEqualTo(LiveRun.State.ENDED);
            assertThat(run.findings()).isEmpty();
            if (rig.equals("emulated")) {
                assertThat(run.instructions().get("controller").most()).isBetween(200L, 5_000L);
                assertThat(run.instructions().get("controller").mean()).isLessThanOrEqualTo(run.instructions().get("controller").most());
            }
            return run.store().snapshot();
        }
    }

    @Test
    void theGateControllerInFloat32IsTheSameBitForBit() throws Exception {
        var c = Comparison.of(run("code", 0.06), run("emulated", 0.06), Map.of());
        assertThat(c.rows()).hasSizeGreaterThan(6).allMatch(r -> r.largest() == 0 && r.compared() > 100);
    }

    /** Random sheets with integers, both kinds of reals and faults, under random inputs. */
    @ParameterizedTest
    @ValueSource(longs = {3, 14, 15, 92})
    void randomSheetsAreTheSameBitForBit(long seed) {
        var p = RandomSheets.part(seed, 40).program();
        var here = JvmCompiler.compile(p).instantiate();
        var random = new Random(seed);
        try (var there = start(p)) {
            for (int i = 0; i < 40; i++) {
                for (Port port : p.ports()) {
                    if (port.isInput()) {
                        double v = port.slot().type() == Type.BOOL ? random.nextInt(2)
                                : port.slot().type().convert(random.nextGaussian() * 50);
                        here.set(port.slot(), v);
                        there.set(port.slot(), v);
                    }
                }
                for (var instance : List.of(here, there)) {
                    instance.sample();
                    instance.step();
                    instance.advance();
                }
                for (Slot s : p.slots()) {
                    if (s.role() == Slot.Role.OUTPUT || s.role() == Slot.Role.STATE && !s.isArray()) {
                        assertThat(there.get(s)).as("%s at step %d", s.name(), i).isEqualTo(Double.valueOf(here.get(s)));
                    }
                }
            }
        }
    }

    @Test
    void aTunableIsChangedThereAndAnInstructionIsCounted() {
        var p = new PartBuilder("p").real("float32").block("u", "inlet").block("g", "gain", "*k=2").block("o", "outlet").wire("u.y", "g.u")
                .wire("g.y", "o.u").program();
        try (var i = start(p)) {
            var u = p.port("u").orElseThrow().slot();
            var o = p.port("o").orElseThrow().slot();
            i.set(u, 3);
            i.step();
            assertThat(i.get(o)).isEqualTo(6);
            i.set(p.tunables().getFirst().slot(), 5);
            i.step();
            assertThat(i.get(o)).isEqualTo(15);
            assertThat(i.mostInstructions()).isBetween(5L, 100L);
            i.init();
            assertThat(i.get(p.tunables().getFirst().slot())).isEqualTo(2);
        }
    }

    @Test
    void anImageThatFallsSilentIsAFinding() {
        var p = new PartBuilder("p").block("u", "inlet").block("o", "outlet").wire("u.y", "o.u").program();
        var i = start(p);
        i.close();
        assertThatThrownBy(i::step).hasMessageContaining("no longer responds");
    }

    @Test
    void aBoardWithoutAnEmulatorIsAFinding() {
        Project project = ProjectReader.read(Path.of("../demo/gate-drive"));
        var rig = new Rig("odd", "", Rig.Terminals.IDEAL, Map.of("controller", new Rig.Place(Rig.Mode.EMULATED, "swage32")));
        assertThat(Review.of(project.withRigs(List.of(rig))).findings()).singleElement()
                .satisfies(f -> assertThat(f.cause()).contains("no emulator for 'swage32'"));
    }
}
