package boldanvil.core.simulate;

/** How long something takes each time, counted in classes that are equally wide on a logarithmic scale. One thread writes, any may read. */
public final class ExecutionTimes {
    /** Classes of a quarter octave from 16 ns on. */
    public static final int CLASSES = 112;
    private static final double FIRST_NANOS = 16;
    private static final int PER_OCTAVE = 4;

    private final long[] counts = new long[CLASSES];
    private volatile long count;
    private volatile double sum;
    private volatile double longest;

    /** Counts one time. */
    public void add(double nanos) {
        int c = nanos <= FIRST_NANOS ? 0 : Math.min(CLASSES - 1, (int) (PER_OCTAVE * Math.log(nanos / FIRST_NANOS) / Math.log(2)));
        counts[c]++;
        sum += nanos;
        longest = Math.max(longest, nanos);
        count++;
    }

    /** Lower end of a class in seconds. */
    public static double lowerEnd(int c) {
        return c == 0 ? 0 : FIRST_NANOS * Math.pow(2, (double) c / PER_OCTAVE) / 1e9;
    }

    public long[] counts() {
        return counts.clone();
    }

    /** Mean in seconds; 0 before the first. */
    public double mean() {
        return count == 0 ? 0 : sum / count / 1e9;
    }

    /** The longest so far, in seconds. */
    public double longest() {
        return longest / 1e9;
    }

    /**
     * A time that a share of all did not exceed: the upper end of a class, in seconds; 0 before the first.
     *
     * @param share from 0 to 1
     */
    public double below(double share) {
        long wanted = (long) Math.ceil(share * count);
        long counted = 0;
        for (int c = 0; c < CLASSES - 1 && count > 0; c++) {
            counted += counts[c];
            if (counted >= wanted) {
                return Math.min(lowerEnd(c + 1), longest());
            }
        }
        return longest();
    }

    public void clear() {
        java.util.Arrays.fill(counts, 0);
        count = 0;
        sum = 0;
        longest = 0;
    }
}
