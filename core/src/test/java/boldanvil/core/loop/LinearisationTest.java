package boldanvil.core.loop;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.linear.Polynomials;
import boldanvil.core.linear.Response;
import boldanvil.core.linear.Sampling;
import boldanvil.core.linear.StateSpace;
import boldanvil.core.loop.Linearisation.OperatingPoint;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Slot;
import boldanvil.core.simulate.Change;
import boldanvil.core.simulate.Conductor;
import boldanvil.core.testing.PartBuilder;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import org.hipparchus.complex.Complex;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Loops made linear, against products in z, closed forms, differences and measured sines. */
class LinearisationTest {
    private static OpenLoop open(Project p, String at, OperatingPoint point) {
        return Linearisation.open(p, p.rigs().getFirst(), Cut.at(p, at), point);
    }

    private static Complex z(double omega, double period) {
        return new Complex(0, omega * period).exp();
    }

    /** A gain and two transfer functions in z: their product, whichever wire is opened. */
    @ParameterizedTest
    @CsvSource({"c/error", "c/k", "c/first", "c/second"})
    void aDiscreteLoopIsItsProductInZ(String at) {
        var p = PartBuilder.project(List.of(new PartBuilder("c").sampleTime("10 ms").block("r", "constant", "value=1")
                .block("error", "sum", "signs=+-").block("k", "gain", "k=0.4").block("first", "transfer in z", "b=[0, 0.5]", "a=[1, -0.9]")
                .block("second", "transfer in z", "b=[0.2, 0.1]", "a=[1, -1.2, 0.5]").wire("r.y", "error.u1").wire("second.y", "error.u2")
                .wire("error.y", "k.u").wire("k.y", "first.u").wire("first.y", "second.u").part()));
        var loop = open(p, at, OperatingPoint.START);
        assertThat(loop.samples()).isEqualTo(1);
        assertThat(loop.states()).hasSize(3);
        for (double w : new double[] {0.5, 7, 90, 250}) {
            Complex d = Complex.ONE.divide(z(w, 0.01));
            Complex expected = d.multiply(0.2).divide(Complex.ONE.subtract(d.multiply(0.9))).multiply(d.multiply(0.1).add(0.2))
                    .divide(d.multiply(d).multiply(0.5).subtract(d.multiply(1.2)).add(1));
            assertThat(loop.response().apply(w).subtract(expected).norm()).isLessThan(1e-12);
        }
    }

    /** A plant of the second order behind the hold of its controller: both sides of the system sheet, and its wire. */
    @Test
    void aPlantIsSeenBehindTheHoldOfItsController() {
        var controller = new PartBuilder("c").sampleTime("1 ms").block("in", "inlet").block("r", "constant", "value=0")
                .block("e", "sum", "signs=+-").block("k", "gain", "k=30").block("out", "outlet").wire("r.y", "e.u1").wire("in.y", "e.u2")
                .wire("e.y", "k.u").wire("k.y", "out.u").part();
        var plant = new PartBuilder("p").plant("100 us", "rk4").block("in", "inlet").block("g", "transfer", "num=[5]", "den=[1, 20, 100]")
                .block("out", "outlet").wire("in.y", "g.u").wire("g.y", "out.u").part();
        var wire = new Wire("c", "out", "p", "in");
        var p = PartBuilder.project(List.of(controller, plant), wire, new Wire("p", "out", "c", "in"));
        var held = new Response(Sampling.ZERO_ORDER_HOLD.of(StateSpace.transfer(new double[] {150}, new double[] {1, 20, 100}, 0), 1e-3,
                0));
        for (Cut cut : List.of(Cut.at(p, "c/k"), Cut.at(p, "c/in"), Cut.atSystemWire(p, wire))) {
            var loop = Linearisation.open(p, p.rigs().getFirst(), cut, OperatingPoint.START);
            for (double w : new double[] {1, 30, 400, 3000}) {
                assertThat(loop.response().apply(w).subtract(held.at(w)).norm()).isLessThan(1e-7 * held.at(w).norm());
            }
        }
    }

