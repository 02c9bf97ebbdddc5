package boldanvil.core.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Stmt;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** The names of one function block instance, function or method; names do not distinguish capitals. */
final class Scope {
    /** What a parameter is for. */
    enum Direction { IN, OUT, IN_OUT }

    /**
     * A parameter.
     *
     * @param edge 1 where the input is a rising edge of what is given, -1 for a falling one, else 0
     */
    record Parameter(String name, Direction direction, DataType type, int edge) {}

    private final Map<String, Symbol> symbols;
    /** Names as they were declared, by key. */
    private final Map<String, String> shown;
    private final Map<String, Symbol> bound = new HashMap<>();
    private final Scope outer;
    /** Which instance of an array of function blocks this is; null for the first. */
    private final Expr index;
    private final Map<String, Parameter> parameters;
    private final List<Stmt> resets;
    private ChartMemory chart;

    /** @param outer names that are known here as well; null for none */
    Scope(Scope outer) {
        this(new LinkedHashMap<>(), new HashMap<>(), outer, null, new LinkedHashMap<>(), new ArrayList<>());
    }

    private Scope(Map<String, Symbol> symbols, Map<String, String> shown, Scope outer, Expr index, Map<String, Parameter> parameters,
            List<Stmt> resets) {
        this.symbols = symbols;
        this.shown = shown;
        this.outer = outer;
        this.index = index;
        this.parameters = parameters;
        this.resets = resets;
    }

    /** The same names, of one instance among several; in-out parameters are bound for one call. */
    Scope at(Expr instance) {
        var s = new Scope(symbols, shown, outer, instance, parameters, resets);
        s.chart = chart;
        return s;
    }

    /** Has an in-out parameter stand for a variable of the caller. */
    void bind(String name, Symbol actual) {
        bound.put(key(name), actual);
    }

    Symbol find(String name) {
        String key = key(name);
        Symbol s = bound.get(key);
        if (s != null) {
            return s;
        }
        s = symbols.get(key);
        if (s == null) {
            return outer == null ? null : outer.find(name);
        }
        return index != null && s instanceof Symbol.Place p ? new Symbol.Place(p.storage(), index, p.writable()) : s;
    }

    /** Whether the name was free. */
    boolean add(String name, Symbol symbol) {
        shown.putIfAbsent(key(name), name);
        return symbols.putIfAbsent(key(name), symbol) == null;
    }

    void parameter(Parameter p) {
        parameters.put(key(p.name()), p);
    }

    /** Parameters in the order of their declaration, by key. */
    Map<String, Parameter> parameters() {
        return parameters;
    }

    /** What gives temporary variables their values at the beginning of each call. */
    List<Stmt> resets() {
        return resets;
    }

    ChartMemory chart() {
        return chart;
    }

    void chart(ChartMemory memory) {
        chart = memory;
    }

    Expr index() {
        return index;
    }

    /** A name as it was declared. */
    String shown(String key) {
        return shown.getOrDefault(key, key);
    }

    /** Own names with what they stand for, in the order of their declaration. */
    Map<String, Symbol> symbols() {
        return symbols;
    }

    static String key(String name) {
        return name.toLowerCase(Locale.ROOT);
    }
}
