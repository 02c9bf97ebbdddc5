package boldanvil.core.linear;

import java.util.Arrays;
import java.util.Comparator;
import java.util.stream.IntStream;
import org.ejml.simple.SimpleMatrix;
import org.hipparchus.complex.Complex;
import org.hipparchus.exception.MathRuntimeException;
import org.hipparchus.linear.EigenDecompositionNonSymmetric;
import org.hipparchus.linear.MatrixUtils;

/** Eigenvalues of real matrices. */
public final class Eigenvalues {
    private Eigenvalues() {}

    /**
     * All eigenvalues, by real and then by imaginary part; those that are not real come in pairs that are conjugate to the last bit.
     *
     * @throws NoSolutionException when a number is not finite, or no method converges
     */
    public static Complex[] of(SimpleMatrix m) {
        if (m.getNumRows() == 0) {
            return new Complex[0];
        }
        if (m.hasUncountable()) {
            throw new NoSolutionException("A matrix has numbers that are not finite.", "Check the values of the plant and the gains.");
        }
        Complex[] all;
        try {
            var e = m.eig();
            all = IntStream.range(0, m.getNumRows()).mapToObj(i -> new Complex(e.getEigenvalue(i).getReal(),
                    e.getEigenvalue(i).getImaginary())).toArray(Complex[]::new);
        } catch (RuntimeException first) {
            // EJML gives up after a number of iterations; the other library shifts in another way.
            all = other(m);
        }
        Arrays.sort(all, Comparator.comparingDouble(Complex::getRealPart).thenComparingDouble(Complex::getImaginaryPart));
        return all;
    }

    private static Complex[] other(SimpleMatrix m) {
        try {
            return new EigenDecompositionNonSymmetric(MatrixUtils.createRealMatrix(m.toArray2())).getEigenvalues();
        } catch (MathRuntimeException e) {
            throw new NoSolutionException("The eigenvalues of a matrix cannot be found.",
                    "Scale the plant so that its numbers are of like size.");
        }
    }
}
