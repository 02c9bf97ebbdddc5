package boldanvil.additions;

import boldanvil.core.program.Type;
import boldanvil.core.stock.Accept;
import boldanvil.core.stock.BlockFamily;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Face;
import boldanvil.core.stock.Family;
import boldanvil.core.stock.TerminalPin;
import java.util.List;

/** A block that doubles, and the block of {@link RelayOut}. */
public final class AddedBlocks implements BlockFamily {
    @Override
    public List<BlockType> types() {
        return List.of(
                BlockType.named("twice", "Twice", Family.CALCULATION).help("y = 2 · u.").face(Face.NONE.in("u", Accept.NUMBER).out("y"))
                .summary("2 ×")
                        .does(e -> e.output("y", e.in("u").times(2))),
                BlockType.named("relay out", "Relay out", Family.TERMINAL).help("Switches a relay on while u is true.")
                        .face(Face.NONE.in("u", Accept.LOGIC)).summary("").terminal(RelayOut.KIND, TerminalPin.out("", Type.BOOL, ""))
                        .does(e -> e.output("pin", e.in("u"))));
    }
}
