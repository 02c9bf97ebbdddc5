package boldanvil.core.identify;

import boldanvil.core.linear.NoSolutionException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.stream.IntStream;
import org.ejml.simple.SimpleMatrix;
import org.hipparchus.exception.MathRuntimeException;
import org.hipparchus.linear.ArrayRealVector;
import org.hipparchus.linear.MatrixUtils;
import org.hipparchus.linear.RealMatrix;
import org.hipparchus.linear.RealVector;
import org.hipparchus.optim.nonlinear.vector.leastsquares.LeastSquaresBuilder;
import org.hipparchus.optim.nonlinear.vector.leastsquares.LevenbergMarquardtOptimizer;
import org.hipparchus.optim.nonlinear.vector.leastsquares.MultivariateJacobianFunction;
import org.hipparchus.util.Pair;

/**
 * Parameters for which a model predicts a record best, by the method of Levenberg and Marquardt (Moré, in Numerical Analysis, 1978) within
 * limits. Derivatives are central differences, each parameter on a scale of its own; the model is called by several threads at once.
 */
public final class LeastSquares {
    /** Samples over which residuals may depend on each other, at most. */
    private static final int MOST_LAGS = 300;
    private static final double STEP = 1e-5;
    private static final int ROUNDS = 60;
    private static final int CALLS = 200;
    /** Correlation of errors above which two values count as not distinguished. */
    private static final double ALIKE = 0.98;
    /** A prediction that is not finite counts as so many times the range of the output. */
    private static final double FAR = 1e3;

    /** What a model predicts for some parameters; as many numbers as were measured. Safe for use by several threads. */
    public interface Model {
        double[] of(double[] parameters);
    }

    /** A parameter with its first value and its limits. */
    public record Parameter(String name, double start, double low, double high) {
        public Parameter {
            if (!(low <= start && start <= high)) {
                throw new NoSolutionException(String.format(Locale.ROOT,
                        "The first value of '%s', %s, is not within its limits %s and %s.", name,
                        start, low, high), "Choose limits around it.");
            }
        }

        /** An amount that counts. */
        double scale() {
            double range = high - low;
            return start != 0 ? Math.abs(start) : Double.isFinite(range) ? range / 10 : 1;
        }
    }

    private final Model model;
    private final double[] measured;
    private final List<Parameter> parameters;
    private final double range;

    private LeastSquares(Model model, double[] measured, List<Parameter> parameters) {
        this.model = model;
        this.measured = measured;
        this.parameters = parameters;
        double low = Arrays.stream(measured).min().orElse(0);
        double high = Arrays.stream(measured).max().orElse(1);
        range = Math.max(high - low, 1e-300);
    }

    /**
     * Fits a model.
     *
     * @throws NoSolutionException when there is no sensible start, or a parameter has no effect
     */
    public static Estimate fit(Model model, double[] measured, List<Parameter> parameters) {
        return new LeastSquares(model, measured, parameters).fit();
    }

    private double[] clamped(double[] scaled) {
        double[] p = new double[scaled.length];
        for (int i = 0; i < p.length; i++) {
            p[i] = Math.clamp(scaled[i] * parameters.get(i).scale(), parameters.get(i).low(), parameters.get(i).high());
        }
        return p;
    }

    private double[] predicted(double[] p) {
        double[] y = model.of(p);
        for (int i = 0; i < y.length; i++) {
            // A model that runs away is far from the record, but not infinitely far, so that the search turns round.
            y[i] = Double.isFinite(y[i]) ? Math.clamp(y[i], measured[i] - FAR * range, measured[i] + FAR * range) : measured[i]
                    + FAR * range;
        }
        return y;
    }

    private Estimate fit() {
        int n = parameters.size();
        MultivariateJacobianFunction both = x -> {
            double[] p = clamped(x.toArray());
            return new Pair<RealVector, RealMatrix>(new ArrayRealVector(predicted(p), false), jacobian(p));
        };
        double[] start = parameters.stream().mapToDouble(q -> q.start() / q.scale()).toArray();
        double[] found;
        try {
            var problem = new LeastSquaresBuilder().start(start).target(measured).model(both).maxEvaluations(CALLS).maxIterations(ROUNDS)
                    .parameterValidator(x -> {
                        double[] p = clamped(x.toArray());
                        return new ArrayRealVector(IntStream.range(0, n).mapToDouble(i -> p[i] / parameters.get(i).scale()).toArray(),
                                false);
                    }).build();
            found = clamped(new LevenbergMarquardtOptimizer().withCostRelativeTolerance(1e-10).withParameterRelativeTolerance(1e-8)
                    .optimize(problem).getPoint().toArray());
        } catch (MathRuntimeException e) {
            throw new NoSolutionException("The search for the best values does not come to an end.",
                    "Choose first values nearer to the truth, narrower limits, or fewer free values.");
        }
        return estimate(found);
    }

    /** The derivatives of the prediction by the scaled parameters. */
    private RealMatrix jacobian(double[] p) {
        double[][] columns = IntStream.range(0, p.length).parallel().mapToObj(i -> slope(p, i)).toArray(double[][]::new);
        double[][] rows = new double[measured.length][p.length];
        for (int i = 0; i < p.length; i++) {
            for (int k = 0; k < rows.length; k++) {
                rows[k][i] = columns[i][k];
            }
        }
        return MatrixUtils.createRealMatrix(rows);
    }

