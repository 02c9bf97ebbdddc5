package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.choice;
import static boldanvil.core.stock.Parameter.text;

import java.util.List;

/** Blocks that give a sheet its structure. Lowering knows them by their role. */
final class Structure {
    static final BlockType SUBSYSTEM = BlockType.named("subsystem", "Subsystem", Family.STRUCTURE)
            .help("A sheet of its own. Its ports are the inlets and outlets drawn there. A sample time set here holds for "
                    + "all blocks within that do not set their own.")
            .with(text("sheet", "", "The sheet it stands for."))
            .role(BlockType.Role.SUBSYSTEM).does(_ -> { });

    static final BlockType INLET = BlockType.named("inlet", "Inlet", Family.STRUCTURE)
            .help("Where a signal enters this sheet. On a part's own sheet: a port of the part.")
            .with(choice("type", "Type of the signal; counts on a part's own sheet.", "real", "bool", "int32", "uint16", "float32",
                    "float64"), text("unit", "", "Unit of the signal."))
            .face(Face.NONE.out("y")).says("in {unit}").type((_, s, real) -> Sources.typeNamed(s.text("type"), real))
            .role(BlockType.Role.INLET).does(e -> e.output("y", e.in("pin")));

    static final BlockType OUTLET = BlockType.named("outlet", "Outlet", Family.STRUCTURE)
            .help("Where a signal leaves this sheet. On a part's own sheet: a port of the part.")
            .with(text("unit", "", "Unit of the signal."))
            .face(Face.NONE.in("u", Accept.ANY)).says("out {unit}").role(BlockType.Role.OUTLET)
            .does(e -> e.output("pin", e.in("u")));

    static final BlockType TAP = BlockType.named("tap", "Tap", Family.STRUCTURE)
            .help("Records the signal under this block's name.")
            .with(text("unit", "", "Unit of the signal."))
            .face(Face.NONE.in("u", Accept.ANY)).says("records {unit}").role(BlockType.Role.TAP)
            .does(_ -> { });

    static final List<BlockType> TYPES = List.of(SUBSYSTEM, INLET, OUTLET, TAP);

    private Structure() {}
}
