package boldanvil.core.identify;

import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.linear.StateSpace;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.ejml.simple.SimpleMatrix;

/**
 * A model of one input and one output as a difference equation (Ljung, System Identification, 1999, sections 4.2, 7.3 and 10.2):
 * y[n] + a1 y[n−1] + … = b1 u[n−k] + … + e[n] with the error in the equation, or with the error added to the output.
 *
 * @param denominator 1, a1 … in falling powers of z
 * @param numerator b1 … of as many powers as it has, the highest at z to the power of the order less the delay
 * @param delay samples k from input to output, 0 or more
 */
public record DifferenceModel(double[] denominator, double[] numerator, int delay, double period, Estimate estimate) {
    /** As a system. */
    public StateSpace system() {
        int order = Math.max(denominator.length - 1, numerator.length - 1 + delay);
        double[] den = Arrays.copyOf(denominator, order + 1);
        double[] num = new double[order + 1];
        System.arraycopy(numerator, 0, num, delay, numerator.length);
        return StateSpace.transfer(num, den, period);
    }

    /** The output that follows from an input alone, from rest. */
    public double[] simulated(double[] input) {
        return simulated(denominator, numerator, delay, input);
    }

    private static double[] simulated(double[] den, double[] num, int delay, double[] u) {
        double[] y = new double[u.length];
        for (int n = 0; n < u.length; n++) {
            double sum = 0;
            for (int i = 0; i < num.length && n - delay - i >= 0; i++) {
                sum += num[i] * u[n - delay - i];
            }
            for (int i = 1; i < den.length && n - i >= 0; i++) {
                sum -= den[i] * y[n - i];
            }
            y[n] = sum;
        }
        return y;
    }

    /**
     * With the error in the equation (ARX), which one linear least squares problem gives.
     *
     * @param na poles
     * @param nb coefficients of the input
     */
    public static DifferenceModel equationError(Record r, int na, int nb, int delay) {
        int first = Math.max(na, nb - 1 + delay);
        int rows = r.size() - first;
        int n = na + nb;
        if (rows < 2 * n) {
            throw new NoSolutionException("The record is too short for " + n + " coefficients.", "Choose a longer span, or a lower order.");
        }
        var phi = new SimpleMatrix(rows, n);
        var y = new SimpleMatrix(rows, 1);
        for (int k = 0; k < rows; k++) {
            int at = k + first;
            y.set(k, 0, r.output()[at]);
            for (int i = 1; i <= na; i++) {
                phi.set(k, i - 1, -r.output()[at - i]);
            }
            for (int i = 0; i < nb; i++) {
                phi.set(k, na + i, r.input()[at - delay - i]);
            }
        }
        SimpleMatrix theta;
        try {
            theta = phi.solve(y);
        } catch (RuntimeException e) {
            throw new NoSolutionException("The input does not excite the plant enough for " + n + " coefficients.",
                    "Choose a lower order, or excite the input with more frequencies.");
        }
        SimpleMatrix residuals = y.minus(phi.mult(theta));
        double variance = residuals.normF() * residuals.normF() / (rows - n);
        SimpleMatrix covariance = phi.transpose().mult(phi).pseudoInverse().scale(variance);
        List<Estimate.Value> values = new ArrayList<>();
        double[][] correlation = new double[n][n];
        for (int i = 0; i < n; i++) {
            values.add(new Estimate.Value(name(i, na), theta.get(i, 0), Math.sqrt(covariance.get(i, i))));
            for (int k = 0; k < n; k++) {
                correlation[i][k] = covariance.get(i, k) / Math.sqrt(covariance.get(i, i) * covariance.get(k, k));
            }
        }
        double[] den = new double[na + 1];
        den[0] = 1;
        double[] num = new double[nb];
        for (int i = 0; i < n; i++) {
            if (i < na) {
                den[i + 1] = theta.get(i, 0);
            } else {
                num[i - na] = theta.get(i, 0);
            }
        }
        Whiteness white = Whiteness.of(residuals.getDDRM().getData(), na);
        double[] predicted = simulated(den, num, delay, r.input());
        var estimate = new Estimate(values, correlation, Math.sqrt(variance), Estimate.fit(r.output(), predicted), white, white.isWhite()
                ? List.of() : List.of("The residuals are not white: choose a higher order, or a model with the error at the output."));
        return new DifferenceModel(den, num, delay, r.period(), estimate);
    }

    private static String name(int i, int na) {
        return i < na ? "a" + (i + 1) : "b" + (i - na + 1);
    }

    /** With the error at the output (OE), from the best of a few first models. */
    public static DifferenceModel outputError(Record r, int poles, int nb, int delay) {
        // An equation of higher order is less pulled by the noise; its simulated output gives the first values.
        var rich = equationError(r, Math.min(poles + 6, r.size() / 10), Math.min(nb + 6, r.size() / 10), delay);
        double[] clean = rich.simulated(r.input());
        DifferenceModel start;
        try {
            start = Arrays.stream(clean).allMatch(v -> Math.abs(v) < 1e6 * (1 + range(r.output())))
                    ? equationError(new Record(r.period(), r.input(), clean), poles, nb, delay) : equationError(r, poles, nb, delay);
        } catch (NoSolutionException e) {
            start = equationError(r, poles, nb, delay);
        }
        List<LeastSquares.Parameter> parameters = new ArrayList<>();
        for (int i = 0; i < poles + nb; i++) {
            double v = i < poles ? start.denominator()[i + 1] : start.numerator()[i - poles];
            parameters.add(new LeastSquares.Parameter(name(i, poles), v, Double.NEGATIVE_INFINITY, Double.POSITIVE_INFINITY));
        }
        Estimate e = LeastSquares.fit(p -> simulated(coefficients(p, 0, poles, true), coefficients(p, poles, nb, false), delay, r.input()),
                r.output(), parameters);
        double[] p = e.values().stream().mapToDouble(Estimate.Value::value).toArray();
        return new DifferenceModel(coefficients(p, 0, poles, true), coefficients(p, poles, nb, false), delay, r.period(), e);
    }

    private static double range(double[] all) {
        return Arrays.stream(all).max().orElse(0) - Arrays.stream(all).min().orElse(0);
    }

    private static double[] coefficients(double[] p, int from, int count, boolean monic) {
        double[] all = new double[count + (monic ? 1 : 0)];
        all[0] = 1;
        System.arraycopy(p, from, all, monic ? 1 : 0, count);
        return all;
    }
}
