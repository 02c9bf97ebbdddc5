package boldanvil.app.sheet;

import boldanvil.app.model.Figures;
import boldanvil.app.model.TimeTravel;
import boldanvil.core.diagram.Wire;
import boldanvil.core.program.Type;
import boldanvil.core.sheet.Routes;
import boldanvil.core.sheet.SheetScene;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;

/** The values of a past instant as they stand on wires. */
final class PastValues {
    /** Width of a letter on a wire, in sheet units. */
    private static final double LETTER = 7.5;

    private PastValues() {}

    /** Values of the past, one for each output, on the longest of its wires. */
    static Map<Wire, String> of(SheetScene scene, Routes routes, TimeTravel travel) {
        Map<Wire, String> texts = new LinkedHashMap<>();
        if (!travel.isOn()) {
            return texts;
        }
        Map<String, Wire> longest = new LinkedHashMap<>();
        for (var link : scene.links()) {
            Wire w = link.wire();
            longest.merge(w.from() + "." + w.fromPort(), w, (a, b) -> length(routes, a) >= length(routes, b) ? a : b);
        }
        Map<Wire, Type> types = new HashMap<>();
        scene.links().forEach(l -> types.put(l.wire(), l.type()));
        Map<String, Double> rooms = new HashMap<>();
        scene.links().forEach(l -> rooms.merge(l.wire().from() + "." + l.wire().fromPort(), room(routes, l.wire()), Math::min));
        longest.values().forEach(w -> travel.value(w.from(), w.fromPort()).ifPresent(v -> {
            String text = types.get(w) == Type.BOOL ? v.value() != 0 ? "on" : "off"
                    : compact(v.value(), rooms.get(w.from() + "." + w.fromPort()));
            texts.put(w, v.measured() ? text + " m" : text);
        }));
        return texts;
    }

    /** As many digits as there is room for, from four down to two; the whole value shows while the pointer is on the wire. */
    private static String compact(double v, double room) {
        String text = "";
        for (int digits = 4; digits >= 2 && (text.isEmpty() || text.length() * LETTER > room); digits--) {
            text = compact(v, digits);
        }
        return text;
    }

    private static String compact(double v, int digits) {
        double size = Math.abs(v);
        return size != 0 && (size < 0.01 || size >= 1e6) ? String.format(Locale.ROOT, "%." + (digits - 2) + "e", v)
                .replaceAll("e([+-])0", "e$1").replace("e+", "e")
                : Figures.text(v, digits, "");
    }

    /** The distance from the source of a wire to its end, sideways. */
    private static double room(Routes routes, Wire w) {
        var way = routes.ways().get(w);
        return way == null ? 0 : Math.abs(way.getLast().x() - way.getFirst().x());
    }

    private static double length(Routes routes, Wire w) {
        var way = routes.ways().get(w);
        double length = 0;
        for (int i = 1; way != null && i < way.size(); i++) {
            length = Math.max(length, Math.abs(way.get(i).x() - way.get(i - 1).x()));
        }
        return length;
    }
}
