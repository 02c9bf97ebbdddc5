package boldanvil.core.study;

import boldanvil.core.finding.FindingException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.SplittableRandom;
import java.util.stream.Collectors;
import org.hipparchus.linear.CholeskyDecomposition;
import org.hipparchus.linear.MatrixUtils;
import org.hipparchus.linear.RealMatrix;
import org.hipparchus.random.SobolSequenceGenerator;

/** Ways to choose points of which each has a value for every spread. The same seed gives the same points. */
public enum Sampling {
    /** Points that know nothing of each other. */
    RANDOM("random"),
    /**
     * Each of n equal parts of every spread has one point (M. D. McKay, R. J. Beckman, W. J. Conover, A Comparison of Three Methods for
     * Selecting Values of Input Variables, Technometrics 21, 1979).
     */
    LATIN_HYPERCUBE("latin hypercube"),
    /**
     * The sequence of Sobol with the direction numbers of S. Joe and F. Y. Kuo, SIAM J. Sci. Comput. 30, 2008, moved by a random shift in
     * each dimension (Cranley and Patterson), which the seed decides.
     */
    SOBOL("sobol");

    /** Most points of one study. */
    public static final int MOST = 1_000_000;
    /** How near a share of a distribution may come to 0 and 1. */
    static final double EDGE = 1e-12;

    private final String label;

    Sampling(String label) {
        this.label = label;
    }

    public String label() {
        return label;
    }

    /** @throws FindingException at a place when there is no such way */
    public static Sampling labelled(String place, String label) {
        return Arrays.stream(values()).filter(s -> s.label.equals(label)).findFirst().orElseThrow(() -> FindingException.of(place,
                "There is no sampling '" + label + "'.",
                "Choose one of: " + Arrays.stream(values()).map(Sampling::label).collect(Collectors.joining(", ")) + "."));
    }

    /**
     * How two spreads go together.
     *
     * @param coefficient correlation of their normal scores, −1 to 1
     */
    public record Correlation(String a, String b, double coefficient) {
        public Correlation {
            if (!(coefficient >= -1 && coefficient <= 1)) {
                throw new IllegalArgumentException("a correlation of " + coefficient);
            }
        }
    }

    /**
     * Chooses points.
     *
     * @param spreads by name
     * @param correlations between them; a Gaussian copula joins them, so each spread stays what it is
     * @return SI values by name, for each point
     * @throws FindingException when there are too many points, or no distribution has these correlations
     */
    public List<Map<String, Double>> points(Map<String, Spread> spreads, List<Correlation> correlations, int count, long seed) {
        if (count < 1 || count > MOST) {
            throw FindingException.of("points", count + " points are asked for.", "Ask for 1 to " + MOST + ".");
        }
        List<String> names = List.copyOf(spreads.keySet());
        double[][] unit = unit(names.size(), count, seed);
        RealMatrix factor = correlations.isEmpty() ? null : factor(names, correlations);
        List<Map<String, Double>> points = new ArrayList<>();
        for (double[] u : unit) {
            double[] joined = factor == null ? u : joined(factor, u);
            Map<String, Double> p = new LinkedHashMap<>();
            for (int d = 0; d < names.size(); d++) {
                p.put(names.get(d), spreads.get(names.get(d)).quantile(Math.clamp(joined[d], EDGE, 1 - EDGE)));
            }
            points.add(p);
        }
        return points;
    }

    /** Points of the unit cube. */
    double[][] unit(int dimensions, int count, long seed) {
        var random = new SplittableRandom(seed);
        double[][] all = new double[count][dimensions];
        switch (this) {
            case RANDOM -> {
                for (double[] p : all) {
                    Arrays.setAll(p, _ -> random.nextDouble());
                }
            }
            case LATIN_HYPERCUBE -> {
                for (int d = 0; d < dimensions; d++) {
                    List<Integer> parts = new ArrayList<>();
                    for (int i = 0; i < count; i++) {
                        parts.add(i);
                    }
                    Collections.shuffle(parts, new Random(random.nextLong()));
                    for (int i = 0; i < count; i++) {
                        all[i][d] = (parts.get(i) + random.nextDouble()) / count;
                    }
                }
            }
            case SOBOL -> {
                var sequence = new SobolSequenceGenerator(dimensions);
                double[] shift = new double[dimensions];
                Arrays.setAll(shift, _ -> random.nextDouble());
                for (double[] p : all) {
                    double[] next = sequence.nextVector();
                    Arrays.setAll(p, d -> (next[d] + shift[d]) % 1);
                }
            }
        }
        return all;
    }

    private static RealMatrix factor(List<String> names, List<Correlation> correlations) {
        RealMatrix m = MatrixUtils.createRealIdentityMatrix(names.size());
        for (Correlation c : correlations) {
            int a = names.indexOf(c.a());
            int b = names.indexOf(c.b());
            if (a < 0 || b < 0 || a == b) {
                throw FindingException.of("correlation", "'" + c.a() + "' and '" + c.b() + "' are not two values that vary.",
                        "Name two of: " + String.join(", ", names) + ".");
            }
            m.setEntry(a, b, c.coefficient());
            m.setEntry(b, a, c.coefficient());
        }
        try {
            return new CholeskyDecomposition(m, 1e-12, 1e-12).getL();
        } catch (RuntimeException e) {
            throw FindingException.of("correlation", "No distribution has these correlations together.",
                    "Bring them nearer to 0, until the matrix of correlations is positive definite.");
        }
    }

    private static double[] joined(RealMatrix factor, double[] u) {
        double[] z = Arrays.stream(u).map(p -> Spread.normal(Math.clamp(p, EDGE, 1 - EDGE))).toArray();
        return Arrays.stream(factor.operate(z)).map(Spread::below).toArray();
    }
}
