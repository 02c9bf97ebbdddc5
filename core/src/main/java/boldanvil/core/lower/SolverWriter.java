package boldanvil.core.lower;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.MathFunctions;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/**
 * Writes the integration of the continuous states as IR, so that it runs as Java and as C alike.
 *
 * <p>Explicit methods: tableaux in Hairer, Nørsett and Wanner, Solving Ordinary Differential Equations I, 1993 (Euler, Heun,
 * classical Runge–Kutta, Dormand–Prince 5(4)), and Bogacki and Shampine, A 3(2) pair of Runge–Kutta formulas, 1989. Stiff plants:
 * the two-stage Rosenbrock method ROS2 with γ = 1 − 1/√2, L-stable, second order whatever the Jacobian's error (Verwer, Spee,
 * Blom and Hundsdorfer, SIAM J. Sci. Comput. 20, 1999).
 */
final class SolverWriter {
    private static final String CROSSINGS = "crossings";
    private static final double[][] NONE = {{}};
    private static final double[][] DP_A = {{}, {1.0 / 5}, {3.0 / 40, 9.0 / 40}, {44.0 / 45, -56.0 / 15, 32.0 / 9},
        {19372.0 / 6561, -25360.0 / 2187, 64448.0 / 6561, -212.0 / 729},
        {9017.0 / 3168, -355.0 / 33, 46732.0 / 5247, 49.0 / 176, -5103.0 / 18656},
        {35.0 / 384, 0, 500.0 / 1113, 125.0 / 192, -2187.0 / 6784, 11.0 / 84}};
    private static final double[] DP_C = {0, 0.2, 0.3, 0.8, 8.0 / 9, 1, 1};
    /** What the embedded fourth-order result differs by. */
    private static final double[] DP_E = {71.0 / 57600, 0, -71.0 / 16695, 71.0 / 1920, -17253.0 / 339200, 22.0 / 525, -1.0 / 40};
    /** Tries per tick; beyond, the plant is stiff or switches without end. */
    private static final int MOST_STEPS = 20_000;

    private final Solver method;
    private final List<Slot> states;
    private final Map<Slot, Slot> derivativeOf;
    private final Slot time;
    private final List<Expr> crossings;
    private final Origin origin;
    private final ProgramWriter writer;
    private final Type type;
    private final List<Slot> crossingValues = new ArrayList<>();

    /**
     * @param time the time slot, or null when no block reads it
     * @param crossings real values at whose zeros the right-hand side breaks
     */
    SolverWriter(Solver method, List<Slot> states, Map<Slot, Slot> derivativeOf, Slot time, List<Expr> crossings, Origin origin,
            ProgramWriter writer) {
        this.method = method;
        this.states = states;
        this.derivativeOf = derivativeOf;
        this.time = time;
        this.crossings = crossings;
        this.origin = origin;
        this.writer = writer;
        this.type = writer.resolver().real();
    }

    /** Procedures the steps call. */
    List<Procedure> procedures() {
        if (method != Solver.DP54 || crossings.isEmpty()) {
            return List.of();
        }
        List<Stmt> body = new ArrayList<>();
        for (Expr c : crossings) {
            var s = local("crossing_" + (crossingValues.size() + 1), c.type());
            crossingValues.add(s);
            body.add(assign(s, c));
        }
        return List.of(new Procedure(CROSSINGS, "Values whose zeros the solver looks for.", body));
    }

    /** Statements that take every state over {@code span} seconds, in {@code substeps} equal steps where the step is fixed. */
    List<Stmt> steps(double span, int substeps) {
        double h = span / substeps;
        List<Stmt> body = new ArrayList<>();
        switch (method) {
            case EULER -> explicit(body, h, NONE, new double[] {0}, new double[] {1});
            case HEUN -> explicit(body, h, new double[][] {{}, {1}}, new double[] {0, 1}, new double[] {0.5, 0.5});
            case BS3 -> explicit(body, h, new double[][] {{}, {0.5}, {0, 0.75}}, new double[] {0, 0.5, 0.75},
                    new double[] {2.0 / 9, 1.0 / 3, 4.0 / 9});
            case RK4 -> explicit(body, h, new double[][] {{}, {0.5}, {0, 0.5}, {0, 0, 1}}, new double[] {0, 0.5, 0.5, 1},
                    new double[] {1.0 / 6, 1.0 / 3, 1.0 / 3, 1.0 / 6});
            case ROS2 -> rosenbrock(body, h);
            case DP54 -> {
                dormandPrince(body, span);
                return body;
            }
        }
        return substeps == 1 ? body : List.of(new Stmt.Repeat(local("substep", Type.INT32), substeps, body, origin));
    }

