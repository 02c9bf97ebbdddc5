package boldanvil.core.sheet;

import boldanvil.core.diagram.Look;
import boldanvil.core.diagram.Side;
import boldanvil.core.sheet.SheetScene.Node;
import boldanvil.core.sheet.SheetScene.Point;
import boldanvil.core.sheet.SheetScene.Port;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** Moves ports along the edge of a plate. */
public final class PortPlaces {
    private PortPlaces() {}

    /** A plate with a port at the place of its edge that is nearest to a point. */
    public static Node moved(Node n, Port port, double x, double y) {
        Side side = nearest(n, x, y);
        List<Port> others = new ArrayList<>(n.ports());
        others.remove(port);
        Port placed = new Port(port.name(), port.label(), port.kind(), side);
        int at = 0;
        for (int i = 0; i < others.size(); i++) {
            Point p = n.at(others.get(i));
            boolean before = others.get(i).side() == side && (side.isUpright() ? p.y() < y : p.x() < x);
            at = before ? i + 1 : at;
        }
        others.add(at, placed);
        return new Node(n.id(), n.plate(), others, n.x(), n.y(), n.wide(), n.high());
    }

    /** The look with which a block has its ports where a plate has them. */
    public static Look of(Node n, Look look) {
        return look.withPorts(n.ports().stream().map(p -> new Look.PortSide(p.name(), before(look, p.side()))).toList());
    }

    /** The side of the block that turn and mirror bring to a side of the sheet. */
    private static Side before(Look look, Side onSheet) {
        return Arrays.stream(Side.values()).filter(s -> look.onSheet(s) == onSheet).findFirst().orElseThrow();
    }

    private static Side nearest(Node n, double x, double y) {
        double left = Math.abs(x - n.x());
        double right = Math.abs(x - n.x() - n.width());
        double top = Math.abs(y - n.y());
        double bottom = Math.abs(y - n.y() - n.height());
        double least = Math.min(Math.min(left, right), Math.min(top, bottom));
        return least == left ? Side.LEFT : least == right ? Side.RIGHT : least == top ? Side.TOP : Side.BOTTOM;
    }
}
