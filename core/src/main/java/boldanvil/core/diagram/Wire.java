package boldanvil.core.diagram;

/**
 * A connection between two ports, by block id (on the system sheet: part id) and port name.
 *
 * @param isNet whether it joins two contacts and has no direction; otherwise it leads from an output to an input
 */
public record Wire(String from, String fromPort, String to, String toPort, boolean isNet) {
    public Wire(String from, String fromPort, String to, String toPort) {
        this(from, fromPort, to, toPort, false);
    }

    /** Joins two contacts. */
    public static Wire net(String a, String aPort, String b, String bPort) {
        return new Wire(a, aPort, b, bPort, true);
    }

    /** The same between other blocks. */
    public Wire between(String otherFrom, String otherTo) {
        return new Wire(otherFrom, fromPort, otherTo, toPort, isNet);
    }

    /** The same with other names of its ports. */
    public Wire atPorts(String otherFrom, String otherTo) {
        return new Wire(from, otherFrom, to, otherTo, isNet);
    }

    /** Whether it drives an input. */
    public boolean drives(String blockId, String port) {
        return !isNet && to.equals(blockId) && toPort.equals(port);
    }
}
