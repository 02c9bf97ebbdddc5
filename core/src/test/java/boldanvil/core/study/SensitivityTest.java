package boldanvil.core.study;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.finding.FindingException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

class SensitivityTest {
    private static final List<String> NAMES = List.of("x1", "x2", "x3");

    private static Map<String, Spread> spreads() {
        Map<String, Spread> all = new LinkedHashMap<>();
        NAMES.forEach(n -> all.put(n, new Spread.Uniform(-Math.PI, Math.PI)));
        return all;
    }

    /** T. Ishigami, T. Homma, An importance quantification technique in uncertainty analysis, 1990, with a = 7 and b = 0.1. */
    private static double ishigami(Map<String, Double> p) {
        double s2 = Math.sin(p.get("x2"));
        return Math.sin(p.get("x1")) + 7 * s2 * s2 + 0.1 * Math.pow(p.get("x3"), 4) * Math.sin(p.get("x1"));
    }

    @Test
    void theIndicesAreThoseOfTheClosedForm() {
        var points = Sensitivity.points(spreads(), 5 * 4_096, 3);
        var indices = Sensitivity.of(NAMES, points.stream().mapToDouble(SensitivityTest::ishigami).toArray());
        double[] first = {0.3139, 0.4424, 0};
        double[] total = {0.5576, 0.4424, 0.2437};
        for (int i = 0; i < 3; i++) {
            var index = indices.get(i);
            assertThat(index.name()).isEqualTo(NAMES.get(i));
            assertThat(index.firstOrder().value()).as("first order of x" + (i + 1)).isCloseTo(first[i], within(0.02));
            assertThat(index.total().value()).as("total of x" + (i + 1)).isCloseTo(total[i], within(0.02));
            assertThat(first[i]).isBetween(index.firstOrder().low() - 0.01, index.firstOrder().high() + 0.01);
            assertThat(total[i]).isBetween(index.total().low() - 0.01, index.total().high() + 0.01);
        }
    }

    @Test
    void aSumOfIndependentValuesHasNoInteractions() {
        Map<String, Spread> spreads = new LinkedHashMap<>();
        spreads.put("a", new Spread.Normal(5, 1));
        spreads.put("b", new Spread.Normal(-3, 2));
        var points = Sensitivity.points(spreads, 4 * 2_048, 1);
        var indices = Sensitivity.of(List.of("a", "b"), points.stream().mapToDouble(p -> p.get("a") + p.get("b")).toArray());
        assertThat(indices.get(0).firstOrder().value()).isCloseTo(0.2, within(0.01));
        assertThat(indices.get(0).total().value()).isCloseTo(0.2, within(0.01));
        assertThat(indices.get(1).firstOrder().value()).isCloseTo(0.8, within(0.01));
    }

    @Test
    void runsWithoutAResultLeaveTheirBasePointOut() {
        var points = Sensitivity.points(spreads(), 5 * 512, 1);
        double[] results = points.stream().mapToDouble(SensitivityTest::ishigami).toArray();
        double whole = Sensitivity.of(NAMES, results).getFirst().total().value();
        for (int i = 0; i < results.length; i += 100) {
            results[i] = Double.NaN;
        }
        assertThat(Sensitivity.of(NAMES, results).getFirst().total().value()).isCloseTo(whole, within(0.1)).isNotNaN();
    }

    @Test
    void whereNothingVariesThereAreNoIndices() {
        assertThat(Sensitivity.of(NAMES, new double[100])).isEmpty();
        assertThat(Sensitivity.of(NAMES, new double[7])).isEmpty();
        assertThatThrownBy(() -> Sensitivity.points(spreads(), 39, 1)).isInstanceOf(FindingException.class)
                .hasMessageContaining("need from 40 to");
    }
}
