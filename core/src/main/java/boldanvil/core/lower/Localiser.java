package boldanvil.core.lower;

import boldanvil.core.program.Origin;
import boldanvil.core.program.Procedure;
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
 * Turns signals that live within one procedure into locals and drops those nobody uses: less memory, faster code. In a long
 * procedure, which an output may have to cut into several functions, only signals within one block become local.
 */
final class Localiser {
    private static final int SHORT = 100;

    /** What is left. */
    record Result(List<Procedure> procedures, List<Slot> slots) {}

    /** Where a slot is used. */
    private static final class Use {
        Procedure procedure;
        Origin origin;
        int first;
        int last;
        boolean several;
        boolean severalOrigins;
    }

    private Localiser() {}

    static Result localise(List<Procedure> all, List<Slot> slots, List<Slot> observed) {
        var procedures = DeadStores.remove(all, observed);
        Map<Slot, Use> uses = new IdentityHashMap<>();
        for (Procedure p : procedures) {
            for (int i = 0; i < p.body().size(); i++) {
                note(p, i, p.body().get(i), uses);
            }
        }
        Set<Slot> kept = Collections.newSetFromMap(new IdentityHashMap<>());
        kept.addAll(observed);
        Map<Slot, Slot> locals = new IdentityHashMap<>();
        List<Slot> memory = new ArrayList<>();
        for (Slot s : slots) {
            Use use = uses.get(s);
            if (s.role() != Slot.Role.SIGNAL || kept.contains(s)) {
                memory.add(s);
            } else if (use != null && (use.several || use.procedure.body().size() > SHORT && use.severalOrigins)) {
                memory.add(s);
            } else if (use != null) {
                locals.put(s, s.as(Slot.Role.LOCAL));
            }
        }
        var rewritten = procedures.stream().map(p -> new Procedure(p.name(), p.purpose(),
                Rewriter.slots(p.body(), s -> locals.getOrDefault(s, s)))).toList();
        return new Result(rewritten, memory);
    }

    private static void note(Procedure p, int at, Stmt statement, Map<Slot, Use> uses) {
        Rewriter.usedSlots(statement, s -> {
            Use use = uses.get(s);
            if (use == null) {
                use = new Use();
                use.procedure = p;
                use.origin = statement.origin();
                use.first = at;
                uses.put(s, use);
            }
            use.several |= use.procedure != p;
            // Outputs and updates of one block lie apart; a gap means that a cut may fall in between.
            use.severalOrigins |= !use.origin.equals(statement.origin()) || at > use.last + 1 && at != use.first;
            use.last = at;
        });
    }
}
