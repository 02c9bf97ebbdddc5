package boldanvil.core.linear;

import org.ejml.simple.SimpleMatrix;
import org.hipparchus.complex.Complex;

/**
 * The zeros of a system with one input and one output, and its gain. While nothing goes straight from input to output, the state that the
 * output shows must stay zero; it is turned into one coordinate and taken away, whose rate is then the output (after Emami-Naeini and Van
 * Dooren, Computation of zeros of linear multivariable systems, Automatica 18, 1982).
 *
 * @param gain the factor k in k (s − z1) … / ((s − p1) …); 0 where nothing goes through
 */
public record Zeros(Complex[] zeros, double gain) {
    /** Share of the size of a matrix that counts as zero, since rounding leaves as much. */
    private static final double NOTHING = 1e-14;

    /** The zeros of a system with one input and one output. */
    public static Zeros of(StateSpace s) {
        SimpleMatrix a = s.a();
        SimpleMatrix b = s.b();
        SimpleMatrix c = s.c();
        double d = s.d().get(0, 0);
        double gain = 1;
        double input = 0;
        double rows = 0;
        while (true) {
            int n = a.getNumRows();
            if (Math.abs(d) > NOTHING * input) {
                return new Zeros(Eigenvalues.of(a.minus(b.mult(c).scale(1 / d))), gain * d);
            }
            if (n == 0 || c.normF() <= NOTHING * rows) {
                return new Zeros(new Complex[0], 0);
            }
            input = b.normF();
            rows = a.normF();
            // A reflection turns what the output shows into the last coordinate.
            SimpleMatrix q = reflection(c);
            a = q.mult(a).mult(q);
            b = q.mult(b);
            double shows = c.mult(q).get(0, n - 1);
            gain *= shows;
            c = a.extractMatrix(n - 1, n, 0, n - 1);
            d = b.get(n - 1, 0);
            b = b.extractMatrix(0, n - 1, 0, 1);
            a = a.extractMatrix(0, n - 1, 0, n - 1);
        }
    }

    /** A symmetric orthogonal matrix that turns a row into one with its last element alone. */
    private static SimpleMatrix reflection(SimpleMatrix row) {
        int n = row.getNumCols();
        SimpleMatrix v = row.transpose();
        double last = v.get(n - 1, 0);
        v.set(n - 1, 0, last + Math.copySign(row.normF(), last));
        double square = v.normF() * v.normF();
        return square == 0 ? SimpleMatrix.identity(n) : SimpleMatrix.identity(n).minus(v.mult(v.transpose()).scale(2 / square));
    }
}
