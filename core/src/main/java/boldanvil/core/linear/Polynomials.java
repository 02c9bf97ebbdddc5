package boldanvil.core.linear;

import java.util.Arrays;
import org.ejml.simple.SimpleMatrix;
import org.hipparchus.complex.Complex;

/** Polynomials with real coefficients, in falling powers. */
public final class Polynomials {
    private Polynomials() {}

    /** Without leading zeros; one coefficient at least. */
    static double[] trimmed(double[] p) {
        int first = 0;
        while (first < p.length - 1 && p[first] == 0) {
            first++;
        }
        return Arrays.copyOfRange(p, first, p.length);
    }

    /** All roots, as eigenvalues of the companion matrix. */
    public static Complex[] roots(double... p) {
        double[] t = trimmed(p);
        int n = t.length - 1;
        var companion = new SimpleMatrix(n, n);
        for (int i = 0; i < n; i++) {
            companion.set(0, i, -t[i + 1] / t[0]);
            if (i > 0) {
                companion.set(i, i - 1, 1);
            }
        }
        return Eigenvalues.of(companion);
    }

    /** The polynomial with these roots, which come in conjugate pairs, and the leading coefficient 1. */
    public static double[] withRoots(Complex... roots) {
        Complex[] p = {Complex.ONE};
        for (Complex r : roots) {
            Complex[] next = new Complex[p.length + 1];
            for (int i = 0; i <= p.length; i++) {
                Complex up = i < p.length ? p[i] : Complex.ZERO;
                next[i] = i == 0 ? up : up.subtract(p[i - 1].multiply(r));
            }
            p = next;
        }
        return Arrays.stream(p).mapToDouble(Complex::getRealPart).toArray();
    }

    /**
     * The transfer function of a system with one input and one output.
     *
     * @return numerator and denominator, whose leading coefficient is 1
     */
    public static double[][] of(StateSpace s) {
        Zeros z = Zeros.of(s);
        return new double[][] {Arrays.stream(withRoots(z.zeros())).map(v -> v * z.gain()).toArray(), withRoots(s.poles())};
    }

    /** The value at a point. */
    public static Complex at(double[] p, Complex x) {
        Complex sum = Complex.ZERO;
        for (double c : p) {
            sum = sum.multiply(x).add(c);
        }
        return sum;
    }
}