    /** A fast wire around a slow integrator: the slow loop, sampled every fourth time and held. */
    @Test
    void twoRatesAreLifted() {
        var p = PartBuilder.project(List.of(new PartBuilder("c").sampleTime("1 ms").block("fast", "gain", "k=-1").block("slow", "subsystem",
                "sheet=slow", "sample time=4 ms").wire("slow.y", "fast.u").wire("fast.y", "slow.u").sheet("slow").block("u", "inlet")
                .block("i", "transfer in z", "b=[0, 0.3]", "a=[1, -1]").block("y", "outlet").wire("u.y", "i.u").wire("i.y", "y.u").part()));
        var loop = open(p, "c/fast", OperatingPoint.START);
        assertThat(loop.samples()).isEqualTo(4);
        for (double w : new double[] {3, 40, 300, 2000}) {
            Complex late = Complex.ONE.divide(z(w, 4e-3));
            Complex slow = late.multiply(0.3).divide(Complex.ONE.subtract(late));
            Complex one = Complex.ONE.divide(z(w, 1e-3));
            // What is read from the slow task is of its release; what it reads is of the release before the next.
            Complex hold = Complex.ONE.subtract(late).divide(Complex.ONE.subtract(one)).divide(4);
            assertThat(loop.response().apply(w).norm()).isCloseTo(slow.multiply(hold).norm(), within(1e-12));
        }
        assertThat(loop.closed(1).isStable()).isTrue();
        assertThat(loop.closed(7).isStable()).isFalse();
    }

    /**
     * Delays keep the past in arrays that are written round and round. The closed loop of an integrator behind three samples has the roots
     * of z⁴ − z³ + k T.
     */
    @Test
    void delaysOfManySamplesGiveTheirPoles() {
        var p = PartBuilder.project(List.of(new PartBuilder("c").sampleTime("10 ms").block("minus", "gain", "k=-20").block("i",
                "accumulator").block("late", "delay of n", "n=3").wire("i.y", "late.u").wire("late.y", "minus.u").wire("minus.y", "i.u")
                .part()));
        var loop = open(p, "c/minus", OperatingPoint.START);
        for (double w : new double[] {0.5, 30, 200}) {
            Complex d = z(w, 0.01);
            Complex expected = new Complex(0.2).divide(d.pow(3)).divide(d.subtract(1));
            assertThat(loop.response().apply(w).subtract(expected).norm()).isLessThan(1e-9 * expected.norm());
        }
        Complex[] expected = Polynomials.roots(1, -1, 0, 0, 0.2);
        assertThat(loop.closed(1).poles()).hasSize(4).allMatch(q -> Arrays.stream(expected).anyMatch(e -> e.subtract(q).norm() < 1e-7));
    }

    /** 730 µs of delay in a plant that is stepped every 100 µs, behind the hold of its controller of 1 ms. */
    @Test
    void aTransportDelayInThePlantTurnsThePhaseByItsTime() {
        Function<String, OpenLoop> with = delay -> {
            var controller = new PartBuilder("c").sampleTime("1 ms").block("in", "inlet").block("k", "gain", "k=-3").block("out", "outlet")
                    .wire("in.y", "k.u").wire("k.y", "out.u").part();
            var plant = new PartBuilder("p").plant("100 us", "rk4").block("in", "inlet").block("late", delay.isEmpty() ? "gain"
                    : "transport delay", delay.isEmpty() ? "k=1" : "delay=" + delay).block("g", "transfer", "num=[5]", "den=[1, 2]")
                    .block("out", "outlet").wire("in.y", "late.u").wire("late.y", "g.u").wire("g.y", "out.u").part();
            var p = PartBuilder.project(List.of(controller, plant), new Wire("c", "out", "p", "in"), new Wire("p", "out", "c", "in"));
            return open(p, "c/k", OperatingPoint.START);
        };
        var prompt = with.apply("").response();
        var late = with.apply("730 us");
        // Straight lines between the ticks let a step begin half a tick early. What comes within a sample counts for the rest of it.
        double rest = 1e-3 - 680e-6;
        double all = -Math.expm1(-2e-3);
        for (double w : new double[] {1, 30, 300}) {
            Complex ratio = late.response().apply(w).divide(prompt.apply(w));
            Complex expected = Complex.ONE.divide(z(w, 1e-3)).multiply(Math.exp(-2 * rest) * -Math.expm1(-2 * 680e-6) / all)
                    .add(-Math.expm1(-2 * rest) / all);
            assertThat(ratio.subtract(expected).norm()).isLessThan(1e-6);
        }
        assertThat(late.closed(1).isStable()).isTrue();
    }

