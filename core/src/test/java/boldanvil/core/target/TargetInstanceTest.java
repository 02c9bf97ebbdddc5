package boldanvil.core.target;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import boldanvil.core.diagram.Mapping;
import boldanvil.core.diagram.Rig;
import boldanvil.core.estimate.LoadEstimate;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.testing.PartBuilder;
import java.util.List;
import org.junit.jupiter.api.Test;

/** A part on a core of a target, tick by tick. */
class TargetInstanceTest {
    private static final Board HEARTH = Boards.shipped().find("hearth-rt8").orElseThrow();
    private static final long STEP = 1_000_000;

    private long now;

    /** An integrator of what comes in, with a step of 1 ms. */
    private static Program integrator() {
        return new PartBuilder("t").plant("1 ms", "euler").block("u", "inlet").block("sum", "integrator").block("y", "outlet")
                .wire("u.y", "sum.u").wire("sum.y", "y.u").program();
    }

    private static Port port(Program p, String name) {
        return p.port(name).orElseThrow();
    }

    private TargetInstance instance(Program p, Rig.Overrun overrun, double seconds, TargetCore core) {
        var mapped = List.of(new TargetPart.Mapped(port(p, "u"), TargetChannel.find(HEARTH, "AI1").orElseThrow(),
                Mapping.Row.plain("u", "AI1")), new TargetPart.Mapped(port(p, "y"), TargetChannel.find(HEARTH, "AO1").orElseThrow(),
                Mapping.Row.plain("y", "AO1")));
        var part = new TargetPart("bench", "t", HEARTH, new Rig.Seat("hearth", 1, overrun, ""), p, new Mapping("hearth-rt8", List.of()),
                mapped, List.of(new LoadEstimate.Row("continuous", 1e-3, seconds, 0)));
        var instance = new TargetInstance(JvmCompiler.compile(p).instantiate(), part, core);
        instance.connect(new boldanvil.core.lower.LoweredSystem(java.util.Map.of(), List.of(), List.of(), List.of()), java.util.Map.of(),
                () -> now);
        instance.init();
        return instance;
    }

    private void tick(TargetInstance i) {
        i.sample();
        i.step();
        i.advance();
        now += STEP;
    }

    @Test
    void outputsFollowInputsAfterAStepAndTheSettling() {
        Program p = integrator();
        var i = instance(p, Rig.Overrun.STOP, 10e-6, new TargetCore());
        i.set(port(p, "u").slot(), 5);
        tick(i);
        i.sample();
        assertThat(i.get(port(p, "y").slot())).as("still settling").isZero();
        now += 2_000;
        assertThat(i.get(port(p, "y").slot())).isCloseTo(5e-3, within(20.0 / 65_536 / 2));
        assertThat(i.latency().longest()).as("set at 0, taken at 0, given at 1 ms, settled 2 µs later").isCloseTo(1.002e-3, within(1e-9));
        assertThat(i.overruns()).isZero();
        assertThat(i.times().mean()).isCloseTo(10e-6, within(1e-12));
    }

    @Test
    void aTargetThatStopsOnAnOverrunRestsItsOutputs() {
        Program p = integrator();
        var i = instance(p, Rig.Overrun.STOP, 1.5e-3, new TargetCore());
        i.set(port(p, "u").slot(), 1_000);
        tick(i);
        tick(i);
        assertThat(i.stopped()).hasValueSatisfying(f -> {
            assertThat(f.isError()).isTrue();
            assertThat(f.cause()).contains("0.001 s");
        });
        now += 50 * STEP;
        assertThat(i.get(port(p, "y").slot())).isZero();
    }

    @Test
    void aTargetThatSkipsLeavesStepsOut() {
        Program p = integrator();
        var i = instance(p, Rig.Overrun.SKIP, 1.5e-3, new TargetCore());
        i.set(port(p, "u").slot(), 1);
        for (int k = 0; k < 100; k++) {
            tick(i);
        }
        assertThat(i.overruns()).isEqualTo(50);
        assertThat(i.leftOut()).isEqualTo(50);
        assertThat(i.times().mean()).isCloseTo(1.5e-3, within(1e-9));
        i.sample();
        now += 10 * STEP;
        double count = 20.0 / 65_536;
        assertThat(i.get(port(p, "y").slot())).as("half the time is lost").isCloseTo(Math.rint(1 / count) * count * 50e-3, within(1e-3));
    }

    @Test
    void aTargetThatHoldsComputesLateAndLosesNoTime() {
        Program p = integrator();
        // Every step takes half a millisecond, but another part on the core has taken 3 ms at the beginning.
        var core = new TargetCore();
        var i = instance(p, Rig.Overrun.HOLD, 0.5e-3, core);
        core.run(0, 3e-3);
        i.set(port(p, "u").slot(), 1);
        double[] seen = new double[21];
        for (int k = 0; k <= 20; k++) {
            i.sample();
            seen[k] = i.get(port(p, "y").slot());
            i.step();
            i.advance();
            now += STEP;
        }
        assertThat(i.overruns()).isBetween(3L, 7L);
        assertThat(i.leftOut()).isZero();
        assertThat(seen[3]).as("the outputs hold").isZero();
        // From 6 ms on it is in time again: what is seen at a tick was given at the tick before, as settling takes 2 µs.
        assertThat(seen[20]).isCloseTo(19e-3, within(1e-3));
    }

    @Test
    void aResetStartsThePartAnewAndKeepsWhatIsOnTheWires() {
        Program p = integrator();
        var i = instance(p, Rig.Overrun.STOP, 10e-6, new TargetCore());
        i.set(port(p, "u").slot(), 5);
        for (int k = 0; k < 10; k++) {
            tick(i);
        }
        i.sample();
        now += 2_000;
        assertThat(i.get(port(p, "y").slot())).isCloseTo(50e-3, within(1e-3));
        now += STEP - 2_000;
        i.reset();
        assertThat(i.get(port(p, "y").slot())).isZero();
        tick(i);
        tick(i);
        i.sample();
        now += 2_000;
        assertThat(i.get(port(p, "y").slot())).as("two steps of 5 V").isCloseTo(10e-3, within(1e-3));
    }

    @Test
    void partsOnOneCoreWaitForEachOther() {
        Program p = integrator();
        var core = new TargetCore();
        var first = instance(p, Rig.Overrun.SKIP, 0.6e-3, core);
        var second = instance(p, Rig.Overrun.SKIP, 0.6e-3, core);
        var alone = instance(p, Rig.Overrun.SKIP, 0.6e-3, new TargetCore());
        for (int k = 0; k < 50; k++) {
            long t = now;
            tick(first);
            now = t;
            tick(second);
            now = t;
            tick(alone);
        }
        assertThat(first.overruns() + second.overruns()).isPositive();
        assertThat(alone.overruns()).isZero();
    }
}
