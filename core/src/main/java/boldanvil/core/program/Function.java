package boldanvil.core.program;

import java.util.List;

/**
 * A function written in IR: it becomes a static function in C and a method in Java. Functions are equal only to themselves; what follows
 * from their bodies is computed once, since functions that call each other make a tree that grows with every level.
 */
public final class Function {
    private final String name;
    private final List<Slot> parameters;
    private final List<Stmt> body;
    private final Expr result;
    private final boolean canFault;
    private final double work;

    /**
     * @param name an identifier
     * @param parameters the arguments, of role LOCAL
     * @param body statements on LOCAL slots
     * @param result what it returns
     */
    public Function(String name, List<Slot> parameters, List<Stmt> body, Expr result) {
        this.name = name;
        this.parameters = List.copyOf(parameters);
        this.body = List.copyOf(body);
        this.result = result;
        canFault = FaultPlaces.canFault(this.body) || FaultPlaces.canFault(result);
        work = Work.of(this.body) + Work.of(result);
    }

    public String name() {
        return name;
    }

    public List<Slot> parameters() {
        return parameters;
    }

    public List<Stmt> body() {
        return body;
    }

    public Expr result() {
        return result;
    }

    /** Whether it can raise a fault and so needs to know the instance it works for. */
    public boolean canFault() {
        return canFault;
    }

    /** Operations of one call, those of the functions it calls included; loops count with a few rounds. */
    public double work() {
        return work;
    }

    @Override
    public String toString() {
        return name;
    }
}
