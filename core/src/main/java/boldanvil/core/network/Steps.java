package boldanvil.core.network;

import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.WeakHashMap;
import org.hipparchus.linear.MatrixUtils;
import org.hipparchus.linear.RealMatrix;

/**
 * Steps of a network while its switches stand and its inputs hold. States after a step are linear in states, inputs, the constant and the
 * functions before it, and the functions after it, with the matrix exponential as factors (Van Loan, IEEE Trans. Automatic Control 23,
 * 1978). What is linear is exact; functions count as linear in time during a step (exponential trapezoidal rule, second order, stable where
 * functions are stiff: Hochbruck and Ostermann, Acta Numerica 19, 2010). So that a step can be divided where a switch changes, it has base²
 * units, and there are steps of each number of units below the base and of each multiple of the base: two make up any whole number.
 */
public final class Steps {
    /** Most factors in all; a step is divided into fewer units in networks with many switches. */
    private static final int MOST = 300_000;
    private static final int[] BASES = {16, 8, 4, 2};

    /** Steps of networks that are still in use; a network is told by its identity, since its numbers are arrays. */
    private static final Map<Network, Map<Double, Steps>> MADE = new WeakHashMap<>();

    private final int base;
    private final int levels;
    private final double[] factors;
    private final double[] couplings;
    private final int[] places;
    private final int size;
    private final int couplingSize;

    private Steps(int base, int levels, double[] factors, double[] couplings, int[] places, int size, int couplingSize) {
        this.base = base;
        this.levels = levels;
        this.factors = factors;
        this.couplings = couplings;
        this.places = places;
        this.size = size;
        this.couplingSize = couplingSize;
    }

    /**
     * Steps of a network, which are made once for each length.
     *
     * @param seconds length of the whole step
     */
    public static Steps of(Network n, double seconds) {
        synchronized (MADE) {
            return MADE.computeIfAbsent(n, _ -> new HashMap<>()).computeIfAbsent(seconds, h -> make(n, h));
        }
    }

    private static Steps make(Network n, double seconds) {
        int arguments = n.functions().stream().mapToInt(Network.Function::arguments).sum();
        int couplingSize = arguments * n.functions().size();
        List<RealMatrix> whole = n.positions().stream().map(p -> whole(n, p.rates(), seconds)).toList();
        List<boolean[][]> reaches = whole.stream().map(Steps::reaches).toList();
        int[] places = places(n, reaches);
        int size = (int) Arrays.stream(places).filter(at -> at >= 0).count();
        boolean divided = !n.carriers().isEmpty() || n.switches().stream().anyMatch(s -> s.how().isOwn());
        long one = Math.max(1, (long) size * n.positions().size());
        int base = divided ? Arrays.stream(BASES).filter(b -> one * (2 * b - 1) <= MOST).findFirst().orElse(1) : 1;
        int levels = 2 * base - 1;
        double[] factors = new double[n.positions().size() * levels * size];
        double[] couplings = new double[n.positions().size() * levels * couplingSize];
        for (int p = 0; p < n.positions().size(); p++) {
            double[][][] lengths = lengths(n, whole.get(p), reaches.get(p), base);
            for (int l = 0; l < levels; l++) {
                double[][] step = lengths[l];
                int width = n.columns() + n.functions().size();
                for (int at = 0; at < places.length; at++) {
                    if (places[at] >= 0) {
                        factors[(p * levels + l) * size + places[at]] = step[at / width][at % width];
                    }
                }
                couple(n, n.positions().get(p), step, couplings, (p * levels + l) * couplingSize);
            }
        }
        return new Steps(base, levels, factors, couplings, places, size, couplingSize);
    }

    /** The place of each factor among those kept; −1 for those that are zero in every position and length. */
    private static int[] places(Network n, List<boolean[][]> reaches) {
        int width = n.columns() + n.functions().size();
        int[] places = new int[n.states().size() * width];
        int next = 0;
        for (int at = 0; at < places.length; at++) {
            int i = at / width;
            int j = at % width;
            places[at] = i == j || reaches.stream().anyMatch(r -> r[i][j]) ? next++ : -1;
        }
        return places;
    }

    /** Rates of states, inputs, functions and constant for the whole step as a unit of time. */
    private static RealMatrix whole(Network n, double[][] rates, double seconds) {
        int columns = n.columns();
        int size = columns + n.functions().size();
        RealMatrix whole = MatrixUtils.createRealMatrix(size, size);
        for (int i = 0; i < n.states().size(); i++) {
            for (int j = 0; j < columns; j++) {
                whole.setEntry(i, j, rates[i][j] * seconds);
            }
        }
        // A function goes from its value before the step to that behind it at an even rate.
        for (int f = 0; f < n.functions().size(); f++) {
            whole.setEntry(n.firstFunction() + f, columns + f, 1);
        }
        return whole;
    }

