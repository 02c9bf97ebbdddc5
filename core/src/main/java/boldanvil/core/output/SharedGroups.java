package boldanvil.core.output;

import boldanvil.core.program.Expr;
import boldanvil.core.program.FaultPlaces;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Rewriter;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;

/**
 * Finds subsystems that run as one and do the same: their statements become one function, called for each of them. Two are alike
 * when their statements differ in nothing but the slots; slots are the function's arguments. What can raise a fault is not
 * shared, since a fault names its block.
 */
public final class SharedGroups {
    /** Statements from which on a function is worth it. */
    private static final int WORTH = 3;

    /** A slot as an argument: by value where it is only read. */
    public record Argument(Slot slot, boolean written) {}

    /**
     * A function for alike groups.
     *
     * @param body statements of the first of them
     * @param arguments slots of the first, in the order of their mention
         */
    public record Shared(String name, List<Stmt> body, List<Argument> arguments) {}

    /** A group and the place of its slots among the arguments. */
    public record Member(Shared function, List<Slot> slots) {}

    /** A group with what is needed to compare it. */
    private record Candidate(Stmt.Group group, List<Slot> slots, Set<Slot> written, Set<Slot> inner, String form) {}

    private final Map<Stmt.Group, Member> members = new IdentityHashMap<>();
    private final Set<Slot> moved = Collections.newSetFromMap(new IdentityHashMap<>());
    private final List<Shared> functions = new ArrayList<>();
    private final Predicate<Stmt> ownMemory;

    public SharedGroups(Program program) {
        this(program, _ -> false);
    }

    /** @param ownMemory statements that keep something of their own, which no two subsystems can have together */
    public SharedGroups(Program program, Predicate<Stmt> ownMemory) {
        this.ownMemory = ownMemory;
        Map<String, List<Candidate>> alike = new LinkedHashMap<>();
        for (Procedure p : program.procedures()) {
            Map<Slot, Integer> uses = uses(p.body());
            collect(p.body(), uses, alike);
        }
        alike.values().stream().filter(list -> list.size() > 1).forEach(list -> share(program, list));
    }

    /** Functions in the order of their need. */
    public List<Shared> functions() {
        return functions;
    }

    /** Whether a local lives in a shared function and no longer where its group stands. */
    public boolean isMoved(Slot local) {
        return moved.contains(local);
    }

    /** How a group is called; null where it is in place. */
    public Member of(Stmt.Group g) {
        return members.get(g);
    }

    private static Map<Slot, Integer> uses(List<Stmt> body) {
        Map<Slot, Integer> uses = new IdentityHashMap<>();
        body.forEach(s -> Rewriter.usedSlots(s, slot -> uses.merge(slot, 1, Integer::sum)));
        return uses;
    }

    private void collect(List<Stmt> body, Map<Slot, Integer> uses, Map<String, List<Candidate>> alike) {
        for (Stmt s : body) {
            if (s instanceof Stmt.Group g && g.body().size() >= WORTH && isPlain(g.body())) {
                var c = candidate(g, uses);
                alike.computeIfAbsent(c.form(), _ -> new ArrayList<>()).add(c);
            } else {
                s.bodies().forEach(b -> collect(b, uses, alike));
            }
        }
    }

    private boolean isPlain(List<Stmt> body) {
        return body.stream().noneMatch(s -> ownMemory.test(s) || s instanceof Stmt.Invoke || s instanceof Stmt.Raise
                || s instanceof Stmt.While
                || FaultPlaces.canFault(s) || s.bodies().stream().anyMatch(b -> !isPlain(b)));
    }

