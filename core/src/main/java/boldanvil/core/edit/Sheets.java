package boldanvil.core.edit;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.Stock;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.BiConsumer;

/** What changes of sheets have in common. */
final class Sheets {
    private Sheets() {}

    /** Whether a block is a port of its sheet, or belongs to the board: it stays where it is. */
    static boolean isBound(Block b) {
        return Stock.find(b.type()).map(t -> !t.pins(new Settings(t, b.settings())).isEmpty() || t.role() == BlockType.Role.TERMINAL)
                .orElse(false);
    }

    static boolean isSubsystem(Block b) {
        return Stock.find(b.type()).map(t -> t.role() == BlockType.Role.SUBSYSTEM).orElse(false);
    }

    /** How many blocks stand for a sheet. */
    static long uses(Project p, SheetRef sheet) {
        return p.sheets().entrySet().stream().filter(e -> OwnBlock.holds(sheet.sheet()) || e.getKey().part().equals(sheet.part()))
                .flatMap(e -> e.getValue().blocks().stream()).filter(b -> b.inner().equals(sheet.sheet())).count();
    }

    /**
     * Adds copies of blocks with the wires between them.
     *
     * @param added gets each block's former id and its copy
     */
    static Sheet with(Sheet sheet, List<Block> blocks, List<Wire> wires, double dx, double dy, BiConsumer<String, Block> added) {
        Sheet next = sheet;
        Map<String, String> ids = new HashMap<>();
        Map<String, String> labels = new HashMap<>();
        for (Block b : blocks) {
            String id = next.block(b.id()).isPresent() ? next.freshId() : b.id();
            Block copy = b.identified(id).named(next.freshName(b.name())).at(b.x() + dx, b.y() + dy);
            ids.put(b.id(), id);
            if (b.type().equals("label")) {
                labels.put(b.name(), copy.name());
            }
            next = next.add(copy);
        }
        for (Block b : blocks) {
            String id = ids.get(b.id());
            String wire = b.settings().get("wire");
            if (b.type().equals("from label") && labels.containsKey(wire)) {
                next = next.change(id, c -> c.with("wire", labels.get(wire)));
            }
            added.accept(b.id(), next.block(id).orElseThrow());
        }
        for (Wire w : wires) {
            if (ids.containsKey(w.from()) && ids.containsKey(w.to())) {
                next = next.add(w.between(ids.get(w.from()), ids.get(w.to())).moved(dx, dy));
            }
        }
        return next;
    }
}