    /** What is rounded on purpose goes through as it is; what is cut by a limit does not. */
    @Test
    void aQuantiserGoesThroughAndALimitHolds() {
        var b = new PartBuilder("c").sampleTime("10 ms").block("r", "constant", "value=5").block("e", "sum", "signs=+-")
                .block("q", "quantiser", "step=0.1").block("s", "saturation", "low=-1", "high=1").block("i", "accumulator")
                .wire("r.y", "e.u1").wire("i.y", "e.u2").wire("e.y", "q.u").wire("q.y", "s.u").wire("s.y", "i.u");
        var p = PartBuilder.project(List.of(b.part()));
        assertThatThrownBy(() -> open(p, "c/q", OperatingPoint.START)).isInstanceOf(FindingException.class)
                .hasMessageContaining("Nothing that is added to the wire comes back");
        var later = open(p, "c/q", new OperatingPoint(8, List.of()));
        assertThat(later.response().apply(1).norm()).isCloseTo(0.01 / (2 * Math.sin(0.005)), within(1e-2));
        assertThat(later.seconds()).isEqualTo(8);
    }

    @Test
    void placesWithoutALoopAreReported() {
        var p = PartBuilder.project(List.of(new PartBuilder("c").sampleTime("10 ms").block("r", "constant", "value=1").block("k", "gain")
                .block("t", "tap").wire("r.y", "k.u").wire("k.y", "t.u").block("end", "gain").wire("k.y", "end.u").part()));
        assertThatThrownBy(() -> open(p, "c/k", OperatingPoint.START)).isInstanceOf(FindingException.class).hasMessageContaining("no loop");
        assertThatThrownBy(() -> open(p, "c/end", OperatingPoint.START)).isInstanceOf(FindingException.class)
                .hasMessageContaining("No wire begins there");
        assertThatThrownBy(() -> open(p, "c/missing", OperatingPoint.START)).isInstanceOf(FindingException.class)
                .hasMessageContaining("no block");
        assertThatThrownBy(() -> open(p, "c/t", OperatingPoint.START)).isInstanceOf(FindingException.class)
                .hasMessageContaining("has no output");
        assertThatThrownBy(() -> open(p, "c/k.q", OperatingPoint.START)).isInstanceOf(FindingException.class)
                .hasMessageContaining("no output 'q'");
    }

    /** The paddle's loops cross where they were designed: 1500 rad/s for the current, 120 rad/s for the speed, less their delays. */
    @Test
    void thePaddlesLoopsCrossWhereTheyWereDesigned() {
        var p = ProjectReader.read(Path.of("../demo/larkmere-lock"));
        var point = new OperatingPoint(0.4, List.of(new Change("controller.position_loop.target", 0.3, 100_000_000L)));
        var current = open(p, "controller/current loop/current controller", point);
        assertThat(crossover(current)).isBetween(1350.0, 1600.0);
        var speed = open(p, "controller/position loop/speed controller", point);
        assertThat(crossover(speed)).isBetween(105.0, 130.0);
        assertThat(current.closed(1).isStable()).isTrue();
        assertThat(speed.closed(1).modes()).isNotEmpty();
        assertThat(speed.frozen()).contains("chamber");
    }

    private static double crossover(OpenLoop loop) {
        return boldanvil.core.linear.Margins.of(loop.response(), boldanvil.core.linear.Frequencies.between(1, loop.nyquist(), 400)).phase()
                .orElseThrow().omega();
    }

