package boldanvil.core.diagram;

import java.util.List;
import java.util.Optional;

/**
 * How a block is drawn, where that was chosen. It has no part in what the block computes.
 *
 * @param turn quarter turns clockwise, 0 to 3
 * @param mirrored whether left and right are exchanged, so that inputs are on the right
 * @param width in sheet units; 0 for the block's own
 * @param height in sheet units; 0 for the block's own
 * @param ports sides of ports, in their order there; ports that are not named keep their side and follow
 */
public record Look(int turn, boolean mirrored, double width, double height, List<PortSide> ports) {
    /** The side of a port before the block is turned and mirrored. */
    public record PortSide(String port, Side side) {}

    /** As the block type has it. */
    public static final Look PLAIN = new Look(0, false, 0, 0, List.of());

    public Look {
        turn = Math.floorMod(turn, 4);
        ports = List.copyOf(ports);
    }

    public boolean isPlain() {
        return equals(PLAIN);
    }

    /** Turned once more, clockwise. */
    public Look turnedOnce() {
        return new Look(turn + 1, mirrored, width, height, ports);
    }

    public Look mirroredOnce() {
        return new Look(turn, !mirrored, width, height, ports);
    }

    public Look sized(double w, double h) {
        return new Look(turn, mirrored, w, h, ports);
    }

    public Look withPorts(List<PortSide> next) {
        return new Look(turn, mirrored, width, height, next);
    }

    /** The side that was chosen for a port. */
    public Optional<Side> side(String port) {
        return ports.stream().filter(p -> p.port().equals(port)).map(PortSide::side).findFirst();
    }

    /** The side a side of the block type comes to on the sheet. */
    public Side onSheet(Side side) {
        Side s = side.turned(turn);
        return mirrored ? s.mirrored() : s;
    }
}
