package boldanvil.core.measure;

import boldanvil.core.samples.Series;
import org.ejml.data.DMatrixRMaj;
import org.ejml.dense.row.CommonOps_DDRM;
import org.hipparchus.complex.Complex;
import org.hipparchus.transform.DftNormalization;
import org.hipparchus.transform.FastFourierTransformer;
import org.hipparchus.transform.TransformType;

/**
 * The amplitudes of the sines a signal is made of.
 *
 * @param frequencies equally spaced from 0, 1/s
 * @param amplitudes peak value of a sine of that frequency, in the signal's unit; at 0 the mean
 */
public record Spectrum(double[] frequencies, double[] amplitudes) {
    /** Most samples that are transformed; of longer signals, the last ones. */
    private static final int MOST = 1 << 20;
    /** Most samples that are fitted; beyond, a part of a sample does not matter. */
    private static final int MOST_FITTED = 20_000;

    /** Windows; coefficients of cosine sums (Heinzel, Rüdiger, Schilling, Spectrum and spectral density estimation by the DFT, 2002). */
    public enum Window {
        NONE("none", 1),
        HANN("Hann", 0.5, -0.5),
        BLACKMAN_HARRIS("Blackman-Harris", 0.35875, -0.48829, 0.14128, -0.01168),
        FLAT_TOP("flat top", 1, -1.93, 1.29, -0.388, 0.028);

        private final String label;
        private final double[] coefficients;

        Window(String label, double... coefficients) {
            this.label = label;
            this.coefficients = coefficients;
        }

        public String label() {
            return label;
        }

        double at(int i, int n) {
            double w = 0;
            for (int k = 0; k < coefficients.length; k++) {
                w += coefficients[k] * Math.cos(2 * Math.PI * k * i / n);
            }
            return w;
        }
    }

    /**
     * The spectrum of a signal. Samples that do not lie equally apart are taken on straight lines at their mean distance. The signal is
     * filled up with zeros to a power of two of some times its length, so amplitudes between the lines of the plain transform are seen,
     * too.
     */
    public static Spectrum of(Series s, Window window) {
        double[] v = uniform(s);
        int n = v.length;
        if (n < 4) {
            return new Spectrum(new double[0], new double[0]);
        }
        double dt = step(s);
        double mean = java.util.Arrays.stream(v).average().orElse(0);
        int size = Integer.highestOneBit(2 * n - 1) * (n < MOST / 4 ? 4 : 1);
        double[] padded = new double[size];
        double gain = 0;
        for (int i = 0; i < n; i++) {
            double w = window.at(i, n);
            gain += w;
            padded[i] = (v[i] - mean) * w;
        }
        Complex[] f = new FastFourierTransformer(DftNormalization.STANDARD).transform(padded, TransformType.FORWARD);
        double[] frequencies = new double[size / 2];
        double[] amplitudes = new double[size / 2];
        for (int k = 0; k < size / 2; k++) {
            frequencies[k] = k / (size * dt);
            amplitudes[k] = 2 * f[k].norm() / gain;
        }
        amplitudes[0] = Math.abs(mean);
        return new Spectrum(frequencies, amplitudes);
    }

    private static double step(Series s) {
        return (s.times()[s.size() - 1] - s.times()[0]) / (s.size() - 1);
    }

    private static double[] uniform(Series s) {
        if (s.size() < 4) {
            return new double[0];
        }
        int n = Math.min(MOST, s.size());
        double dt = step(s);
        double start = s.times()[s.size() - 1] - (n - 1) * dt;
        double[] v = new double[n];
        int left = Math.max(0, s.size() - n - 1);
        for (int i = 0; i < n; i++) {
            double t = start + i * dt;
            while (left + 2 < s.size() && s.times()[left + 1] <= t + 1e-9 * dt) {
                left++;
            }
            double share = Math.clamp((t - s.times()[left]) / (s.times()[left + 1] - s.times()[left]), 0, 1);
            // A sample that is where it should be is taken as it is.
            v[i] = share < 1e-6 ? s.values()[left] : share > 1 - 1e-6 ? s.values()[left + 1]
                    : s.values()[left] + share * (s.values()[left + 1] - s.values()[left]);
        }
        return v;
    }

