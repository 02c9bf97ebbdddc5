package boldanvil.core.linear;

import java.util.Arrays;
import org.ejml.simple.SimpleMatrix;
import org.hipparchus.complex.Complex;

/**
 * dx/dt = A x + B u, or x[n+1] = A x[n] + B u[n]; y = C x + D u.
 *
 * @param period sample time in seconds; 0 for a continuous system
 */
public record StateSpace(SimpleMatrix a, SimpleMatrix b, SimpleMatrix c, SimpleMatrix d, double period) {
    /** @throws IllegalArgumentException when the shapes do not fit */
    public StateSpace {
        int n = a.getNumRows();
        if (a.getNumCols() != n || b.getNumRows() != n || c.getNumCols() != n || d.getNumRows() != c.getNumRows()
                || d.getNumCols() != b.getNumCols() || !(period >= 0)) {
            throw new IllegalArgumentException("shapes " + a.getNumRows() + "×" + a.getNumCols() + ", " + b.getNumRows() + "×"
                    + b.getNumCols()
                    + ", " + c.getNumRows() + "×" + c.getNumCols() + ", " + d.getNumRows() + "×" + d.getNumCols());
        }
    }

    /** One input and one output; vectors are given as such. */
    public static StateSpace single(double[][] a, double[] b, double[] c, double d, double period) {
        int n = a.length;
        var m = new SimpleMatrix(n, n);
        var in = new SimpleMatrix(n, 1);
        var out = new SimpleMatrix(1, n);
        for (int i = 0; i < n; i++) {
            in.set(i, 0, b[i]);
            out.set(0, i, c[i]);
            for (int j = 0; j < n; j++) {
                m.set(i, j, a[i][j]);
            }
        }
        return new StateSpace(m, in, out, new SimpleMatrix(new double[][] {{d}}), period);
    }

    /** A gain without states. */
    public static StateSpace gain(double k, double period) {
        return single(new double[0][0], new double[0], new double[0], k, period);
    }

    /**
     * A transfer function in the controllable canonical form.
     *
     * @param numerator in falling powers, of no higher degree than the denominator
     * @throws NoSolutionException when it is of higher degree, or the denominator is zero
     */
    public static StateSpace transfer(double[] numerator, double[] denominator, double period) {
        double[] num = Polynomials.trimmed(numerator);
        double[] den = Polynomials.trimmed(denominator);
        if (den[0] == 0) {
            throw new NoSolutionException("The denominator is zero.", "Give the denominator a coefficient other than zero.");
        }
        int n = den.length - 1;
        if (num.length > den.length) {
            throw new NoSolutionException("The numerator has a higher degree than the denominator.",
                    "Add a pole, such as that of a filter, for each zero too many.");
        }
        double[] full = new double[n + 1];
        System.arraycopy(num, 0, full, n + 1 - num.length, num.length);
        double direct = full[0] / den[0];
        double[][] a = new double[n][n];
        double[] b = new double[n];
        double[] c = new double[n];
        for (int i = 0; i < n; i++) {
            a[0][i] = -den[i + 1] / den[0];
            c[i] = full[i + 1] / den[0] - direct * den[i + 1] / den[0];
            if (i > 0) {
                a[i][i - 1] = 1;
            }
        }
        if (n > 0) {
            b[0] = 1;
        }
        return single(a, b, c, direct, period);
    }

    /** Zeros, poles and a gain; each in conjugate pairs. */
    public static StateSpace zerosPolesGain(Complex[] zeros, Complex[] poles, double gain, double period) {
        double[] num = Arrays.stream(Polynomials.withRoots(zeros)).map(v -> v * gain).toArray();
        return transfer(num, Polynomials.withRoots(poles), period);
    }

    public int states() {
        return a.getNumRows();
    }

    public int inputs() {
        return b.getNumCols();
    }

    public int outputs() {
        return c.getNumRows();
    }

    public boolean isSampled() {
        return period > 0;
    }

    public Complex[] poles() {
        return Eigenvalues.of(a);
    }

    /** Whether all poles are where motions die out. */
    public boolean isStable() {
        return Arrays.stream(poles()).allMatch(this::isStable);
    }

    /** Whether a pole is where motions die out. */
    public boolean isStable(Complex pole) {
        return isSampled() ? pole.norm() < 1 : pole.getRealPart() < 0;
    }

    /** The continuous pole that a pole stands for: itself, or ln z / T. */
    public Complex rate(Complex pole) {
        return isSampled() ? pole.log().divide(period) : pole;
    }

    /** One output over one input. */
    public StateSpace channel(int output, int input) {
        return new StateSpace(a, b.extractVector(false, input), c.extractVector(true, output),
                new SimpleMatrix(new double[][] {{d.get(output, input)}}), period);
    }

    /** The same with outputs that are larger by a factor. */
    public StateSpace times(double k) {
        return new StateSpace(a, b, c.scale(k), d.scale(k), period);
    }

    /** First another system, then this one. */
    public StateSpace after(StateSpace first) {
        requireSamePeriod(first);
        var whole = diagonal(first.a, a);
        whole.insertIntoThis(first.states(), 0, b.mult(first.c));
        return new StateSpace(whole, first.b.concatRows(b.mult(first.d)),
                d.mult(first.c).concatColumns(c), d.mult(first.d), period);
    }

    /** Both with the same input, outputs added. */
    public StateSpace plus(StateSpace other) {
        requireSamePeriod(other);
        return new StateSpace(diagonal(a, other.a), b.concatRows(other.b), c.concatColumns(other.c), d.plus(other.d), period);
    }

    private static SimpleMatrix diagonal(SimpleMatrix first, SimpleMatrix second) {
        int n = first.getNumRows();
        var all = new SimpleMatrix(n + second.getNumRows(), n + second.getNumRows());
        all.insertIntoThis(0, 0, first);
        all.insertIntoThis(n, n, second);
        return all;
    }

    private void requireSamePeriod(StateSpace other) {
        if (other.period != period) {
            throw new IllegalArgumentException("periods " + period + " and " + other.period);
        }
    }

    /**
     * Closes the loop around this system with u = r − y; from r to y.
     *
     * @throws NoSolutionException when the loop is algebraic and has no solution
     */
    public StateSpace closed() {
        var inverse = unit(outputs()).plus(d);
        if (Math.abs(inverse.determinant()) < 1e-14) {
            throw new NoSolutionException("The closed loop has no solution: its direct gain is −1.", "Put a delay or a lag into the loop.");
        }
        var s = inverse.invert();
        return new StateSpace(a.minus(b.mult(s).mult(c)), b.mult(s), s.mult(c), s.mult(d), period);
    }

    /** From r to r − y of the closed loop. */
    public StateSpace sensitivity() {
        var t = closed();
        return new StateSpace(t.a, t.b, t.c.scale(-1), unit(outputs()).minus(t.d), period);
    }

    /** The gain at rest, of one input and output; infinite where there is an integrator. */
    public double gainAtRest() {
        var m = isSampled() ? unit(states()).minus(a) : a.scale(-1);
        if (states() == 0) {
            return d.get(0, 0);
        }
        return isRegular(m) ? c.mult(m.solve(b)).plus(d).get(0, 0) : Double.POSITIVE_INFINITY;
    }

    /** Whether a matrix can be inverted with some digits left. */
    static boolean isRegular(SimpleMatrix m) {
        double[] values = m.svd().getSingularValues();
        return values.length == 0 || values[values.length - 1] > 1e-15 * values[0];
    }

    static SimpleMatrix unit(int n) {
        return SimpleMatrix.identity(n);
    }
}