    /** A pendulum held up, with a drive whose torque is a curve: measured by sines on the sheet itself. */
    @Test
    void aMeasuredSineAgrees() {
        var plant = new PartBuilder("p").plant("1 ms", "rk4").block("torque", "inlet").block("speed", "integrator")
                .block("angle", "integrator", "initial=0.3").block("weight", "function", "f=sin").block("g", "gain", "k=9.81")
                .block("net", "sum", "signs=++").block("out", "outlet").wire("torque.y", "net.u1").wire("weight.y", "g.u")
                        .wire("g.y", "net.u2")
                .wire("net.y", "speed.u").wire("speed.y", "angle.u").wire("angle.y", "weight.u").wire("angle.y", "out.u").part();
        var controller = new PartBuilder("c").sampleTime("10 ms").block("in", "inlet").block("r", "constant", "value=0.3")
                .block("e", "sum", "signs=+-").block("pid", "pid", "kp=40", "ki=20", "kd=9", "tf=0.02").block("d", "tunable", "value=0")
                .block("s", "sum", "signs=++").block("y", "tap").block("out", "outlet").wire("in.y", "e.u2").wire("r.y", "e.u1")
                .wire("e.y", "pid.e").wire("pid.y", "s.u1").wire("d.y", "s.u2").wire("pid.y", "y.u").wire("s.y", "out.u").part();
        var p = PartBuilder.project(List.of(controller, plant), new Wire("c", "out", "p", "torque"), new Wire("p", "out", "c", "in"));
        var loop = open(p, "c/pid", new OperatingPoint(8, List.of()));
        var system = LoweredSystem.of(p).orThrow();
        for (double periods : new double[] {1, 3, 8, 20}) {
            int n = 400;
            double omega = 2 * Math.PI * periods / (n * 0.01);
            var parts = instances(system);
            var conductor = new Conductor(system, parts);
            var program = system.program("c").orElseThrow();
            Slot d = program.tunable("d").orElseThrow().slot();
            Slot y = program.tap("y").orElseThrow().slot();
            int ticks = (int) (10_000_000L / system.tickNanos());
            Complex out = Complex.ZERO;
            Complex in = Complex.ZERO;
            for (int i = 0; i < 2 * n + 800; i++) {
                double added = i < 800 ? 0 : 1e-3 * Math.sin(omega * 0.01 * i);
                parts.get("c").set(d, added);
                for (int t = 0; t < ticks; t++) {
                    conductor.tick();
                }
                if (i >= 800 + n) {
                    Complex turn = new Complex(0, -omega * 0.01 * i).exp();
                    out = out.add(turn.multiply(parts.get("c").get(y)));
                    in = in.add(turn.multiply(parts.get("c").get(y) + added));
                }
            }
            Complex measured = out.divide(in).negate();
            Complex expected = loop.response().apply(omega);
            assertThat(20 * Math.log10(measured.norm() / expected.norm())).as("dB at " + omega).isCloseTo(0, within(0.2));
            assertThat(Math.toDegrees(measured.divide(expected).getArgument())).as("° at " + omega).isCloseTo(0, within(1.0));
        }
    }

    private static Map<String, Instance> instances(LoweredSystem system) {
        Map<String, Instance> all = new HashMap<>();
        system.parts().keySet().forEach(id -> all.put(id, JvmCompiler.compile(system.program(id).orElseThrow()).instantiate()));
        return all;
    }