    private void explicit(List<Stmt> body, double h, double[][] a, double[] c, double[] b) {
        List<Slot> start = locals("start");
        Slot from = startTime(body);
        List<List<Slot>> slopes = new ArrayList<>();
        for (int stage = 0; stage < b.length; stage++) {
            if (stage > 0) {
                move(body, start, slopes, a[stage], h);
                timeAt(body, from, Expr.of(c[stage] * h));
            }
            evaluate(body);
            if (stage == 0) {
                copy(body, start, states);
            }
            slopes.add(slopes(body, stage + 1));
        }
        move(body, start, slopes, b, h);
        timeAt(body, from, Expr.of(h));
    }

    /** Slopes of the present stage, in slots of their own. */
    private List<Slot> slopes(List<Stmt> body, int stage) {
        List<Slot> k = locals("k" + stage);
        for (int i = 0; i < k.size(); i++) {
            body.add(assign(k.get(i), slope(i)));
        }
        return k;
    }

    private void move(List<Stmt> body, List<Slot> start, List<List<Slot>> slopes, double[] weights, double h) {
        for (int i = 0; i < states.size(); i++) {
            Expr sum = null;
            for (int s = 0; s < weights.length; s++) {
                if (weights[s] != 0) {
                    var term = Expr.read(slopes.get(s).get(i)).times(weights[s] * h);
                    sum = sum == null ? term : sum.plus(term);
                }
            }
            body.add(assign(states.get(i), Expr.read(start.get(i)).plus(sum)));
        }
    }

    private void rosenbrock(List<Stmt> body, double h) {
        int n = states.size();
        boolean wide = type == Type.FLOAT64;
        double gamma = 1 - Math.sqrt(0.5);
        Slot from = startTime(body);
        List<Slot> start = locals("start");
        copy(body, start, states);
        evaluate(body);
        List<Slot> first = slopes(body, 0);
        Slot jacobian = n == 1 ? local("jacobian", type) : writer.solverArray("jacobian", n * n);
        Slot by = local("by", type);
        for (int column = 0; column < n; column++) {
            Slot x = states.get(column);
            body.add(assign(by, Expr.read(start.get(column)).call(Intrinsic.ABS).plus(of(1)).times(wide ? 1e-7 : 1e-3)));
            body.add(assign(x, Expr.read(start.get(column)).plus(Expr.read(by))));
            evaluate(body);
            for (int row = 0; row < n; row++) {
                var slope = slope(row).minus(Expr.read(first.get(row))).over(Expr.read(by));
                body.add(n == 1 ? assign(jacobian, slope) : new Stmt.Store(jacobian, index(row * n + column), slope, origin));
            }
            body.add(assign(x, Expr.read(start.get(column))));
        }
        List<Slot> drift = drift(body, from, first, h);
        List<Slot> k1 = locals("k1");
        List<Expr> left = new ArrayList<>();
        for (int i = 0; i < n; i++) {
            var f = Expr.read(first.get(i));
            left.add(drift.isEmpty() ? f : f.plus(Expr.read(drift.get(i)).times(gamma * h)));
        }
        solve(body, jacobian, gamma * h, left, k1);
        for (int i = 0; i < n; i++) {
            body.add(assign(states.get(i), Expr.read(start.get(i)).plus(Expr.read(k1.get(i)).times(h))));
        }
        timeAt(body, from, Expr.of(h));
        evaluate(body);
        List<Expr> right = new ArrayList<>();
        for (int i = 0; i < n; i++) {
            var f = slope(i).minus(Expr.read(k1.get(i)).times(2));
            right.add(drift.isEmpty() ? f : f.minus(Expr.read(drift.get(i)).times(gamma * h)));
        }
        List<Slot> k2 = locals("k2");
        solve(body, jacobian, gamma * h, right, k2);
        move(body, start, List.of(k1, k2), new double[] {1.5, 0.5}, h);
    }

