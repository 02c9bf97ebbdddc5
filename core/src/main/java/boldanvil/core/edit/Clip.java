package boldanvil.core.edit;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Library;
import boldanvil.core.diagram.Look;
import boldanvil.core.diagram.Mark;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Copied blocks with the wires between them, and the sheets within them.
 *
 * @param bodies sheets of the subsystems among them, and of those within
 * @param own the own blocks they use
 */
public record Clip(List<Block> blocks, List<Wire> wires, List<Mark> marks, List<Sheet> bodies, Library own) {
    public Clip {
        blocks = List.copyOf(blocks);
        wires = List.copyOf(wires);
        marks = List.copyOf(marks);
        bodies = List.copyOf(bodies);
    }

    /** Copies from a sheet. */
    public static Clip of(Project p, SheetRef ref, Set<String> ids, Set<String> marks) {
        Sheet s = p.sheet(ref).orElseThrow();
        Part part = p.part(ref.part()).orElseThrow();
        List<Block> blocks = s.blocks().stream().filter(b -> ids.contains(b.id())).toList();
        Map<String, Sheet> bodies = new LinkedHashMap<>();
        blocks.forEach(b -> collect(part, b, bodies));
        Library own = Library.EMPTY;
        for (Sheet body : bodies.values()) {
            own = OwnBlock.holds(body.id()) ? own.with(part.library().find(OwnBlock.owner(body.id())).orElseThrow()) : own;
        }
        return new Clip(blocks, s.wires().stream().filter(w -> ids.contains(w.from()) && ids.contains(w.to())).toList(),
                s.marks().stream().filter(m -> marks.contains(m.id())).toList(),
                bodies.values().stream().filter(b -> !OwnBlock.holds(b.id())).toList(), own);
    }

    /** The copies as a part: its own sheet has the copied blocks, the others are the bodies. */
    public Part part() {
        List<Sheet> sheets = new ArrayList<>();
        sheets.add(new Sheet("clip", blocks, wires, marks));
        sheets.addAll(bodies);
        return new Part("clip", "Copied blocks", Part.Kind.CONTROLLER, "1 ms", "100 us", "rk4", "float64", 0, 0, sheets, Look.PLAIN, own);
    }

    /** @param part as of {@link #part} */
    public static Clip of(Part part) {
        Sheet first = part.main();
        return new Clip(first.blocks(), first.wires(), first.marks(), part.sheets().subList(1, part.sheets().size()), part.library());
    }

    private static void collect(Part part, Block b, Map<String, Sheet> bodies) {
        part.sheet(b.inner()).ifPresent(s -> {
            if (bodies.putIfAbsent(s.id(), s) == null) {
                s.blocks().forEach(c -> collect(part, c, bodies));
            }
        });
    }

    /**
     * Puts copies on a sheet. A body that is there already, equal in everything, is shared, and so is an own block; any other comes along
     * under a fresh id.
     *
     * @param fresh gets the ids of the copies
     */
    public Project on(Project p, SheetRef ref, double dx, double dy, Set<String> fresh) {
        Map<String, String> ids = new HashMap<>();
        List<OwnBlock> addedBlocks = new ArrayList<>();
        Project next = p;
        for (OwnBlock block : own.all()) {
            var present = p.library().find(block.id());
            if (present.isEmpty() || !present.get().equals(block)) {
                OwnBlock here = block.identified(next.library().freshId(block.id()));
                block.sheets().forEach(s -> ids.put(s.id(), block.identified(s.id(), here.id())));
                next = next.withLibrary(next.library().with(here));
                addedBlocks.add(here);
            }
        }
        List<Sheet> added = new ArrayList<>();
        for (Sheet body : bodies) {
            boolean shared = next.sheet(new SheetRef(ref.part(), body.id())).map(body::equals).orElse(false);
            ids.put(body.id(), shared ? body.id() : next.freshSheetId(ref, body.id()));
            if (!shared) {
                added.add(body);
                next = next.add(ref, Sheet.empty(ids.get(body.id())));
            }
        }
        for (Sheet body : added) {
            String id = ids.get(body.id());
            next = next.change(new SheetRef(ref.part(), id), _ -> new Sheet(id, within(body.blocks(), ids), body.wires(), body.marks()));
        }
        for (OwnBlock block : addedBlocks) {
            next = next.withLibrary(next.library().with(block.withSheets(block.sheets().stream()
                    .map(s -> s.withBlocks(within(s.blocks(), ids))).toList())));
        }
        return next.change(ref, s -> {
            Sheet marked = s;
            for (Mark m : marks) {
                marked = marked.add(m.at(m.x() + dx, m.y() + dy));
            }
            return Sheets.with(marked, within(blocks, ids), wires, dx, dy, (_, b) -> fresh.add(b.id()));
        });
    }

    private static List<Block> within(List<Block> blocks, Map<String, String> ids) {
        return blocks.stream().map(b -> b.within(ids)).toList();
    }
}
