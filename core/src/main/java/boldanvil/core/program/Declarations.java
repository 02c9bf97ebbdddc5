package boldanvil.core.program;

import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Set;

/** Which locals of a body are declared by their first assignment, and which must be there, as zero, from the beginning. */
public final class Declarations {
    private final Set<Slot> seen = Collections.newSetFromMap(new IdentityHashMap<>());
    private final Set<Stmt.Assign> declaring = Collections.newSetFromMap(new IdentityHashMap<>());
    private final List<Slot> early = new ArrayList<>();

    /** @param given locals that exist already, such as arguments */
    public Declarations(List<Stmt> body, Collection<Slot> given) {
        seen.addAll(given);
        body.forEach(s -> visit(s, true));
    }

    /** Whether this assignment is the first mention of its target. */
    public boolean declares(Stmt.Assign a) {
        return declaring.contains(a);
    }

    /** Locals to declare at the top: arrays, loop counters and what is first set within a nested body. */
    public List<Slot> early() {
        return early;
    }

    private void visit(Stmt s, boolean top) {
        s.expressions().forEach(this::reads);
        switch (s) {
            case Stmt.Assign a -> {
                if (!a.target().inMemory() && seen.add(a.target())) {
                    if (top) {
                        declaring.add(a);
                    } else {
                        early.add(a.target());
                    }
                }
            }
            case Stmt.Store t -> mention(t.array());
            case Stmt.Repeat r -> mention(r.counter());
            default -> { }
        }
        boolean same = top && (s instanceof Stmt.Group || s instanceof Stmt.Written);
        s.bodies().forEach(b -> b.forEach(t -> visit(t, same)));
    }

    private void reads(Expr e) {
        if (e instanceof Expr.Read r) {
            mention(r.slot());
        } else if (e instanceof Expr.At a) {
            mention(a.array());
        }
        e.children().forEach(this::reads);
    }

    private void mention(Slot s) {
        if (!s.inMemory() && seen.add(s)) {
            early.add(s);
        }
    }
}
