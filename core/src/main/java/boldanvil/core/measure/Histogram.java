package boldanvil.core.measure;

/**
 * How often values lie in each of some equal classes.
 *
 * @param least lower end of the first class
 * @param width of a class
 * @param counts of values in each
 */
public record Histogram(double least, double width, long[] counts) {
    /** Classes between the least and the greatest value; values that are no numbers are passed over. */
    public static Histogram of(double[] values, int classes) {
        double least = Double.POSITIVE_INFINITY;
        double greatest = Double.NEGATIVE_INFINITY;
        for (double v : values) {
            if (Double.isFinite(v)) {
                least = Math.min(least, v);
                greatest = Math.max(greatest, v);
            }
        }
        long[] counts = new long[classes];
        if (least > greatest) {
            return new Histogram(0, 1, counts);
        }
        double width = greatest > least ? (greatest - least) / classes : Math.max(1e-12, Math.abs(least) * 1e-6);
        for (double v : values) {
            if (Double.isFinite(v)) {
                counts[Math.clamp((int) ((v - least) / width), 0, classes - 1)]++;
            }
        }
        return new Histogram(least, width, counts);
    }

    public long total() {
        return java.util.Arrays.stream(counts).sum();
    }
}
