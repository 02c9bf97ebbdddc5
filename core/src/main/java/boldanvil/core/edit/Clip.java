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

    /** An id for a new sheet of a part. */
    public static String freshSheet(Part part, String name) {
        return Sheets.freshSheet(part, name);
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
        Project next = p;
        Map<String, String> ids = new HashMap<>();
        for (Sheet body : bodies) {
            Part part = next.part(ref.part()).orElseThrow();
            if (part.sheet(body.id()).map(body::equals).orElse(false)) {
                ids.put(body.id(), body.id());
            } else {
                String id = Sheets.freshSheet(part, body.id());
                ids.put(body.id(), id);
                next = Sheets.withSheet(next, ref.part(), new Sheet(id, body.blocks(), body.wires(), body.marks()));
            }
        }
        for (Sheet body : bodies) {
            String id = ids.get(body.id());
            if (!id.equals(body.id())) {
                next = next.change(new SheetRef(ref.part(), id), s -> s.withBlocks(s.blocks().stream().map(b -> within(b, ids)).toList()));
            }
        }
        List<Block> put = blocks.stream().map(b -> within(b, ids)).toList();
        return next.change(ref, s -> {
            List<Mark> all = new ArrayList<>(s.marks());
            for (Mark m : marks) {
                int n = all.size() + 1;
                while (taken(all, "m" + n)) {
                    n++;
                }
                all.add(new Mark("m" + n, m.kind(), m.text(), m.x() + dx, m.y() + dy, m.width(), m.height(), m.link()));
            }
            return Sheets.with(s, put, wires, dx, dy, (_, b) -> fresh.add(b.id())).withMarks(all);
        });
    }

    private static boolean taken(List<Mark> marks, String id) {
        return marks.stream().anyMatch(m -> m.id().equals(id));
    }

    private static Block within(Block b, Map<String, String> ids) {
        return ids.containsKey(b.inner()) ? b.with("sheet", ids.get(b.inner())) : b;
    }
}
