package boldanvil.core.quantity;

import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;

/** Resolves project variables that may be written in terms of each other. */
public final class Variables {
    private Variables() {}

    /**
     * What a set of named expressions comes to.
     *
     * @param values by name, of those that could be evaluated
     * @param errors one sentence by name, for the others
     */
    public record Result(Map<String, Quantity> values, Map<String, String> errors) {}

    /** Evaluates each expression; the order in which they are written does not matter. */
    public static Result resolve(Map<String, String> texts) {
        var resolver = new Resolver(texts);
        texts.keySet().forEach(resolver::visit);
        return new Result(new LinkedHashMap<>(resolver.values), new TreeMap<>(resolver.errors));
    }

    private static final class Resolver {
        private final Map<String, String> texts;
        private final Map<String, Quantity> values = new LinkedHashMap<>();
        private final Map<String, String> errors = new HashMap<>();
        private final Set<String> open = new java.util.LinkedHashSet<>();

        Resolver(Map<String, String> texts) {
            this.texts = texts;
        }

        void visit(String name) {
            if (values.containsKey(name) || errors.containsKey(name)) {
                return;
            }
            if (!open.add(name)) {
                errors.put(name, "It is defined in terms of itself: " + String.join(" → ", open) + " → " + name + ".");
                return;
            }
            for (String used : Formula.names(texts.get(name), texts.keySet())) {
                if (texts.containsKey(used)) {
                    visit(used);
                }
            }
            open.remove(name);
            if (errors.containsKey(name)) {
                return;
            }
            try {
                values.put(name, Formula.quantity(texts.get(name), values));
            } catch (FormulaException e) {
                errors.put(name, e.getMessage());
            }
        }
    }
}
