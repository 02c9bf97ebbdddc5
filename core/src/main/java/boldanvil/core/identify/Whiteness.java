package boldanvil.core.identify;

import org.hipparchus.special.Gamma;

/**
 * Whether residuals are white: what is left after a good model does not depend on what was before (Ljung and Box, Biometrika 65, 1978).
 *
 * @param statistic Q over some lags
 * @param lags how many
 * @param probability of a Q as large from white residuals
 * @param largest largest autocorrelation but that of lag zero
 */
public record Whiteness(double statistic, int lags, double probability, double largest) {
    /** Below it residuals count as not white. */
    public static final double LIMIT = 0.01;

    /** @param parameters how many coefficients of former outputs were fitted; what acts on the input alone takes no freedom away */
    public static Whiteness of(double[] residuals, int parameters) {
        int n = residuals.length;
        int lags = Math.max(5, Math.min(25, n / 5));
        double[] correlation = correlation(residuals, lags);
        double q = 0;
        double largest = 0;
        for (int k = 1; k <= lags; k++) {
            largest = Math.max(largest, Math.abs(correlation[k]));
            q += correlation[k] * correlation[k] / (n - k);
        }
        q *= n * (n + 2.0);
        int freedom = Math.max(1, lags - parameters);
        return new Whiteness(q, lags, Gamma.regularizedGammaQ(freedom / 2.0, q / 2), largest);
    }

    /**
     * How values depend on those before them: the autocorrelation by the lag in samples, 1 at lag zero. White values stay within
     * 1.96 / √n of zero in 95 of 100 lags.
     */
    public static double[] correlation(double[] values, int lags) {
        int n = values.length;
        double mean = java.util.Arrays.stream(values).average().orElse(0);
        double power = 0;
        for (double v : values) {
            power += (v - mean) * (v - mean);
        }
        double[] all = new double[lags + 1];
        all[0] = 1;
        for (int k = 1; k <= lags && power > 0; k++) {
            double sum = 0;
            for (int i = k; i < n; i++) {
                sum += (values[i] - mean) * (values[i - k] - mean);
            }
            all[k] = sum / power;
        }
        return all;
    }

    public boolean isWhite() {
        return probability >= LIMIT;
    }
}
