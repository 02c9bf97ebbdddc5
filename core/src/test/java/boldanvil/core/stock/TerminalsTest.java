package boldanvil.core.stock;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Wire;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.program.TerminalKind;
import boldanvil.core.review.Review;
import boldanvil.core.simulate.Conductor;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

class TerminalsTest {
    @Test
    void anAnalogInputIsScaled() {
        var b = new PartBuilder("t").block("shunt", "analog in", "offset=1.65 V", "sensitivity=0.05 V/A", "unit=A").block("i", "tap",
                "unit=A").wire("shunt.y", "i.u");
        assertThat(Stepper.of(b).set("shunt", 2.15).step().tap("i")).isCloseTo(10, within(1e-12));
        assertThat(b.program().port("shunt").orElseThrow().slot().unit()).isEqualTo("V");
    }

    @Test
    void aSensitivityOfZeroIsAFinding() {
        var l = new PartBuilder("t").block("shunt", "analog in", "sensitivity=0").block("i", "tap").wire("shunt.y", "i.u").lower();
        assertThat(l.findings()).singleElement().satisfies(f -> assertThat(f.cause()).contains("sensitivity is 0"));
    }

    @Test
    void aPwmOutputHoldsItsDutyCycle() {
        var s = Stepper.of(new PartBuilder("t").block("d", "inlet").block("leg", "pwm out", "minimum=0.1", "maximum=0.9")
                .wire("d.y", "leg.u"));
        assertThat(s.course("d", "leg", -1, 0.5, 2)).containsExactly(0.1, 0.5, 0.9);
    }

    @Test
    void digitalTerminalsKnowTheirActiveLevel() {
        var s = Stepper.of(new PartBuilder("t").block("key", "digital in", "active=low").block("lamp", "digital out", "active=low")
                .block("seen", "tap").wire("key.y", "lamp.u").wire("key.y", "seen.u"));
        assertThat(s.set("key", 0).step().tap("seen")).isEqualTo(1);
        assertThat(s.out("lamp")).isZero();
        assertThat(s.set("key", 1).step().out("lamp")).isEqualTo(1);
    }

    @Test
    void anEncoderPassesItsAngle() {
        var s = Stepper.of(new PartBuilder("t").block("shaft", "encoder in").block("out", "outlet").wire("shaft.y", "out.u"));
        assertThat(s.set("shaft", 3.5).step().out("out")).isEqualTo(3.5);
    }

    @Test
    void portsTellTheirKindAndNumbers() {
        var p = new PartBuilder("t").block("leg", "pwm out", "frequency=16 kHz", "alignment=centre").block("c", "constant", "value=0.5")
                .wire("c.y", "leg.u").program().port("leg").orElseThrow();
        assertThat(p.terminal()).isEqualTo(TerminalKind.PWM_OUT);
        assertThat(p.numbers()).containsEntry("frequency", 16e3);
        assertThat(p.texts()).containsEntry("alignment", "centre");
        assertThat(p.isInput()).isFalse();
    }

    @Test
    void aTerminalWithinASubsystemIsAFinding() {
        var l = new PartBuilder("t").block("sub", "subsystem", "sheet=inner").sheet("inner").block("shaft", "encoder in").lower();
        assertThat(l.findings()).singleElement().satisfies(f -> {
            assertThat(f.place().text()).isEqualTo("t/sub/shaft");
            assertThat(f.cause()).contains("inside a subsystem");
        });
    }

    @Test
    void aDebouncedInputFollowsALevelThatStays() {
        var s = Stepper.of(new PartBuilder("t").block("key", "digital in", "debounce=3 ms").block("seen", "tap").wire("key.y", "seen.u"));
        int[] level = {1, 0, 1, 1, 1, 1, 1, 0, 0, 1, 0, 0, 0, 0, 0};
        int[] seen = {0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 1, 1, 1, 0, 0};
        for (int i = 0; i < level.length; i++) {
            s.set("key", level[i]).step();
            assertThat(s.tap("seen")).as("step %d", i).isEqualTo(seen[i]);
            s.advance();
        }
    }

    @Test
    void aPinInterruptStartsASubsystemOnceForEachEdge() {
        var b = new PartBuilder("t").block("pin", "edge in", "edge=both").block("sub", "subsystem", "sheet=inner", "runs=on rising edge")
                .block("n", "tap").wire("pin.y", "sub.control")
                .wire("sub.count", "n.u").sheet("inner").block("c", "counter").block("count", "outlet").wire("c.y", "count.u");
        var s = Stepper.of(b);
        double before = s.step().advance().tap("n");
        int[] level = {0, 1, 1, 0, 0, 0, 1, 1};
        int edges = 0;
        for (int i = 1; i < level.length; i++) {
            s.set("pin", level[i]).step().advance();
            edges += level[i] != level[i - 1] ? 1 : 0;
        }
        assertThat(edges).isEqualTo(3);
        assertThat(s.tap("n") - before).isEqualTo(edges - 1.0);
    }

    @Test
    void anEdgeThatHasGoneBySinceIsSeenAllTheSame() {
        var s = Stepper.of(new PartBuilder("t").block("pin", "edge in").block("seen", "tap").wire("pin.y", "seen.u"));
        assertThat(s.set("pin", 0).set("pin latched", 1).step().tap("seen")).isEqualTo(1);
        assertThat(s.set("pin latched", 0).step().tap("seen")).isZero();
    }

