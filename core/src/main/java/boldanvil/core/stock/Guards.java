package boldanvil.core.stock;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Fault;
import boldanvil.core.program.Stmt;
import java.util.ArrayList;
import java.util.List;

/**
 * What blocks do with values that are NaN or infinite: a limit never lets NaN pass, and a block that remembers never keeps NaN or an
 * infinite value, so that one bad sample does not spoil the rest of a run. Both raise a fault.
 */
final class Guards {
    /** For the help of blocks that limit. */
    static final String LIMITS = "NaN counts as 0, and raises a fault.";
    /** For the help of blocks that remember. */
    static final String STATES = "An input that is NaN or infinite counts as 0, and raises a fault.";

    private Guards() {}

    /** The value, or 0 where it is NaN. Integers are what they are. */
    static Expr number(Emitter e, Expr u) {
        return number(e, "number", u);
    }

    static Expr number(Emitter e, String name, Expr u) {
        return kept(e, name, u, u.eq(u));
    }

    /** The value, or 0 where it is NaN or infinite. */
    static Expr finite(Emitter e, Expr u) {
        return finite(e, "finite", u);
    }

    static Expr finite(Emitter e, String name, Expr u) {
        return u instanceof Expr.Literal || !u.type().isFloat() ? u : finiteOf(e, name, e.temp(name + "_given", u));
    }

    /** The value, or 0 where it is NaN or infinite, of an input that only updates may read. */
    static Expr finiteLater(Emitter e, String name, Expr u) {
        if (u instanceof Expr.Literal || !u.type().isFloat()) {
            return u;
        }
        var s = e.local(name, u.type());
        var good = isFinite(Expr.read(s));
        e.after(new Stmt.Assign(s, u, e.origin()));
        e.after(new Stmt.If(good.not(), List.of(new Stmt.Raise(Fault.NOT_FINITE, e.origin()),
                new Stmt.Assign(s, Expr.of(u.type(), 0), e.origin())),
                List.of(), e.origin()));
        return Expr.read(s);
    }

    static List<Expr> finiteLater(Emitter e, String name, List<Expr> all) {
        List<Expr> safe = new ArrayList<>();
        for (int i = 0; i < all.size(); i++) {
            safe.add(finiteLater(e, name + (i + 1), all.get(i)));
        }
        return safe;
    }

    /** Zero times NaN or infinity is NaN. */
    private static Expr isFinite(Expr u) {
        return u.times(0).eq(Expr.of(u.type(), 0));
    }

    private static Expr finiteOf(Emitter e, String name, Expr u) {
        return kept(e, name, u, isFinite(u));
    }

    private static Expr kept(Emitter e, String name, Expr u, Expr good) {
        if (u instanceof Expr.Literal || !u.type().isFloat()) {
            return u;
        }
        raise(e, good.not(), Fault.NOT_FINITE);
        return e.temp(name, u.when(good, Expr.of(u.type(), 0)));
    }

    /** Raises a fault where a condition holds. */
    static void raise(Emitter e, Expr condition, int bit) {
        if (!(condition instanceof Expr.Literal l)) {
            e.add(new Stmt.If(condition, List.of(new Stmt.Raise(bit, e.origin())), List.of(), e.origin()));
        } else if (l.value() != 0) {
            e.add(new Stmt.Raise(bit, e.origin()));
        }
    }
}
