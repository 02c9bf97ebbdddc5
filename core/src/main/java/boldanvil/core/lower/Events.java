package boldanvil.core.lower;

import boldanvil.core.program.Program;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Fault;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.List;

/**
 * What changes in a continuous part at an instant instead of steadily: values that remember a threshold, and states that are set at an
 * edge. While the solver tries a step, memory is held, so that the right-hand side is smooth within the step; the solver asks for
 * {@link #guards()}, divides the step where one becomes positive, and lets memory change there by {@link #SETTLE}.
 */
final class Events {
    /** Lets memory change as far as it wants to at the present instant, and holds it then. */
    static final String SETTLE = "settle";
    /** Changes in a row at one instant; each may cause the next. */
    private static final int MOST_IN_A_ROW = 16;

    /** Something that changes: the real value that is positive once it wants to, and a flag that says whether it did. */
    private record Event(Expr guard, Slot changed, Origin origin) {}

    private final ProgramWriter writer;
    private final Type real;
    private final List<Event> events = new ArrayList<>();
    private final List<Stmt> seen = new ArrayList<>();
    private final List<Stmt> changes = new ArrayList<>();
    private final List<Stmt> follows = new ArrayList<>();
    private Slot held;

    Events(ProgramWriter writer, Type real) {
        this.writer = writer;
        this.real = real;
    }

    /** True while memory is held. */
    Slot held() {
        if (held == null) {
            held = writer.slot("memory_held", Slot.Role.STATE, Type.BOOL, 0, "solver", "");
        }
        return held;
    }

    /** Whether nothing changes at an instant. */
    boolean isEmpty() {
        return events.isEmpty();
    }

    /** Values that become positive where memory wants to change, of the part's real type. */
    List<Expr> guards() {
        return events.stream().map(Event::guard).toList();
    }

    /** What is to be done after each step of the solver. */
    List<Stmt> follows() {
        return follows;
    }

    void follow(Stmt statement) {
        follows.add(statement);
    }

    /**
     * A logic value with memory.
     *
     * @param next what it becomes if it may
     * @param guard positive where that differs from what it is
     */
    void switched(Slot kept, Expr next, Expr guard, Origin origin) {
        Slot value = writer.solverSlot(kept.name() + "_next", Type.BOOL);
        Slot changed = writer.solverSlot(kept.name() + "_changed", Type.BOOL);
        events.add(new Event(guard, changed, origin));
        seen.add(new Stmt.Assign(value, next, origin));
        seen.add(new Stmt.Assign(changed, Expr.read(value).compare(Expr.Op.NE, Expr.read(kept)), origin));
        changes.add(new Stmt.Assign(kept, Expr.read(value), origin));
    }

    /** A state that is set at an edge of a logic value. */
    void reset(Slot state, Expr trigger, String edge, Expr to, BlockEmitter block) {
        Origin origin = block.origin();
        Slot was = block.state("trigger", Type.BOOL, 0);
        Slot now = block.local("trigger_now", Type.BOOL);
        Slot value = block.local("reset_value", state.type());
        Slot changed = block.local("reset_now", Type.BOOL);
        Expr differs = trigger.compare(Expr.Op.NE, Expr.read(was));
        // Both edges divide a step, so that a short pulse between two ticks is not taken for a long one.
        events.add(new Event(Expr.of(real, 1).when(differs, Expr.of(real, -1)), changed, origin));
        seen.add(new Stmt.Assign(now, trigger, origin));
        seen.add(new Stmt.Assign(value, to, origin));
        var differsNow = Expr.read(now).compare(Expr.Op.NE, Expr.read(was));
        seen.add(new Stmt.Assign(changed, switch (edge) {
            case "rising" -> differsNow.and(Expr.read(now));
            case "falling" -> differsNow.and(Expr.read(was));
            default -> differsNow;
        }, origin));
        changes.add(new Stmt.Assign(was, Expr.read(now), origin));
        changes.add(new Stmt.If(Expr.read(changed), List.of(new Stmt.Assign(state, Expr.read(value), origin)), List.of(), origin));
    }

    /** {@link #SETTLE}: outputs with memory that is free to change, then the changes, until there are none. */
    Procedure settle(Origin origin) {
        Slot round = writer.solverSlot("settle_round", Type.INT32);
        List<Stmt> body = new ArrayList<>();
        body.add(new Stmt.Invoke(Program.OUTPUTS, origin));
        body.addAll(seen);
        body.addAll(changes);
        Expr moved = events.stream().map(e -> Expr.read(e.changed())).reduce(Expr::or).orElseThrow();
        body.add(new Stmt.If(moved.not(), List.of(new Stmt.Break(origin)), List.of(), origin));
        List<Stmt> all = new ArrayList<>();
        all.add(new Stmt.Assign(held(), Expr.of(false), origin));
        all.add(new Stmt.Repeat(round, MOST_IN_A_ROW, body, origin));
        events.forEach(e -> all.add(raise(Expr.read(e.changed()), e.origin())));
        all.add(new Stmt.Assign(held(), Expr.of(true), origin));
        return new Procedure(SETTLE, "Updates the blocks that remember a threshold, at the present instant.", all);
    }

    /** Faults of all events that want to happen at the present instant. */
    List<Stmt> raises() {
        return events.stream().map(e -> raise(e.guard().gt(Expr.of(real, 0)), e.origin())).toList();
    }

    private static Stmt raise(Expr condition, Origin origin) {
        return new Stmt.If(condition, List.of(new Stmt.Raise(Fault.EVENTS, origin)), List.of(), origin);
    }
}
