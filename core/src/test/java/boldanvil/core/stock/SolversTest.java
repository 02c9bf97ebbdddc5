package boldanvil.core.stock;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.finding.Finding;
import boldanvil.core.program.Fault;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Solvers against closed forms. */
class SolversTest {
    private static double run(PartBuilder b, int ticks) {
        return Stepper.of(b).ticks(ticks).step().out("out");
    }

    /** x' = −x + a second, coupled state that the same method must carry along; x(1) for x(0) = 1, y(0) = 0: cos 1. */
    private static double oscillator(String solver, int steps) {
        return run(new PartBuilder("p").plant(1.0 / steps + " s", solver).block("x", "integrator", "initial=1").block("y", "integrator")
                .block("minus", "gain", "k=-1").block("out", "outlet").wire("y.y", "x.u").wire("x.y", "minus.u").wire("minus.y", "y.u")
                .wire("x.y", "out.u"), steps);
    }

    @ParameterizedTest
    @CsvSource({"euler, 1", "heun, 2", "bs3, 3", "rk4, 4", "ros2, 2"})
    void theObservedOrderIsThatOfTheMethod(String solver, double order) {
        double coarse = Math.abs(oscillator(solver, 32) - Math.cos(1));
        double fine = Math.abs(oscillator(solver, 64) - Math.cos(1));
        assertThat(Math.log(coarse / fine) / Math.log(2)).isCloseTo(order, within(0.2));
    }

    private static double timeDependent(String solver, int steps) {
        return run(new PartBuilder("p").plant(1.0 / steps + " s", solver).block("cos", "sine", "frequency=1/(2*pi)", "phase=pi/2")
                .block("x", "integrator").block("out", "outlet").wire("cos.y", "x.u").wire("x.y", "out.u"), steps);
    }

    @ParameterizedTest
    @CsvSource({"euler, 1", "heun, 2", "bs3, 3", "rk4, 4", "ros2, 2"})
    void stagesSeeTheTimeOfTheStage(String solver, double order) {
        double coarse = Math.abs(timeDependent(solver, 8) - Math.sin(1));
        double fine = Math.abs(timeDependent(solver, 16) - Math.sin(1));
        assertThat(Math.log(coarse / fine) / Math.log(2)).isCloseTo(order, within(0.2));
    }

    /** z' = −1000 (z − cos t) − sin t from z(0) = 1: z = cos t, but any method that is not made for it must take tiny steps. */
    private static double stiff(String solver, int steps) {
        return run(new PartBuilder("p").plant(1.0 / steps + " s", solver).block("t", "time").block("z", "integrator", "initial=1")
                .block("f", "expression", "expression=-1000.0 * (z - COS(t)) - SIN(t)").block("out", "outlet").wire("t.y", "f.t")
                .wire("z.y", "f.z")
                .wire("f.y", "z.u").wire("z.y", "out.u"), steps);
    }

    @Test
    void theImplicitMethodIsStableWhereTheExplicitOnesAreNot() {
        assertThat(stiff("ros2", 20)).isCloseTo(Math.cos(1), within(1e-3));
        assertThat(Math.abs(stiff("rk4", 20))).isGreaterThan(1e6);
        assertThat(stiff("dp54", 20)).isCloseTo(Math.cos(1), within(1e-6));
    }

    @Test
    void theVariableStepKeepsItsToleranceWithOneTickPerSecond() {
        assertThat(oscillator("dp54", 1)).isCloseTo(Math.cos(1), within(1e-7));
        assertThat(timeDependent("dp54", 1)).isCloseTo(Math.sin(1), within(1e-7));
    }

    @Test
    void aJumpWithinAStepIsLocated() {
        // x' = 0 until t = 1/3, then 1: x(1) = 2/3.
        var b = new PartBuilder("p").plant("1 s", "dp54").block("s", "step", "at=1/3").block("x", "integrator").block("out", "outlet")
                .wire("s.y", "x.u").wire("x.y", "out.u");
        assertThat(run(b, 1)).isCloseTo(2.0 / 3, within(1e-7));
    }

    @Test
    void aStateThatPassesAThresholdIsLocated() {
        // x' = 1 up to x = 0.3, then y' = 1 as well: y(1) = 0.7.
        var b = new PartBuilder("p").plant("1 s", "dp54").block("one", "constant", "value=1").block("zero", "constant", "value=0")
                .block("x", "integrator").block("passed", "threshold", "relation=>", "value=0.3").block("which", "switch")
                .block("y", "integrator")
                .block("out", "outlet").wire("one.y", "x.u").wire("x.y", "passed.u").wire("one.y", "which.yes").wire("passed.y", "which.if")
                .wire("zero.y", "which.no").wire("which.y", "y.u").wire("y.y", "out.u");
        assertThat(run(b, 1)).isCloseTo(0.7, within(1e-7));
    }

    @Test
    void aLimitedIntegratorStopsAtItsLimitAndComesBackAtOnce() {
        var b = new PartBuilder("p").plant("10 ms", "rk4").block("u", "step", "at=1 s", "before=1", "after=-1")
                .block("x", "integrator", "low=0", "high=0.5")
                .block("out", "outlet").wire("u.y", "x.u").wire("x.y", "out.u");
        assertThat(run(b, 100)).isCloseTo(0.5, within(0.011));
        assertThat(run(b, 125)).isCloseTo(0.25, within(0.02));
    }

