package boldanvil.core.linear;

import java.util.Arrays;
import java.util.Comparator;
import java.util.Objects;
import java.util.function.Supplier;
import java.util.function.UnaryOperator;
import java.util.stream.IntStream;
import java.util.stream.Stream;
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
        // Each method gives up on some matrices; scaled or transposed, with the same eigenvalues, it comes to an end.
        Complex[] all = Stream.<UnaryOperator<SimpleMatrix>>of(x -> x, Eigenvalues::balanced, x -> balanced(x).transpose()).map(how ->
                how.apply(m)).flatMap(x -> Stream.<Supplier<Complex[]>>of(() -> francis(x), () -> other(x))).map(Supplier::get)
                .filter(Objects::nonNull).findFirst().orElseThrow(() ->
                        new NoSolutionException("The eigenvalues of a matrix cannot be found.",
                        "Scale the plant so that its numbers are of like size."));
        Arrays.sort(all, Comparator.comparingDouble(Complex::getRealPart).thenComparingDouble(Complex::getImaginaryPart));
        return all;
    }

    /** By EJML; null where it gives up. */
    private static Complex[] francis(SimpleMatrix m) {
        try {
            var e = m.eig();
            return IntStream.range(0, m.getNumRows()).mapToObj(i -> new Complex(e.getEigenvalue(i).getReal(),
                    e.getEigenvalue(i).getImaginary())).toArray(Complex[]::new);
        } catch (RuntimeException e) {
            return null;
        }
    }

    /** By Hipparchus; null where it gives up. */
    private static Complex[] other(SimpleMatrix m) {
        try {
            return new EigenDecompositionNonSymmetric(MatrixUtils.createRealMatrix(m.toArray2())).getEigenvalues();
        } catch (MathRuntimeException e) {
            return null;
        }
    }

    /** With rows and columns scaled by powers of two to like size (Parlett and Reinsch, Numerische Mathematik 13, 1969). */
    private static SimpleMatrix balanced(SimpleMatrix m) {
        SimpleMatrix b = m.copy();
        int n = b.getNumRows();
        boolean more = true;
        for (int round = 0; round < 100 && more; round++) {
            more = false;
            for (int i = 0; i < n; i++) {
                double row = 0;
                double column = 0;
                for (int j = 0; j < n; j++) {
                    row += j == i ? 0 : Math.abs(b.get(i, j));
                    column += j == i ? 0 : Math.abs(b.get(j, i));
                }
                if (row == 0 || column == 0) {
                    continue;
                }
                double f = Math.pow(2, Math.rint(Math.log(row / column) / Math.log(4)));
                if (column * f + row / f < 0.95 * (column + row)) {
                    more = true;
                    for (int j = 0; j < n; j++) {
                        b.set(j, i, b.get(j, i) * f);
                        b.set(i, j, b.get(i, j) / f);
                    }
                }
            }
        }
        return b;
    }
}
