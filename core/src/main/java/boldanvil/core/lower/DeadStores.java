package boldanvil.core.lower;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Rewriter;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;

/** Removes assignments to signals that nobody reads, and whatever was computed only for them. */
final class DeadStores {
    private final Map<Slot, Integer> reads;
    private final Map<Slot, List<Stmt>> writers;
    private final Set<Slot> dead = Collections.newSetFromMap(new IdentityHashMap<>());

    private DeadStores(int statements) {
        reads = new IdentityHashMap<>(statements);
        writers = new IdentityHashMap<>(statements);
    }

    static List<Procedure> remove(List<Procedure> procedures, List<Slot> observed) {
        var pass = new DeadStores(procedures.stream().mapToInt(p -> p.body().size()).sum());
        observed.forEach(s -> pass.reads.merge(s, 1, Integer::sum));
        procedures.forEach(p -> pass.count(p.body()));
        pass.findDead();
        return procedures.stream().map(p -> new Procedure(p.name(), p.purpose(), pass.keep(p.body()))).toList();
    }

    private void count(List<Stmt> body) {
        Rewriter.expressions(body, e -> {
            Slot read = read(e);
            if (read != null) {
                reads.merge(read, 1, Integer::sum);
            }
        });
        body.forEach(this::noteWriters);
    }

    private void noteWriters(Stmt s) {
        Slot target = target(s);
        if (target != null) {
            writers.computeIfAbsent(target, _ -> new ArrayList<>(1)).add(s);
        }
        s.bodies().forEach(b -> b.forEach(this::noteWriters));
    }

    private static Slot target(Stmt s) {
        return switch (s) {
            case Stmt.Assign a -> a.target();
            case Stmt.Store t -> t.array();
            default -> null;
        };
    }

    private void findDead() {
        var waiting = new ArrayDeque<Slot>();
        writers.keySet().stream().filter(this::isUnread).forEach(waiting::add);
        while (!waiting.isEmpty()) {
            Slot s = waiting.poll();
            if (!dead.add(s)) {
                continue;
            }
            for (Stmt a : writers.get(s)) {
                Rewriter.expressions(List.of(a), e -> {
                    Slot read = read(e);
                    if (read != null && reads.merge(read, -1, Integer::sum) == 0 && isUnread(read) && writers.containsKey(read)) {
                        waiting.add(read);
                    }
                });
            }
        }
    }

    private static Slot read(Expr e) {
        return switch (e) {
            case Expr.Read r -> r.slot();
            case Expr.At a -> a.array();
            default -> null;
        };
    }

    private boolean isUnread(Slot s) {
        boolean internal = s.role() == Slot.Role.SIGNAL || s.role() == Slot.Role.LATCH;
        return internal && reads.getOrDefault(s, 0) == 0;
    }

    private static <T> Map<String, T> alive(Map<String, T> all, Predicate<T> isDead) {
        Map<String, T> kept = new LinkedHashMap<>(all);
        kept.values().removeIf(isDead);
        return kept;
    }

    private boolean readsDead(Expr e) {
        boolean[] found = {false};
        Rewriter.visit(e, x -> found[0] |= read(x) != null && dead.contains(read(x)));
        return found[0];
    }

    private List<Stmt> keep(List<Stmt> body) {
        List<Stmt> kept = new ArrayList<>(body.size());
        for (Stmt s : body) {
            switch (s) {
                case Stmt.Assign _, Stmt.Store _ -> {
                    boolean toItself = s instanceof Stmt.Assign a && a.value() instanceof Expr.Read r && r.slot() == a.target();
                    if (!dead.contains(target(s)) && !toItself) {
                        kept.add(s);
                    }
                }
                case Stmt.If i -> {
                    var yes = keep(i.yes());
                    var no = keep(i.no());
                    if (!yes.isEmpty() || !no.isEmpty()) {
                        kept.add(new Stmt.If(i.condition(), yes, no, i.origin()));
                    }
                }
                case Stmt.Repeat r -> {
                    var inner = keep(r.body());
                    if (!inner.isEmpty()) {
                        kept.add(new Stmt.Repeat(r.counter(), r.count(), inner, r.origin()));
                    }
                }
                case Stmt.While w -> kept.add(new Stmt.While(w.condition(), w.limit(), keep(w.body()), w.origin()));
                case Stmt.Group g -> {
                    var inner = keep(g.body());
                    if (!inner.isEmpty()) {
                        kept.add(new Stmt.Group(g.title(), inner, g.origin()));
                    }
                }
                case Stmt.Written w -> {
                    var inner = keep(w.body());
                    if (!inner.isEmpty()) {
                        kept.add(new Stmt.Written(w.text(), alive(w.inputs(), this::readsDead), alive(w.outputs(), dead::contains), inner,
                                w.origin()));
                    }
                }
                case Stmt.Break _, Stmt.Raise _, Stmt.Invoke _ -> kept.add(s);
            }
        }
        return kept;
    }
}
