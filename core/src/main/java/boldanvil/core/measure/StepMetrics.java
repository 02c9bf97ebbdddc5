package boldanvil.core.measure;

import boldanvil.core.samples.Series;
import java.util.ArrayList;
import java.util.List;

/**
 * How a signal goes from one level to another (terms as in IEC 60050-351:2013). Times between samples are taken on straight lines.
 *
 * @param start when the step begins, seconds
 * @param from level before
 * @param to level it is to reach
 * @param riseTime from 10 % to 90 % of the step, seconds; NaN when it does not get there
 * @param peak the value furthest in the direction of the step
 * @param peakTime when it has that value, seconds after the start
 * @param overshoot largest excursion beyond the end level, in the signal's unit; 0 when there is none
 * @param settlingTime from the start until the signal stays within the band, seconds; NaN when it never does
 * @param finalError mean of the last tenth of the span minus the end level
 */
public record StepMetrics(double start, double from, double to, double riseTime, double peak, double peakTime, double overshoot,
        double settlingTime, double finalError) {
    /** Half width of the settling band as a share of the step, where nothing else is asked for. */
    public static final double BAND = 0.02;

    /** Overshoot as a share of the step. */
    public double overshootShare() {
        return overshoot / Math.abs(to - from);
    }

    /**
     * Measures a step.
     *
     * @param s the response, up to where the step is over
     * @param start when the step begins, seconds
     * @param from level before
     * @param to level after; different from {@code from}
     * @param band half width of the settling band around {@code to}, in the signal's unit
     */
    public static StepMetrics of(Series s, double start, double from, double to, double band) {
        if (from == to) {
            throw new IllegalArgumentException("A step needs two levels.");
        }
        double t10 = Double.NaN;
        double t90 = Double.NaN;
        double peakShare = Double.NEGATIVE_INFINITY;
        double peakTime = Double.NaN;
        double inside = 0;
        boolean settled = false;
        boolean any = false;
        double end = s.size() == 0 ? start : s.times()[s.size() - 1];
        for (int i = 0; i < s.size(); i++) {
            double t = s.times()[i];
            if (t < start) {
                continue;
            }
            double v = s.values()[i];
            double share = (v - from) / (to - from);
            t10 = Double.isNaN(t10) && share >= 0.1 ? crossing(s, i, from + 0.1 * (to - from), start) : t10;
            t90 = Double.isNaN(t90) && share >= 0.9 ? crossing(s, i, from + 0.9 * (to - from), start) : t90;
            if (share > peakShare) {
                peakShare = share;
                peakTime = t - start;
            }
            boolean in = Math.abs(v - to) <= band;
            if (in && !settled && any) {
                // It came in since the last sample.
                double edge = s.values()[i - 1] > to ? to + band : to - band;
                inside = crossing(s, i, edge, start) - start;
            } else if (in && !any) {
                inside = 0;
            }
            settled = in;
            any = true;
        }
        return new StepMetrics(start, from, to, t90 - t10, from + peakShare * (to - from), peakTime,
                Math.max(0, (peakShare - 1) * Math.abs(to - from)),
                settled ? inside : Double.NaN, tail(s, Math.max(start, end - 0.1 * (end - start))) - to);
    }

    /** When a level was crossed on the way to a sample. */
    private static double crossing(Series s, int i, double level, double start) {
        if (i == 0 || s.times()[i - 1] < start || s.values()[i] == s.values()[i - 1]) {
            return s.times()[i];
        }
        double share = (level - s.values()[i - 1]) / (s.values()[i] - s.values()[i - 1]);
        return s.times()[i - 1] + Math.clamp(share, 0, 1) * (s.times()[i] - s.times()[i - 1]);
    }

    private static double tail(Series s, double from) {
        double sum = 0;
        int n = 0;
        for (int i = s.size() - 1; i >= 0 && s.times()[i] >= from; i--) {
            sum += s.values()[i];
            n++;
        }
        return n == 0 ? Double.NaN : sum / n;
    }

    /**
     * Finds the steps of a demand and measures how a response follows each, up to the next one.
     *
     * @param band half width of the settling band as a share of each step
     */
    public static List<StepMetrics> all(Series demand, Series response, double band) {
        List<StepMetrics> steps = new ArrayList<>();
        var found = steps(demand);
        for (int i = 0; i < found.size(); i++) {
            Step step = found.get(i);
            double until = i + 1 < found.size() ? found.get(i + 1).start() : Double.POSITIVE_INFINITY;
            Series part = part(response, step.start(), until);
            if (part.size() > 2) {
                steps.add(of(part, step.start(), step.from(), step.to(), band * Math.abs(step.to() - step.from())));
            }
        }
        return steps;
    }

    /**
     * A demand that goes from one level to another.
     *
     * @param start the first sample that has left the old level
     */
    public record Step(double start, double from, double to) {}

    /** A stretch of equal values. */
    private record Level(int first, int last, double value) {}

    /**
     * Changes between two levels that both last. Between them the demand may take a while, as one whose rate is limited does, but no
     * longer than a quarter of the time for which it then stays; a ramp, a sine or noise is not a step.
     */
    public static List<Step> steps(Series demand) {
        List<Step> steps = new ArrayList<>();
        double range = Measurement.of(demand).peakToPeak();
        if (demand.size() < 3 || !(range > 0)) {
            return steps;
        }
        double[] t = demand.times();
        List<Level> levels = levels(demand, range);
        double whole = t[t.length - 1] - t[0];
        Level before = null;
        for (Level l : levels) {
            double lasts = t[Math.min(t.length - 1, l.last() + 1)] - t[l.first()];
            if (l.last() - l.first() < 2 || lasts < whole * SHORTEST && before != null) {
                continue;
            }
            if (before != null && Math.abs(l.value() - before.value()) > range * SMALLEST) {
                int start = before.last() + 1;
                if (t[l.first()] - t[start] <= lasts / 4) {
                    steps.add(new Step(t[start], before.value(), l.value()));
                }
            }
            before = l;
        }
        return steps;
    }

    /** A level lasts at least this share of the whole; a step has at least that share of the demand's range. */
    private static final double SHORTEST = 0.01;
    private static final double SMALLEST = 0.05;

    private static List<Level> levels(Series s, double range) {
        List<Level> levels = new ArrayList<>();
        double[] v = s.values();
        int first = 0;
        for (int i = 1; i <= v.length; i++) {
            if (i == v.length || !(Math.abs(v[i] - v[first]) <= range * 1e-6)) {
                levels.add(new Level(first, i - 1, v[first]));
                first = i;
            }
        }
        return levels;
    }

    private static Series part(Series s, double from, double until) {
        int a = 0;
        while (a < s.size() && s.times()[a] < from) {
            a++;
        }
        int b = a;
        while (b < s.size() && s.times()[b] < until) {
            b++;
        }
        return new Series(s.name(), s.unit(), java.util.Arrays.copyOfRange(s.times(), a, b),
                java.util.Arrays.copyOfRange(s.values(), a, b));
    }
}
