package boldanvil.core.maths;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Function;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.List;

/** Collects the statements of a function written in IR. */
public final class FunctionWriter {
    private final String name;
    private final Origin origin;
    private final List<Slot> parameters = new ArrayList<>();
    private List<Stmt> body = new ArrayList<>();

    public FunctionWriter(String name) {
        this.name = name;
        this.origin = Origin.of(name);
    }

    public Expr parameter(String parameter, Type type) {
        var s = Slot.of(parameter, Slot.Role.LOCAL, type);
        parameters.add(s);
        return Expr.read(s);
    }

    /** A local that is set once. */
    public Expr let(String local, Expr value) {
        return Expr.read(var(local, value));
    }

    /** A local that may be set again. */
    public Slot var(String local, Expr value) {
        var s = Slot.of(local, Slot.Role.LOCAL, value.type());
        set(s, value);
        return s;
    }

    public void set(Slot s, Expr value) {
        body.add(new Stmt.Assign(s, value, origin));
    }

    /** Statements that run only where the condition holds. */
    public void when(Expr condition, Runnable yes) {
        when(condition, yes, () -> { });
    }

    public void when(Expr condition, Runnable yes, Runnable no) {
        var outer = body;
        var first = new ArrayList<Stmt>();
        var second = new ArrayList<Stmt>();
        body = first;
        yes.run();
        body = second;
        no.run();
        body = outer;
        body.add(new Stmt.If(condition, first, second, origin));
    }

    public Function returns(Expr result) {
        return new Function(name, parameters, body, result);
    }
}
