package boldanvil.core.identify;

import java.util.List;

/**
 * Values found from a record.
 *
 * @param correlation of the errors of two values, −1 to 1
 * @param rms of the residuals, in the unit of the output
 * @param fit how much of the output's movement the model has: 1 − |residuals| / |output less its mean|, at most 1
 * @param white what the residuals are like
 * @param warnings what the record does not tell, in sentences
 */
public record Estimate(List<Value> values, double[][] correlation, double rms, double fit, Whiteness white, List<String> warnings) {
    /** Standard deviations of a bound that holds in 95 of 100 cases. */
    static final double BOUND = 1.959964;

    /**
     * A value.
     *
     * @param sigma its standard deviation
     */
    public record Value(String name, double value, double sigma) {
        /** Half of the interval that holds the true value in 95 of 100 cases, if the model is right and the residuals are white. */
        public double bound() {
            return BOUND * sigma;
        }

        public boolean holds(double truth) {
            return Math.abs(truth - value) <= bound();
        }
    }

    /** A value by its name. */
    public Value value(String name) {
        return values.stream().filter(v -> v.name().equals(name)).findFirst().orElseThrow();
    }

    /** How much of the movement of an output a prediction has. */
    public static double fit(double[] measured, double[] predicted) {
        double mean = java.util.Arrays.stream(measured).average().orElse(0);
        double left = 0;
        double all = 0;
        for (int i = 0; i < measured.length; i++) {
            left += (measured[i] - predicted[i]) * (measured[i] - predicted[i]);
            all += (measured[i] - mean) * (measured[i] - mean);
        }
        return 1 - Math.sqrt(left / all);
    }
}
