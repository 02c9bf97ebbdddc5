package boldanvil.core.identify;

import boldanvil.core.linear.NoSolutionException;
import java.util.Arrays;
import org.hipparchus.complex.Complex;
import org.hipparchus.transform.DftNormalization;
import org.hipparchus.transform.FastFourierTransformer;
import org.hipparchus.transform.TransformType;

/**
 * A frequency response from a record, with its coherence: the mean of overlapping stretches under a window (Welch, IEEE Trans. Audio and
 * Electroacoustics 15, 1967; Bendat and Piersol, Random Data, 2010, section 6.1).
 *
 * @param omega rad/s
 * @param coherence share of the output that follows linearly from the input, 0 to 1
 */
public record MeasuredResponse(double[] omega, Complex[] response, double[] coherence) {
    private static final int SHORTEST = 32;

    /**
     * @param stretches how many of them at least, half over each other; 2 or more, since one alone is always coherent
     */
    public static MeasuredResponse of(Record r, int stretches) {
        int length = Integer.highestOneBit((int) (2.0 * r.size() / (stretches + 1)));
        if (length < SHORTEST || stretches < 2) {
            throw new NoSolutionException("The record is too short for " + stretches + " stretches.",
                    "Choose a longer span, or fewer stretches.");
        }
        Record level = r.withoutOffset();
        var fft = new FastFourierTransformer(DftNormalization.STANDARD);
        double[] window = new double[length];
        for (int i = 0; i < length; i++) {
            window[i] = 0.5 - 0.5 * Math.cos(2 * Math.PI * i / length);
        }
        int bins = length / 2;
        double[] uu = new double[bins];
        double[] yy = new double[bins];
        Complex[] uy = new Complex[bins];
        Arrays.fill(uy, Complex.ZERO);
        for (int from = 0; from + length <= r.size(); from += length / 2) {
            Complex[] u = fft.transform(windowed(level.input(), from, window), TransformType.FORWARD);
            Complex[] y = fft.transform(windowed(level.output(), from, window), TransformType.FORWARD);
            for (int k = 0; k < bins; k++) {
                uu[k] += u[k].norm() * u[k].norm();
                yy[k] += y[k].norm() * y[k].norm();
                uy[k] = uy[k].add(y[k].multiply(u[k].conjugate()));
            }
        }
        // The first bins are what is left of the mean and of drift.
        double most = Arrays.stream(uu).max().orElse(1);
        int[] kept = java.util.stream.IntStream.range(2, bins).filter(k -> uu[k] > 1e-12 * most && yy[k] > 0).toArray();
        double[] omega = new double[kept.length];
        Complex[] response = new Complex[kept.length];
        double[] coherence = new double[kept.length];
        for (int i = 0; i < kept.length; i++) {
            int k = kept[i];
            omega[i] = 2 * Math.PI * k / (length * r.period());
            response[i] = uy[k].divide(uu[k]);
            coherence[i] = uy[k].norm() * uy[k].norm() / (uu[k] * yy[k]);
        }
        return new MeasuredResponse(omega, response, coherence);
    }

    private static double[] windowed(double[] all, int from, double[] window) {
        double[] w = new double[window.length];
        for (int i = 0; i < w.length; i++) {
            w[i] = all[from + i] * window[i];
        }
        return w;
    }
}
