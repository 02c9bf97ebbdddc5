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
        double mean = java.util.Arrays.stream(residuals).average().orElse(0);
        double power = 0;
        for (double r : residuals) {
            power += (r - mean) * (r - mean);
        }
        double q = 0;
        double largest = 0;
        for (int k = 1; k <= lags && power > 0; k++) {
            double sum = 0;
            for (int i = k; i < n; i++) {
                sum += (residuals[i] - mean) * (residuals[i - k] - mean);
            }
            double r = sum / power;
            largest = Math.max(largest, Math.abs(r));
            q += r * r / (n - k);
        }
        q *= n * (n + 2.0);
        int freedom = Math.max(1, lags - parameters);
        return new Whiteness(q, lags, Gamma.regularizedGammaQ(freedom / 2.0, q / 2), largest);
    }

    public boolean isWhite() {
        return probability >= LIMIT;
    }
}
