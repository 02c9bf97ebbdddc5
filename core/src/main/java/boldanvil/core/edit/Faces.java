package boldanvil.core.edit;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Side;
import boldanvil.core.network.Domain;
import boldanvil.core.stock.Accept;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Face;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.Stock;
import boldanvil.core.stock.Structure;
import java.util.Optional;

/** The ports of blocks, of whatever kind. */
public final class Faces {
    private Faces() {}

    /** Ports of a block: of its type, or of the inlets and outlets within a subsystem; empty for an unknown type. */
    public static Optional<Face> of(Part part, Block b) {
        var type = Stock.find(b.type()).orElse(null);
        if (type == null) {
            return Optional.empty();
        }
        if (type.role() != BlockType.Role.SUBSYSTEM) {
            return Optional.of(type.face(new Settings(type, b.settings())));
        }
        Face f = Structure.isConditional(b.settings()) ? Face.NONE.in(Structure.CONTROL, Accept.LOGIC) : Face.NONE;
        var inner = part.sheet(b.inner());
        if (inner.isPresent()) {
            for (Block c : inner.get().blocks()) {
                f = switch (c.type()) {
                    case "inlet" -> f.in(c.name(), Accept.ANY);
                    case "outlet" -> f.out(c.name());
                    case "network port" -> f.contact(c.name(), Side.LEFT, Domain.labelled(c.settings().getOrDefault("domain", "")));
                    default -> f;
                };
            }
        }
        return Optional.of(f);
    }
}