    /** For each length and state its factors of states, inputs, functions before, constant, and functions after. */
    private static double[][][] lengths(Network n, RealMatrix whole, boolean[][] reaches, int base) {
        double units = base * base;
        double[][][] steps = new double[2 * base - 1][][];
        steps[0] = step(n, MatrixUtils.matrixExponential(whole), 1, reaches);
        if (base > 1) {
            // Lengths between are powers of the shortest.
            RealMatrix one = MatrixUtils.matrixExponential(whole.scalarMultiply(1 / units));
            RealMatrix power = one;
            for (int k = 1; k < base; k++) {
                steps[2 * base - 1 - k] = step(n, power, k / units, reaches);
                power = power.multiply(one);
            }
            RealMatrix coarse = power;
            for (int k = 1; k < base; k++) {
                steps[base - k] = step(n, power, k / (double) base, reaches);
                power = power.multiply(coarse);
            }
        }
        return steps;
    }

    /** @param share of the whole step, by which the functions change as a share of what they do in a whole one */
    private static double[][] step(Network n, RealMatrix e, double share, boolean[][] reaches) {
        int states = n.states().size();
        double[][] rows = new double[states][];
        for (int i = 0; i < states; i++) {
            rows[i] = e.getRow(i);
            // Rounding leaves traces where there is nothing, which would add up over millions of steps.
            for (int j = 0; j < rows[i].length; j++) {
                rows[i][j] = reaches[i][j] ? rows[i][j] : i == j ? 1 : 0;
            }
            for (int f = 0; f < n.functions().size(); f++) {
                rows[i][n.columns() + f] /= share;
                rows[i][n.firstFunction() + f] -= rows[i][n.columns() + f];
            }
        }
        return rows;
    }

    /** Whether a variable acts on another one's rate, directly or through others. */
    private static boolean[][] reaches(RealMatrix m) {
        int n = m.getRowDimension();
        boolean[][] reaches = new boolean[n][n];
        for (int i = 0; i < n; i++) {
            for (int j = 0; j < n; j++) {
                reaches[i][j] = m.getEntry(i, j) != 0;
            }
        }
        for (int k = 0; k < n; k++) {
            for (int i = 0; i < n; i++) {
                for (int j = 0; j < n && reaches[i][k]; j++) {
                    reaches[i][j] |= reaches[k][j];
                }
            }
        }
        return reaches;
    }

    /** How arguments behind a step depend on functions behind it, through the states too. */
    private static void couple(Network n, Network.Position p, double[][] step, double[] couplings, int from) {
        int at = from;
        for (double[][] function : p.arguments()) {
            for (double[] argument : function) {
                for (int f = 0; f < n.functions().size(); f++) {
                    double sum = argument[n.firstFunction() + f];
                    for (int i = 0; i < step.length; i++) {
                        sum += argument[i] * step[i][n.columns() + f];
                    }
                    couplings[at++] = sum;
                }
            }
        }
    }

    /** Units of a length by its number, from the whole step downwards. */
    private static int units(int base, int level) {
        return level < base ? (base - level) * base : 2 * base - 1 - level;
    }

    /** How many lengths there are. */
    public int levels() {
        return levels;
    }

    /** Units of a whole step are the square of this; 1 where steps are not divided. */
    public int base() {
        return base;
    }

    /** Units of a length by its number, from 0 for the whole step. */
    public int units(int level) {
        return units(base, level);
    }

    /** The number of the longest length that is not longer than so many units, which are one at least. */
    public int level(int most) {
        return most >= base ? Math.max(0, base - most / base) : 2 * base - 1 - Math.max(1, most);
    }

    /** The factors by position of the switches, length and place; each index runs faster than the one before. */
    public double[] factors() {
        return factors.clone();
    }

    /** How arguments behind a step depend on functions behind it: by position of the switches, length, argument and function. */
    public double[] couplings() {
        return couplings.clone();
    }

    /**
     * The place of a factor among those kept for one position and length; −1 where it is zero in all of them.
     *
     * @param at number of the state times the number of columns and functions, plus the column; functions behind the step come last
     */
    public int place(int at) {
        return places[at];
    }

    /** How many factors there are for one position and length. */
    public int size() {
        return size;
    }

    /** How many couplings there are for one position and length. */
    public int couplingSize() {
        return couplingSize;
    }

    /** Whether a coupling, by its place among those of one position and length, is other than zero in any. */
    public boolean isCoupled(int at) {
        for (int k = at; k < couplings.length; k += couplingSize) {
            if (couplings[k] != 0) {
                return true;
            }
        }
        return false;
    }
}
