package boldanvil.core.measure;

import boldanvil.core.runs.Series;
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
     * filled up with zeros to a power of two of some times its length, so amplitudes between the lines of the plain transform are seen, too.
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
            v[i] = share < 1e-6 ? s.values()[left] : share > 1 - 1e-6 ? s.values()[left + 1] : s.values()[left] + share * (s.values()[left + 1] - s.values()[left]);
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
        double[] v = uniform(s);
        if (v.length == 0) {
            return Double.NaN;
        }
        double dt = step(s);
        double periods = Math.floor(v.length * dt * hertz + 1e-6);
        int n = (int) Math.min(v.length, Math.round(periods / hertz / dt));
        if (n < 2) {
            return Double.NaN;
        }
        double re = 0;
        double im = 0;
        double mean = 0;
        for (int i = 0; i < n; i++) {
            mean += v[i] / n;
        }
        for (int i = 0; i < n; i++) {
            double a = 2 * Math.PI * hertz * i * dt;
            re += (v[i] - mean) * Math.cos(a);
            im += (v[i] - mean) * Math.sin(a);
        }
        return 2 * Math.hypot(re, im) / n;
    }

    /**
     * Total harmonic distortion: the RMS of the harmonics by that of the fundamental (THD-F, IEC 61000-4-7).
     *
     * @param fundamental 1/s
     * @param harmonics highest harmonic; those above half the sample rate are left out
     */
    public static double distortion(Series s, double fundamental, int harmonics) {
        double sum = 0;
        for (int k = 2; k <= harmonics && k * fundamental < 0.5 / step(s); k++) {
            double a = amplitude(s, k * fundamental);
            sum += a * a;
        }
        return Math.sqrt(sum) / amplitude(s, fundamental);
    }
}
