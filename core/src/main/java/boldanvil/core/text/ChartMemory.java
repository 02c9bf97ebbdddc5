package boldanvil.core.text;

import boldanvil.core.program.Slot;
import boldanvil.core.program.Type;
import java.util.LinkedHashMap;
import java.util.Map;

/** What a chart keeps from call to call; made once for each instance, or array of instances, of its function block. */
final class ChartMemory {
    private final Host host;
    private final String prefix;
    private final int instances;
    private final Map<String, Slot> slots = new LinkedHashMap<>();
    private final Map<String, Slot> active = new LinkedHashMap<>();

    /** @param instances how many instances share each slot */
    ChartMemory(Host host, String prefix, int instances) {
        this.host = host;
        this.prefix = prefix;
        this.instances = instances;
    }

    /** The slot with a name, made when it is first asked for. */
    Slot slot(String name, Type type, double initial) {
        return slots.computeIfAbsent(name, _ -> Memory.slot(host, prefix + name, type, instances, initial));
    }

    /** The flag of a step. */
    Slot active(String step, boolean initial) {
        var s = slot(step + "_X", Type.BOOL, initial ? 1 : 0);
        active.put(step, s);
        return s;
    }

    /** Everything the chart keeps, by the name it has for people: flags of steps, then what begins with a dollar sign. */
    Map<String, Slot> shown() {
        Map<String, Slot> all = new LinkedHashMap<>();
        active.forEach((step, slot) -> all.put(step + ".X", slot));
        slots.forEach((name, slot) -> {
            if (!active.containsValue(slot)) {
                all.put("$" + name, slot);
            }
        });
        return all;
    }
}
