package boldanvil.core.jvm;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Rewriter;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Cuts procedures into methods well below 8000 bytes of code, where HotSpot gives up compiling, and short enough that it compiles
 * them soon: its time grows faster than their length. Locals that several methods use become fields.
 */
final class Chunker {
    /** Nodes of statements and expressions per method. */
    private static final int CHUNK = 250;
    /** Most methods, as their names are constants of the class; a very large program has longer ones. */
    private static final int METHODS = 8_000;

    private final List<Procedure> methods = new ArrayList<>();
    private final Map<Slot, Procedure> user = new IdentityHashMap<>();
    private final Set<Slot> shared = Collections.newSetFromMap(new IdentityHashMap<>());
    private final IdentityHashMap<Stmt, Integer> weights = new IdentityHashMap<>();

    private final int chunk;

    Chunker(Program program) {
        long nodes = program.procedures().stream().mapToLong(p -> weight(p.body())).sum();
        chunk = (int) Math.max(CHUNK, nodes / METHODS);
        program.procedures().stream().filter(p -> !p.name().equals(Program.INIT)).forEach(this::cut);
        for (Procedure p : methods) {
            p.body().forEach(s -> Rewriter.usedSlots(s, slot -> {
                if (!slot.inMemory()) {
                    Procedure other = user.putIfAbsent(slot, p);
                    if (other != null && other != p) {
                        shared.add(slot);
                    }
                }
            }));
        }
    }

    /** Every method to write. */
    List<Procedure> methods() {
        return methods;
    }

    /** Locals that live in fields, since several methods use them. */
    Set<Slot> shared() {
        return shared;
    }

    private void cut(Procedure p) {
        List<Stmt> body = new ArrayList<>();
        int n = 0;
        for (Stmt s : p.body()) {
            body.add(weight(s) > chunk ? outlined(s, p.name() + "$" + n++) : s);
        }
        if (weight(body) <= chunk) {
            methods.add(new Procedure(p.name(), p.purpose(), body));
            return;
        }
        List<Stmt> calls = new ArrayList<>();
        int from = 0;
        int sum = 0;
        for (int i = 0; i <= body.size(); i++) {
            int next = i < body.size() ? weight(body.get(i)) : chunk + 1;
            if (sum + next > chunk && i > from) {
                String name = p.name() + "$" + n++;
                methods.add(new Procedure(name, p.purpose(), body.subList(from, i)));
                calls.add(new Stmt.Invoke(name, body.get(from).origin()));
                from = i;
                sum = 0;
            }
            sum += next;
        }
        methods.add(new Procedure(p.name(), p.purpose(), calls));
    }

    /** A conditional or repeated statement with its long bodies in methods of their own. */
    private Stmt outlined(Stmt s, String name) {
        return switch (s) {
            case Stmt.If i -> new Stmt.If(i.condition(), moved(i.yes(), name + "y", i), moved(i.no(), name + "n", i), i.origin());
            case Stmt.Repeat r -> new Stmt.Repeat(r.counter(), r.count(), moved(r.body(), name + "r", r), r.origin());
            case Stmt.While w -> new Stmt.While(w.condition(), w.limit(), moved(w.body(), name + "w", w), w.origin());
            case Stmt.Group g -> new Stmt.Group(g.title(), moved(g.body(), name + "g", g), g.origin());
            case Stmt.Written w -> w.with(e -> e, o -> o, moved(w.body(), name + "w", w));
            default -> s;
        };
    }

    private List<Stmt> moved(List<Stmt> body, String name, Stmt around) {
        if (weight(body) <= chunk / 2) {
            return body;
        }
        if (!leaves(body)) {
            cut(new Procedure(name, "", body));
            return List.of(new Stmt.Invoke(name, around.origin()));
        }
        // What leaves the loop stays; what is between moves.
        List<Stmt> all = new ArrayList<>();
        List<Stmt> between = new ArrayList<>();
        for (Stmt s : body) {
            if (leaves(List.of(s))) {
                all.addAll(moved(between, name + all.size(), around));
                between = new ArrayList<>();
                all.add(s);
            } else {
                between.add(s);
            }
        }
        all.addAll(moved(between, name + all.size(), around));
        return all;
    }

    /** Whether a break in the body leaves a loop around it. */
    private static boolean leaves(List<Stmt> body) {
        return body.stream().anyMatch(s -> s instanceof Stmt.Break || s instanceof Stmt.If i
                && i.bodies().stream().anyMatch(Chunker::leaves));
    }

    private int weight(List<Stmt> body) {
        int sum = 0;
        for (Stmt s : body) {
            sum += weight(s);
        }
        return sum;
    }

    private int weight(Stmt s) {
        Integer known = weights.get(s);
        if (known == null) {
            known = 2;
            for (Expr e : s.expressions()) {
                known += weight(e);
            }
            for (List<Stmt> b : s.bodies()) {
                known += weight(b);
            }
            weights.put(s, known);
        }
        return known;
    }

    private static int weight(Expr e) {
        int sum = 1;
        for (Expr c : e.children()) {
            sum += weight(c);
        }
        return sum;
    }
}
