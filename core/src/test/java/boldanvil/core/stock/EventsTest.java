package boldanvil.core.stock;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.program.Fault;
import boldanvil.core.program.Program;
import boldanvil.core.testing.CompiledC;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What happens at an instant within the continuous part, against closed forms. */
class EventsTest {
    private static final String[] SOLVERS = {"euler", "heun", "bs3", "rk4", "ros2", "dp54"};

    static Stream<Arguments> solversAndSteps() {
        return Stream.of(SOLVERS).flatMap(s -> Stream.of("1 ms", "10 ms").map(h -> Arguments.of(s, h)));
    }

    /** T' = 0.2 (P − T), heated with 40 or 0, switched at 20 ± 0.5; it begins on, at 15. */
    private static PartBuilder thermostat(String solver, String step) {
        return new PartBuilder("p").plant(step, solver).block("aim", "constant", "value=20").block("e", "sum", "signs=+-")
                .block("relay", "relay", "low=-0.5", "high=0.5", "on=40", "off=0", "initial=on").block("d", "sum", "signs=+-")
                .block("k", "gain", "k=0.2").block("T", "integrator", "initial=15").block("P", "outlet").block("out", "outlet")
                .wire("aim.y", "e.u1").wire("T.y", "e.u2").wire("e.y", "relay.u").wire("relay.y", "d.u1").wire("T.y", "d.u2")
                .wire("d.y", "k.u").wire("k.y", "T.u").wire("relay.y", "P.u").wire("T.y", "out.u");
    }

    @ParameterizedTest
    @MethodSource("solversAndSteps")
    void aThermostatSwitchesAtTheInstantsOfItsClosedForm(String solver, String step) {
        double h = step.equals("1 ms") ? 1e-3 : 1e-2;
        var s = Stepper.of(thermostat(solver, step));
        int offs = 0;
        double first = 0;
        double last = 0;
        boolean on = true;
        for (int i = 0; i < 20 / h; i++) {
            s.step();
            boolean now = s.out("P") > 20;
            if (on && !now) {
                offs++;
                first = offs == 1 ? i * h : first;
                last = i * h;
            }
            on = now;
            s.advance();
        }
        assertThat(offs).isEqualTo(38);
        double period = 10 * Math.log(20.5 / 19.5);
        assertThat(first).isCloseTo(5 * Math.log(25 / 19.5), within(1.01 * h + (solver.equals("euler") ? h : 0)));
        assertThat((last - first) / 37).isCloseTo(period, within(solver.equals("euler") ? 1.2 * h : h / 30));
        assertThat(s.fault()).isZero();
    }

    @Test
    void aThermostatIsTheSameAsCompiledC(@TempDir Path folder) {
        for (String solver : SOLVERS) {
            Program p = thermostat(solver, "1 ms").program();
            var jvm = CompiledC.lines(p, JvmCompiler.compile(p).instantiate(), 20_000, v -> v);
            assertThat(CompiledC.run(folder, List.of(p), 20_000, List.of("gcc", "-std=c99", "-O2", "-ffp-contract=off")).stream().skip(1))
                    .as(solver).isEqualTo(jvm);
        }
    }

    /** A ball that falls from 1 m and keeps 0.8 of its speed at each bounce. */
    private static PartBuilder ball(String solver, String step) {
        return new PartBuilder("p").plant(step, solver).block("g", "constant", "value=-9.81")
                .block("v", "integrator", "reset=rising", "reset to=input")
                .block("h", "integrator", "initial=1").block("touch", "threshold", "relation=<", "value=0").block("back", "gain", "k=-0.8")
                .block("out", "outlet").wire("g.y", "v.u").wire("v.y", "h.u").wire("h.y", "touch.u").wire("touch.y", "v.reset")
                .wire("v.y", "back.u")
                .wire("back.y", "v.to").wire("h.y", "out.u");
    }

    /** Height at an instant, from the times of flight; they end at nine times the fall. */
    private static double height(double t) {
        double g = 9.81;
        double fall = Math.sqrt(2 / g);
        if (t < fall) {
            return 1 - g * t * t / 2;
        }
        double at = fall;
        double v = g * fall;
        while (true) {
            v *= 0.8;
            double flight = 2 * v / g;
            if (t < at + flight) {
                return v * (t - at) - g * (t - at) * (t - at) / 2;
            }
            at += flight;
        }
    }

    @ParameterizedTest
    @CsvSource({"heun, 1 ms, 1e-7", "bs3, 1 ms, 1e-7", "rk4, 1 ms, 1e-7", "rk4, 20 ms, 1e-7", "ros2, 1 ms, 1e-6", "dp54, 1 ms, 1e-7",
            "dp54, 20 ms, 1e-7"})
    void aBouncingBallFollowsItsClosedForm(String solver, String step, double tolerance) {
        double h = step.equals("1 ms") ? 1e-3 : 0.02;
        var s = Stepper.of(ball(solver, step));
        for (int i = 0; i * h < 3.5; i++) {
            s.step();
            assertThat(s.out("out")).as("at %s s", i * h).isCloseTo(height(i * h), within(tolerance));
            s.advance();
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"euler", "heun", "bs3", "rk4", "ros2", "dp54"})
    void whatSwitchesWithoutEndIsReportedAndLosesNoTime(String solver) {
        // x' = ±1 towards 0, without a dead band: x stays near 0, and the clock beside it keeps running.
        var s = Stepper.of(new PartBuilder("p").plant("10 ms", solver).block("x", "integrator", "initial=0.0505")
                .block("relay", "relay", "low=0", "high=0", "on=-1", "off=1", "initial=on").block("one", "constant")
                .block("clock", "integrator")
                .block("out", "outlet").block("t", "outlet").wire("x.y", "relay.u").wire("relay.y", "x.u").wire("one.y", "clock.u")
                .wire("x.y", "out.u").wire("clock.y", "t.u")).ticks(20).step();
        assertThat(s.out("t")).isCloseTo(0.2, within(1e-12));
        assertThat(s.out("out")).isCloseTo(0, within(0.011));
        assertThat(s.fault()).isEqualTo(Fault.EVENTS);
    }

