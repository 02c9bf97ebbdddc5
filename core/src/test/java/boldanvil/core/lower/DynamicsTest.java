package boldanvil.core.lower;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.c.CGenerator;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.program.Program;
import boldanvil.core.testing.PartBuilder;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** A continuous part can be evaluated without its solver: x' = v, v' = F − 3 x, y = 2 x. */
class DynamicsTest {
    private static Program oscillator(String solver) {
        return new PartBuilder("p").plant("1 ms", solver).block("F", "inlet").block("d", "sum", "signs=+-").block("v", "integrator")
                .block("x", "integrator")
                .block("k", "gain", "k=3").block("g", "gain", "k=2").block("y", "outlet")
                .wire("F.y", "d.u1").wire("k.y", "d.u2").wire("d.y", "v.u").wire("v.y", "x.u").wire("x.y", "k.u").wire("x.y", "g.u")
                .wire("g.y", "y.u")
                .lower().program().orElseThrow();
    }

    @ParameterizedTest
    @ValueSource(strings = {"euler", "heun", "bs3", "rk4", "ros2", "dp54"})
    void outputsAndDerivativesFollowFromStatesAndInputs(String solver) {
        var program = oscillator(solver);
        var dynamics = program.dynamics();
        assertThat(dynamics.states()).hasSize(2);
        var i = JvmCompiler.compile(program).instantiate();
        i.init();
        i.set(program.port("F").orElseThrow().slot(), 5);
        int x = dynamics.states().getFirst().name().startsWith("x") ? 0 : 1;
        i.set(dynamics.states().get(x), 0.25);
        i.set(dynamics.states().get(1 - x), -4);
        i.call(Program.OUTPUTS);
        i.call(Program.DERIVATIVES);
        assertThat(i.get(program.port("y").orElseThrow().slot())).isEqualTo(0.5);
        assertThat(i.get(dynamics.derivatives().get(x))).isEqualTo(-4);
        assertThat(i.get(dynamics.derivatives().get(1 - x))).isCloseTo(5 - 0.75, within(1e-15));
    }

    @Test
    void theCodeOffersBothToo() {
        assertThat(CGenerator.C99.generate(oscillator("rk4")).getFirst().text())
                .contains("void p_outputs(p_t *c);", "void p_derivatives(p_t *c);");
    }

    @Test
    void aPartWithoutContinuousStatesHasNone() {
        var program = new PartBuilder("p").block("a", "inlet").block("o", "outlet").wire("a.y", "o.u").lower().program().orElseThrow();
        assertThat(program.dynamics()).isNull();
        assertThatThrownBy(() -> JvmCompiler.compile(program).instantiate().call(Program.DERIVATIVES))
                .isInstanceOf(IllegalArgumentException.class);
    }
}
