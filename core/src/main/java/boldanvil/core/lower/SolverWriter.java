package boldanvil.core.lower;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.BiFunction;

/**
 * Fixed-step solvers as IR, so that a plant runs the same as Java class and as C.
 *
 * <p>{@code euler}: x(t+h) = x + h f(t, x); order 1. {@code rk4}: the classical Runge–Kutta method of order 4 (Kutta, 1901;
 * Hairer, Nørsett and Wanner, Solving Ordinary Differential Equations I, table 1.2).
 */
final class SolverWriter {
    private final List<Slot> states;
    private final Map<Slot, Slot> derivativeOf;
    private final Slot time;
    private final Origin origin;
    private final BiFunction<String, Type, Slot> slots;

    /**
     * @param time the time slot, or null when no block reads it
     * @param slots makes a slot of a wanted name
     */
    SolverWriter(List<Slot> states, Map<Slot, Slot> derivativeOf, Slot time, Origin origin,
            BiFunction<String, Type, Slot> slots) {
        this.states = states;
        this.derivativeOf = derivativeOf;
        this.time = time;
        this.origin = origin;
        this.slots = slots;
    }

    /** Statements that take every state {@code substeps} steps of {@code h} seconds further. */
    List<Stmt> steps(String solver, double h, int substeps) {
        List<Stmt> body = new ArrayList<>();
        if (solver.equals("euler")) {
            euler(body, h);
        } else {
            rungeKutta(body, h);
        }
        if (substeps == 1) {
            return body;
        }
        return List.of(new Stmt.Repeat(slots.apply("substep", Type.INT32), substeps, body, origin));
    }

    private void euler(List<Stmt> body, double h) {
        evaluate(body);
        for (Slot x : states) {
            body.add(assign(x, Expr.read(x).plus(Expr.read(derivativeOf.get(x)).times(h))));
        }
        moveTime(body, h);
    }

    private void rungeKutta(List<Stmt> body, double h) {
        List<Slot> start = new ArrayList<>();
        List<Slot> sum = new ArrayList<>();
        for (Slot x : states) {
            start.add(slots.apply(x.name() + "_start", x.type()));
            sum.add(slots.apply(x.name() + "_sum", x.type()));
        }
        evaluate(body);
        stage(body, start, sum, 1, h / 2, true);
        moveTime(body, h / 2);
        evaluate(body);
        stage(body, start, sum, 2, h / 2, false);
        evaluate(body);
        stage(body, start, sum, 2, h, false);
        moveTime(body, h / 2);
        evaluate(body);
        for (int i = 0; i < states.size(); i++) {
            Slot x = states.get(i);
            var total = Expr.read(sum.get(i)).plus(Expr.read(derivativeOf.get(x)));
            body.add(assign(x, Expr.read(start.get(i)).plus(total.times(h / 6))));
        }
    }

    private void stage(List<Stmt> body, List<Slot> start, List<Slot> sum, int weight, double reach, boolean first) {
        for (int i = 0; i < states.size(); i++) {
            Slot x = states.get(i);
            var slope = Expr.read(derivativeOf.get(x));
            if (first) {
                body.add(assign(start.get(i), Expr.read(x)));
                body.add(assign(sum.get(i), slope));
            } else {
                body.add(assign(sum.get(i), Expr.read(sum.get(i)).plus(slope.times(weight))));
            }
            body.add(assign(x, Expr.read(start.get(i)).plus(slope.times(reach))));
        }
    }

    private void evaluate(List<Stmt> body) {
        body.add(new Stmt.Invoke("outputs", origin));
        body.add(new Stmt.Invoke("derivatives", origin));
    }

    private void moveTime(List<Stmt> body, double by) {
        if (time != null) {
            body.add(assign(time, Expr.read(time).plus(Expr.of(by))));
        }
    }

    private Stmt assign(Slot target, Expr value) {
        return new Stmt.Assign(target, value, origin);
    }
}
