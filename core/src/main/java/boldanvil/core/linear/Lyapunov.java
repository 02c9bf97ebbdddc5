package boldanvil.core.linear;

import org.ejml.simple.SimpleMatrix;

/** Equations of Lyapunov for stable matrices, by doubling (Smith, SIAM Journal on Applied Mathematics 16, 1968). */
final class Lyapunov {
    private Lyapunov() {}

    /** X with A X + X Aᵀ + Q = 0; A has its eigenvalues left of the imaginary axis. */
    static SimpleMatrix continuous(SimpleMatrix a, SimpleMatrix q) {
        int n = a.getNumRows();
        double shift = Math.max(Math.sqrt(smallest(a) * Math.max(a.normF(), 1e-300)), 1e-12);
        SimpleMatrix inverse = SimpleMatrix.identity(n).scale(shift).minus(a).invert();
        SimpleMatrix sampled = inverse.mult(SimpleMatrix.identity(n).scale(shift).plus(a));
        return sampled(sampled, inverse.mult(q).mult(inverse.transpose()).scale(2 * shift));
    }

    private static double smallest(SimpleMatrix a) {
        double least = Double.POSITIVE_INFINITY;
        for (var p : Eigenvalues.of(a)) {
            least = Math.min(least, p.norm());
        }
        return Math.max(least, 1e-300);
    }

    /** X with X = A X Aᵀ + Q; A has its eigenvalues within the unit circle. */
    static SimpleMatrix sampled(SimpleMatrix a, SimpleMatrix q) {
        SimpleMatrix x = q;
        SimpleMatrix power = a;
        for (int i = 0; i < 100; i++) {
            SimpleMatrix more = power.mult(x).mult(power.transpose());
            x = x.plus(more);
            power = power.mult(power);
            if (more.normF() <= 1e-17 * x.normF()) {
                break;
            }
        }
        return Riccati.symmetric(x);
    }
}
