package boldanvil.core.sheet;

import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.Side;
import boldanvil.core.sheet.SheetScene.Node;
import boldanvil.core.sheet.SheetScene.Point;
import boldanvil.core.sheet.SheetScene.Port;
import boldanvil.core.sheet.SheetScene.PortKind;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.eclipse.elk.alg.layered.LayeredLayoutProvider;
import org.eclipse.elk.alg.layered.options.LayeredOptions;
import org.eclipse.elk.core.data.LayoutMetaDataService;
import org.eclipse.elk.core.options.CoreOptions;
import org.eclipse.elk.core.options.Direction;
import org.eclipse.elk.core.options.EdgeRouting;
import org.eclipse.elk.core.options.PortConstraints;
import org.eclipse.elk.core.options.PortSide;
import org.eclipse.elk.core.util.BasicProgressMonitor;
import org.eclipse.elk.graph.ElkNode;
import org.eclipse.elk.graph.ElkPort;
import org.eclipse.elk.graph.util.ElkGraphUtil;

/**
 * Lays out plates in layers from left to right by the wires between them (Sugiyama, Tagawa and Toda, Methods for visual understanding of
 * hierarchical system structures, 1981), by the Eclipse Layout Kernel.
 */
public final class AutoLayout {
    private static final double BETWEEN_LAYERS = 50;
    private static final double BETWEEN_PLATES = 30;

    private AutoLayout() {}

    /**
     * Places for plates; the upper left corner of what is laid out stays where it is, and nothing is put on a plate that stays.
     *
     * @param ids which plates; empty for all
     */
    public static Map<String, Point> of(SheetScene scene, Set<String> ids) {
        List<Node> nodes = scene.nodes().stream().filter(n -> ids.isEmpty() || ids.contains(n.id())).toList();
        if (nodes.size() < 2) {
            return Map.of();
        }
        // Makes the kernel know the kinds of its options.
        LayoutMetaDataService.getInstance();
        ElkNode root = ElkGraphUtil.createGraph();
        root.setProperty(CoreOptions.DIRECTION, Direction.RIGHT);
        root.setProperty(CoreOptions.EDGE_ROUTING, EdgeRouting.ORTHOGONAL);
        root.setProperty(CoreOptions.SPACING_NODE_NODE, BETWEEN_PLATES);
        root.setProperty(LayeredOptions.SPACING_NODE_NODE_BETWEEN_LAYERS, BETWEEN_LAYERS);
        Map<String, ElkNode> plates = new HashMap<>();
        Map<String, ElkPort> ports = new HashMap<>();
        for (Node n : nodes) {
            ElkNode plate = ElkGraphUtil.createNode(root);
            plate.setDimensions(n.width(), n.height());
            plate.setProperty(CoreOptions.PORT_CONSTRAINTS, PortConstraints.FIXED_POS);
            for (Port p : n.ports()) {
                ElkPort port = ElkGraphUtil.createPort(plate);
                Point at = n.at(p);
                port.setLocation(at.x() - n.x(), at.y() - n.y());
                port.setProperty(CoreOptions.PORT_SIDE, side(p.side()));
                ports.put(key(n.id(), p.kind(), p.name()), port);
            }
            plates.put(n.id(), plate);
        }
        for (var link : scene.links()) {
            var w = link.wire();
            ElkPort from = ports.get(key(w.from(), w.isNet() ? PortKind.CONTACT : PortKind.OUTPUT, w.fromPort()));
            ElkPort to = ports.get(key(w.to(), w.isNet() ? PortKind.CONTACT : PortKind.INPUT, w.toPort()));
            if (from != null && to != null) {
                ElkGraphUtil.createSimpleEdge(from, to);
            }
        }
        new LayeredLayoutProvider().layout(root, new BasicProgressMonitor());
        return placed(scene, nodes, plates);
    }

    private static String key(String node, PortKind kind, String port) {
        return kind + "\0" + node + "\0" + port;
    }

    private static PortSide side(Side s) {
        return switch (s) {
            case LEFT -> PortSide.WEST;
            case TOP -> PortSide.NORTH;
            case RIGHT -> PortSide.EAST;
            case BOTTOM -> PortSide.SOUTH;
        };
    }

    /** The laid out plates at the corner where they were, or below what stands there. */
    private static Map<String, Point> placed(SheetScene scene, List<Node> nodes, Map<String, ElkNode> plates) {
        double left = Sheet.onGrid(nodes.stream().mapToDouble(Node::x).min().orElse(0));
        double top = Sheet.onGrid(nodes.stream().mapToDouble(Node::y).min().orElse(0));
        double elkLeft = plates.values().stream().mapToDouble(ElkNode::getX).min().orElse(0);
        double elkTop = plates.values().stream().mapToDouble(ElkNode::getY).min().orElse(0);
        Map<String, Point> places = new LinkedHashMap<>();
        for (Node n : nodes) {
            ElkNode plate = plates.get(n.id());
            places.put(n.id(), new Point(left + Sheet.onGrid(plate.getX() - elkLeft), top + Sheet.onGrid(plate.getY() - elkTop)));
        }
        Set<String> moved = new LinkedHashSet<>(places.keySet());
        List<Box> fixed = scene.nodes().stream().filter(n -> !moved.contains(n.id())).map(Node::box).toList();
        double down = 0;
        while (down < 10_000 && covers(nodes, places, down, fixed)) {
            down += Sheet.GRID;
        }
        double by = down;
        places.replaceAll((_, p) -> new Point(p.x(), p.y() + by));
        return places;
    }

    private static boolean covers(List<Node> nodes, Map<String, Point> places, double down, List<Box> fixed) {
        return nodes.stream().map(n -> n.box().at(places.get(n.id()).x(), places.get(n.id()).y() + down))
                .anyMatch(b -> fixed.stream().anyMatch(f -> f.meets(b, Sheet.GRID)));
    }
}