    /** The closed loop of each demo at 25 instants of its run, against differences of the compiled classes: 100 operating points. */
    @ParameterizedTest
    @CsvSource({"larkmere-lock, controller/current loop/current controller, controller.position_loop.target, 0.3, 0.4, 1e-5, 0.01, 3e-4",
        "gate-drive, controller/current loop/q controller, helm.trim, 0.2, 0.1, 1e-3, 1, 2e-3",
        "motor-position, controller/position, controller.target, 0.5, 0, 1e-5, 0.01, 1e-4",
        "lamp-charger, controller/current loop, stage.sun, 700, 0.3, 1e-4, 0.01, 4e-3"})
    void linearisationEqualsDifferences(String demo, String at, String tunable, double value, double first, double share,
            double least, double within) {
        Project p = ProjectReader.read(Path.of("../demo", demo));
        Rig rig = demo.equals("lamp-charger") ? p.rig("averaged").orElseThrow() : p.rig("desk").orElseThrow();
        Cut cut = Cut.at(p, at);
        var system = LoweredSystem.of(Linearisation.summed(p.as(rig), cut)).orThrow();
        boolean hasTunable = system.parts().entrySet().stream().anyMatch(e -> e.getValue().program().orElseThrow().tunables().stream()
                .anyMatch(t -> (e.getKey() + "." + t.name()).equals(tunable)));
        List<Change> changes = hasTunable ? List.of(new Change(tunable, value, 3_000_000L)) : List.of();
        int compared = 0;
        for (int k = 1; k <= 25; k++) {
            var loop = Linearisation.openBetweenLevels(p, rig, cut, new OperatingPoint(first + 0.0031 * k, changes));
            var closed = loop.lifted().closed().a();
            long ticks = Math.round(loop.lifted().period() * 1e9 / system.tickNanos());
            long from = Math.round(loop.seconds() * 1e9 / system.tickNanos());
            var parts = instances(system);
            var conductor = new Conductor(system, parts);
            conductor.schedule(changes);
            for (long t = 0; t < from; t++) {
                conductor.tick();
            }
            Map<String, double[]> kept = new HashMap<>();
            parts.forEach((id, i) -> kept.put(id, i.save()));
            int n = loop.states().size();
            for (int j = 0; j < n; j++) {
                double[][] ends = new double[3][];
                double amount = 0;
                for (int side = -1; side <= 1; side++) {
                    parts.forEach((id, i) -> i.restore(kept.get(id)));
                    double x = read(system, parts, loop.states().get(j));
                    amount = share * Math.max(Math.abs(x), least);
                    write(system, parts, loop.states().get(j), x + side * amount);
                    var again = new Conductor(system, parts);
                    again.resumeAt(from);
                    for (long t = 0; t < ticks; t++) {
                        again.tick();
                    }
                    ends[side + 1] = loop.states().stream().mapToDouble(s -> read(system, parts, s)).toArray();
                }
                for (int i = 0; i < n; i++) {
                    if (loop.states().get(i).contains("_rate_")) {
                        // What Newton's method begins with moves as far as its accuracy allows.
                        continue;
                    }
                    double below = (ends[1][i] - ends[0][i]) / amount;
                    double above = (ends[2][i] - ends[1][i]) / amount;
                    double near = within * Math.max(1, Math.max(Math.abs(below), Math.abs(above)));
                    // At a corner, such as a limit or a point of a table, the derivative is that of one side.
                    assertThat(closed.get(i, j)).as(loop.states().get(i) + " by " + loop.states().get(j) + " at " + loop.seconds())
                            .isBetween(Math.min(below, above) - near, Math.max(below, above) + near);
                    compared++;
                }
            }
        }
        assertThat(compared).isGreaterThan(25);
    }

    private static double read(LoweredSystem system, Map<String, Instance> parts, String state) {
        return access(system, parts, state, Double.NaN);
    }

    private static void write(LoweredSystem system, Map<String, Instance> parts, String state, double v) {
        access(system, parts, state, v);
    }

    private static double access(LoweredSystem system, Map<String, Instance> parts, String state, double v) {
        String part = state.substring(0, state.indexOf('/'));
        String name = state.substring(state.indexOf('/') + 1);
        int element = name.endsWith("]") ? Integer.parseInt(name.substring(name.lastIndexOf('[') + 1, name.length() - 1)) : -1;
        String slotName = element < 0 ? name : name.substring(0, name.lastIndexOf('['));
        Slot slot = system.program(part).orElseThrow().slots().stream().filter(s -> s.name().equals(slotName)).findFirst().orElseThrow();
        Instance i = parts.get(part);
        if (element < 0) {
            if (!Double.isNaN(v)) {
                i.set(slot, v);
            }
            return i.get(slot);
        }
        double[] all = i.elements(slot);
        if (!Double.isNaN(v)) {
            all[element] = v;
            i.set(slot, all);
        }
        return all[element];
    }

    @Test
    void aCutHasALabel() {
        var p = ProjectReader.read(Path.of("../demo/larkmere-lock"));
        assertThat(Cut.at(p, "controller/current loop/current controller").label(p))
                .isEqualTo("controller/current loop/current controller.y");
        assertThat(Cut.at(p, "controller/current loop/current controller").sheet()).isEqualTo(new SheetRef("controller", "current-loop"));
    }
}
