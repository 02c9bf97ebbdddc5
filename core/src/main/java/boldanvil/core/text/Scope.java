package boldanvil.core.text;

import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;

/** The names of one function block instance or function; names do not distinguish capitals. */
final class Scope {
    private final Map<String, Symbol> symbols = new HashMap<>();
    private final Map<String, Symbol> outer;
    /** Inputs of an instance, in order, so that a call can give them without names. */
    final Map<String, Symbol.Variable> inputs = new LinkedHashMap<>();

    /** @param outer names every scope knows */
    Scope(Map<String, Symbol> outer) {
        this.outer = outer;
    }

    Symbol find(String name) {
        String key = key(name);
        Symbol s = symbols.get(key);
        return s != null ? s : outer.get(key);
    }

    /** Whether the name was free. */
    boolean add(String name, Symbol symbol) {
        return symbols.putIfAbsent(key(name), symbol) == null;
    }

    static String key(String name) {
        return name.toLowerCase(Locale.ROOT);
    }
}
