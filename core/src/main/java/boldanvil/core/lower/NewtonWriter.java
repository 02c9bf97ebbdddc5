package boldanvil.core.lower;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.Fault;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.function.BiFunction;

/**
 * Solves a loop of equations z = F(z) by Newton's method with differences for the derivatives (Kelley, Solving Nonlinear
 * Equations with Newton's Method, 2003, section 1.4). It begins at the solution of the step before.
 */
final class NewtonWriter {
    private static final int ROUNDS = 30;

    private final String procedure;
    private final List<Slot> guesses;
    private final List<Expr> results;
    private final Origin origin;
    private final BiFunction<String, Type, Slot> slots;
    private final BiFunction<String, Integer, Slot> arrays;
    private final Type type;
    private final double tolerance;
    private final double reach;

    /**
     * @param procedure computes the results for the guesses
     * @param results F(z), in the order of the guesses
     */
    NewtonWriter(String procedure, List<Slot> guesses, List<Expr> results, Origin origin, BiFunction<String, Type, Slot> slots,
            BiFunction<String, Integer, Slot> arrays) {
        this.procedure = procedure;
        this.guesses = guesses;
        this.results = results;
        this.origin = origin;
        this.slots = slots;
        this.arrays = arrays;
        this.type = guesses.getFirst().type();
        boolean wide = type == Type.FLOAT64;
        tolerance = wide ? 1e-12 : 1e-6;
        reach = wide ? 1e-7 : 1e-3;
    }

    List<Stmt> statements() {
        var solved = slots.apply(procedure + "_solved", Type.BOOL);
        var round = slots.apply(procedure + "_round", Type.INT32);
        List<Slot> residuals = new ArrayList<>();
        List<Stmt> body = new ArrayList<>();
        body.add(new Stmt.Invoke(procedure, origin));
        Expr close = Expr.of(true);
        for (int i = 0; i < guesses.size(); i++) {
            var r = slots.apply(guesses.get(i).name() + "_residual", type);
            residuals.add(r);
            body.add(set(r, results.get(i).minus(Expr.read(guesses.get(i)))));
            close = close.and(Expr.read(r).call(Intrinsic.ABS).compare(Expr.Op.LE, size(guesses.get(i)).times(tolerance)));
        }
        body.add(set(solved, close));
        body.add(new Stmt.If(Expr.read(solved), List.of(new Stmt.Break(origin)), List.of(), origin));
        if (guesses.size() == 1) {
            one(body, guesses.getFirst(), residuals.getFirst());
        } else {
            several(body, residuals);
        }
        return List.of(set(solved, Expr.of(false)), new Stmt.Repeat(round, ROUNDS, body, origin),
                new Stmt.If(Expr.read(solved).not(), List.of(new Stmt.Raise(Fault.NOT_SOLVED, origin)), List.of(), origin));
    }

    private Expr size(Slot z) {
        return Expr.read(z).call(Intrinsic.ABS).plus(Expr.of(type, 1));
    }

    private void one(List<Stmt> body, Slot z, Slot residual) {
        var old = slots.apply(z.name() + "_old", type);
        var by = slots.apply(z.name() + "_by", type);
        var slope = slots.apply(z.name() + "_slope", type);
        body.add(set(old, Expr.read(z)));
        body.add(set(by, size(z).times(reach)));
        body.add(set(z, Expr.read(old).plus(Expr.read(by))));
        body.add(new Stmt.Invoke(procedure, origin));
        body.add(set(slope, results.getFirst().minus(Expr.read(z)).minus(Expr.read(residual)).over(Expr.read(by))));
        var zero = Expr.of(type, 0);
        body.add(set(z, Expr.read(old).plus(Expr.read(residual)).when(Expr.read(slope).eq(zero),
                Expr.read(old).minus(Expr.read(residual).over(Expr.read(slope))))));
    }

    private void several(List<Stmt> body, List<Slot> residuals) {
        int n = guesses.size();
        Slot a = arrays.apply(procedure + "_slopes", n * n);
        Slot b = arrays.apply(procedure + "_step", n);
        var old = slots.apply(procedure + "_old", type);
        var by = slots.apply(procedure + "_by", type);
        for (int column = 0; column < n; column++) {
            Slot z = guesses.get(column);
            body.add(set(old, Expr.read(z)));
            body.add(set(by, size(z).times(reach)));
            body.add(set(z, Expr.read(old).plus(Expr.read(by))));
            body.add(new Stmt.Invoke(procedure, origin));
            for (int row = 0; row < n; row++) {
                var moved = results.get(row).minus(Expr.read(guesses.get(row))).minus(Expr.read(residuals.get(row)));
                body.add(new Stmt.Store(a, Expr.of(Type.INT32, row * n + column), moved.over(Expr.read(by)), origin));
            }
            body.add(set(z, Expr.read(old)));
        }
        for (int i = 0; i < n; i++) {
            body.add(new Stmt.Store(b, Expr.of(Type.INT32, i), Expr.read(residuals.get(i)), origin));
        }
        body.addAll(new Elimination(a, b, origin, slots).statements());
        for (int i = 0; i < n; i++) {
            body.add(set(guesses.get(i), Expr.read(guesses.get(i)).minus(Expr.at(b, Expr.of(Type.INT32, i)))));
        }
    }

    private Stmt set(Slot s, Expr value) {
        return new Stmt.Assign(s, value, origin);
    }
}
