package boldanvil.core.study;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.finding.FindingException;
import boldanvil.core.study.Sampling.Correlation;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.hipparchus.stat.correlation.PearsonsCorrelation;
import org.hipparchus.stat.descriptive.StreamingStatistics;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;

class SamplingTest {
    private static Map<String, Spread> spreads() {
        Map<String, Spread> all = new LinkedHashMap<>();
        all.put("a", new Spread.Uniform(2, 6));
        all.put("b", new Spread.Normal(10, 3));
        return all;
    }

    private static double[] column(List<Map<String, Double>> points, String name) {
        return points.stream().mapToDouble(p -> p.get(name)).toArray();
    }

    @ParameterizedTest
    @EnumSource(Sampling.class)
    void eachSpreadHasItsMeanAndDeviation(Sampling s) {
        var points = s.points(spreads(), List.of(), 4_096, 5);
        var a = new StreamingStatistics();
        var b = new StreamingStatistics();
        points.forEach(p -> {
            a.addValue(p.get("a"));
            b.addValue(p.get("b"));
        });
        assertThat(a.getMin()).isGreaterThanOrEqualTo(2);
        assertThat(a.getMax()).isLessThanOrEqualTo(6);
        assertThat(a.getMean()).isCloseTo(4, within(0.08));
        assertThat(a.getStandardDeviation()).isCloseTo(4 / Math.sqrt(12), within(0.05));
        assertThat(b.getMean()).isCloseTo(10, within(0.2));
        assertThat(b.getStandardDeviation()).isCloseTo(3, within(0.15));
    }

    @ParameterizedTest
    @EnumSource(Sampling.class)
    void theSameSeedGivesTheSamePointsAndAnotherGivesOthers(Sampling s) {
        assertThat(s.points(spreads(), List.of(), 50, 1)).isEqualTo(s.points(spreads(), List.of(), 50, 1))
                .isNotEqualTo(s.points(spreads(), List.of(), 50, 2));
    }

    @Test
    void aLatinHypercubeHasOnePointInEachPartOfEverySpread() {
        var points = Sampling.LATIN_HYPERCUBE.points(spreads(), List.of(), 40, 3);
        boolean[] seen = new boolean[40];
        for (double v : column(points, "a")) {
            int part = (int) ((v - 2) / 4 * 40);
            assertThat(seen[part]).isFalse();
            seen[part] = true;
        }
    }

    @Test
    void aSobolSequenceIntegratesBetterThanRandomPoints() {
        // The mean of u·v over the unit square is 1/4.
        Map<String, Spread> square = new LinkedHashMap<>();
        square.put("u", new Spread.Uniform(0, 1));
        square.put("v", new Spread.Uniform(0, 1));
        double[] errors = new double[2];
        for (int seed = 0; seed < 20; seed++) {
            for (int k = 0; k < 2; k++) {
                var s = k == 0 ? Sampling.SOBOL : Sampling.RANDOM;
                double mean = s.points(square, List.of(), 1_024, seed).stream().mapToDouble(p -> p.get("u") * p.get("v")).average()
                        .orElseThrow();
                errors[k] += Math.abs(mean - 0.25);
            }
        }
        assertThat(errors[0]).isLessThan(errors[1] / 5);
    }

    @Test
    void correlatedValuesGoTogetherAndKeepTheirSpreads() {
        var points = Sampling.RANDOM.points(spreads(), List.of(new Correlation("a", "b", 0.8)), 20_000, 9);
        // For a uniform and a normal value, Pearson's coefficient is √(3/π) of that of the normal scores.
        assertThat(new PearsonsCorrelation().correlation(column(points, "a"), column(points, "b"))).isCloseTo(0.8 * Math.sqrt(3 / Math.PI),
                within(0.01));
        assertThat(points).allMatch(p -> p.get("a") >= 2 && p.get("a") <= 6);
    }

    @Test
    void correlationsThatCannotBeAreRefused() {
        Map<String, Spread> three = new LinkedHashMap<>(spreads());
        three.put("c", new Spread.Uniform(0, 1));
        var impossible = List.of(new Correlation("a", "b", 0.9), new Correlation("b", "c", 0.9), new Correlation("a", "c", -0.9));
        assertThatThrownBy(() -> Sampling.SOBOL.points(three, impossible, 10, 1)).isInstanceOf(FindingException.class)
                .hasMessageContaining("No distribution");
        assertThatThrownBy(() -> Sampling.SOBOL.points(three, List.of(new Correlation("a", "x", 0.1)), 10, 1)).isInstanceOf(
                FindingException.class);
    }

    @ParameterizedTest
    @CsvSource(delimiter = ';', value = {"normal(3 mm, 0.5 mm); 0.003", "1 mm : 3 mm; 0.002", "normal(2*3, 1); 6"})
    void aTextStatesASpread(String text, double median) {
        assertThat(Spread.of("x", text, Map.of()).quantile(0.5)).isCloseTo(median, within(1e-12));
    }

    @ParameterizedTest
    @CsvSource(delimiter = ';', value = {"3 mm; neither a range", "normal(1, -1); below 0", "normal(1, ?); was not expected"})
    void aTextThatStatesNoneIsRefused(String text, String cause) {
        assertThatThrownBy(() -> Spread.of("x", text, Map.of())).isInstanceOf(FindingException.class).hasMessageContaining(cause);
    }
}