    /** How the right-hand side changes with time alone; empty where no block reads the time. */
    private List<Slot> drift(List<Stmt> body, Slot from, List<Slot> first, double h) {
        if (time == null) {
            return List.of();
        }
        double by = h * (type == Type.FLOAT64 ? 1e-4 : 1e-2);
        timeAt(body, from, Expr.of(by));
        evaluate(body);
        List<Slot> drift = locals("drift");
        for (int i = 0; i < drift.size(); i++) {
            body.add(assign(drift.get(i), slope(i).minus(Expr.read(first.get(i))).times(1 / by)));
        }
        return drift;
    }

    /** (I − g J) · k = right. */
    private void solve(List<Stmt> body, Slot jacobian, double g, List<Expr> right, List<Slot> k) {
        int n = k.size();
        if (n == 1) {
            body.add(assign(k.getFirst(), right.getFirst().over(of(1).minus(Expr.read(jacobian).times(g)))));
            return;
        }
        Slot a = writer.solverArray("matrix", n * n);
        Slot b = writer.solverArray("right", n);
        Slot at = local("at", Type.INT32);
        Slot diagonal = local("diagonal", Type.INT32);
        body.add(new Stmt.Repeat(at, n * n, List.of(new Stmt.Store(a, Expr.read(at),
                Expr.at(jacobian, Expr.read(at)).times(-g), origin)), origin));
        var on = Expr.read(diagonal).times(index(n + 1));
        body.add(new Stmt.Repeat(diagonal, n, List.of(new Stmt.Store(a, on, Expr.at(a, on).plus(of(1)), origin)), origin));
        for (int i = 0; i < n; i++) {
            body.add(new Stmt.Store(b, index(i), right.get(i), origin));
        }
        body.addAll(new Elimination(a, b, origin, writer::solverSlot).statements());
        for (int i = 0; i < n; i++) {
            body.add(assign(k.get(i), Expr.at(b, index(i))));
        }
    }

