package boldanvil.core.iec;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Rewriter;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Task;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * How a part is divided among tasks of a PLC: what happens in each base tick, and each slower task for itself, with less priority. The base
 * task releases a slower one by a flag, so both agree about the instant; it takes over values for it, and shows its results at its next
 * release, as the part does wherever it runs. A part with something continuous stays whole, since slower tasks read that at once.
 */
final class StTasks {
    /**
     * What one task does.
     *
     * @param rate of a slower task, such as {@code 5ms}; empty for the base
     * @param due what releases it; null for the base
     */
    record Unit(String rate, Slot due, List<Stmt> body) {}

    private final List<Unit> units = new ArrayList<>();
    private final Map<Slot, Set<Unit>> users = new IdentityHashMap<>();

    /** @param texts the texts that became function blocks */
    StTasks(Program program, WrittenTexts texts) {
        Map<String, Procedure> procedures = new HashMap<>();
        program.procedures().forEach(p -> procedures.put(p.name(), p));
        Map<String, Slot> due = new LinkedHashMap<>();
        if (!program.continuous()) {
            program.tasks().stream().filter(t -> t.periodTicks() > 1).forEach(t -> due.put(t.run(), Slot.of("due_" + rate(t),
                    Slot.Role.STATE, Type.BOOL)));
        }
        List<Stmt> base = new ArrayList<>();
        due.values().forEach(s -> base.add(new Stmt.Assign(s, Expr.of(false), Origin.of(program.name()))));
        for (String entry : List.of(Program.SAMPLE, Program.STEP, Program.ADVANCE)) {
            base.addAll(released(procedures.get(entry).body(), due));
        }
        units.add(new Unit("", null, base));
        for (Task t : program.tasks()) {
            if (due.containsKey(t.run())) {
                units.add(new Unit(rate(t), due.get(t.run()), procedures.get(t.run()).body()));
            }
        }
        units.forEach(u -> use(u, u.body(), procedures, texts));
    }

    private static String rate(Task t) {
        return t.name().replace("task_", "");
    }

    /** The statements with a flag in the place of what runs in a task of its own. */
    private static List<Stmt> released(List<Stmt> body, Map<String, Slot> due) {
        return body.stream().map(s -> switch (s) {
            case Stmt.Invoke i when due.containsKey(i.procedure()) -> new Stmt.Assign(due.get(i.procedure()), Expr.of(true), i.origin());
            case Stmt.If i -> new Stmt.If(i.condition(), released(i.yes(), due), released(i.no(), due), i.origin());
            default -> s;
        }).toList();
    }

    private void use(Unit u, List<Stmt> body, Map<String, Procedure> procedures, WrittenTexts texts) {
        for (Stmt s : body) {
            if (s instanceof Stmt.Written w && texts.of(w) != null) {
                texts.of(w).slots().forEach(slot -> used(u, slot));
                continue;
            }
            if (s instanceof Stmt.Invoke i) {
                use(u, procedures.get(i.procedure()).body(), procedures, texts);
            }
            Rewriter.ownSlots(s, slot -> used(u, slot));
            s.bodies().forEach(b -> use(u, b, procedures, texts));
        }
    }

    private void used(Unit u, Slot s) {
        users.computeIfAbsent(s, _ -> Collections.newSetFromMap(new IdentityHashMap<>())).add(u);
    }

    /** The base first, then the slower ones. */
    List<Unit> units() {
        return units;
    }

    /** Whether several tasks know a slot, so that it belongs to none of them. */
    boolean isCommon(Slot s) {
        return users.getOrDefault(s, Set.of()).size() > 1;
    }

    /** The unit a slot belongs to; the base where none knows it. */
    Unit owner(Slot s) {
        return users.getOrDefault(s, Set.of()).stream().findFirst().orElse(units.getFirst());
    }

    boolean uses(Unit u, Slot s) {
        return users.getOrDefault(s, Set.of()).contains(u);
    }
}
