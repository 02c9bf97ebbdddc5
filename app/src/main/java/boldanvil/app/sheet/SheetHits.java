package boldanvil.app.sheet;

import boldanvil.app.model.SheetScene;
import boldanvil.app.model.SheetScene.Node;
import boldanvil.app.model.SheetScene.Point;
import boldanvil.app.model.SheetScene.Port;
import boldanvil.core.diagram.Wire;
import java.util.List;
import java.util.Map;

/** What is at a place of a sheet, in sheet units. */
final class SheetHits {
    private static final double GRAB = 8;

    private SheetHits() {}

    /** The uppermost block at a place; null for none. */
    static Node node(SheetScene scene, double x, double y) {
        for (int i = scene.nodes().size() - 1; i >= 0; i--) {
            if (scene.nodes().get(i).contains(x, y)) {
                return scene.nodes().get(i);
            }
        }
        return null;
    }

    /** The port at a place; null for none. */
    static SheetCanvas.End port(SheetScene scene, double x, double y) {
        for (Node n : scene.nodes()) {
            for (Port port : n.ports()) {
                Point at = n.at(port);
                if (Math.hypot(x - at.x(), y - at.y()) <= GRAB) {
                    return new SheetCanvas.End(n.id(), port.name(), port.kind(), at);
                }
            }
        }
        return null;
    }

    /** The wire at a place; null for none. */
    static Wire wire(SheetScene scene, Map<Wire, List<Point>> routes, double x, double y) {
        for (var link : scene.links()) {
            var route = routes.get(link.wire());
            for (int i = 1; route != null && i < route.size(); i++) {
                Point a = route.get(i - 1);
                Point b = route.get(i);
                boolean near = x >= Math.min(a.x(), b.x()) - 4 && x <= Math.max(a.x(), b.x()) + 4
                        && y >= Math.min(a.y(), b.y()) - 4 && y <= Math.max(a.y(), b.y()) + 4;
                if (near) {
                    return link.wire();
                }
            }
        }
        return null;
    }
}