    private double[] slope(double[] p, int i) {
        Parameter q = parameters.get(i);
        double h = STEP * Math.max(Math.abs(p[i]), q.scale());
        double[] above = p.clone();
        double[] below = p.clone();
        above[i] = Math.min(p[i] + h, q.high());
        below[i] = Math.max(p[i] - h, q.low());
        double[] a = predicted(above);
        double[] b = predicted(below);
        double width = (above[i] - below[i]) / q.scale();
        for (int k = 0; k < a.length; k++) {
            a[k] = width == 0 ? 0 : (a[k] - b[k]) / width;
        }
        return a;
    }

    /**
     * The covariance of the scaled values when residuals depend on those before them (Newey and West, Econometrica 55, 1987).
     *
     * @param size of the columns of the Jacobian
     * @param inverse of the normal matrix with columns of size one
     */
    private static SimpleMatrix coloured(SimpleMatrix j, double[] residuals, double[] size, SimpleMatrix inverse) {
        int rows = residuals.length;
        int n = size.length;
        double[] correlation = Whiteness.correlation(residuals, Math.min(MOST_LAGS, rows / 10));
        int lags = 1;
        while (lags < correlation.length - 1 && Math.abs(correlation[lags]) > Estimate.BOUND / Math.sqrt(rows)) {
            lags++;
        }
        lags = Math.min(2 * lags, correlation.length - 1);
        double[][] g = new double[rows][n];
        for (int t = 0; t < rows; t++) {
            for (int i = 0; i < n; i++) {
                g[t][i] = j.get(t, i) / size[i] * residuals[t];
            }
        }
        var sum = new SimpleMatrix(n, n);
        for (int k = 0; k <= lags; k++) {
            double weight = 1 - k / (lags + 1.0);
            for (int i = 0; i < n; i++) {
                for (int m = 0; m < n; m++) {
                    double s = 0;
                    for (int t = k; t < rows; t++) {
                        s += g[t][i] * g[t - k][m];
                    }
                    sum.set(i, m, sum.get(i, m) + weight * s);
                    if (k > 0) {
                        sum.set(m, i, sum.get(m, i) + weight * s);
                    }
                }
            }
        }
        return inverse.mult(sum).mult(inverse);
    }

    private Estimate estimate(double[] p) {
        int n = p.length;
        double[] y = predicted(p);
        double[] residuals = new double[y.length];
        double sum = 0;
        for (int k = 0; k < y.length; k++) {
            residuals[k] = measured[k] - y[k];
            sum += residuals[k] * residuals[k];
        }
        var j = new SimpleMatrix(jacobian(p).getData());
        double variance = sum / Math.max(1, y.length - n);
        List<String> warnings = new ArrayList<>();
        SimpleMatrix information = j.transpose().mult(j);
        double[] sigma = new double[n];
        double[][] correlation = new double[n][n];
        var normal = new SimpleMatrix(n, n);
        double[] size = new double[n];
        for (int i = 0; i < n; i++) {
            size[i] = Math.sqrt(information.get(i, i));
            if (size[i] == 0) {
                throw new NoSolutionException("The record does not depend on '" + parameters.get(i).name() + "'.",
                        "Hold that value, or record a run in which it matters.");
            }
        }
        for (int i = 0; i < n; i++) {
            for (int k = 0; k < n; k++) {
                normal.set(i, k, information.get(i, k) / (size[i] * size[k]));
            }
        }
        SimpleMatrix inverse = normal.pseudoInverse();
        Whiteness white = Whiteness.of(residuals, 0);
        SimpleMatrix covariance = white.isWhite() ? inverse.scale(variance) : coloured(j, residuals, size, inverse);
        for (int i = 0; i < n; i++) {
            sigma[i] = Math.sqrt(covariance.get(i, i)) / size[i] * parameters.get(i).scale();
            for (int k = 0; k < n; k++) {
                correlation[i][k] = inverse.get(i, k) / Math.sqrt(inverse.get(i, i) * inverse.get(k, k));
                if (k < i && Math.abs(correlation[i][k]) > ALIKE) {
                    warnings.add(String.format(Locale.ROOT, "The record does not distinguish '%s' from '%s': their errors have the "
                            + "correlation %.3f. Hold one of them, or record a run that moves them differently.", parameters.get(k).name(),
                            parameters.get(i).name(), correlation[i][k]));
                }
            }
            Parameter q = parameters.get(i);
            if (p[i] == q.low() || p[i] == q.high()) {
                warnings.add(String.format(Locale.ROOT, "'%s' came to its limit %.6g.", q.name(), p[i]));
            }
        }
        if (!white.isWhite()) {
            warnings.add("The residuals are not white: the model lacks something, or the noise is coloured. The bounds allow for such "
                    + "noise.");
        }
        List<Estimate.Value> values = new ArrayList<>();
        for (int i = 0; i < n; i++) {
            values.add(new Estimate.Value(parameters.get(i).name(), p[i], sigma[i]));
        }
        return new Estimate(values, correlation, Math.sqrt(sum / y.length), Estimate.fit(measured, y), white, List.copyOf(warnings));
    }
}
