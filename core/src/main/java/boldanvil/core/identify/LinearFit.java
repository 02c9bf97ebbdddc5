package boldanvil.core.identify;

import boldanvil.core.linear.NoSolutionException;
import java.util.ArrayList;
import java.util.List;
import org.ejml.data.SingularMatrixException;
import org.ejml.simple.SimpleMatrix;

/** Linear least squares with bounds. */
final class LinearFit {
    private LinearFit() {}

    /**
     * y = Σ value · x.
     *
     * @param rows one for each sample, with the factor of each value
     * @throws NoSolutionException when the rows do not determine the values
     */
    static Estimate of(List<double[]> rows, List<Double> ys, List<String> names) {
        int n = names.size();
        if (rows.size() < 5 * n) {
            throw new NoSolutionException("Only " + rows.size() + " samples of the span can be used.",
                    "Choose a longer span, or one in which the signals move as the steps say.");
        }
        var x = new SimpleMatrix(rows.toArray(double[][]::new));
        var y = new SimpleMatrix(ys.size(), 1, true, ys.stream().mapToDouble(Double::doubleValue).toArray());
        SimpleMatrix found;
        SimpleMatrix inverse;
        try {
            found = x.solve(y);
            inverse = x.transpose().mult(x).invert();
        } catch (SingularMatrixException e) {
            throw undetermined();
        }
        SimpleMatrix predicted = x.mult(found);
        SimpleMatrix residuals = y.minus(predicted);
        double variance = residuals.normF() * residuals.normF() / (rows.size() - n);
        List<Estimate.Value> values = new ArrayList<>();
        double[][] correlation = new double[n][n];
        for (int i = 0; i < n; i++) {
            double sigma = Math.sqrt(variance * inverse.get(i, i));
            if (!Double.isFinite(found.get(i, 0)) || !Double.isFinite(sigma)) {
                throw undetermined();
            }
            values.add(new Estimate.Value(names.get(i), found.get(i, 0), sigma));
            for (int k = 0; k < n; k++) {
                correlation[i][k] = inverse.get(i, k) / Math.sqrt(inverse.get(i, i) * inverse.get(k, k));
            }
        }
        double[] left = residuals.getDDRM().getData();
        return new Estimate(values, correlation, Math.sqrt(variance), Estimate.fit(y.getDDRM().getData(), predicted.getDDRM().getData()),
                Whiteness.of(left, 0), List.of());
    }

    private static NoSolutionException undetermined() {
        return new NoSolutionException("The span does not determine the values: what should differ is the same all the time.",
                "Choose a span in which the signals move as the steps say.");
    }
}
