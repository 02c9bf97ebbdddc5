package boldanvil.core.identify;

import boldanvil.core.linear.NoSolutionException;
import java.util.Arrays;
import java.util.Map;
import org.ejml.simple.SimpleMatrix;
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

    /**
     * The response at given frequencies from whole periods, without a window: for inputs that repeat.
     *
     * @param period seconds, a whole number of samples
     * @param omega multiples of 2π over the period, rad/s
     * @param first periods that are left out at the beginning, in which the start dies out
     * @throws NoSolutionException when fewer than two periods are left
     */
    public static MeasuredResponse periodic(Record r, double period, double[] omega, int first) {
        int length = (int) Math.round(period / r.period());
        int periods = length == 0 ? 0 : r.size() / length;
        if (periods - first < 2) {
            throw new NoSolutionException("The record has " + periods + " whole periods of the input; " + (first + 2)
                    + " are needed at least.", "Excite for a longer time, or from a higher frequency on.");
        }
        Complex[] response = new Complex[omega.length];
        double[] coherence = new double[omega.length];
        for (int i = 0; i < omega.length; i++) {
            Complex cross = Complex.ZERO;
            double uu = 0;
            double yy = 0;
            for (int k = first; k < periods; k++) {
                Complex u = at(r.input(), k * length, length, omega[i] * r.period());
                Complex y = at(r.output(), k * length, length, omega[i] * r.period());
                cross = cross.add(y.multiply(u.conjugate()));
                uu += u.norm() * u.norm();
                yy += y.norm() * y.norm();
            }
            response[i] = cross.divide(uu);
            coherence[i] = uu == 0 || yy == 0 ? 0 : cross.norm() * cross.norm() / (uu * yy);
        }
        return new MeasuredResponse(omega.clone(), response, coherence);
    }

    private static Complex at(double[] all, int from, int length, double turn) {
        double re = 0;
        double im = 0;
        for (int i = 0; i < length; i++) {
            re += all[from + i] * Math.cos(turn * i);
            im -= all[from + i] * Math.sin(turn * i);
        }
        return new Complex(re, im);
    }

    /**
     * The response at one frequency, from a sine that has settled: sines, a mean and a straight line are fitted to input and output (IEEE
     * Standard 1057, 2017, annex B, with a line for drift).
     *
     * @return the response, and how much of the output's movement follows from the input
     */
    static Map.Entry<Complex, Double> sine(Record r, double omega) {
        Complex u = fitted(r.input(), omega * r.period()).getKey();
        var y = fitted(r.output(), omega * r.period());
        return Map.entry(y.getKey().divide(u), y.getValue());
    }

    private static Map.Entry<Complex, Double> fitted(double[] all, double turn) {
        int n = all.length;
        var phi = new SimpleMatrix(n, 4);
        for (int i = 0; i < n; i++) {
            phi.setRow(i, 0, Math.cos(turn * i), -Math.sin(turn * i), 1, (i - n / 2.0) / n);
        }
        var y = new SimpleMatrix(n, 1, true, all);
        SimpleMatrix c = phi.solve(y);
        double left = y.minus(phi.mult(c)).normF();
        var line = y.minus(phi.extractMatrix(0, n, 2, 4).mult(c.extractMatrix(2, 4, 0, 1))).normF();
        return Map.entry(new Complex(c.get(0, 0), c.get(1, 0)), line == 0 ? 0 : Math.max(0, 1 - left * left / (line * line)));
    }

    private static double[] windowed(double[] all, int from, double[] window) {
        double[] w = new double[window.length];
        for (int i = 0; i < w.length; i++) {
            w[i] = all[from + i] * window[i];
        }
        return w;
    }
}
