package boldanvil.core.identify;

import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.linear.StateSpace;
import org.ejml.dense.row.factory.DecompositionFactory_DDRM;
import org.ejml.simple.SimpleMatrix;

/**
 * A sampled system from a record by its subspaces: the future outputs, less what the future inputs do, lie in the range of the
 * observability matrix (MOESP with past inputs and outputs as instruments; Verhaegen, Automatica 30, 1994). B, D and the state at the
 * start follow by linear least squares.
 *
 * @param system of the order that was chosen
 * @param singular how much each state has to do with the output, falling; a gap shows the order
 * @param predicted the output of the record from its input and the first state that fits best
 */
public record Subspace(StateSpace system, double[] singular, double[] predicted, double fit) {
    /** Most samples that are used at once. */
    private static final int MOST = 20_000;

    /**
     * @param order of the system; 0 to choose it by the largest gap
     * @param blocks future and past samples in a row, more than the order
     */
    public static Subspace of(Record whole, int order, int blocks) {
        Record r = whole.size() > MOST ? whole.between(0, MOST) : whole;
        int columns = r.size() - 2 * blocks + 1;
        if (columns < 6 * blocks || order >= blocks) {
            throw new NoSolutionException("The record is too short for " + blocks + " samples in a row.",
                    "Choose a longer span, or a lower order.");
        }
        var stack = new SimpleMatrix(columns, 4 * blocks);
        double scale = 1 / Math.sqrt(columns);
        for (int k = 0; k < columns; k++) {
            for (int i = 0; i < blocks; i++) {
                stack.set(k, i, r.input()[k + blocks + i] * scale);
                stack.set(k, blocks + i, r.input()[k + i] * scale);
                stack.set(k, 2 * blocks + i, r.output()[k + i] * scale);
                stack.set(k, 3 * blocks + i, r.output()[k + blocks + i] * scale);
            }
        }
        // The lower triangular factor of the stacked rows.
        var qr = DecompositionFactory_DDRM.qr(columns, 4 * blocks);
        qr.decompose(stack.getDDRM().copy());
        SimpleMatrix l = SimpleMatrix.wrap(qr.getR(null, true)).transpose();
        SimpleMatrix future = l.extractMatrix(3 * blocks, 4 * blocks, blocks, 3 * blocks);
        var svd = future.svd();
        double[] singular = svd.getSingularValues();
        int n = order > 0 ? order : gap(singular, blocks - 1);
        var observability = new SimpleMatrix(blocks, n);
        for (int i = 0; i < blocks; i++) {
            for (int j = 0; j < n; j++) {
                observability.set(i, j, svd.getU().get(i, j) * Math.sqrt(singular[j]));
            }
        }
        SimpleMatrix a = observability.extractMatrix(0, blocks - 1, 0, n).pseudoInverse()
                .mult(observability.extractMatrix(1, blocks, 0, n));
        SimpleMatrix c = observability.extractMatrix(0, 1, 0, n);
        return inputs(r, a, c, singular);
    }

    private static int gap(double[] singular, int most) {
        int best = 1;
        double largest = 0;
        for (int i = 1; i < Math.min(singular.length, most); i++) {
            double ratio = singular[i - 1] / Math.max(singular[i], 1e-300);
            if (ratio > largest) {
                largest = ratio;
                best = i;
            }
        }
        return best;
    }

    /** B, D and the first state: the output is linear in them. */
    private static Subspace inputs(Record r, SimpleMatrix a, SimpleMatrix c, double[] singular) {
        int n = a.getNumRows();
        int rows = r.size();
        var regressor = new SimpleMatrix(rows, 2 * n + 1);
        double[][] response = new double[n][n];
        SimpleMatrix free = SimpleMatrix.identity(n);
        for (int k = 0; k < rows; k++) {
            for (int j = 0; j < n; j++) {
                double sum = 0;
                double start = 0;
                for (int i = 0; i < n; i++) {
                    sum += c.get(0, i) * response[j][i];
                    start += c.get(0, i) * free.get(i, j);
                }
                regressor.set(k, j, sum);
                regressor.set(k, n + 1 + j, start);
            }
            regressor.set(k, n, r.input()[k]);
            for (int j = 0; j < n; j++) {
                double[] next = new double[n];
                for (int i = 0; i < n; i++) {
                    next[i] = i == j ? r.input()[k] : 0;
                    for (int m = 0; m < n; m++) {
                        next[i] += a.get(i, m) * response[j][m];
                    }
                }
                response[j] = next;
            }
            free = a.mult(free);
        }
        if (regressor.hasUncountable()) {
            throw new NoSolutionException("The model of this order is not stable over the record.", "Choose another order.");
        }
        var y = new SimpleMatrix(rows, 1, true, r.output());
        SimpleMatrix theta = regressor.pseudoInverse().mult(y);
        double[] predicted = regressor.mult(theta).getDDRM().getData();
        var system = new StateSpace(a, theta.extractMatrix(0, n, 0, 1), c, theta.extractMatrix(n, n + 1, 0, 1), r.period());
        return new Subspace(system, singular, predicted, Estimate.fit(r.output(), predicted));
    }
}
