package boldanvil.core.lower;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.function.BiFunction;

/**
 * Solves a · x = b in IR by Gaussian elimination with row exchange (Golub and Van Loan, Matrix Computations, 2013, section 3.4).
 * Both arrays are used up; x is in b afterwards. A pivot of zero leaves its unknown at zero.
 */
final class Elimination {
    private static final Type INT = Type.INT32;

    private final Slot a;
    private final Slot b;
    private final int n;
    private final Origin origin;
    private final Slot i;
    private final Slot j;
    private final Slot k;
    private final Slot pivot;
    private final Slot best;
    private final Slot kept;

    /**
     * @param a row by row, n · n
     * @param b n values; n is at least 2
     * @param slots makes a slot of a wanted name
     */
    Elimination(Slot a, Slot b, Origin origin, BiFunction<String, Type, Slot> slots) {
        this.a = a;
        this.b = b;
        this.n = b.length();
        this.origin = origin;
        i = slots.apply("row", INT);
        j = slots.apply("column", INT);
        k = slots.apply("step", INT);
        pivot = slots.apply("pivot_row", INT);
        best = slots.apply("pivot", a.type());
        kept = slots.apply("kept", a.type());
    }

    List<Stmt> statements() {
        var row = Expr.read(i);
        var column = Expr.read(j);
        var at = Expr.read(k);
        var chosen = Expr.read(pivot);
        List<Stmt> step = new ArrayList<>();
        step.add(set(pivot, at));
        step.add(set(best, element(at, at).call(Intrinsic.ABS)));
        step.add(each(i, List.of(when(row.gt(at).and(element(row, at).call(Intrinsic.ABS).gt(Expr.read(best))), List.of(
                set(pivot, row), set(best, element(row, at).call(Intrinsic.ABS)))))));
        step.add(when(chosen.compare(Op.NE, at), List.of(
                each(j, List.of(set(kept, element(at, column)), store(at, column, element(chosen, column)),
                        store(chosen, column, Expr.read(kept)))),
                set(kept, Expr.at(b, at)), new Stmt.Store(b, at, Expr.at(b, chosen), origin),
                new Stmt.Store(b, chosen, Expr.read(kept), origin))));
        step.add(when(Expr.read(best).gt(zero()), List.of(each(i, List.of(when(row.gt(at), List.of(
                set(kept, element(row, at).over(element(at, at))),
                each(j, List.of(when(column.compare(Op.GE, at), List.of(
                        store(row, column, element(row, column).minus(Expr.read(kept).times(element(at, column)))))))),
                new Stmt.Store(b, row, Expr.at(b, row).minus(Expr.read(kept).times(Expr.at(b, at))), origin))))))));
        var last = Expr.of(INT, n - 1).minus(at);
        List<Stmt> back = new ArrayList<>();
        back.add(set(i, last));
        back.add(set(kept, Expr.at(b, row)));
        back.add(each(j, List.of(when(column.gt(row), List.of(
                set(kept, Expr.read(kept).minus(element(row, column).times(Expr.at(b, column)))))))));
        back.add(new Stmt.Store(b, row, zero().when(element(row, row).eq(zero()), Expr.read(kept).over(element(row, row))), origin));
        return List.of(each(k, step), each(k, back));
    }

    private Expr zero() {
        return Expr.of(a.type(), 0);
    }

    private Expr place(Expr row, Expr column) {
        return row.times(Expr.of(INT, n)).plus(column);
    }

    private Expr element(Expr row, Expr column) {
        return Expr.at(a, place(row, column));
    }

    private Stmt store(Expr row, Expr column, Expr value) {
        return new Stmt.Store(a, place(row, column), value, origin);
    }

    private Stmt each(Slot counter, List<Stmt> body) {
        return new Stmt.Repeat(counter, n, body, origin);
    }

    private Stmt set(Slot s, Expr value) {
        return new Stmt.Assign(s, value, origin);
    }

    private Stmt when(Expr condition, List<Stmt> yes) {
        return new Stmt.If(condition, yes, List.of(), origin);
    }
}