    /** Steps as long as the error allows, cut short where a crossing lies within. */
    private void dormandPrince(List<Stmt> body, double span) {
        boolean wide = type == Type.FLOAT64;
        double relative = wide ? 1e-8 : 1e-4;
        double absolute = wide ? 1e-10 : 1e-6;
        double shortest = span * (wide ? 1e-10 : 1e-6);
        double located = span * (wide ? 1e-8 : 1e-5);
        Slot next = writer.slot("next_step", Slot.Role.STATE, Type.FLOAT64, span / 10, "solver", "s");
        Slot left = local("left", Type.FLOAT64);
        Slot h = local("h", Type.FLOAT64);
        Slot hReal = local("h_real", type);
        Slot error = local("error", type);
        Slot reach = local("reach", type);
        Slot refused = local("refused", Type.BOOL);
        Slot factor = local("factor", Type.FLOAT64);
        List<Slot> start = locals("start");
        List<Slot> before = new ArrayList<>();
        crossingValues.forEach(c -> before.add(local(c.name() + "_before", c.type())));
        body.add(assign(left, Expr.of(span)));
        evaluate(body);
        List<List<Slot>> k = new ArrayList<>(List.of(slopes(body, 1)));
        if (!crossingValues.isEmpty()) {
            body.add(new Stmt.Invoke(CROSSINGS, origin));
            copy(body, before, crossingValues);
        }
        List<Stmt> step = new ArrayList<>();
        step.add(assign(h, Expr.read(next).min(Expr.read(left))));
        step.add(assign(hReal, Expr.read(h).as(type)));
        copy(step, start, states);
        Slot from = startTime(step);
        for (int stage = 1; stage < DP_A.length; stage++) {
            for (int i = 0; i < states.size(); i++) {
                step.add(assign(states.get(i), Expr.read(start.get(i)).plus(Expr.read(hReal).times(weighted(k, DP_A[stage], i)))));
            }
            timeAt(step, from, Expr.read(h).times(DP_C[stage]));
            evaluate(step);
            k.add(slopes(step, stage + 1));
        }
        step.add(assign(error, of(0)));
        for (int i = 0; i < states.size(); i++) {
            var size = Expr.read(start.get(i)).call(Intrinsic.ABS).max(Expr.read(states.get(i)).call(Intrinsic.ABS));
            var part = Expr.read(hReal).times(weighted(k, DP_E, i)).call(Intrinsic.ABS).over(size.times(relative).plus(of(absolute)));
            // A value that is no number counts as an error, too.
            var ratio = local("ratio", type);
            step.add(assign(ratio, part));
            step.add(assign(error, Expr.read(error).when(Expr.read(ratio).compare(Expr.Op.LE, Expr.read(error)), Expr.read(ratio))));
        }
        step.add(assign(reach, of(1)));
        if (!crossingValues.isEmpty()) {
            step.add(new Stmt.Invoke(CROSSINGS, origin));
        }
        for (int i = 0; i < crossingValues.size(); i++) {
            Slot now = crossingValues.get(i);
            var was = Expr.read(before.get(i));
            var is = Expr.read(now);
            var zero = Expr.of(now.type(), 0);
            var crossed = was.gt(zero).and(is.lt(zero)).or(was.lt(zero).and(is.gt(zero)));
            step.add(assign(reach, Expr.read(reach).min(was.over(was.minus(is)).as(type)).when(crossed, Expr.read(reach))));
        }
        var one = of(1);
        step.add(assign(factor, Expr.of(5.0).min(Expr.of(0.2).max(Expr.of(0.9).over(MathFunctions.apply(MathFunctions.POWER,
                Expr.read(error).as(Type.FLOAT64).plus(Expr.of(1e-20)), Expr.of(0.2)))))));
        // Where a value is no number, a shorter step cannot help.
        var tooWide = Expr.read(error).gt(one).and(Expr.read(h).gt(Expr.of(shortest)));
        var breaks = Expr.read(reach).lt(one).and(Expr.read(h).gt(Expr.of(located)));
        step.add(assign(refused, tooWide.or(breaks)));
        List<Stmt> refuse = new ArrayList<>();
        copy(refuse, states, start);
        timeAt(refuse, from, Expr.of(0.0));
        refuse.add(assign(next, Expr.read(h).times(Expr.read(factor).min(Expr.of(0.9))).when(tooWide,
                Expr.of(located).max(Expr.read(h).times(Expr.read(reach).as(Type.FLOAT64).times(0.9))))));
        List<Stmt> accept = new ArrayList<>();
        accept.add(assign(left, Expr.read(left).minus(Expr.read(h))));
        accept.add(assign(next, Expr.of(span / 100).when(Expr.read(reach).lt(one), Expr.read(h).times(Expr.read(factor)))));
        copy(accept, k.getFirst(), k.getLast());
        copy(accept, before, crossingValues);
        step.add(new Stmt.If(Expr.read(refused), refuse, accept, origin));
        body.add(new Stmt.While(Expr.read(left).gt(Expr.of(span * 1e-13)), MOST_STEPS, step, origin));
        body.add(assign(next, Expr.read(next).max(Expr.of(located)).min(Expr.of(span))));
    }

    private static Expr weighted(List<List<Slot>> k, double[] weights, int state) {
        Expr sum = null;
        for (int s = 0; s < weights.length; s++) {
            if (weights[s] != 0) {
                var term = Expr.read(k.get(s).get(state)).times(weights[s]);
                sum = sum == null ? term : sum.plus(term);
            }
        }
        return sum;
    }

    private void evaluate(List<Stmt> body) {
        body.add(new Stmt.Invoke("outputs", origin));
        body.add(new Stmt.Invoke("derivatives", origin));
    }

    private Slot startTime(List<Stmt> body) {
        if (time == null) {
            return null;
        }
        Slot from = local("start_time", Type.FLOAT64);
        body.add(assign(from, Expr.read(time)));
        return from;
    }

    private void timeAt(List<Stmt> body, Slot from, Expr after) {
        if (time != null) {
            body.add(assign(time, Expr.read(from).plus(after)));
        }
    }

    private void copy(List<Stmt> body, List<Slot> to, List<Slot> from) {
        for (int i = 0; i < to.size(); i++) {
            body.add(assign(to.get(i), Expr.read(from.get(i))));
        }
    }

    private Expr slope(int state) {
        return Expr.read(derivativeOf.get(states.get(state)));
    }

    private List<Slot> locals(String suffix) {
        return states.stream().map(x -> local(x.name() + "_" + suffix, x.type())).toList();
    }

    private Slot local(String name, Type t) {
        return writer.solverSlot(name, t);
    }

    private Expr of(double v) {
        return Expr.of(type, v);
    }

    private static Expr index(int i) {
        return Expr.of(Type.INT32, i);
    }

    private Stmt assign(Slot target, Expr value) {
        return new Stmt.Assign(target, value, origin);
    }
}
