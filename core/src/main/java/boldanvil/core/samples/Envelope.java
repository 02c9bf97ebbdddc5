package boldanvil.core.samples;

import java.util.Arrays;

/** Least and greatest values in equal parts of a span of time. */
public final class Envelope {
    private final double from;
    private final double to;
    private final double scale;
    private final double[] least;
    private final double[] greatest;

    /**
     * @param from first instant, seconds
     * @param to last instant, after the first
     * @param bins number of parts
     */
    public Envelope(double from, double to, int bins) {
        this.from = from;
        this.to = to;
        scale = bins / (to - from);
        least = new double[bins];
        greatest = new double[bins];
        Arrays.fill(least, Double.NaN);
        Arrays.fill(greatest, Double.NaN);
    }

    public double from() {
        return from;
    }

    public double to() {
        return to;
    }

    public int bins() {
        return least.length;
    }

    /** Takes note of values between a least and a greatest; instants outside the span count for its ends. */
    public void add(double time, double low, double high) {
        int bin = Math.clamp((int) ((time - from) * scale), 0, least.length - 1);
        least[bin] = lower(least[bin], low);
        greatest[bin] = higher(greatest[bin], high);
    }

    /** The lower of two values; one that is not a number gives way to one that is. */
    public static double lower(double a, double b) {
        return b < a || Double.isNaN(a) ? b : a;
    }

    /** The higher of two values; one that is not a number gives way to one that is. */
    public static double higher(double a, double b) {
        return b > a || Double.isNaN(a) ? b : a;
    }

    /** Least and greatest value of each part; NaN where there is none. */
    public double[][] extremes() {
        return new double[][] {least, greatest};
    }
}
