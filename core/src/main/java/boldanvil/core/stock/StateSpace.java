package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.choice;
import static boldanvil.core.stock.Parameter.list;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.IntFunction;
import java.util.function.ToIntFunction;
import org.ejml.simple.SimpleMatrix;

/** Linear systems in state space, and observers of their states. */
final class StateSpace {
    private static final Parameter A = list("A", "[[0]]", "", "System matrix, as a list of rows.");
    private static final Parameter B = list("B", "[[1]]", "", "Input matrix: one row for each state.");
    private static final Parameter C = list("C", "[[1]]", "", "Output matrix: one row for each output.");

    static final BlockType DISCRETE = BlockType.named("state space in z", "Discrete state space", Family.TIME).picture(Pictures::states)
            .help("x[n+1] = A x[n] + B u[n], y[n] = C x[n] + D u[n]; u and y are vectors.")
            .with(A, B, C, list("D", "[[0]]", "", "Feed-through matrix."), list("x0", "[0]", "", "States at the start."))
            .face(StateSpace::face).summary("x' = A x + B u").shape(StateSpace::outputs).discreteOnly()
            .does(e -> {
                var m = Matrices.read(e);
                if (m != null) {
                    List<Slot> x = m.states(e, false);
                    m.outputs(e, x);
                    advance(e, x, i -> m.slope(x, i));
                }
            });

    static final BlockType CONTINUOUS = BlockType.named("state space", "State space", Family.PHYSICAL).picture(Pictures::states)
            .help("dx/dt = A x + B u, y = C x + D u; u and y are vectors.")
            .with(A, B, C, list("D", "[[0]]", "", "Feed-through matrix."), list("x0", "[0]", "", "States at the start."))
            .face(StateSpace::face).summary("dx/dt = A x + B u").shape(StateSpace::outputs).continuousOnly()
            .does(e -> {
                var m = Matrices.read(e);
                if (m != null) {
                    List<Slot> x = m.states(e, true);
                    m.outputs(e, x);
                    for (int i = 0; i < x.size(); i++) {
                        e.derivative(x.get(i), m.slope(x, i));
                    }
                }
            });

    static final BlockType OBSERVER = BlockType.named("observer", "State observer", Family.TIME)
            .help("The states of x[n+1] = A x[n] + B u[n], y[n] = C x[n], estimated from u and y: x̂[n+1] = A x̂[n] + B u[n] + L (y[n] − C "
                    + "x̂[n]). L is given (Luenberger), or computed from the covariances Q of the states' noise and R of the "
                    + "measurement's noise as "
                    + "the steady-state gain of Kalman's predictor, by iterating the Riccati equation (Anderson and Moore, Optimal "
                    + "Filtering, 1979, "
                    + "section 4.4). L must let the error of the estimate decay. " + Guards.STATES)
            .with(A, B, C, choice("gain", "Source of L.", "given", "Kalman"), list("L", "[[0.5]]", "", "The gain, where it is given."),
                    list("Q", "[[1]]", "", "Covariance of the states' noise."),
                    list("R", "[[1]]", "", "Covariance of the measurement's noise."),
                    list("x0", "[0]", "", "States at the start."))
            .face(Face.NONE.later("u", Accept.REAL, false).later("y", Accept.REAL, false).out("x")).summary("{gain} gain")
            .shape((_, _, s, _) -> Lists.rows(s.text("A"))).discreteOnly()
            .does(StateSpace::observe);

    static final List<BlockType> TYPES = List.of(DISCRETE, OBSERVER, CONTINUOUS);

    private StateSpace() {}

    private static Face face(Settings s) {
        boolean direct = s.text("D").matches(".*[1-9A-Za-z].*");
        return direct ? Face.NONE.in("u", Accept.REAL).out("y") : Face.NONE.later("u", Accept.REAL).out("y");
    }

    private static int outputs(int output, List<Integer> inputs, Settings s, ToIntFunction<String> lengths) {
        return Lists.rows(s.text("C"));
    }

    private static SimpleMatrix matrix(Emitter e, String name, int rows, int columns) {
        double[] v = e.list(name);
        if (v.length != rows * columns) {
            e.problem(name + " has " + v.length + " values, not " + rows + " × " + columns + ".",
                    "Write it as a list of " + rows + " rows with " + columns + " values each.");
            return null;
        }
        return new SimpleMatrix(rows, columns, true, v);
    }

    /** The matrices of a block, checked against each other. */
    private record Matrices(SimpleMatrix a, SimpleMatrix b, SimpleMatrix c, SimpleMatrix d, double[] x0, List<Expr> u) {
        static Matrices read(Emitter e) {
            int n = e.rows("A");
            var u = e.elements("u");
            int outputs = e.rows("C");
            var a = matrix(e, "A", n, n);
            var b = matrix(e, "B", n, u.size());
            var c = matrix(e, "C", outputs, n);
            boolean none = Arrays.stream(e.list("D")).allMatch(v -> v == 0);
            var d = none ? new SimpleMatrix(outputs, u.size()) : matrix(e, "D", outputs, u.size());
            double[] x0 = e.list("x0");
            if (a == null || b == null || c == null || d == null) {
                return null;
            }
            if (x0.length != n && x0.length != 1) {
                e.problem("x0 has " + x0.length + " values for " + n + " states.", "Enter one for each state, or one for all.");
                return null;
            }
            return new Matrices(a, b, c, d, x0, u);
        }

