package boldanvil.core.target;

import boldanvil.core.diagram.Rig;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Port;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A wire between a part on a target and a device or another target. Signals between parts of one target stay in its memory, and those to
 * models, such as a panel, go over the network; neither needs a channel.
 *
 * @param port the port of the part on the target
 * @param kind of the channel it needs; empty where no channel serves it
 */
public record Crossing(Port port, String farPart, Port far, Optional<ChannelKind> kind) {
    /** The end of the wire that is a terminal of a device, or of the part; the far end where neither is. */
    Port terminal() {
        return port.terminal() != null ? port : far;
    }

    /** Lines of the encoder as its terminal has them; 0 where it says nothing. */
    double encoderLines() {
        return terminal().numbers().getOrDefault("lines", 0.0);
    }

    /** The wires of a part on a target that need a channel in a rig, in the order of the system sheet; a port that drives several, once. */
    public static List<Crossing> of(LoweredSystem system, Rig rig, String part) {
        List<Crossing> all = new ArrayList<>();
        for (var link : system.links()) {
            boolean from = link.fromPart().equals(part);
            if (!from && !link.toPart().equals(part)) {
                continue;
            }
            Port own = from ? link.from() : link.to();
            Port far = from ? link.to() : link.from();
            String farPart = from ? link.toPart() : link.fromPart();
            var there = rig.place(farPart);
            boolean crosses = there.mode() == Rig.Mode.DEVICE
                    || there.mode() == Rig.Mode.TARGET && !there.seat().target().equals(rig.place(part).seat().target());
            if (crosses && all.stream().noneMatch(c -> c.port() == own)) {
                all.add(new Crossing(own, farPart, far, ChannelKind.of(own, far)));
            }
        }
        return all;
    }
}
