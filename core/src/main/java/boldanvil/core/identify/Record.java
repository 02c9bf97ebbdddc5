package boldanvil.core.identify;

import boldanvil.core.finding.FindingException;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;

/**
 * One input and one output at equal intervals.
 *
 * @param period seconds
 * @param input held from sample to sample
 */
public record Record(double period, double[] input, double[] output) {
    /** Samples at least, so that something can be said. */
    private static final int FEWEST = 20;
    private static final double MOST = 2_000_000;

    /** @throws NoSolutionException when it is too short, not finite, or the input does not move */
    public Record {
        if (input.length != output.length || !(period > 0)) {
            throw new IllegalArgumentException(input.length + " and " + output.length + " samples");
        }
        if (input.length < FEWEST) {
            throw new NoSolutionException("The record has " + input.length + " samples only; " + FEWEST + " are needed at least.",
                    "Choose a longer span, or a shorter sample time.");
        }
        for (int i = 0; i < input.length; i++) {
            if (!Double.isFinite(input[i]) || !Double.isFinite(output[i])) {
                throw new NoSolutionException("A sample is not finite, at " + i * period + " s of the span.", "Choose a span without it.");
            }
        }
        if (isConstant(input)) {
            throw new NoSolutionException("The input does not change in the span.",
                    "Choose a span in which the input moves, or excite it.");
        }
    }

    /**
     * Two taps of a run, at the instants of the first.
     *
     * @throws FindingException when the run has no such tap
     * @throws NoSolutionException when there is too little
     */
    public static Record of(Samples samples, String in, String out, double from, double to) {
        Series u = series(samples, in, from, to);
        return of(u, series(samples, out, from, to), u.size() < 2 ? 1 : (u.times()[u.size() - 1] - u.times()[0]) / (u.size() - 1));
    }

    /** The same with a sample time in seconds. */
    public static Record of(Samples samples, String in, String out, double from, double to, double period) {
        return of(series(samples, in, from, to), series(samples, out, from, to), period);
    }

    /** A tap of a run. */
    static Series series(Samples samples, String tap, double from, double to) {
        int column = samples.indexOf(tap);
        if (column < 0) {
            throw FindingException.of(tap, "The run has no tap '" + tap + "'.", "It has: " + String.join(", ", samples.columns().stream()
                    .map(c -> c.name()).toList()) + ".");
        }
        return samples.series(column, from, to);
    }

    /**
     * Two series where both are, each value held until the next.
     *
     * @param period seconds
     */
    public static Record of(Series u, Series y, double period) {
        if (u.size() < 2 || y.size() < 2) {
            throw new NoSolutionException("The span has fewer than two samples.", "Choose a longer span.");
        }
        double first = Math.max(u.times()[0], y.times()[0]);
        double last = Math.min(u.times()[u.size() - 1], y.times()[y.size() - 1]);
        int n = (int) Math.clamp(Math.floor((last - first) / period + 1e-6) + 1, 0, MOST);
        double[] us = new double[n];
        double[] ys = new double[n];
        for (int i = 0; i < n; i++) {
            us[i] = held(u, first + i * period);
            ys[i] = held(y, first + i * period);
        }
        return new Record(period, us, ys);
    }

    /** The last value up to an instant. */
    private static double held(Series s, double at) {
        int i = java.util.Arrays.binarySearch(s.times(), at + 1e-9);
        return s.values()[Math.max(0, i >= 0 ? i : -i - 2)];
    }

    private static boolean isConstant(double[] all) {
        for (double v : all) {
            if (v != all[0]) {
                return false;
            }
        }
        return true;
    }

    public int size() {
        return input.length;
    }

    /** A stretch of it. */
    public Record between(int from, int to) {
        return new Record(period, java.util.Arrays.copyOfRange(input, from, to), java.util.Arrays.copyOfRange(output, from, to));
    }

    /** Without what it has in the mean. */
    public Record withoutOffset() {
        return new Record(period, withoutMean(input), withoutMean(output));
    }

    /** Without straight lines through input and output. */
    public Record withoutDrift() {
        return new Record(period, withoutLine(input), withoutLine(output));
    }

    private static double[] withoutMean(double[] all) {
        double mean = java.util.Arrays.stream(all).average().orElse(0);
        return java.util.Arrays.stream(all).map(v -> v - mean).toArray();
    }

    private static double[] withoutLine(double[] all) {
        int n = all.length;
        double middle = (n - 1) / 2.0;
        double mean = java.util.Arrays.stream(all).average().orElse(0);
        double cross = 0;
        double square = 0;
        for (int i = 0; i < n; i++) {
            cross += (i - middle) * (all[i] - mean);
            square += (i - middle) * (i - middle);
        }
        double[] rest = new double[n];
        for (int i = 0; i < n; i++) {
            rest[i] = all[i] - mean - cross / square * (i - middle);
        }
        return rest;
    }
}
