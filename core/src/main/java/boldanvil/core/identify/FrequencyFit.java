package boldanvil.core.identify;

import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.linear.Response;
import boldanvil.core.linear.StateSpace;
import org.ejml.simple.SimpleMatrix;
import org.hipparchus.complex.Complex;

/**
 * A transfer function in s from points of a frequency response: the numerator less the response times the denominator is made small, with
 * weights by the denominator of the round before (Sanathanan and Koerner, IEEE Trans. Automatic Control 8, 1963).
 *
 * @param system without the delay
 * @param delay seconds, as given
 * @param error root mean square of what is left, as a share of the response's
 */
public record FrequencyFit(StateSpace system, double delay, double error) {
    private static final int ROUNDS = 30;

    /**
     * Fits a transfer function; points count by their coherence.
     *
     * @param zeros of the numerator, at most as many as poles
     * @param delay seconds that stand in front of it
     * @throws NoSolutionException when there are too few points, or they do not determine it
     */
    public static FrequencyFit of(MeasuredResponse points, int zeros, int poles, double delay) {
        int count = points.omega().length;
        if (poles < 1 || zeros < 0 || zeros > poles || poles > 12) {
            throw new NoSolutionException("A transfer function has 1 to 12 poles here, and no more zeros than poles.", "Choose others.");
        }
        if (2 * count < zeros + poles + 1 + 2) {
            throw new NoSolutionException("There are " + count + " points for " + (zeros + poles + 1) + " coefficients.",
                    "Choose a lower order, or measure at more frequencies.");
        }
        // Frequencies of about one keep the powers of s alike.
        double scale = Math.sqrt(points.omega()[0] * points.omega()[count - 1]);
        Complex[] s = new Complex[count];
        Complex[] g = new Complex[count];
        for (int i = 0; i < count; i++) {
            s[i] = new Complex(0, points.omega()[i] / scale);
            g[i] = points.response()[i].multiply(new Complex(0, points.omega()[i] * delay).exp());
        }
        double[] weight = new double[count];
        for (int i = 0; i < count; i++) {
            weight[i] = Math.max(points.coherence()[i], 1e-3) / Math.max(g[i].norm(), 1e-300);
        }
        double[] previous = null;
        double[] found = null;
        for (int round = 0; round < ROUNDS; round++) {
            found = round(s, g, weight, zeros, poles, previous);
            double[] denominator = new double[poles + 1];
            System.arraycopy(found, zeros + 1, denominator, 0, poles);
            denominator[poles] = 1;
            previous = denominator;
        }
        return result(points, found, zeros, poles, delay, scale);
    }

    /** Coefficients b0 … of the numerator, then a0 … of the denominator but for the highest, which is 1. */
    private static double[] round(Complex[] s, Complex[] g, double[] weight, int zeros, int poles, double[] previous) {
        int n = zeros + 1 + poles;
        var rows = new SimpleMatrix(2 * s.length, n);
        var right = new SimpleMatrix(2 * s.length, 1);
        for (int i = 0; i < s.length; i++) {
            double w = weight[i] / (previous == null ? 1 : Math.max(at(previous, s[i]).norm(), 1e-12));
            Complex power = Complex.ONE;
            for (int k = 0; k <= Math.max(zeros, poles); k++) {
                if (k <= zeros) {
                    rows.set(2 * i, k, w * power.getRealPart());
                    rows.set(2 * i + 1, k, w * power.getImaginaryPart());
                }
                Complex back = power.multiply(g[i]).multiply(-w);
                if (k < poles) {
                    rows.set(2 * i, zeros + 1 + k, back.getRealPart());
                    rows.set(2 * i + 1, zeros + 1 + k, back.getImaginaryPart());
                } else if (k == poles) {
                    right.set(2 * i, 0, -back.getRealPart());
                    right.set(2 * i + 1, 0, -back.getImaginaryPart());
                }
                power = power.multiply(s[i]);
            }
        }
        SimpleMatrix c = rows.pseudoInverse().mult(right);
        if (c.hasUncountable()) {
            throw new NoSolutionException("The points do not determine a transfer function of this order.", "Choose a lower order.");
        }
        return c.getDDRM().getData();
    }

    private static Complex at(double[] rising, Complex s) {
        Complex sum = Complex.ZERO;
        for (int k = rising.length - 1; k >= 0; k--) {
            sum = sum.multiply(s).add(rising[k]);
        }
        return sum;
    }

    private static FrequencyFit result(MeasuredResponse points, double[] found, int zeros, int poles, double delay, double scale) {
        double[] numerator = new double[zeros + 1];
        double[] denominator = new double[poles + 1];
        for (int k = 0; k <= zeros; k++) {
            numerator[zeros - k] = found[k] / Math.pow(scale, k);
        }
        for (int k = 0; k <= poles; k++) {
            denominator[poles - k] = (k == poles ? 1 : found[zeros + 1 + k]) / Math.pow(scale, k);
        }
        StateSpace system = StateSpace.transfer(numerator, denominator, 0);
        var response = new Response(system);
        double left = 0;
        double all = 0;
        for (int i = 0; i < points.omega().length; i++) {
            double w = points.omega()[i];
            Complex model = response.at(w).multiply(new Complex(0, -w * delay).exp());
            left += Math.pow(model.subtract(points.response()[i]).norm(), 2);
            all += Math.pow(points.response()[i].norm(), 2);
        }
        return new FrequencyFit(system, delay, Math.sqrt(left / all));
    }
}
