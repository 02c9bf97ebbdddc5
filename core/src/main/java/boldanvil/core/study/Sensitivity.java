package boldanvil.core.study;

import boldanvil.core.finding.FindingException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;

/**
 * How much each value that varies contributes to the variance of a result: the indices of Sobol. The first-order index is the share that
 * the value has alone, the total index that which it has together with all others. Points are those of A. Saltelli et al., Variance based
 * sensitivity analysis of model output, Computer Physics Communications 181, 2010; the estimator is that of A. Janon et al., Asymptotic
 * normality and efficiency of two Sobol index estimators, ESAIM Probability and Statistics 18, 2014, which is never above 1. Values must
 * not be correlated.
 */
public final class Sensitivity {
    private static final int RESAMPLES = 300;

    /**
     * The indices of one value.
     *
     * @param firstOrder share of the variance that it has alone; estimates may be a little below 0
     * @param total share with all its interactions
     */
    public record Index(String name, Estimate firstOrder, Estimate total) {}

    /** A number with the interval in which it lies with a confidence of 95 %, found by drawing the base points anew many times. */
    public record Estimate(double value, double low, double high) {}

    private Sensitivity() {}

    /** Number of base points that so many runs allow. */
    public static int basePoints(int values, int runs) {
        return runs / (values + 2);
    }

    /**
     * The points of the runs: for each base point two independent ones, then the first with each value taken from the second.
     *
     * @param runs most runs; each base point takes two more than there are values
     * @throws FindingException when they are not enough for 8 base points
     */
    public static List<Map<String, Double>> points(Map<String, Spread> spreads, int runs, long seed) {
        List<String> names = List.copyOf(spreads.keySet());
        int d = names.size();
        int base = basePoints(d, runs);
        if (base < 8 || runs > Sampling.MOST) {
            throw FindingException.of("points", "Indices of " + d + (d == 1 ? " value" : " values") + " need from " + 8 * (d + 2) + " to "
                    + Sampling.MOST + " runs.", "Ask for more runs, such as " + 100 * (d + 2) + ".");
        }
        List<Map<String, Double>> points = new ArrayList<>();
        for (double[] u : Sampling.SOBOL.unit(2 * d, base, seed)) {
            double[] a = Arrays.copyOf(u, d);
            double[] b = Arrays.copyOfRange(u, d, 2 * d);
            points.add(point(names, spreads, a));
            points.add(point(names, spreads, b));
            for (int i = 0; i < d; i++) {
                double[] mixed = a.clone();
                mixed[i] = b[i];
                points.add(point(names, spreads, mixed));
            }
        }
        return points;
    }

    private static Map<String, Double> point(List<String> names, Map<String, Spread> spreads, double[] unit) {
        Map<String, Double> p = new LinkedHashMap<>();
        for (int i = 0; i < unit.length; i++) {
            p.put(names.get(i), spreads.get(names.get(i)).quantile(Math.clamp(unit[i], Sampling.EDGE, 1 - Sampling.EDGE)));
        }
        return p;
    }

    /**
     * The indices that follow from one result of all runs.
     *
     * @param names of the values that vary, in the order of the points
     * @param results of the points of {@link #points}, in their order; base points with a run that has no result are left out
     * @return empty where fewer than 8 base points are left, or the result is the same in all runs
     */
    public static List<Index> of(List<String> names, double[] results) {
        int d = names.size();
        List<double[]> blocks = new ArrayList<>();
        for (int at = 0; at + d + 2 <= results.length; at += d + 2) {
            double[] block = Arrays.copyOfRange(results, at, at + d + 2);
            if (Arrays.stream(block).allMatch(Double::isFinite)) {
                blocks.add(block);
            }
        }
        if (blocks.size() < 8) {
            return List.of();
        }
        double[] indices = indices(blocks, d);
        if (Double.isNaN(indices[0])) {
            return List.of();
        }
        var random = new SplittableRandom(1);
        double[][] drawn = new double[2 * d][RESAMPLES];
        for (int r = 0; r < RESAMPLES; r++) {
            List<double[]> some = new ArrayList<>();
            for (int i = 0; i < blocks.size(); i++) {
                some.add(blocks.get(random.nextInt(blocks.size())));
            }
            double[] again = indices(some, d);
            for (int i = 0; i < again.length; i++) {
                drawn[i][r] = again[i];
            }
        }
        List<Index> all = new ArrayList<>();
        for (int i = 0; i < d; i++) {
            all.add(new Index(names.get(i), estimate(indices[i], drawn[i]), estimate(indices[d + i], drawn[d + i])));
        }
        return all;
    }

    private static Estimate estimate(double value, double[] drawn) {
        Arrays.sort(drawn);
        return new Estimate(value, drawn[(int) (0.025 * RESAMPLES)], drawn[(int) (0.975 * RESAMPLES)]);
    }

    /** First-order indices, then total ones; NaN where nothing varies. */
    private static double[] indices(List<double[]> blocks, int d) {
        double[] indices = new double[2 * d];
        for (int i = 0; i < d; i++) {
            // The mixed point shares this value with the second point, and all others with the first.
            indices[i] = shared(blocks, 1, 2 + i);
            indices[d + i] = 1 - shared(blocks, 0, 2 + i);
        }
        return indices;
    }

    /** The share of the variance that two points of each block have in common. */
    private static double shared(List<double[]> blocks, int first, int second) {
        int n = blocks.size();
        double mean = 0;
        for (double[] b : blocks) {
            mean += (b[first] + b[second]) / (2 * n);
        }
        double common = 0;
        double variance = 0;
        for (double[] b : blocks) {
            double x = b[first] - mean;
            double y = b[second] - mean;
            common += x * y / n;
            variance += (x * x + y * y) / (2 * n);
        }
        return variance > 1e-24 * mean * mean ? common / variance : Double.NaN;
    }
}
