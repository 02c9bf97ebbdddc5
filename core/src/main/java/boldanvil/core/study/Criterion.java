package boldanvil.core.study;

/**
 * What a result has to keep.
 *
 * @param column of the table of runs
 * @param atMost whether it may not be above the limit; else not below it
 * @param limit SI
 */
public record Criterion(int column, boolean atMost, double limit) {
    /** Whether a value keeps it; a run without a value does not. */
    public boolean passes(double value) {
        return atMost ? value <= limit : value >= limit;
    }

    /** For each run whether it passes. */
    public boolean[] of(RunTable table) {
        double[] values = table.values(column);
        boolean[] passed = new boolean[values.length];
        for (int i = 0; i < values.length; i++) {
            passed[i] = passes(values[i]);
        }
        return passed;
    }
}
