package boldanvil.core.lower;

import boldanvil.core.program.Procedure;
import boldanvil.core.program.Rewriter;
import boldanvil.core.program.Slot;
import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Turns signals that live within one procedure into locals and leaves out those nobody uses: less memory, faster code. */
final class Localiser {
    /** What is left. */
    record Result(List<Procedure> procedures, List<Slot> slots) {}

    private Localiser() {}

    /** @param shared the procedures, and slots that stand for others */
    static Result localise(SharedSlots.Result shared, List<Slot> slots, List<Slot> observed) {
        Map<Slot, Procedure> user = new IdentityHashMap<>();
        Set<Slot> kept = Collections.newSetFromMap(new IdentityHashMap<>());
        kept.addAll(observed);
        for (Procedure p : shared.procedures()) {
            p.body().forEach(statement -> Rewriter.usedSlots(statement, used -> {
                Slot s = shared.settled(used);
                Procedure other = user.putIfAbsent(s, p);
                if (other != null && other != p) {
                    kept.add(s);
                }
            }));
        }
        Map<Slot, Slot> locals = new IdentityHashMap<>();
        List<Slot> memory = new ArrayList<>();
        for (Slot s : slots) {
            if (s.role() != Slot.Role.SIGNAL || kept.contains(s) || s.isArray() && user.containsKey(s)) {
                memory.add(s);
            } else if (user.containsKey(s)) {
                locals.put(s, s.as(Slot.Role.LOCAL));
            }
        }
        var rewritten = shared.procedures().stream().map(p -> new Procedure(p.name(), p.purpose(), Rewriter.slots(p.body(), used -> {
            Slot s = shared.settled(used);
            return locals.getOrDefault(s, s);
        }))).toList();
        return new Result(rewritten, memory);
    }
}