    @Test
    void anAnalogInputCalibratedAtTwoPoints() {
        var s = Stepper.of(new PartBuilder("t").block("level", "analog in", "scaling=two points", "v1=0.5 V", "y1=0", "v2=2.5 V", "y2=4 m",
                "unit=m").block("h", "tap").wire("level.y", "h.u"));
        assertThat(s.set("level", 0.5).step().tap("h")).isCloseTo(0, within(1e-12));
        assertThat(s.set("level", 2.5).step().tap("h")).isCloseTo(4, within(1e-12));
        assertThat(s.set("level", 3).step().tap("h")).isCloseTo(5, within(1e-12));
        assertThat(new PartBuilder("t").block("x", "analog in", "scaling=two points", "v2=0").block("h", "tap").wire("x.y", "h.u").lower()
                .findings())
                .anyMatch(f -> f.cause().contains("two points of the calibration are identical"));
    }

    @Test
    void anAnalogOutputIsScaledAndHeld() {
        var s = Stepper.of(new PartBuilder("t").block("u", "inlet").block("x", "analog out", "offset=1 V", "sensitivity=0.5 V")
                .wire("u.y", "x.u"));
        assertThat(s.course("u", "x", -9, 1, 9)).containsExactly(0, 1.5, 3.3);
    }

    @Test
    void aThreePhaseOutputHasThreeWires() {
        var s = Stepper.of(new PartBuilder("t").block("u", "inlet").block("bridge", "three-phase pwm", "maximum=0.9")
                .wire("u.y", "bridge.a").wire("u.y", "bridge.b").wire("u.y", "bridge.c"));
        s.set("u", 0.95).step();
        assertThat(List.of(s.out("bridge A"), s.out("bridge B"), s.out("bridge C"))).containsOnly(0.9);
    }

    @Test
    void aTripInputHoldsTheOutputsAtTheirSafeLevel() {
        var s = Stepper.of(new PartBuilder("t").block("u", "inlet").block("leg", "pwm out", "trip=trip input", "outputs=complementary pair")
                .block("high", "pwm out", "trip=trip input",
                "safe=high").wire("u.y", "leg.u").wire("u.y", "high.u"));
        s.set("u", 0.4).step();
        assertThat(List.of(s.out("leg"), s.out("leg low"), s.out("high"))).containsExactly(0.4, 0.6, 0.4);
        s.set("leg trip", 1).set("high trip", 1).step();
        assertThat(List.of(s.out("leg"), s.out("leg low"), s.out("high"))).containsExactly(0.0, 0.0, 1.0);
    }

    @Test
    void pulsesStopBelowTheirLeastFrequency() {
        var s = Stepper.of(new PartBuilder("t").block("u", "inlet").block("x", "pulse out", "minimum=100 Hz", "maximum=2 kHz")
                .wire("u.y", "x.u"));
        assertThat(s.course("u", "x", 99, 100, 1500, 5000)).containsExactly(0, 100, 1500, 2000);
    }

    @Test
    void aCounterCountsWholePulses() {
        var s = Stepper.of(new PartBuilder("t").block("x", "counter in").block("n", "tap").wire("x.y", "n.u"));
        assertThat(s.set("x", 70_000.9).step().tap("n")).isEqualTo(70_000);
    }

    @Test
    void healthIsTheDevicesAndNoPortOfThePart() {
        var b = new PartBuilder("t").block("h", "health").block("dog", "watchdog").block("load", "tap").wire("h.load", "load.u");
        var project = PartBuilder.project(List.of(b.part()));
        assertThat(Review.of(project).findings()).isEmpty();
        assertThat(b.program().ports()).noneMatch(p -> p.isOnSystemSheet());
        assertThat(Stepper.of(b).step().tap("load")).isZero();
    }

    private static Project probed(String outputs, String probe) {
        var c = new PartBuilder("c").block("half", "constant", "value=0.25")
                .block("leg", "pwm out", "frequency=12.5 kHz", "dead time=700 ns", "outputs=" + outputs)
                .block("probe", probe, probe.equals("capture in") ? "slowest=1 kHz" : "longest=5 us").block("a", "tap").block("b", "tap")
                .wire("half.y", "leg.u")
                .wire("probe." + (probe.equals("capture in") ? "f" : "y"), "a.u")
                .wire("probe." + (probe.equals("capture in") ? "d" : "y"), "b.u");
        return PartBuilder.project(List.of(c.part()), new Wire("c", "leg", "c", "probe"));
    }

    @Test
    void aWireFromPwmToACaptureBringsItsFrequencyAlong() {
        assertThat(run(probed("single", "capture in"))).containsExactly(12_500, 0.25);
        assertThat(run(probed("complementary pair", "delay in"))[0]).isCloseTo(700e-9, within(1e-15));
        assertThat(Review.of(probed("single", "delay in")).findings()).anyMatch(f -> f.cause().contains("no second edge"));
    }

    private static double[] run(Project project) {
        var system = Review.of(project).orThrow().system();
        var program = system.program("c").orElseThrow();
        var instance = JvmCompiler.compile(program).instantiate();
        var conductor = new Conductor(system, Map.of("c", instance));
        for (int i = 0; i < 3; i++) {
            conductor.tick();
        }
        return new double[] {instance.get(program.tap("a").orElseThrow().slot()), instance.get(program.tap("b").orElseThrow().slot())};
    }
}
