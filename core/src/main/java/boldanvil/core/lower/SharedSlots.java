package boldanvil.core.lower;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Rewriter;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Task;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Gives one place in memory to slots that need no two. A signal that only repeats an input is that input; a state that only
 * keeps a signal of memory until the next step is that signal, when nothing needs the old value after the new one is there.
 */
final class SharedSlots {
    /** The statements that are left, in their order, still with the slots they had; and which slot stands for which. */
    record Result(List<Procedure> procedures, Map<Slot, Slot> instead) {
        Slot settled(Slot s) {
            return instead.getOrDefault(s, s);
        }
    }

    /** An outermost statement of a procedure. */
    private record Place(String procedure, Stmt statement) {}

    /** What reads and sets a slot. */
    private static final class Use {
        final List<Place> readers = new ArrayList<>(2);
        final List<Slot> copies = new ArrayList<>(0);
        final List<String> procedures = new ArrayList<>(1);
        int writes;
        Place writer;

        void usedIn(String procedure) {
            if (!procedures.contains(procedure)) {
                procedures.add(procedure);
            }
        }

        /** All reads of one statement come in a row. */
        void read(Place place) {
            if (readers.isEmpty() || readers.getLast().statement() != place.statement()) {
                readers.add(place);
                usedIn(place.procedure());
            }
        }

        boolean isReadOnlyIn(String procedure) {
            return readers.stream().allMatch(r -> r.procedure().equals(procedure));
        }
    }

    private final Set<Slot> observed;
    private final Map<Slot, Use> uses;
    /** Places of outermost statements in their procedures; those that are dropped have none. */
    private final Map<Stmt, Double> places;
    private final Map<Slot, Slot> instead = new IdentityHashMap<>();

    private SharedSlots(Set<Slot> observed, int statements) {
        this.observed = observed;
        uses = new IdentityHashMap<>(statements);
        places = new IdentityHashMap<>(statements);
    }

    /**
     * @param tasks the discrete tasks
     * @param observed slots that are measured
     */
    static Result share(List<Procedure> procedures, List<Task> tasks, Set<Slot> observed) {
        var pass = new SharedSlots(observed, procedures.stream().mapToInt(p -> p.body().size()).sum());
        procedures.forEach(pass::note);
        Map<String, Procedure> byName = new HashMap<>();
        procedures.forEach(p -> byName.put(p.name(), p));
        Set<String> latches = new HashSet<>(tasks.stream().map(Task::latch).toList());
        for (Task t : tasks) {
            if (t.periodTicks() == 1) {
                pass.inputs(byName.get(t.run()), latches);
            }
            pass.states(byName.get(t.run()));
        }
        Set<String> runs = new HashSet<>(tasks.stream().map(Task::run).toList());
        return new Result(procedures.stream().map(p -> runs.contains(p.name())
                ? new Procedure(p.name(), p.purpose(), pass.ordered(p.body())) : p).toList(), pass.instead);
    }

    private List<Stmt> ordered(List<Stmt> body) {
        return body.stream().filter(places::containsKey).sorted(Comparator.comparing(places::get)).toList();
    }

    private void note(Procedure p) {
        for (int i = 0; i < p.body().size(); i++) {
            Stmt s = p.body().get(i);
            places.put(s, (double) i);
            var place = new Place(p.name(), s);
            Rewriter.expressions(List.of(s), e -> {
                if (e instanceof Expr.Read r) {
                    use(r.slot()).read(place);
                }
            });
            if (s instanceof Stmt.Assign a && a.value() instanceof Expr.Read r) {
                use(r.slot()).copies.add(a.target());
            }
            writes(p, s, s);
        }
    }

    private void writes(Procedure p, Stmt s, Stmt outermost) {
        if (s instanceof Stmt.Assign a) {
            Use u = use(a.target());
            u.writes++;
            u.writer = s == outermost ? new Place(p.name(), s) : null;
            u.usedIn(p.name());
        }
        s.bodies().forEach(b -> b.forEach(inner -> writes(p, inner, outermost)));
    }

    private Use use(Slot s) {
        return uses.computeIfAbsent(s, _ -> new Use());
    }

    /** Whether a statement of a procedure's is the only one that sets a slot, and always runs. */
    private boolean isOnlyWriter(Stmt s, Slot slot) {
        Use u = use(slot);
        return u.writes == 1 && u.writer != null && u.writer.statement() == s;
    }

    private boolean isInMemory(Slot s) {
        return s.role() == Slot.Role.SIGNAL && !s.isArray() && s.member() == null && (observed.contains(s) || use(s).procedures.size() > 1);
    }

    /** Copies of inputs that are read only while the input still has its value: in this task, and where others take it over after it. */
    private void inputs(Procedure p, Set<String> latches) {
        for (Stmt s : p.body()) {
            if (s instanceof Stmt.Assign a && a.value() instanceof Expr.Read r && r.slot().role() == Slot.Role.INPUT
                    && isInMemory(a.target())
                    && isOnlyWriter(a, a.target()) && use(a.target()).readers.stream().allMatch(q ->
                            latches.contains(q.procedure()) || q.procedure().equals(p.name())
                            && places.get(q.statement()) > places.get(a))) {
                instead.put(a.target(), r.slot());
                places.remove(a);
            }
        }
    }

    private void states(Procedure p) {
        for (Stmt s : p.body()) {
            if (s instanceof Stmt.Assign keep && places.containsKey(keep) && keep.value() instanceof Expr.Read r
                    && keep.target().role() == Slot.Role.STATE && !observed.contains(keep.target()) && isOnlyWriter(keep, keep.target())
                    && use(keep.target()).isReadOnlyIn(p.name())) {
                state(p, keep, r.slot());
            }
        }
    }

    /** Lets a state be the signal it keeps, or another that is set to the same. */
    private void state(Procedure p, Stmt.Assign keep, Slot kept) {
        Slot signal = kept;
        if (!fits(p, signal, keep)) {
            signal = use(kept).writes > 1 ? null : use(kept).copies.stream().filter(s -> fits(p, s, keep)).findFirst().orElse(null);
        }
        if (signal == null) {
            return;
        }
        double place = places.get(use(signal).writer.statement());
        List<Stmt> early = new ArrayList<>();
        for (Place r : use(keep.target()).readers) {
            if (places.get(r.statement()) > place) {
                if (!isMovable(r.statement(), keep)) {
                    return;
                }
                early.add(r.statement());
            }
        }
        early.forEach(s -> places.put(s, place - 0.5));
        places.remove(keep);
        var common = signal.as(Slot.Role.STATE);
        instead.put(signal, common);
        instead.put(keep.target(), common);
    }

    private boolean fits(Procedure p, Slot signal, Stmt.Assign keep) {
        Use u = use(signal);
        return isInMemory(signal) && !instead.containsKey(signal) && u.writes == 1 && u.writer != null
                && u.writer.procedure().equals(p.name())
                && places.get(u.writer.statement()) < places.get(keep) && signal.type() == keep.target().type()
                && Double.doubleToRawLongBits(signal.initial()) == Double.doubleToRawLongBits(keep.target().initial());
    }

    /** Whether a statement only copies the old value and can do so earlier. */
    private boolean isMovable(Stmt s, Stmt.Assign keep) {
        return s instanceof Stmt.Assign a && a.value() instanceof Expr.Read && isOnlyWriter(a, a.target())
                && !instead.containsKey(a.target())
                && places.get(a) < places.get(keep)
                && use(a.target()).readers.stream().allMatch(r -> !r.procedure().equals(use(a.target()).writer.procedure())
                        || places.get(r.statement()) > places.get(a));
    }
}
