package boldanvil.core.linear;

import org.ejml.simple.SimpleMatrix;

/**
 * A stable system in coordinates in which each state is as easy to reach as to see (Laub, Heath, Paige and Ward, IEEE Trans. Automatic
 * Control 32, 1987), and the same with fewer states.
 *
 * @param system in balanced coordinates
 * @param hankel how much each state has to do with the response, falling; the error of a reduction is at most twice the sum of those left
 *     out
 */
public record Balanced(StateSpace system, double[] hankel) {
    /** @throws NoSolutionException when the system is not stable */
    public static Balanced of(StateSpace s) {
        if (!s.isStable()) {
            throw new NoSolutionException("Only a stable system can be reduced.",
                    "Reduce the plant without its integrators, or the closed loop.");
        }
        return balanced(s, s.isSampled() ? Lyapunov.sampled(s.a(), s.b().mult(s.b().transpose()))
                : Lyapunov.continuous(s.a(), s.b().mult(s.b().transpose())), s.isSampled()
                        ? Lyapunov.sampled(s.a().transpose(), s.c().transpose().mult(s.c()))
                : Lyapunov.continuous(s.a().transpose(), s.c().transpose().mult(s.c())));
    }

    /** Samples within which states count, where nothing else is said. */
    public static final int MANY = 4096;

    /**
     * The same for a sampled system that need not be stable, by what its states do within some samples. States that the input does not
     * move or the outputs do not show are left out.
     *
     * @param samples many enough for the modes that matter; rounded up to a power of two
     */
    public static Balanced within(StateSpace s, int samples) {
        return balanced(s, summed(s.a(), s.b().mult(s.b().transpose()), samples),
                summed(s.a().transpose(), s.c().transpose().mult(s.c()), samples));
    }

    /** The sum of Aᵏ Q Aᵏᵀ. */
    private static SimpleMatrix summed(SimpleMatrix a, SimpleMatrix q, int samples) {
        SimpleMatrix sum = q;
        SimpleMatrix power = a;
        for (int done = 1; done < samples; done *= 2) {
            sum = Riccati.symmetric(sum.plus(power.mult(sum).mult(power.transpose())));
            power = power.mult(power);
        }
        return sum;
    }

    /** @param reached how far the input moves the states; shown is how far the outputs show them */
    private static Balanced balanced(StateSpace s, SimpleMatrix reached, SimpleMatrix shown) {
        SimpleMatrix reach = factor(reached);
        SimpleMatrix see = factor(shown);
        var svd = see.transpose().mult(reach).svd();
        double[] hankel = svd.getSingularValues();
        int n = 0;
        while (n < hankel.length && hankel[n] > 1e-14 * hankel[0]) {
            n++;
        }
        var scale = new SimpleMatrix(n, n);
        for (int i = 0; i < n; i++) {
            scale.set(i, i, 1 / Math.sqrt(hankel[i]));
        }
        SimpleMatrix t = reach.mult(svd.getV().extractMatrix(0, svd.getV().getNumRows(), 0, n)).mult(scale);
        SimpleMatrix inverse = scale.mult(svd.getU().extractMatrix(0, svd.getU().getNumRows(), 0, n).transpose()).mult(see.transpose());
        return new Balanced(new StateSpace(inverse.mult(s.a()).mult(t), inverse.mult(s.b()), s.c().mult(t), s.d(), s.period()),
                java.util.Arrays.copyOf(hankel, n));
    }

    /** A square root F with F Fᵀ = m, which may have vanishing eigenvalues. */
    private static SimpleMatrix factor(SimpleMatrix m) {
        var svd = m.svd();
        double[] values = svd.getSingularValues();
        SimpleMatrix f = svd.getU().copy();
        for (int j = 0; j < f.getNumCols(); j++) {
            double root = j < values.length ? Math.sqrt(values[j]) : 0;
            for (int i = 0; i < f.getNumRows(); i++) {
                f.set(i, j, f.get(i, j) * root);
            }
        }
        return f;
    }

    /** The first states alone; those left out follow at once, so that the gain at rest stays. */
    public StateSpace reduced(int states) {
        int n = system.states();
        if (states >= n) {
            return system;
        }
        SimpleMatrix a11 = system.a().extractMatrix(0, states, 0, states);
        SimpleMatrix a12 = system.a().extractMatrix(0, states, states, n);
        SimpleMatrix a21 = system.a().extractMatrix(states, n, 0, states);
        SimpleMatrix a22 = system.a().extractMatrix(states, n, states, n);
        SimpleMatrix b1 = system.b().extractMatrix(0, states, 0, system.inputs());
        SimpleMatrix b2 = system.b().extractMatrix(states, n, 0, system.inputs());
        SimpleMatrix c1 = system.c().extractMatrix(0, system.outputs(), 0, states);
        SimpleMatrix c2 = system.c().extractMatrix(0, system.outputs(), states, n);
        SimpleMatrix rest = system.isSampled() ? SimpleMatrix.identity(n - states).minus(a22) : a22.scale(-1);
        SimpleMatrix x = rest.solve(a21);
        SimpleMatrix u = rest.solve(b2);
        return new StateSpace(a11.plus(a12.mult(x)), b1.plus(a12.mult(u)), c1.plus(c2.mult(x)), system.d().plus(c2.mult(u)),
                system.period());
    }
}
