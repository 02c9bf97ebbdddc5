package boldanvil.app.sheet;

import boldanvil.core.diagram.Mark;
import boldanvil.core.diagram.Wire;
import boldanvil.core.sheet.Box;
import boldanvil.core.sheet.SheetScene.Node;
import boldanvil.core.sheet.SheetScene.Point;
import boldanvil.core.sheet.SheetScene.Port;
import boldanvil.core.sheet.SheetScene;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/** What is at a place of a sheet, in sheet units. */
final class SheetHits {
    private static final double GRAB = 8;
    private static final double NEAR = 4;

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
    static SheetGestures.End port(SheetScene scene, double x, double y) {
        for (Node n : scene.nodes()) {
            if (x < n.x() - GRAB || x > n.x() + n.width() + GRAB || y < n.y() - GRAB || y > n.y() + n.height() + GRAB) {
                continue;
            }
            for (Port port : n.ports()) {
                Point at = n.at(port);
                if (Math.hypot(x - at.x(), y - at.y()) <= GRAB) {
                    return new SheetGestures.End(n.id(), port.name(), port.kind(), at, null);
                }
            }
        }
        return null;
    }

    /** The wire at a place; null for none. */
    static Wire wire(SheetScene scene, Map<Wire, List<Point>> routes, double x, double y) {
        for (var link : scene.links()) {
            var way = routes.get(link.wire());
            if (way != null && segment(way, x, y) >= 0) {
                return link.wire();
            }
        }
        return null;
    }

    /** The segment of a way at a place, from 0; −1 for none. */
    static int segment(List<Point> way, double x, double y) {
        for (int i = 1; i < way.size(); i++) {
            Point a = way.get(i - 1);
            Point b = way.get(i);
            if (x >= Math.min(a.x(), b.x()) - NEAR && x <= Math.max(a.x(), b.x()) + NEAR && y >= Math.min(a.y(), b.y()) - NEAR
                    && y <= Math.max(a.y(), b.y()) + NEAR) {
                return i - 1;
            }
        }
        return -1;
    }

    /** The mark at a place; of a frame only its edge and its title. */
    static Mark mark(SheetScene scene, double x, double y) {
        for (Mark m : scene.marks().reversed()) {
            boolean inside = SheetScene.box(m).contains(x, y);
            boolean core = x > m.x() + GRAB && x < m.x() + m.width() - GRAB && y > m.y() + 26 && y < m.y() + m.height() - GRAB;
            if (inside && (m.kind() == Mark.Kind.NOTE || !core)) {
                return m;
            }
        }
        return null;
    }

    /** The blocks that lie wholly in a frame. */
    static Set<String> within(SheetScene scene, Mark frame) {
        Box box = SheetScene.box(frame);
        return frame.kind() != Mark.Kind.FRAME ? Set.of() : scene.nodes().stream().filter(n -> box.contains(n.box())).map(Node::id)
                .collect(Collectors.toCollection(LinkedHashSet::new));
    }
}
