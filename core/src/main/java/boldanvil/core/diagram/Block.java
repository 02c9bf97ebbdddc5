package boldanvil.core.diagram;

import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;

/**
 * A block on a sheet.
 *
 * @param id stable within the sheet; wires refer to it
 * @param type name of its block type in the stock
 * @param name what people call it; unique within the sheet
 * @param x left edge in sheet units (pixels at zoom 1)
 * @param y top edge
 * @param settings parameter texts by parameter name; a missing one has the type's default
 * @param tunable names of the parameters that may change while running
 * @param look how it is drawn, where that was chosen
 */
public record Block(String id, String type, String name, double x, double y, Map<String, String> settings,
        Set<String> tunable, Look look) {
    public Block {
        settings = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(settings));
        tunable = java.util.Collections.unmodifiableSet(new TreeSet<>(tunable));
    }

    public Block(String id, String type, String name, double x, double y, Map<String, String> settings, Set<String> tunable) {
        this(id, type, name, x, y, settings, tunable, Look.PLAIN);
    }

    public static Block of(String id, String type, String name, double x, double y, Map<String, String> settings) {
        return new Block(id, type, name, x, y, settings, Set.of());
    }

    public Block at(double nx, double ny) {
        return new Block(id, type, name, nx, ny, settings, tunable, look);
    }

    public Block named(String next) {
        return new Block(id, type, next, x, y, settings, tunable, look);
    }

    public Block identified(String nextId) {
        return new Block(nextId, type, name, x, y, settings, tunable, look);
    }

    public Block with(String setting, String text) {
        var next = new LinkedHashMap<>(settings);
        next.put(setting, text);
        return new Block(id, type, name, x, y, next, tunable, look);
    }

    public Block tune(String setting, boolean may) {
        var next = new TreeSet<>(tunable);
        if (may) {
            next.add(setting);
        } else {
            next.remove(setting);
        }
        return new Block(id, type, name, x, y, settings, next, look);
    }

    /** The same with the id its sheet has now. */
    public Block within(Map<String, String> sheetIds) {
        return sheetIds.containsKey(inner()) ? with("sheet", sheetIds.get(inner())) : this;
    }

    /** The same without some settings. */
    public Block without(Collection<String> some) {
        var next = new LinkedHashMap<>(settings);
        next.keySet().removeAll(some);
        return new Block(id, type, name, x, y, next, tunable, look);
    }

    /** The same without a setting. */
    public Block without(String setting) {
        return without(List.of(setting));
    }

    /** The same drawn in another way. */
    public Block looking(Look next) {
        return new Block(id, type, name, x, y, settings, tunable, next);
    }

    /** The sheet within it, for a subsystem; else empty. */
    public String inner() {
        return settings.getOrDefault("sheet", "");
    }
}
