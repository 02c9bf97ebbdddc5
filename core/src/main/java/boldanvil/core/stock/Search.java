package boldanvil.core.stock;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Table;
import boldanvil.core.program.Type;
import java.util.List;

/** Finds the interval of a rising table that holds a value, by halving. */
final class Search {
    private Search() {}

    /** The last interval, from 0 to size − 2, whose left end is not beyond u; NaN counts as before the first. */
    static Expr interval(Emitter e, Table x, Expr u) {
        return interval(e, "", x, u);
    }

    static Expr interval(Emitter e, String name, Table x, Expr u) {
        int intervals = x.size() - 1;
        if (intervals <= 1) {
            return Expr.of(Type.INT32, 0);
        }
        var low = e.local(name + "interval", Type.INT32);
        var high = e.local(name + "end", Type.INT32);
        var middle = e.local(name + "middle", Type.INT32);
        var round = e.local(name + "round", Type.INT32);
        e.assign(low, Expr.of(Type.INT32, 0));
        e.assign(high, Expr.of(Type.INT32, intervals));
        int rounds = 32 - Integer.numberOfLeadingZeros(intervals - 1);
        // Beyond the last round low and high are neighbours, or the middle is low itself and changes nothing.
        var half = new Expr.Binary(Op.SHR, Expr.read(low).plus(Expr.read(high)), Expr.of(Type.INT32, 1));
        var beyond = u.compare(Op.GE, new Expr.Element(x, Expr.read(middle)));
        e.add(new Stmt.Repeat(round, rounds, List.of(new Stmt.Assign(middle, half, e.origin()), new Stmt.If(beyond,
                List.of(new Stmt.Assign(low, Expr.read(middle), e.origin())),
                List.of(new Stmt.Assign(high, Expr.read(middle), e.origin())), e.origin())), e.origin()));
        return Expr.read(low);
    }
}
