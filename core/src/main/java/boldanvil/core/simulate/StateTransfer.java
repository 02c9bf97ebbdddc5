package boldanvil.core.simulate;

import boldanvil.core.instance.Instance;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Takes the state of one instance over into one of another program of the same part: what has a name in both. */
public final class StateTransfer {
    /** What is read of an instance, in the order of the pairs. */
    public record Taken(List<Object> values) {}

    private record Pair(Slot from, Slot to) {}

    private final List<Pair> pairs = new ArrayList<>();

    /**
     * @param from program of the instances with the state
     * @param to program of those that get it
     */
    public StateTransfer(Program from, Program to) {
        Map<String, Slot> known = byName(from);
        byName(to).forEach((name, slot) -> {
            Slot kept = known.get(name);
            if (kept != null && kept.type() == slot.type() && kept.length() == slot.length()) {
                pairs.add(new Pair(kept, slot));
            }
        });
    }

    /** Reads a state, between two ticks of the instance. */
    public Taken take(Instance state) {
        return new Taken(pairs.stream().map(p -> p.from().isArray() ? (Object) state.elements(p.from()) : (Object) state.get(p.from()))
                .toList());
    }

    /** Sets an instance to a state. */
    public void give(Taken taken, Instance into) {
        for (int i = 0; i < pairs.size(); i++) {
            Slot to = pairs.get(i).to();
            switch (taken.values().get(i)) {
                case double[] all -> into.set(to, all);
                case Object one -> into.set(to, (Double) one);
            }
        }
    }

    /** Slots by their names, and those that keep states of other names by these. */
    private static Map<String, Slot> byName(Program p) {
        Map<String, Slot> all = new LinkedHashMap<>();
        p.slots().stream().filter(s -> s.role() != Slot.Role.LOCAL).forEach(s -> all.put(s.name(), s));
        p.standIns().forEach((name, s) -> {
            if (s.role() != Slot.Role.LOCAL) {
                all.putIfAbsent(name, s);
            }
        });
        return all;
    }
}