        List<Slot> states(Emitter e, boolean continuous) {
            List<Slot> x = new ArrayList<>();
            for (int i = 0; i < a.getNumRows(); i++) {
                double initial = x0[Math.min(i, x0.length - 1)];
                x.add(continuous ? e.integrated("x" + (i + 1), initial) : e.state("x" + (i + 1), e.real(), initial));
            }
            return x;
        }

        void outputs(Emitter e, List<Slot> x) {
            List<Expr> y = new ArrayList<>();
            for (int i = 0; i < c.getNumRows(); i++) {
                y.add(row(c, i, x, d));
            }
            e.outputs("y", y);
        }

        Expr slope(List<Slot> x, int i) {
            return row(a, i, x, b);
        }

        private Expr row(SimpleMatrix states, int i, List<Slot> x, SimpleMatrix inputs) {
            return sum(List.of(x.stream().map(Expr::read).toList(), u), List.of(states, inputs), i);
        }
    }

    /** Row i of Σ matrix · vector. */
    private static Expr sum(List<List<Expr>> vectors, List<SimpleMatrix> matrices, int i) {
        Expr sum = null;
        for (int m = 0; m < vectors.size(); m++) {
            for (int j = 0; j < vectors.get(m).size(); j++) {
                double k = matrices.get(m).get(i, j);
                if (k != 0) {
                    sum = Lists.plus(sum, vectors.get(m).get(j).times(k));
                }
            }
        }
        return sum == null ? Expr.of(vectors.getFirst().getFirst().type(), 0) : sum;
    }

    private static void observe(Emitter e) {
        int n = e.rows("A");
        int outputs = e.rows("C");
        var u = Guards.finiteLater(e, "u_safe", e.elements("u"));
        var y = Guards.finiteLater(e, "y_safe", e.elements("y"));
        var a = matrix(e, "A", n, n);
        var b = matrix(e, "B", n, u.size());
        var c = matrix(e, "C", outputs, n);
        if (a == null || b == null || c == null) {
            return;
        }
        if (y.size() != outputs) {
            e.problem("y has " + y.size() + " elements, C " + outputs + " rows.", "Give C one row for each element of y.");
            return;
        }
        var gain = e.text("gain").equals("given") ? matrix(e, "L", n, outputs) : kalman(e, a, c);
        if (gain == null) {
            return;
        }
        double[] x0 = e.list("x0");
        List<Slot> x = new ArrayList<>();
        Type t = e.real();
        for (int i = 0; i < n; i++) {
            x.add(e.state("x" + (i + 1), t, x0[Math.min(i, x0.length - 1)]));
        }
        List<Expr> states = x.stream().map(Expr::read).toList();
        e.outputs("x", states);
        // A x + B u + L (y − C x) = (A − L C) x + B u + L y
        var closed = a.minus(gain.mult(c));
        double slowest = closed.eig().getEigenvalues().stream().mapToDouble(v -> v.getMagnitude()).max().orElse(0);
        if (!(slowest < 1)) {
            e.problem(String.format(java.util.Locale.ROOT,
                    "The error of the estimate does not decay: A − L C has an eigenvalue of magnitude %.4g.", slowest),
                    "Choose L so that all eigenvalues of A − L C lie within the unit circle.");
            return;
        }
        advance(e, x, i -> sum(List.of(states, u, y), List.of(closed, b, gain), i));
    }

    private static SimpleMatrix kalman(Emitter e, SimpleMatrix a, SimpleMatrix c) {
        var q = matrix(e, "Q", a.getNumRows(), a.getNumRows());
        var r = matrix(e, "R", c.getNumRows(), c.getNumRows());
        if (q == null || r == null) {
            return null;
        }
        var gain = kalman(a, c, q, r);
        if (gain == null) {
            e.problem("The Riccati equation of the Kalman gain does not converge.",
                    "Check that the system is observable, and that Q and R are "
                    + "symmetric and positive definite.");
        }
        return gain;
    }

    /** All new values are computed from the old ones before any of them is set. */
    private static void advance(Emitter e, List<Slot> x, IntFunction<Expr> value) {
        List<Slot> next = new ArrayList<>();
        for (int i = 0; i < x.size(); i++) {
            next.add(e.local("next" + (i + 1), x.get(i).type()));
            e.after(new Stmt.Assign(next.get(i), value.apply(i), e.origin()));
        }
        for (int i = 0; i < x.size(); i++) {
            e.update(x.get(i), Expr.read(next.get(i)));
        }
    }

    /** The gain A P Cᵀ (C P Cᵀ + R)⁻¹ of the steady state; null where the iteration does not settle. */
    static SimpleMatrix kalman(SimpleMatrix a, SimpleMatrix c, SimpleMatrix q, SimpleMatrix r) {
        var p = q.copy();
        for (int i = 0; i < 100_000; i++) {
            var gain = a.mult(p).mult(c.transpose()).mult(c.mult(p).mult(c.transpose()).plus(r).invert());
            var next = a.mult(p).mult(a.transpose()).minus(gain.mult(c).mult(p).mult(a.transpose())).plus(q);
            double change = next.minus(p).normF();
            if (!Double.isFinite(change)) {
                return null;
            }
            p = next;
            if (change <= 1e-14 * p.normF()) {
                return a.mult(p).mult(c.transpose()).mult(c.mult(p).mult(c.transpose()).plus(r).invert());
            }
        }
        return null;
    }
}