    private static Candidate candidate(Stmt.Group g, Map<Slot, Integer> uses) {
        Map<Slot, Integer> numbers = new IdentityHashMap<>();
        List<Slot> slots = new ArrayList<>();
        Set<Slot> written = Collections.newSetFromMap(new IdentityHashMap<>());
        var form = new StringBuilder();
        describe(g.body(), numbers, slots, written, form);
        Map<Slot, Integer> here = uses(g.body());
        Set<Slot> inner = Collections.newSetFromMap(new IdentityHashMap<>());
        for (Slot s : slots) {
            boolean local = !s.inMemory() && here.get(s).equals(uses.get(s));
            if (local) {
                inner.add(s);
            }
            form.append('|').append(s.type()).append(s.length()).append(local ? 'i' : written.contains(s) ? 'w' : 'r');
        }
        return new Candidate(g, slots, written, inner, form.toString());
    }

    private static void describe(List<Stmt> body, Map<Slot, Integer> numbers, List<Slot> slots, Set<Slot> written, StringBuilder form) {
        for (Stmt s : body) {
            form.append(s.getClass().getSimpleName());
            s.expressions().forEach(e -> describe(e, numbers, slots, form));
            switch (s) {
                case Stmt.Assign a -> mention(a.target(), numbers, slots, form, written);
                case Stmt.Store t -> mention(t.array(), numbers, slots, form, written);
                case Stmt.Repeat r -> {
                    form.append(r.count());
                    mention(r.counter(), numbers, slots, form, written);
                }
                default -> { }
            }
            for (List<Stmt> b : s.bodies()) {
                form.append('{');
                describe(b, numbers, slots, written, form);
                form.append('}');
            }
        }
    }

    private static void describe(Expr e, Map<Slot, Integer> numbers, List<Slot> slots, StringBuilder form) {
        switch (e) {
            case Expr.Read r -> mention(r.slot(), numbers, slots, form, null);
            case Expr.At a -> mention(a.array(), numbers, slots, form, null);
            case Expr.Literal l -> form.append(l.type()).append(Double.doubleToRawLongBits(l.value()));
            case Expr.Binary b -> form.append(b.op());
            case Expr.Call c -> form.append(c.intrinsic());
            case Expr.Apply a -> form.append(a.function().name());
            case Expr.Element t -> form.append(t.table().name());
            case Expr.Bits b -> form.append(b.form());
            case Expr.Convert c -> form.append("to").append(c.type());
            case Expr.Wrap w -> form.append("wrap").append(w.type());
            default -> form.append(e.getClass().getSimpleName());
        }
        form.append('(');
        e.children().forEach(c -> describe(c, numbers, slots, form));
        form.append(')');
    }

    private static void mention(Slot s, Map<Slot, Integer> numbers, List<Slot> slots, StringBuilder form, Set<Slot> written) {
        Integer n = numbers.get(s);
        if (n == null) {
            n = slots.size();
            numbers.put(s, n);
            slots.add(s);
        }
        if (written != null) {
            written.add(s);
        }
        form.append('#').append(n).append(' ');
    }

    private void share(Program program, List<Candidate> alike) {
        var first = alike.getFirst();
        String base = program.name() + "_" + first.group().title().replaceAll("[^A-Za-z0-9]+", "_");
        Map<String, Integer> taken = new HashMap<>();
        functions.forEach(f -> taken.put(f.name(), 1));
        program.procedures().forEach(p -> taken.put(program.name() + "_" + p.name(), 1));
        String name = base + "_shared";
        for (int i = 2; taken.containsKey(name); i++) {
            name = base + "_shared_" + i;
        }
        List<Argument> arguments = new ArrayList<>();
        List<Integer> places = new ArrayList<>();
        for (int i = 0; i < first.slots().size(); i++) {
            Slot s = first.slots().get(i);
            if (!first.inner().contains(s)) {
                arguments.add(new Argument(s, first.written().contains(s)));
                places.add(i);
            }
        }
        var function = new Shared(name, first.group().body(), arguments);
        functions.add(function);
        for (Candidate c : alike) {
            moved.addAll(c.inner());
            members.put(c.group(), new Member(function, places.stream().map(c.slots()::get).toList()));
        }
    }
}
