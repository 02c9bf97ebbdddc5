package boldanvil.core.linear;

import org.ejml.data.SingularMatrixException;
import org.ejml.simple.SimpleMatrix;

/**
 * Algebraic Riccati equations by structure-preserving doubling, which converges with the square of the error (Chu, Fan and Lin, A
 * structure-preserving doubling algorithm for continuous-time algebraic Riccati equations, Linear Algebra and its Applications 396, 2005;
 * for sampled ones Chu, Fan, Lin and Wang, International Journal of Control 77, 2004).
 */
public final class Riccati {
    private static final int MOST = 80;

    private Riccati() {}

    /**
     * X with AᵀX + XA − X B R⁻¹ Bᵀ X + Q = 0, for which A − B R⁻¹ Bᵀ X is stable.
     *
     * @param r positive definite
     * @param q positive semidefinite
     * @throws NoSolutionException when there is none
     */
    public static SimpleMatrix continuous(SimpleMatrix a, SimpleMatrix b, SimpleMatrix q, SimpleMatrix r) {
        SimpleMatrix g = weighted(b, r);
        int n = a.getNumRows();
        double shift = Math.max(Math.max(a.normF(), Math.sqrt(g.normF() * q.normF())), 1e-9);
        SimpleMatrix last = null;
        for (int attempt = 0; attempt < 5; attempt++, shift *= 1.7) {
            SimpleMatrix shifted = a.minus(SimpleMatrix.identity(n).scale(shift));
            if (!StateSpace.isRegular(shifted)) {
                continue;
            }
            SimpleMatrix inverse = shifted.invert();
            SimpleMatrix w = shifted.transpose().plus(q.mult(inverse).mult(g)).invert();
            SimpleMatrix a0 = SimpleMatrix.identity(n).plus(w.transpose().scale(2 * shift));
            SimpleMatrix g0 = inverse.mult(g).mult(w).scale(2 * shift);
            SimpleMatrix h0 = w.mult(q).mult(inverse).scale(2 * shift);
            last = doubled(a0, symmetric(g0), symmetric(h0));
            if (last != null && isStable(new StateSpace(a.minus(g.mult(last)), new SimpleMatrix(n, 1), new SimpleMatrix(1, n),
                    new SimpleMatrix(1, 1), 0))) {
                return refined(a, g, q, last);
            }
        }
        throw none();
    }

    /**
     * X with X = AᵀXA − AᵀXB (R + BᵀXB)⁻¹ BᵀXA + Q, for which the closed loop is stable.
     *
     * @throws NoSolutionException when there is none
     */
    public static SimpleMatrix sampled(SimpleMatrix a, SimpleMatrix b, SimpleMatrix q, SimpleMatrix r) {
        SimpleMatrix x = doubled(a, weighted(b, r), q);
        if (x == null) {
            throw none();
        }
        SimpleMatrix closed = a.minus(b.mult(gain(a, b, r, x)));
        if (!isStable(new StateSpace(closed, b, new SimpleMatrix(1, a.getNumRows()), new SimpleMatrix(1, b.getNumCols()), 1))) {
            throw none();
        }
        return x;
    }

    /** (R + BᵀXB)⁻¹ BᵀXA. */
    static SimpleMatrix gain(SimpleMatrix a, SimpleMatrix b, SimpleMatrix r, SimpleMatrix x) {
        return r.plus(b.transpose().mult(x).mult(b)).solve(b.transpose().mult(x).mult(a));
    }

    private static boolean isStable(StateSpace s) {
        return s.isStable();
    }

    private static NoSolutionException none() {
        return new NoSolutionException("The Riccati equation has no stabilising solution: a mode that is not stable cannot be moved by the "
                + "input, or is not seen by the cost.",
                        "Give that mode a weight, remove it from the plant, or add an input that moves it.");
    }

    private static SimpleMatrix weighted(SimpleMatrix b, SimpleMatrix r) {
        return symmetric(b.mult(r.solve(b.transpose())));
    }

    static SimpleMatrix symmetric(SimpleMatrix m) {
        return m.plus(m.transpose()).scale(0.5);
    }

    private static SimpleMatrix doubled(SimpleMatrix a0, SimpleMatrix g0, SimpleMatrix h0) {
        int n = a0.getNumRows();
        SimpleMatrix a = a0;
        SimpleMatrix g = g0;
        SimpleMatrix h = h0;
        for (int i = 0; i < MOST; i++) {
            SimpleMatrix w = SimpleMatrix.identity(n).plus(g.mult(h));
            SimpleMatrix wa;
            SimpleMatrix wg;
            try {
                wa = w.solve(a);
                wg = w.solve(g);
            } catch (SingularMatrixException e) {
                return null;
            }
            SimpleMatrix more = symmetric(a.transpose().mult(h).mult(wa));
            g = symmetric(g.plus(a.mult(wg).mult(a.transpose())));
            h = h.plus(more);
            a = a.mult(wa);
            if (h.hasUncountable() || a.hasUncountable()) {
                return null;
            }
            if (more.normF() <= 1e-16 * h.normF()) {
                return h;
            }
        }
        return null;
    }

    /** One step of Newton's method takes away what the shift has left (Kleinman, IEEE Trans. Automatic Control 13, 1968). */
    private static SimpleMatrix refined(SimpleMatrix a, SimpleMatrix g, SimpleMatrix q, SimpleMatrix x) {
        SimpleMatrix closed = a.minus(g.mult(x));
        SimpleMatrix next = symmetric(Lyapunov.continuous(closed.transpose(), q.plus(x.mult(g).mult(x))));
        return residual(a, g, q, next) < residual(a, g, q, x) ? next : x;
    }

    private static double residual(SimpleMatrix a, SimpleMatrix g, SimpleMatrix q, SimpleMatrix x) {
        return a.transpose().mult(x).plus(x.mult(a)).minus(x.mult(g).mult(x)).plus(q).normF();
    }
}
