package boldanvil.core.loop;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.diagram.Variable;
import boldanvil.core.finding.FindingException;
import boldanvil.core.loop.Linearisation.OperatingPoint;
import boldanvil.core.testing.PartBuilder;
import java.util.List;
import org.junit.jupiter.api.Test;

class TolerancesTest {
    /** An integrator with the gain k and a delay: stable up to k = 1, with a gain margin of 1 / k. */
    @Test
    void theWorstGainMarginIsThatOfTheLargestGain() {
        var p = PartBuilder.project(List.of(new PartBuilder("c").sampleTime("10 ms").block("r", "constant", "value=1")
                .block("e", "sum", "signs=+-").block("k", "gain", "k=k*v").block("i", "transfer in z", "b=[0, 1]", "a=[1, -1]")
                .block("late", "delay").wire("r.y", "e.u1").wire("late.y", "e.u2").wire("e.y", "k.u").wire("k.y", "i.u")
                        .wire("i.y", "late.u")
                .part())).withVariables(List.of(new Variable("k", "0.4", ""), new Variable("v", "1", "")));
        var all = Tolerances.of(p, p.rigs().getFirst(), Cut.at(p, "c/k"), OperatingPoint.START, List.of(
                new Tolerances.Tolerance("k", 0.3, 0.8), new Tolerances.Tolerance("v", 0.5, 1.5)), 10, 1);
        assertThat(all).hasSize(1 + 4 + 10);
        assertThat(all.getFirst().values()).isEmpty();
        for (var c : all) {
            double gain = c.values().isEmpty() ? 0.4 : c.values().get("k") * c.values().get("v");
            assertThat(c.isStable()).isEqualTo(gain < 1);
            var margin = gain < 1 ? c.margins().up() : c.margins().down();
            assertThat(margin.orElseThrow().value()).isCloseTo(1 / gain, within(1e-6));
        }
        assertThatThrownBy(() -> Tolerances.of(p, p.rigs().getFirst(), Cut.at(p, "c/k"), OperatingPoint.START,
                List.of(new Tolerances.Tolerance("q", 0, 1)), 0, 1)).isInstanceOf(FindingException.class)
                        .hasMessageContaining("no variable 'q'");
    }
}
