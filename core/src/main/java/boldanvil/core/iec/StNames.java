package boldanvil.core.iec;

import boldanvil.core.program.Slot;
import boldanvil.core.text.ReservedWords;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Set;

/** Names of the IR as Structured Text takes them: capitals do not count, underscores stand alone, keywords are no names. */
final class StNames {
    private final Map<Slot, String> slots = new IdentityHashMap<>();
    private final Map<String, String> others = new HashMap<>();
    private final Set<String> taken = new HashSet<>();

    /** The name of a slot, the same each time. */
    String of(Slot s) {
        String name = slots.get(s);
        if (name == null) {
            name = fresh(s.name());
            slots.put(s, name);
        }
        return name;
    }

    /** Has a slot go by a name that was made for it. */
    void name(Slot s, String name) {
        slots.put(s, name);
    }

    /** The name of a function, a table or a procedure, the same each time. */
    String of(String kind, String name) {
        return others.computeIfAbsent(kind + " " + name, _ -> fresh(name));
    }

    /** A name that nothing else has. */
    String fresh(String wanted) {
        String base = identifier(wanted);
        String name = base;
        for (int i = 2; !taken.add(name.toLowerCase(Locale.ROOT)); i++) {
            name = base + "_" + i;
        }
        return name;
    }

    /** Whether something has a name. */
    boolean isTaken(String name) {
        return taken.contains(name.toLowerCase(Locale.ROOT));
    }

    static String identifier(String wanted) {
        String name = wanted.replaceAll("[^A-Za-z0-9]+", "_").replaceAll("^_+|_+$", "");
        if (name.isEmpty() || Character.isDigit(name.charAt(0))) {
            name = "v" + (name.isEmpty() ? "" : "_" + name);
        }
        return ReservedWords.contains(name) ? name + "_v" : name;
    }
}
