package boldanvil.core.study;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.finding.FindingException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.ToDoubleFunction;
import org.junit.jupiter.api.Test;

class WorstCaseTest {
    private static Map<String, Spread> ranges(int values, double low, double high) {
        Map<String, Spread> all = new LinkedHashMap<>();
        for (int i = 0; i < values; i++) {
            all.put("x" + i, new Spread.Uniform(low, high));
        }
        return all;
    }

    /** Every point of a search with its result. */
    private static Map<Map<String, Double>, Double> search(WorstCase search, ToDoubleFunction<Map<String, Double>> result) {
        Map<Map<String, Double>, Double> all = new LinkedHashMap<>();
        double[] goals = {};
        int asked = 0;
        for (var points = search.next(goals); !points.isEmpty(); points = search.next(goals)) {
            goals = points.stream().mapToDouble(result).toArray();
            asked += goals.length;
            for (int i = 0; i < goals.length; i++) {
                all.put(points.get(i), goals[i]);
            }
        }
        assertThat(asked).isEqualTo(search.all());
        return all;
    }

    private static double sphere(Map<String, Double> p) {
        return -p.values().stream().mapToDouble(x -> (x - 1.3) * (x - 1.3)).sum();
    }

    /** Four equal peaks at 0, the others lower (D. M. Himmelblau, Applied Nonlinear Programming, 1972, turned over). */
    private static double himmelblau(Map<String, Double> p) {
        double x = p.get("x0");
        double y = p.get("x1");
        double a = x * x + y - 11;
        double b = x + y * y - 7;
        return -a * a - b * b;
    }

    @Test
    void itFindsAPeakWithinTheRanges() {
        var found = search(new WorstCase(ranges(4, -5, 5), true, 1_500, 1), WorstCaseTest::sphere);
        assertThat(found.values().stream().mapToDouble(d -> d).max().orElseThrow()).isCloseTo(0, within(1e-3));
        var peaks = search(new WorstCase(ranges(2, -5, 5), true, 800, 2), WorstCaseTest::himmelblau);
        assertThat(peaks.values().stream().mapToDouble(d -> d).max().orElseThrow()).isCloseTo(0, within(1e-3));
    }

    @Test
    void theLeastIsSearchedAsWell() {
        var found = search(new WorstCase(ranges(2, -5, 5), false, 400, 1), p -> -sphere(p));
        assertThat(found.values().stream().mapToDouble(d -> d).min().orElseThrow()).isCloseTo(0, within(1e-4));
    }

    @Test
    void aWorstCaseInACornerIsFoundExactlyInTheFirstGeneration() {
        var search = new WorstCase(ranges(3, 2, 7), true, 100, 9);
        var first = search.next(new double[0]);
        assertThat(first).contains(Map.of("x0", 7.0, "x1", 2.0, "x2", 7.0));
        assertThat(first).allSatisfy(p -> assertThat(p.values()).allSatisfy(x -> assertThat(x).isBetween(2.0, 7.0)));
    }

    @Test
    void aRunWithoutAResultIsTheWorst() {
        var found = search(new WorstCase(ranges(1, 0, 10), true, 200, 4), p -> Math.abs(p.get("x0") - 6.37) < 0.4 ? Double.NaN
                : p.get("x0"));
        long without = found.values().stream().filter(d -> Double.isNaN(d)).count();
        assertThat(without).isGreaterThan(50);
    }

    @Test
    void theSameSeedGivesTheSameSearch() {
        List<Map<Map<String, Double>, Double>> all = new ArrayList<>();
        for (long seed : new long[] {5, 5, 6}) {
            all.add(search(new WorstCase(ranges(2, -5, 5), true, 120, seed), WorstCaseTest::himmelblau));
        }
        assertThat(all.get(0)).isEqualTo(all.get(1)).isNotEqualTo(all.get(2));
    }

    @Test
    void whatCannotBeSearchedIsAFinding() {
        assertThatThrownBy(() -> new WorstCase(ranges(2, 0, 1), true, 10, 1)).isInstanceOf(FindingException.class)
                .hasMessageContaining("needs from 20 to");
        assertThatThrownBy(() -> new WorstCase(Map.of("a", new Spread.Normal(0, 1)), true, 100, 1)).isInstanceOf(FindingException.class)
                .hasMessageContaining("needs a range");
    }
}
