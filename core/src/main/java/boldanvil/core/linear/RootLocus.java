package boldanvil.core.linear;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.hipparchus.complex.Complex;

/**
 * Where the poles of a closed loop go while the gain of its open loop grows.
 *
 * @param gains rising
 * @param branches a pole at each gain, for each branch
 * @param limits gains at which a pole crosses the limit of stability, and where
 * @param breaks points on the real axis at which branches meet, with their gains
 */
public record RootLocus(double[] gains, Complex[][] branches, List<Mark> limits, List<Mark> breaks) {
    /** A point of the locus. */
    public record Mark(double gain, Complex pole) {}

    /** @param low the lowest gain, above zero */
    public static RootLocus of(StateSpace open, double low, double high, int count) {
        StateSpace loop = open.channel(0, 0);
        List<Double> gains = new ArrayList<>(List.of(0.0));
        for (double k : Frequencies.between(low, high, count)) {
            gains.add(k);
        }
        Zeros z = Zeros.of(loop);
        List<Mark> breaks = breaks(loop, z, low, high);
        breaks.forEach(b -> {
            // Close to a break point poles move with the root of the gain.
            for (double by : new double[] {-1e-2, -1e-3, -1e-4, 0, 1e-4, 1e-3, 1e-2}) {
                gains.add(b.gain() * (1 + by));
            }
        });
        double[] sorted = gains.stream().mapToDouble(Double::doubleValue).sorted().distinct().toArray();
        Complex[][] poles = Arrays.stream(sorted).mapToObj(k -> closed(loop, k)).toArray(Complex[][]::new);
        List<Mark> limits = new ArrayList<>();
        for (int i = 1; i < sorted.length; i++) {
            if (unstable(loop, poles[i]) != unstable(loop, poles[i - 1])) {
                limits.add(limit(loop, sorted[i - 1], sorted[i]));
            }
        }
        return new RootLocus(sorted, branches(poles), limits, breaks);
    }

    /** The poles of the closed loop at a gain. */
    public static Complex[] closed(StateSpace loop, double gain) {
        return loop.times(gain).closed().poles();
    }

    private static long unstable(StateSpace s, Complex[] poles) {
        return Arrays.stream(poles).filter(p -> !s.isStable(p)).count();
    }

    private static Mark limit(StateSpace loop, double low, double high) {
        double from = low;
        double to = high;
        long before = unstable(loop, closed(loop, low));
        for (int i = 0; i < 60 && to - from > 1e-14 * to; i++) {
            double middle = (from + to) / 2;
            if (unstable(loop, closed(loop, middle)) == before) {
                from = middle;
            } else {
                to = middle;
            }
        }
        Complex nearest = Arrays.stream(closed(loop, to)).min(java.util.Comparator.comparingDouble(
                p -> Math.abs(loop.isSampled() ? p.norm() - 1 : p.getRealPart()))).orElseThrow();
        return new Mark(to, nearest);
    }

    /** Real points at which the gain −1 / L has an extremum. */
    private static List<Mark> breaks(StateSpace loop, Zeros z, double low, double high) {
        if (z.gain() == 0 || loop.states() > 30) {
            return List.of();
        }
        Response response = new Response(loop);
        List<Mark> all = new ArrayList<>();
        List<Double> ends = new ArrayList<>();
        for (Complex[] set : List.of(loop.poles(), z.zeros())) {
            Arrays.stream(set).filter(p -> Math.abs(p.getImaginaryPart()) < 1e-9 * Math.max(1e-12, p.norm()))
                    .forEach(p -> ends.add(p.getRealPart()));
        }
        double size = Math.max(1e-9, ends.stream().mapToDouble(Math::abs).max().orElse(1));
        ends.add(-1e3 * size);
        ends.add(1e3 * size);
        double[] sorted = ends.stream().mapToDouble(Double::doubleValue).sorted().toArray();
        for (int i = 0; i + 1 < sorted.length; i++) {
            double a = sorted[i];
            double width = sorted[i + 1] - a;
            double last = Double.NaN;
            double at = Double.NaN;
            for (int k = 1; k < 200; k++) {
                // Denser towards the ends, where a wide interval has its break points.
                double share = (1 - Math.cos(Math.PI * k / 200)) / 2;
                double x = a + width * share;
                double slope = slope(response, x, width * Math.min(share, 1 - share) * 1e-3);
                double h = (x - at) * 1e-3;
                // With one distance for both ends, since close to a pole or zero the slope of a difference depends on it.
                if (!Double.isNaN(last) && last * slope < 0 && slope(response, at, h) * slope(response, x, h) < 0) {
                    double root = root(response, at, x, h);
                    double gain = -1 / response.at(new Complex(root, 0))[0][0].getRealPart();
                    if (gain > low && gain < high) {
                        all.add(new Mark(gain, new Complex(root, 0)));
                    }
                }
                last = slope;
                at = x;
            }
        }
        return all;
    }

    /** Where the slope changes its sign, by halving; a pole on the way leaves a gain that is not finite, which no limits hold. */
    private static double root(Response r, double low, double high, double h) {
        double from = low;
        double to = high;
        boolean rises = slope(r, low, h) < 0;
        for (int i = 0; i < 60; i++) {
            double middle = (from + to) / 2;
            if (slope(r, middle, h) < 0 == rises) {
                from = middle;
            } else {
                to = middle;
            }
        }
        return (from + to) / 2;
    }

    /** How −1 / L changes along the real axis. */
    private static double slope(Response r, double x, double h) {
        double high = -1 / r.at(new Complex(x + h, 0))[0][0].getRealPart();
        double low = -1 / r.at(new Complex(x - h, 0))[0][0].getRealPart();
        return (high - low) / (2 * h);
    }

    /** Joins each pole with the nearest of the next gain. */
    private static Complex[][] branches(Complex[][] poles) {
        int n = poles[0].length;
        Complex[][] all = new Complex[n][poles.length];
        for (int b = 0; b < n; b++) {
            all[b][0] = poles[0][b];
        }
        for (int i = 1; i < poles.length; i++) {
            boolean[] taken = new boolean[n];
            boolean[] given = new boolean[n];
            // The closest pairs first, so that a pole that moves fast does not take the place of one that stays.
            for (int round = 0; round < n; round++) {
                double least = Double.POSITIVE_INFINITY;
                int branch = -1;
                int pole = -1;
                for (int b = 0; b < n; b++) {
                    for (int p = 0; p < n && !given[b]; p++) {
                        double away = taken[p] ? Double.POSITIVE_INFINITY : all[b][i - 1].subtract(poles[i][p]).norm();
                        if (away < least) {
                            least = away;
                            branch = b;
                            pole = p;
                        }
                    }
                }
                if (branch < 0) {
                    break;
                }
                given[branch] = true;
                taken[pole] = true;
                all[branch][i] = poles[i][pole];
            }
        }
        return all;
    }
}
