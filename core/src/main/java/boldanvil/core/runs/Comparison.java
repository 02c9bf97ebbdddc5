package boldanvil.core.runs;

import boldanvil.core.samples.Column;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;

/**
 * By how much two runs differ, tap by tap. Where the instants differ, the second run is taken on straight lines between its
 * samples.
 *
 * @param rows taps that both runs have
 * @param onlyInFirst taps the second run lacks
 * @param onlyInSecond taps the first run lacks
 */
public record Comparison(List<Row> rows, List<String> onlyInFirst, List<String> onlyInSecond) {
    /**
     * One tap.
     *
     * @param compared number of instants compared
     * @param largest largest magnitude of the difference
     * @param largestAt when that was, in seconds
     * @param rms root of the mean square of the difference
     * @param tolerance what was allowed
     * @param missing number of samples that have no counterpart, since the other run begins later or ends earlier
     * @param beyond first instant at which the difference exceeds the tolerance or one value is not a number
     */
    public record Row(String name, String unit, int compared, int missing, double largest, double largestAt, double rms, double tolerance,
            OptionalDouble beyond) {
        public boolean within() {
            return beyond.isEmpty() && compared > 0 && missing == 0;
        }
    }

    /** Tolerances by tap name; {@code *} stands for all others. */
    public static Comparison of(Samples first, Samples second, Map<String, Double> tolerances) {
        return of(first, second, tolerances, 0);
    }

    /** Compares runs that are in memory. */
    public static Comparison of(RunData first, RunData second, Map<String, Double> tolerances) {
        return of(SampleStore.of(first), SampleStore.of(second), tolerances);
    }

    /** @param shift seconds by which the second run is moved to later before it is compared */
    public static Comparison of(Samples first, Samples second, Map<String, Double> tolerances, double shift) {
        List<Row> rows = new ArrayList<>();
        List<String> missing = new ArrayList<>();
        for (int i = 0; i < first.columns().size(); i++) {
            String name = first.columns().get(i).name();
            int j = second.indexOf(name);
            if (j < 0) {
                missing.add(name);
            } else {
                double tolerance = tolerances.getOrDefault(name, tolerances.getOrDefault("*", 0.0));
                rows.add(row(first.series(i), second.series(j).shifted(shift), tolerance, shift == 0));
            }
        }
        var extra = second.columns().stream().map(Column::name).filter(n -> first.indexOf(n) < 0).toList();
        return new Comparison(rows, missing, extra);
    }

    /** @param whole whether both must cover the same time */
    private static Row row(Series a, Series b, double tolerance, boolean whole) {
        double largest = 0;
        double largestAt = 0;
        double sum = 0;
        int n = 0;
        OptionalDouble beyond = OptionalDouble.empty();
        for (int i = 0; i < a.size(); i++) {
            double t = a.times()[i];
            double va = a.values()[i];
            double vb = i < b.size() && b.times()[i] == t ? b.values()[i] : b.at(t);
            boolean outside = b.size() == 0 || t < b.times()[0] || t > b.times()[b.size() - 1];
            if (outside) {
                continue;
            }
            n++;
            boolean same = Double.compare(va, vb) == 0 || va == vb;
            double d = same ? 0 : Math.abs(va - vb);
            if (Double.isNaN(d)) {
                d = Double.POSITIVE_INFINITY;
            }
            if (d > largest) {
                largest = d;
                largestAt = t;
            }
            if (d > tolerance && beyond.isEmpty()) {
                beyond = OptionalDouble.of(t);
            }
            sum += d * d;
        }
        return new Row(a.name(), a.unit(), n, whole ? uncovered(a, b) + uncovered(b, a) : 0, largest, largestAt, n == 0 ? 0
                : Math.sqrt(sum / n), tolerance, beyond);
    }

    /**
     * Samples of one series outside of the time of the other one, but for one at each end, where runs may begin and end half a step apart.
     */
    private static int uncovered(Series a, Series b) {
        if (a.size() == 0 || b.size() == 0) {
            return Math.max(a.size(), b.size()) == 0 ? 0 : a.size();
        }
        int before = 0;
        int after = 0;
        for (double t : a.times()) {
            before += t < b.times()[0] ? 1 : 0;
            after += t > b.times()[b.size() - 1] ? 1 : 0;
        }
        return Math.max(0, before - 1) + Math.max(0, after - 1);
    }

    /** Whether both runs have the same taps and all agree within their tolerances. */
    public boolean passes() {
        return !rows.isEmpty() && rows.stream().allMatch(Row::within) && onlyInFirst.isEmpty() && onlyInSecond.isEmpty();
    }
}