    /** The frequency of the strongest sine above 0, 1/s; NaN where there is none. */
    public double strongest() {
        int best = -1;
        for (int k = 1; k < amplitudes.length; k++) {
            best = best < 0 || amplitudes[k] > amplitudes[best] ? k : best;
        }
        return best < 0 ? Double.NaN : frequencies[best];
    }

    /**
     * Amplitude of the sine of one frequency in a signal, over as many whole periods as it has.
     *
     * @param hertz frequency, above 0
     */
    public static double amplitude(Series s, double hertz) {
        return harmonics(s, hertz, 1)[0];
    }

    /**
     * Amplitudes of the fundamental and its harmonics over as many whole periods of the fundamental as the signal has; NaN where it has
     * none. Short signals are fitted by least squares, which is exact for sums of harmonics even where a period is not a whole number of
     * samples; in long ones that does not matter.
     *
     * @param fundamental 1/s, above 0
     * @param highest number of the highest harmonic; those from half the sample rate up are left out and count as 0
     */
    public static double[] harmonics(Series s, double fundamental, int highest) {
        double[] result = new double[highest];
        double[] v = uniform(s);
        double dt = v.length == 0 ? Double.NaN : step(s);
        double periods = v.length == 0 ? 0 : Math.floor(v.length * dt * fundamental + 1e-6);
        int n = (int) Math.min(v.length, Math.round(periods / fundamental / dt));
        if (n < 2) {
            java.util.Arrays.fill(result, Double.NaN);
            return result;
        }
        int most = 0;
        while (most < highest && (most + 1) * fundamental < 0.5 / dt * (1 - 1e-9)) {
            most++;
        }
        if (n <= MOST_FITTED && n > 2 * most + 1) {
            fit(v, n, 2 * Math.PI * fundamental * dt, most, result);
            return result;
        }
        double mean = java.util.Arrays.stream(v, 0, n).average().orElse(0);
        for (int k = 1; k <= most; k++) {
            double re = 0;
            double im = 0;
            for (int i = 0; i < n; i++) {
                double a = 2 * Math.PI * k * fundamental * i * dt;
                re += (v[i] - mean) * Math.cos(a);
                im += (v[i] - mean) * Math.sin(a);
            }
            result[k - 1] = 2 * Math.hypot(re, im) / n;
        }
        return result;
    }

    /** Least squares by the normal equations: a constant, and a cosine and a sine for each harmonic. */
    private static void fit(double[] v, int n, double angle, int most, double[] result) {
        int m = 2 * most + 1;
        var normal = new DMatrixRMaj(m, m);
        var right = new DMatrixRMaj(m, 1);
        double[] row = new double[m];
        for (int i = 0; i < n; i++) {
            row[0] = 1;
            for (int k = 1; k <= most; k++) {
                row[2 * k - 1] = Math.cos(k * angle * i);
                row[2 * k] = Math.sin(k * angle * i);
            }
            for (int r = 0; r < m; r++) {
                right.data[r] += row[r] * v[i];
                for (int c = r; c < m; c++) {
                    normal.data[r * m + c] += row[r] * row[c];
                }
            }
        }
        for (int r = 0; r < m; r++) {
            for (int c = 0; c < r; c++) {
                normal.data[r * m + c] = normal.data[c * m + r];
            }
        }
        var x = new DMatrixRMaj(m, 1);
        if (!CommonOps_DDRM.solve(normal, right, x)) {
            java.util.Arrays.fill(result, Double.NaN);
            return;
        }
        for (int k = 1; k <= most; k++) {
            result[k - 1] = Math.hypot(x.data[2 * k - 1], x.data[2 * k]);
        }
    }

    /**
     * Total harmonic distortion: the RMS of the harmonics by that of the fundamental (THD-F, IEC 61000-4-7).
     *
     * @param fundamental 1/s
     * @param harmonics highest harmonic; those above half the sample rate are left out
     */
    public static double distortion(Series s, double fundamental, int harmonics) {
        double[] a = harmonics(s, fundamental, harmonics);
        double sum = 0;
        for (int k = 1; k < a.length; k++) {
            sum += a[k] * a[k];
        }
        return Math.sqrt(sum) / a[0];
    }
}