    @Test
    void resetTakesAnIntegratorBack() {
        var b = new PartBuilder("p").plant("10 ms", "rk4").block("one", "constant", "value=1")
                .block("r", "step", "at=0.5 s", "before=off", "after=on", "type=bool")
                .block("x", "integrator", "initial=2").block("out", "outlet").wire("one.y", "x.u").wire("r.y", "x.reset")
                .wire("x.y", "out.u");
        assertThat(run(b, 50)).isCloseTo(2.5, within(1e-12));
        assertThat(run(b, 100)).isCloseTo(2.01, within(1e-12));
    }

    @Test
    void anAlgebraicLoopInAPlantIsSolvedAndTold() {
        // y = cos y
        var b = new PartBuilder("p").plant("10 ms", "rk4").block("f", "expression", "expression=COS(u)").block("out", "outlet")
                .wire("f.y", "f.u")
                .wire("f.y", "out.u");
        assertThat(run(b, 0)).isCloseTo(0.7390851332151607, within(1e-12));
        assertThat(b.lower().findings()).singleElement().satisfies(f -> {
            assertThat(f.isError()).isFalse();
            assertThat(f.cause()).startsWith("Algebraic loop, solved by Newton's method");
        });
    }

    @Test
    void severalEquationsAreSolvedTogether() {
        // x = 1 + 0.5 y + 0.25 x, y = 2 − x + 0.25 y: each loop by itself and one through both; x = 28/17·… by elimination.
        var b = new PartBuilder("p").plant("10 ms", "rk4").block("one", "constant", "value=1")
                .block("f", "expression", "expression=c + 0.5 * y + 0.25 * x")
                .block("g", "expression", "expression=2.0 * c - x + 0.25 * y").block("out", "outlet").block("out2", "outlet")
                .wire("one.y", "f.c").wire("one.y", "g.c")
                .wire("f.y", "f.x").wire("g.y", "f.y").wire("f.y", "g.x").wire("g.y", "g.y").wire("f.y", "out.u").wire("g.y", "out2.u");
        var s = Stepper.of(b).step();
        double x = (0.75 + 1) / (0.75 * 0.75 + 0.5);
        assertThat(s.out("out")).isCloseTo(x, within(1e-10));
        assertThat(s.out("out2")).isCloseTo((2 - x) / 0.75, within(1e-10));
    }

    @Test
    void aLoopWithoutASolutionIsAFault() {
        // y = y + 1
        var b = new PartBuilder("p").plant("10 ms", "rk4").block("one", "constant", "value=1").block("s", "sum", "signs=++")
                .block("out", "outlet")
                .wire("one.y", "s.u1").wire("s.y", "s.u2").wire("s.y", "out.u");
        var s = Stepper.of(b).step();
        assertThat(s.fault()).isEqualTo(Fault.NOT_SOLVED);
    }

    @Test
    void inAControllerALoopIsAnError() {
        var b = new PartBuilder("p").block("f", "expression", "expression=COS(u)").block("out", "outlet").wire("f.y", "f.u")
                .wire("f.y", "out.u");
        assertThat(b.lower().findings()).filteredOn(Finding::isError).singleElement().extracting(Finding::cause).asString()
                .startsWith("Algebraic loop: each");
    }

    @Test
    void aTransportDelayGivesTheInputBackLater() {
        var b = new PartBuilder("p").plant("10 ms", "rk4").block("t", "time").block("d", "transport delay", "delay=123 ms", "initial=-7")
                .block("out", "outlet")
                .wire("t.y", "d.u").wire("d.y", "out.u");
        assertThat(run(b, 5)).isEqualTo(-7);
        assertThat(run(b, 50)).isCloseTo(0.5 - 0.123, within(1e-9));
        assertThat(new PartBuilder("p").plant("10 ms", "rk4").block("t", "time").block("d", "transport delay", "delay=1 ms")
                .block("out", "outlet")
                .wire("t.y", "d.u").wire("d.y", "out.u").lower().findings()).anyMatch(f -> f.cause().contains("shorter than the tick"));
    }

    @Test
    void zerosAndPolesAreTheTransferFunctionWithTheseRoots() {
        // 2 (s + 3) / ((s + 1) ((s + 2)² + 25))
        var roots = new PartBuilder("p").plant("1 ms", "rk4").block("u", "constant", "value=1")
                .block("g", "zero-pole", "gain=2", "zeros=[-3]", "poles=[-1]",
                "pole pairs=[[-2, 5]]").block("out", "outlet").wire("u.y", "g.u").wire("g.y", "out.u");
        var polynomial = new PartBuilder("p").plant("1 ms", "rk4").block("u", "constant", "value=1")
                .block("g", "transfer", "num=[2, 6]", "den=[1, 5, 33, 29]")
                .block("out", "outlet").wire("u.y", "g.u").wire("g.y", "out.u");
        assertThat(run(roots, 700)).isCloseTo(run(polynomial, 700), within(1e-12));
        assertThat(run(roots, 9_000)).isCloseTo(6.0 / 29, within(1e-4));
    }

    @Test
    void stateSpaceIsAVectorSystem() {
        var b = new PartBuilder("p").plant("1 ms", "rk4").block("u", "constant", "value=0")
                .block("g", "state space", "A=[[0, 1], [-1, 0]]", "B=[[0], [1]]",
                "C=[[1, 0], [0, 1]]", "D=[[0], [0]]", "x0=[1, 0]").block("s", "split").block("out", "outlet").block("out2", "outlet")
                .wire("u.y", "g.u")
                .wire("g.y", "s.u").wire("s.y1", "out.u").wire("s.y2", "out2.u");
        var s = Stepper.of(b).ticks(1000).step();
        assertThat(s.out("out")).isCloseTo(Math.cos(1), within(1e-9));
        assertThat(s.out("out2")).isCloseTo(-Math.sin(1), within(1e-9));
    }
}
