package boldanvil.core.samples;

/** Rows of numbers in a file. */
public interface Rows {
    long size();

    /**
     * @param from first row
     * @param count how many
     * @param into gets the values, row by row
     */
    void read(long from, int count, double[] into);

    /** The first value of a row. */
    default double at(long row) {
        double[] one = new double[2];
        read(row, 1, one);
        return one[0];
    }

    /** Number of rows whose first value lies before an instant, or not after it; first values rise. */
    default long before(double seconds, boolean inclusive) {
        long low = 0;
        long high = size();
        while (low < high) {
            long middle = (low + high) >>> 1;
            double t = at(middle);
            if (inclusive ? t <= seconds : t < seconds) {
                low = middle + 1;
            } else {
                high = middle;
            }
        }
        return low;
    }
}
