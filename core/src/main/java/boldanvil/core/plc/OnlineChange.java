package boldanvil.core.plc;

import boldanvil.core.text.PlcProgram;
import boldanvil.core.text.PlcProgram.Variable;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/**
 * What happens to the variables when one program takes the place of another.
 *
 * @param kept variables of the new program that take their values over
 * @param fresh variables of the new program that begin anew, with the reason where there was one of the same name
 * @param removed paths that the new program does not have
 */
public record OnlineChange(List<Variable> kept, Map<String, String> fresh, List<String> removed) {
    public OnlineChange {
        kept = List.copyOf(kept);
        fresh = Map.copyOf(fresh);
        removed = List.copyOf(removed);
    }

    static OnlineChange between(PlcProgram old, PlcProgram next) {
        Map<String, Variable> present = new HashMap<>();
        old.variables().forEach(v -> present.put(v.path().toLowerCase(Locale.ROOT), v));
        List<Variable> kept = new ArrayList<>();
        Map<String, String> fresh = new HashMap<>();
        for (Variable v : next.variables()) {
            Variable o = present.remove(v.path().toLowerCase(Locale.ROOT));
            if (o == null) {
                fresh.put(v.path(), "");
            } else if (o.carried() != v.carried() || !o.type().equalsIgnoreCase(v.type()) || o.capacity() != v.capacity()) {
                fresh.put(v.path(), "It was a " + o.type() + " and is a " + v.type() + " now.");
            } else {
                kept.add(v);
            }
        }
        return new OnlineChange(kept, fresh, present.values().stream().map(Variable::path).sorted().toList());
    }
}
