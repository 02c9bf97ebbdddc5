package boldanvil.core.study;

import boldanvil.core.finding.FindingException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;

/**
 * Searches the ranges for the values with the worst result by differential evolution (R. Storn, K. Price, Differential Evolution, J. Global
 * Optimization 11, 1997, with the mutation current-to-best): a generation of points is one batch, so that all cores and workers share it
 * and the same seed gives the same search on any number of them. The first generation has corners of the ranges, where worst cases often
 * are, and points spread evenly between.
 */
public final class WorstCase implements PointSource {
    private static final int LEAST_GENERATION = 8;
    private static final int MOST_GENERATION = 64;
    private static final double CROSSOVER = 0.9;

    private final List<String> names;
    private final double[] low;
    private final double[] high;
    private final boolean greatest;
    private final int budget;
    private final int generation;
    private final SplittableRandom random;
    /** Points of the unit cube. */
    private final List<double[]> population = new ArrayList<>();
    private final List<Double> worst = new ArrayList<>();
    private List<double[]> trials = List.of();
    private int asked;

    /**
     * @param ranges of the values, SI
     * @param greatest whether the greatest result is the worst one; else the least is
     * @param budget number of runs
     * @throws FindingException when there are not enough runs for two generations, or a value is spread otherwise
     */
    public WorstCase(Map<String, Spread> ranges, boolean greatest, int budget, long seed) {
        names = List.copyOf(ranges.keySet());
        low = new double[names.size()];
        high = new double[names.size()];
        for (int d = 0; d < low.length; d++) {
            if (!(ranges.get(names.get(d)) instanceof Spread.Uniform range)) {
                throw FindingException.of(names.get(d), "A search needs a range with two ends.", "Write a range, such as 1 mm : 5 mm.");
            }
            low[d] = range.low();
            high[d] = range.high();
        }
        generation = Math.clamp(5L * names.size(), LEAST_GENERATION, MOST_GENERATION);
        if (budget < 2 * generation || budget > Sampling.MOST) {
            throw FindingException.of("points", "A search over " + names.size() + (names.size() == 1 ? " value" : " values")
                    + " needs from " + 2 * generation + " to " + Sampling.MOST + " runs.",
                    "Ask for more runs, such as " + 10 * generation + ".");
        }
        this.greatest = greatest;
        this.budget = budget;
        random = new SplittableRandom(seed);
    }

    @Override
    public int all() {
        return budget;
    }

    @Override
    public List<Map<String, Double>> next(double[] goals) {
        select(goals);
        trials = population.isEmpty() ? first() : children();
        trials = trials.subList(0, Math.min(trials.size(), budget - asked));
        asked += trials.size();
        return trials.stream().map(this::point).toList();
    }

    /** A child takes its parent's place where it is not better. */
    private void select(double[] goals) {
        boolean first = population.isEmpty();
        for (int i = 0; i < goals.length; i++) {
            // A run without a result could not be run to its end: nothing is worse.
            double w = Double.isNaN(goals[i]) ? Double.POSITIVE_INFINITY : greatest ? goals[i] : -goals[i];
            if (first) {
                population.add(trials.get(i));
                worst.add(w);
            } else if (w >= worst.get(i)) {
                population.set(i, trials.get(i));
                worst.set(i, w);
            }
        }
    }

    private List<double[]> first() {
        int d = names.size();
        int corners = (int) Math.min(generation / 2, d < 30 ? 1L << d : Integer.MAX_VALUE);
        List<double[]> points = new ArrayList<>();
        for (int i = 0; i < corners; i++) {
            double[] p = new double[d];
            for (int k = 0; k < d; k++) {
                p[k] = 1L << d <= corners && d < 30 ? i >> k & 1 : random.nextInt(2);
            }
            points.add(p);
        }
        points.addAll(List.of(Sampling.LATIN_HYPERCUBE.unit(d, generation - corners, random.nextLong())));
        return points;
    }

    private List<double[]> children() {
        double[] best = population.get(0);
        double most = worst.get(0);
        for (int i = 1; i < population.size(); i++) {
            if (worst.get(i) > most) {
                most = worst.get(i);
                best = population.get(i);
            }
        }
        List<double[]> children = new ArrayList<>();
        for (double[] parent : population) {
            double[] a = population.get(random.nextInt(population.size()));
            double[] b = population.get(random.nextInt(population.size()));
            double step = 0.4 + 0.6 * random.nextDouble();
            int sure = random.nextInt(parent.length);
            double[] child = parent.clone();
            for (int k = 0; k < child.length; k++) {
                if (k == sure || random.nextDouble() < CROSSOVER) {
                    child[k] = Math.clamp(parent[k] + step * (best[k] - parent[k]) + step * (a[k] - b[k]), 0, 1);
                }
            }
            children.add(child);
        }
        return children;
    }

    private Map<String, Double> point(double[] unit) {
        Map<String, Double> point = new LinkedHashMap<>();
        for (int k = 0; k < unit.length; k++) {
            point.put(names.get(k), unit[k] == 1 ? high[k] : low[k] + unit[k] * (high[k] - low[k]));
        }
        return point;
    }
}