    @Test
    void theVariableStepReportsThatItNeedsTooManyStepsAndLosesNoTime() {
        // z' = −10⁹ (z − cos t): far stiffer than the method can follow within a tick of a second.
        var s = Stepper.of(new PartBuilder("p").plant("1 s", "dp54").block("c", "sine", "frequency=1/(2*pi)", "phase=pi/2")
                .block("z", "integrator", "initial=1")
                .block("d", "sum", "signs=+-").block("k", "gain", "k=1e9").block("one", "constant").block("clock", "integrator")
                .block("t", "outlet")
                .wire("c.y", "d.u1").wire("z.y", "d.u2").wire("d.y", "k.u").wire("k.y", "z.u").wire("one.y", "clock.u")
                .wire("clock.y", "t.u")).ticks(1).step();
        assertThat(s.out("t")).isCloseTo(1, within(1e-9));
        assertThat(s.fault() & Fault.SHORT_STEPS).isNotZero();
    }

    @ParameterizedTest
    @ValueSource(strings = {"rk4", "dp54"})
    void aHysteresisBetweenTicksIsSeenByAnIntegrator(String solver) {
        // u = t rises through 0.35 within the only tick: the integral of what it switches on is 0.65.
        var s = Stepper.of(new PartBuilder("p").plant("1 s", solver).block("one", "constant").block("u", "integrator")
                .block("h", "hysteresis", "low=0.1", "high=0.35").block("c", "convert").block("y", "integrator").block("out", "outlet")
                .wire("one.y", "u.u").wire("u.y", "h.u").wire("h.y", "c.u").wire("c.y", "y.u").wire("y.y", "out.u")).ticks(1).step();
        assertThat(s.out("out")).isCloseTo(0.65, within(1e-8));
    }

    @ParameterizedTest
    @ValueSource(strings = {"rk4", "dp54", "euler"})
    void backlashFollowsWithinATick(String solver) {
        // u = sin 2πt in steps of 1/64 s through a play of 0.5: after the top y = 0.75 until u has come back by 0.5.
        var s = Stepper.of(new PartBuilder("p").plant("1 s/64", solver).block("u", "sine").block("b", "backlash", "width=0.5")
                .block("out", "outlet")
                .block("x", "integrator").wire("u.y", "b.u").wire("b.y", "out.u").wire("u.y", "x.u"));
        s.ticks(20).step();
        assertThat(s.out("out")).isCloseTo(0.75, within(1e-3));
        s.ticks(28).step();
        assertThat(s.out("out")).isCloseTo(-0.75, within(1e-3));
    }

    @ParameterizedTest
    @CsvSource({"rising, 0.75", "falling, 0.5", "either, 0.5"})
    void anIntegratorIsResetAtTheInstantOfAnEdge(String edge, double expected) {
        // The input is on from 0.25 s to 0.5 s, within one step of a second.
        var s = Stepper.of(new PartBuilder("p").plant("1 s", "rk4").block("one", "constant").block("t", "integrator")
                .block("x", "integrator", "reset=" + edge)
                .block("in", "window comparator", "low=0.25", "high=0.5").block("a", "hysteresis", "low=0", "high=0.25")
                .block("b", "hysteresis", "low=0", "high=0.5")
                .block("not", "logic", "operation=not").block("both", "logic").block("out", "outlet")
                .wire("one.y", "t.u").wire("one.y", "x.u").wire("t.y", "a.u").wire("t.y", "b.u").wire("b.y", "not.u1")
                .wire("a.y", "both.u1")
                .wire("not.y", "both.u2").wire("both.y", "x.reset").wire("x.y", "out.u").wire("t.y", "in.u")).ticks(1).step();
        assertThat(s.out("out")).isCloseTo(expected, within(1e-8));
    }

    @Test
    void aDivergingStateIsReportedAtItsBlock() {
        var b = new PartBuilder("p").plant("1 ms", "rk4").block("fine", "integrator").block("x", "integrator", "initial=1")
                .block("sq", "function", "f=square")
                .block("one", "constant").block("k", "gain", "k=1000").wire("x.y", "sq.u").wire("sq.y", "k.u").wire("k.y", "x.u")
                .wire("one.y", "fine.u");
        var program = b.program();
        var instance = JvmCompiler.compile(program).instantiate();
        for (int i = 0; i < 40; i++) {
            instance.sample();
            instance.step();
            instance.advance();
        }
        int fault = (int) instance.get(program.fault());
        assertThat(Fault.placed(fault)).isEqualTo(Fault.NOT_FINITE);
        assertThat(boldanvil.core.program.FaultPlaces.of(program).placeOf(fault)).isEqualTo("p/x");
    }
}
