package boldanvil.core.diagram;

import java.util.List;

/**
 * A connection between two ports, by block id (on the system sheet: part id) and port name.
 *
 * @param isNet whether it joins two contacts and has no direction; otherwise it leads from an output to an input
 * @param lanes the segments laid by hand between its first and its last one, from the start; empty where the router finds the way
 */
public record Wire(String from, String fromPort, String to, String toPort, boolean isNet, List<Lane> lanes) {
    public Wire {
        lanes = List.copyOf(lanes);
    }

    public Wire(String from, String fromPort, String to, String toPort, boolean isNet) {
        this(from, fromPort, to, toPort, isNet, List.of());
    }

    public Wire(String from, String fromPort, String to, String toPort) {
        this(from, fromPort, to, toPort, false);
    }

    /** Joins two contacts. */
    public static Wire net(String a, String aPort, String b, String bPort) {
        return new Wire(a, aPort, b, bPort, true);
    }

    /** The same between other blocks. */
    public Wire between(String otherFrom, String otherTo) {
        return new Wire(otherFrom, fromPort, otherTo, toPort, isNet, lanes);
    }

    /** The same with other names of its ports. */
    public Wire atPorts(String otherFrom, String otherTo) {
        return new Wire(from, otherFrom, to, otherTo, isNet, lanes);
    }

    /** The same on another way; empty leaves it to the router. */
    public Wire laid(List<Lane> way) {
        return new Wire(from, fromPort, to, toPort, isNet, way);
    }

    /** The same, moved with the sheet around it. */
    public Wire moved(double dx, double dy) {
        return lanes.isEmpty() ? this : laid(lanes.stream().map(l -> l.moved(dx, dy)).toList());
    }

    /** Whether both join the same ports. */
    public boolean joinsSame(Wire other) {
        return laid(List.of()).equals(other.laid(List.of()));
    }

    /** Whether it drives an input. */
    public boolean drives(String blockId, String port) {
        return !isNet && to.equals(blockId) && toPort.equals(port);
    }

    /** Whether it begins or ends at a block. */
    public boolean touches(String blockId) {
        return from.equals(blockId) || to.equals(blockId);
    }
}
