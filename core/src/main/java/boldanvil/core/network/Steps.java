package boldanvil.core.network;

import org.hipparchus.linear.MatrixUtils;
import org.hipparchus.linear.RealMatrix;

/**
 * Exact steps of a network while its switches stand and its inputs hold: states after a step are linear in states, inputs and the constant
 * before it, with the matrix exponential as factors (Van Loan, IEEE Trans. Automatic Control 23, 1978). Steps are made for a length and its
 * halves, quarters and so on, so that a step can be divided where a switch changes.
 */
public final class Steps {
    /** Most factors in all; fewer divisions are made of networks with many switches. */
    private static final int MOST = 200_000;
    /** A step is divided down to 1/1024 where there is room for the factors. */
    private static final int FINEST = 10;

    private final int levels;
    private final double[] factors;
    private final int size;

    private Steps(int levels, double[] factors, int size) {
        this.levels = levels;
        this.factors = factors;
        this.size = size;
    }

    /** @param seconds length of the whole step */
    public static Steps of(Network n, double seconds) {
        int states = n.states().size();
        int columns = states + n.inputs().size() + 1;
        int size = states * columns;
        boolean divided = !n.carriers().isEmpty() || n.switches().stream().anyMatch(Network.Switch::conducts);
        int levels = 1 + (divided ? Math.clamp(MOST / Math.max(1, (long) size * n.positions().size()) - 1, 0, FINEST) : 0);
        double[] factors = new double[n.positions().size() * levels * size];
        for (int p = 0; p < n.positions().size(); p++) {
            for (int l = 0; l < levels; l++) {
                RealMatrix whole = MatrixUtils.createRealMatrix(columns, columns);
                double h = seconds / (1 << l);
                for (int i = 0; i < states; i++) {
                    for (int j = 0; j < columns; j++) {
                        whole.setEntry(i, j, n.positions().get(p).rates()[i][j] * h);
                    }
                }
                RealMatrix e = MatrixUtils.matrixExponential(whole);
                for (int i = 0; i < states; i++) {
                    for (int j = 0; j < columns; j++) {
                        factors[(p * levels + l) * size + i * columns + j] = e.getEntry(i, j);
                    }
                }
            }
        }
        return new Steps(levels, factors, size);
    }

    /** How many lengths there are: the whole step, its half, its quarter … */
    public int levels() {
        return levels;
    }

    /** The factors by position of the switches, length, state and column; each index runs faster than the one before. */
    public double[] factors() {
        return factors.clone();
    }

    /** Whether a factor, by its place among those of one position and length, is other than zero in any. */
    public boolean isUsed(int at) {
        for (int k = at; k < factors.length; k += size) {
            if (factors[k] != 0) {
                return true;
            }
        }
        return false;
    }

    /** How many factors there are for one position and length. */
    public int size() {
        return size;
    }
}
