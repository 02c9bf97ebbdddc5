package boldanvil.core.measure;

import boldanvil.core.samples.Series;
import org.hipparchus.complex.Complex;
import org.hipparchus.transform.DftNormalization;
import org.hipparchus.transform.FastFourierTransformer;
import org.hipparchus.transform.TransformType;

/** How far apart in time two recordings of the same thing lie. */
public final class Alignment {
    private static final int POINTS = 8_192;

    private Alignment() {}

    /**
     * The shift of the second signal to later, in seconds, at which it fits the first one best: the place where their covariance is
     * greatest (Knapp, Carter, The generalized correlation method for estimation of time delay, 1976, without weighting), made finer by
     * least squares.
     */
    public static double bestFit(Series first, Series second) {
        if (first.size() < 4 || second.size() < 4) {
            return 0;
        }
        double start = Math.min(first.times()[0], second.times()[0]);
        double end = Math.max(first.times()[first.size() - 1], second.times()[second.size() - 1]);
        double dt = (end - start) / (POINTS - 1);
        double[] a = grid(first, start, dt);
        double[] b = grid(second, start, dt);
        var fft = new FastFourierTransformer(DftNormalization.STANDARD);
        Complex[] fa = fft.transform(a, TransformType.FORWARD);
        Complex[] fb = fft.transform(b, TransformType.FORWARD);
        for (int i = 0; i < fa.length; i++) {
            fa[i] = fa[i].multiply(fb[i].conjugate());
        }
        Complex[] covariance = fft.transform(fa, TransformType.INVERSE);
        int best = 0;
        for (int i = 0; i < covariance.length; i++) {
            best = covariance[i].getReal() > covariance[best].getReal() ? i : best;
        }
        double coarse = (best < POINTS ? best : best - 2 * POINTS) * dt;
        return refine(first, second, coarse, 16 * dt);
    }

    /** Differences from the mean on a grid, twice as long so that nothing wraps around. */
    private static double[] grid(Series s, double start, double dt) {
        double[] v = new double[2 * POINTS];
        double sum = 0;
        int n = 0;
        for (int i = 0; i < POINTS; i++) {
            v[i] = s.at(start + i * dt);
            if (!Double.isNaN(v[i])) {
                sum += v[i];
                n++;
            }
        }
        for (int i = 0; i < POINTS; i++) {
            v[i] = Double.isNaN(v[i]) ? 0 : v[i] - sum / n;
        }
        return v;
    }

    /** Golden section on the mean square of the difference. */
    private static double refine(Series first, Series second, double around, double width) {
        double ratio = (Math.sqrt(5) - 1) / 2;
        double a = around - width;
        double b = around + width;
        for (int i = 0; i < 60 && b - a > 1e-9; i++) {
            double c = b - ratio * (b - a);
            double d = a + ratio * (b - a);
            if (square(first, second, c) < square(first, second, d)) {
                b = d;
            } else {
                a = c;
            }
        }
        double fine = (a + b) / 2;
        return square(first, second, around) <= square(first, second, fine) ? around : fine;
    }

    private static double square(Series first, Series second, double shift) {
        int stride = Math.max(1, first.size() / 4_096);
        double sum = 0;
        int n = 0;
        for (int i = 0; i < first.size(); i += stride) {
            double d = first.values()[i] - second.at(first.times()[i] - shift);
            if (!Double.isNaN(d)) {
                sum += d * d;
                n++;
            }
        }
        return n == 0 ? Double.POSITIVE_INFINITY : sum / n;
    }
}
