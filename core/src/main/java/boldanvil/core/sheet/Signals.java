package boldanvil.core.sheet;

import boldanvil.core.diagram.Wire;
import java.util.HashMap;
import java.util.Map;

/** The names of the signals on a sheet. */
public final class Signals {
    private Signals() {}

    /** A signal is named after the block it comes from, and its port where the block has several outputs. */
    public static Map<Wire, String> names(SheetScene scene) {
        Map<Wire, String> names = new HashMap<>();
        for (var link : scene.links()) {
            Wire w = link.wire();
            scene.node(w.from()).filter(_ -> !w.isNet())
                    .ifPresent(n -> names.put(w, n.outputs().size() > 1 ? n.title() + " " + w.fromPort() : n.title()));
        }
        return names;
    }
}
