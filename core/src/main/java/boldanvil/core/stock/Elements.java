package boldanvil.core.stock;

import boldanvil.core.quantity.Dimension;
import java.util.Map;

/** Kinds of the quantities that elements of networks give as signals; each has one name everywhere. */
final class Elements {
    private static final Map<String, String> UNITS = Map.ofEntries(Map.entry("i", "A"), Map.entry("w", "rad/s"), Map.entry("angle", "rad"),
            Map.entry("heading", "rad"), Map.entry("x", "m"), Map.entry("y", "m"), Map.entry("level", "m"), Map.entry("torque", "N·m"),
            Map.entry("p", "Pa"), Map.entry("q", "m³/s"), Map.entry("T", "K"), Map.entry("charge", "1"), Map.entry("power", "W"),
            Map.entry("f", "N"));

    private Elements() {}

    static void units(UnitFlow f, Family family) {
        UNITS.forEach((port, unit) -> f.out(port, Dimension.of(unit).orElse(null)));
        f.out("v", Dimension.of(family == Family.ELECTRICAL ? "V" : "m/s").orElse(null));
    }
}
