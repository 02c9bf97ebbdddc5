package boldanvil.core.linear;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.ejml.simple.SimpleMatrix;
import org.hipparchus.complex.Complex;

/** State feedback and estimators. */
public final class Design {
    private Design() {}

    /**
     * u = −K x with the least integral, or sum, of xᵀQx + uᵀRu.
     *
     * @throws NoSolutionException when a mode cannot be stabilised or is not seen by the cost
     */
    public static SimpleMatrix regulator(StateSpace plant, SimpleMatrix q, SimpleMatrix r) {
        if (plant.isSampled()) {
            return Riccati.gain(plant.a(), plant.b(), r, Riccati.sampled(plant.a(), plant.b(), q, r));
        }
        return r.solve(plant.b().transpose().mult(Riccati.continuous(plant.a(), plant.b(), q, r)));
    }

    /**
     * A sampled regulator with the least integral of a continuous cost, between the samples too (Van Loan, IEEE Trans. Automatic Control
     * 23, 1978; the mixed weight is removed by a shift of the input).
     *
     * @param plant continuous
     */
    public static SimpleMatrix sampledRegulator(StateSpace plant, SimpleMatrix q, SimpleMatrix r, double period) {
        int n = plant.states();
        int m = plant.inputs();
        int size = n + m;
        var f = new SimpleMatrix(size, size);
        f.insertIntoThis(0, 0, plant.a());
        f.insertIntoThis(0, n, plant.b());
        var weight = new SimpleMatrix(size, size);
        weight.insertIntoThis(0, 0, q);
        weight.insertIntoThis(n, n, r);
        var whole = new SimpleMatrix(2 * size, 2 * size);
        whole.insertIntoThis(0, 0, f.transpose().scale(-period));
        whole.insertIntoThis(0, size, weight.scale(period));
        whole.insertIntoThis(size, size, f.scale(period));
        SimpleMatrix e = Sampling.exponential(whole);
        SimpleMatrix step = e.extractMatrix(size, 2 * size, size, 2 * size);
        SimpleMatrix cost = Riccati.symmetric(step.transpose().mult(e.extractMatrix(0, size, size, 2 * size)));
        SimpleMatrix a = step.extractMatrix(0, n, 0, n);
        SimpleMatrix b = step.extractMatrix(0, n, n, size);
        SimpleMatrix mixed = cost.extractMatrix(0, n, n, size);
        SimpleMatrix input = cost.extractMatrix(n, size, n, size);
        SimpleMatrix shift = input.solve(mixed.transpose());
        SimpleMatrix shifted = a.minus(b.mult(shift));
        SimpleMatrix left = Riccati.symmetric(cost.extractMatrix(0, n, 0, n).minus(mixed.mult(shift)));
        SimpleMatrix x = Riccati.sampled(shifted, b, left, input);
        return Riccati.gain(shifted, b, input, x).plus(shift);
    }

    /**
     * The gain L of a steady Kalman filter: x̂' = A x̂ + B u + L (y − C x̂), of a sampled plant as the predictor that uses y[n] for
     * x̂[n+1].
     *
     * @param process intensity, or covariance, of the noise that moves the states
     * @param sensor intensity, or covariance, of the noise of the outputs
     */
    public static SimpleMatrix estimator(StateSpace plant, SimpleMatrix process, SimpleMatrix sensor) {
        var dual = new StateSpace(plant.a().transpose(), plant.c().transpose(), plant.b().transpose(), plant.d().transpose(),
                plant.period());
        return regulator(dual, process, sensor).transpose();
    }

    /**
     * u = −K x that gives the closed loop some poles, for one input. The plant is brought to the form of Hessenberg by reflections, and the
     * last row of the polynomial of the poles in A follows there without powers of A (after Ackermann; Miminis and Paige, International
     * Journal of Control 35, 1982).
     *
     * @param poles as many as there are states, in conjugate pairs
     * @throws NoSolutionException when a mode cannot be moved
     */
    public static SimpleMatrix place(StateSpace plant, Complex... poles) {
        int n = plant.states();
        if (poles.length != n || plant.inputs() != 1) {
            throw new IllegalArgumentException(poles.length + " poles for " + n + " states");
        }
        SimpleMatrix a = plant.a();
        SimpleMatrix b = plant.b();
        SimpleMatrix turn = SimpleMatrix.identity(n);
        // Turns b into its first element alone, then each column of A below its subdiagonal into nothing.
        for (int k = 0; k < n; k++) {
            SimpleMatrix x = new SimpleMatrix(n, 1);
            for (int i = k; i < n; i++) {
                x.set(i, 0, k == 0 ? b.get(i, 0) : a.get(i, k - 1));
            }
            double size = x.normF();
            if (size <= 1e-13 * (k == 0 ? 1e-280 : a.normF())) {
                throw new NoSolutionException("The input does not move all modes: of " + n + " states it reaches " + k + ".",
                        "Reduce the order of the plant, or choose another input.");
            }
            x.set(k, 0, x.get(k, 0) + Math.copySign(size, x.get(k, 0)));
            double square = x.normF() * x.normF();
            SimpleMatrix h = SimpleMatrix.identity(n).minus(x.mult(x.transpose()).scale(2 / square));
            a = h.mult(a).mult(h);
            b = h.mult(b);
            turn = turn.mult(h);
        }
        // The last row of p(A) over the product of the subdiagonal and b.
        SimpleMatrix row = new SimpleMatrix(1, n);
        row.set(0, n - 1, 1);
        int used = n;
        for (double[] factor : factors(poles)) {
            SimpleMatrix next = row.mult(a).plus(row.scale(factor[factor.length - 1]));
            if (factor.length == 2) {
                next = row.mult(a).mult(a).plus(row.mult(a).scale(factor[0])).plus(row.scale(factor[1]));
            }
            row = next;
            for (int i = 0; i < factor.length; i++) {
                used--;
                row = row.divide(used > 0 ? a.get(used, used - 1) : b.get(0, 0));
            }
        }
        return row.mult(turn.transpose());
    }

    /** s + c for a real pole, s² + c0 s + c1 for a pair. */
    private static List<double[]> factors(Complex[] poles) {
        List<double[]> all = new ArrayList<>();
        Complex[] sorted = poles.clone();
        Arrays.sort(sorted, java.util.Comparator.comparingDouble(Complex::norm));
        for (Complex p : sorted) {
            if (p.getImaginaryPart() == 0) {
                all.add(new double[] {-p.getRealPart()});
            } else if (p.getImaginaryPart() > 0) {
                all.add(new double[] {-2 * p.getRealPart(), p.getRealPart() * p.getRealPart()
                        + p.getImaginaryPart() * p.getImaginaryPart()});
            }
        }
        if (all.stream().mapToInt(f -> f.length).sum() != poles.length) {
            throw new NoSolutionException("The poles are not in conjugate pairs.", "Give for each pole a + jb the pole a − jb as well.");
        }
        return all;
    }
}
