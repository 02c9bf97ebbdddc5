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
        longest.values().forEach(w -> travel.value(w.from(), w.fromPort()).ifPresent(v -> {
            String text = types.get(w) == Type.BOOL ? v.value() != 0 ? "on" : "off" : compact(v.value());
            texts.put(w, v.measured() ? text + " m" : text);
        }));
        return texts;
    }

    private static String compact(double v) {
        double size = Math.abs(v);
        return size != 0 && (size < 1e-3 || size >= 1e6) ? String.format(Locale.ROOT, "%.2e", v).replaceAll("e([+-])0", "e$1")
                .replace("e+", "e")
                : Figures.text(v, 4, "");
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
