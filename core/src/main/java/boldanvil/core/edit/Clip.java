package boldanvil.core.edit;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Mark;
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
 */
public record Clip(List<Block> blocks, List<Wire> wires, List<Mark> marks, List<Sheet> bodies) {
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
        return new Clip(blocks, s.wires().stream().filter(w -> ids.contains(w.from()) && ids.contains(w.to())).toList(),
                s.marks().stream().filter(m -> marks.contains(m.id())).toList(), new ArrayList<>(bodies.values()));
    }

    /** The copies as sheets: the first has the copied blocks, the others are the bodies. */
    public List<Sheet> sheets() {
        List<Sheet> sheets = new ArrayList<>();
        sheets.add(new Sheet("clip", blocks, wires, marks));
        sheets.addAll(bodies);
        return sheets;
    }

    /** @param sheets as of {@link #sheets} */
    public static Clip of(List<Sheet> sheets) {
        Sheet first = sheets.getFirst();
        return new Clip(first.blocks(), first.wires(), first.marks(), sheets.subList(1, sheets.size()));
    }

    private static void collect(Part part, Block b, Map<String, Sheet> bodies) {
        part.sheet(b.inner()).ifPresent(s -> {
            if (bodies.putIfAbsent(s.id(), s) == null) {
                s.blocks().forEach(c -> collect(part, c, bodies));
            }
        });
    }

    /**
     * Puts copies on a sheet. A body that the part has already, equal in everything, is shared; any other comes along under a fresh id.
     *
     * @param fresh gets the ids of the copies
     */
    public Project on(Project p, SheetRef ref, double dx, double dy, Set<String> fresh) {
        Part part = p.part(ref.part()).orElseThrow();
        Map<String, String> ids = new HashMap<>();
        List<Sheet> added = new ArrayList<>();
        for (Sheet body : bodies) {
            boolean shared = part.sheet(body.id()).map(body::equals).orElse(false);
            ids.put(body.id(), shared ? body.id() : part.freshSheetId(body.id()));
            if (!shared) {
                added.add(body);
                part = part.add(Sheet.empty(ids.get(body.id())));
            }
        }
        Part grown = part;
        Project next = p.change(ref.part(), _ -> grown);
        for (Sheet body : added) {
            String id = ids.get(body.id());
            next = next.change(new SheetRef(ref.part(), id), _ -> new Sheet(id, within(body.blocks(), ids), body.wires(), body.marks()));
        }
        return next.change(ref, s -> {
            Sheet marked = s;
            for (Mark m : marks) {
                marked = marked.add(m.at(m.x() + dx, m.y() + dy));
            }
            return Sheets.with(marked, within(blocks, ids), wires, dx, dy, (_, b) -> fresh.add(b.id()));
        });
    }

    /** Blocks with the ids their sheets have now. */
    private static List<Block> within(List<Block> blocks, Map<String, String> ids) {
        return blocks.stream().map(b -> ids.containsKey(b.inner()) ? b.with("sheet", ids.get(b.inner())) : b).toList();
    }
}
