package boldanvil.core.edit;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.Stock;
import boldanvil.core.stock.Structure;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/** Makes a subsystem of some blocks, and takes one apart again. What the sheet computes stays the same, bit for bit. */
public final class Grouping {
    private static final double BESIDE = 180;
    /** Between the tops of two ports, one below the other. */
    private static final double APART = 80;

    private Grouping() {}

    /** An end of a wire. */
    private record End(String block, String port) {}

    /**
     * Puts blocks into a new subsystem in their place. Blocks that are bound to their sheet (inlets, outlets, terminals) and wire labels
     * that are used outside the selection stay where they are. Names are kept; what the bench, patches and rigs say of them follows.
     *
     * @param path diagram path of the sheet
     * @return the project with the subsystem, whose name is unique on its sheet
     * @throws FindingException when nothing remains to be put into it, or a net leads out of it
     */
    public static Project extract(Project p, SheetRef ref, String path, Set<String> ids, String name) {
        Sheet sheet = p.sheet(ref).orElseThrow();
        Part part = p.part(ref.part()).orElseThrow();
        List<Block> inside = sheet.blocks().stream().filter(b -> ids.contains(b.id()) && !Sheets.isBound(b)
                && !isLabelUsedOutside(sheet, b, ids)).toList();
        Set<String> moved = inside.stream().map(Block::id).collect(Collectors.toSet());
        if (inside.isEmpty()) {
            throw FindingException.of(Place.sheet(path), "None of the selected blocks can be put into a subsystem.",
                    "Select blocks other than inlets, outlets and terminals.");
        }
        if (sheet.wires().stream().anyMatch(w -> w.isNet() && moved.contains(w.from()) != moved.contains(w.to()))) {
            throw FindingException.of(Place.sheet(path), "A connection without direction leads out of the selection.",
                    "Select the whole network.");
        }
        String unique = sheet.freshName(name);
        String innerId = p.freshSheetId(ref, unique);
        var body = new Body(innerId, sheet, inside, moved);
        double x = inside.stream().mapToDouble(Block::x).average().orElse(0);
        double y = inside.stream().mapToDouble(Block::y).average().orElse(0);
        Block subsystem = Block.of(sheet.freshId(), "subsystem", unique, Sheet.onGrid(x), Sheet.onGrid(y), Map.of("sheet", innerId));
        Sheet outer = sheet.removeBlocks(moved).add(subsystem).withWires(body.outerWires(subsystem.id()));
        Project next = p.change(ref, _ -> outer).add(ref, body.sheet());
        Map<String, String> paths = new LinkedHashMap<>();
        inside.forEach(b -> paths.put(path + "/" + b.name(), path + "/" + unique + "/" + b.name()));
        return References.follow(next, paths);
    }

    private static boolean isLabelUsedOutside(Sheet sheet, Block b, Set<String> ids) {
        String label = b.type().equals("label") ? b.name() : b.type().equals("from label") ? b.settings().getOrDefault("wire", "") : null;
        return label != null && sheet.blocks().stream().anyMatch(c -> !ids.contains(c.id())
                && (c.type().equals("label") && c.name().equals(label)
                || c.type().equals("from label") && label.equals(c.settings().get("wire"))));
    }

    /** The sheet of a new subsystem, and the wires that remain outside. */
    private static final class Body {
        private final List<Wire> outside = new ArrayList<>();
        private final List<Wire> into = new ArrayList<>();
        private final List<Wire> outOf = new ArrayList<>();
        private final Map<End, Block> inlets = new LinkedHashMap<>();
        private final Map<End, String> outlets = new LinkedHashMap<>();
        private Sheet inner;

        Body(String id, Sheet sheet, List<Block> inside, Set<String> moved) {
            List<Wire> within = new ArrayList<>();
            for (Wire w : sheet.wires()) {
                boolean from = moved.contains(w.from());
                boolean to = moved.contains(w.to());
                (from && to ? within : from ? outOf : to ? into : outside).add(w);
            }
            inner = new Sheet(id, inside, within);
            double left = inside.stream().mapToDouble(Block::x).min().orElse(0) - BESIDE;
            double right = inside.stream().mapToDouble(Block::x).max().orElse(0) + BESIDE;
            for (Wire w : into) {
                End end = new End(w.from(), w.fromPort());
                Block inlet = inlets.get(end);
                if (inlet == null) {
                    Block source = sheet.block(w.from()).orElse(null);
                    String name = port(source == null ? w.toPort() : source.name(), w.fromPort(), source);
                    inlet = Block.of(inner.freshId(), "inlet", inner.freshName(name), left, heightOf(w.to(), inlets.values()),
                            Map.of());
                    inner = inner.add(inlet);
                    inlets.put(end, inlet);
                }
                inner = inner.add(new Wire(inlet.id(), "y", w.to(), w.toPort()));
            }
            List<Block> placed = new ArrayList<>();
            for (Wire w : outOf) {
                End end = new End(w.from(), w.fromPort());
                if (!outlets.containsKey(end)) {
                    Block source = inner.block(w.from()).orElseThrow();
                    Block outlet = Block.of(inner.freshId(), "outlet", inner.freshName(port(source.name() + " out", w.fromPort(), source)),
                            right, heightOf(w.from(), placed), Map.of());
                    inner = inner.add(outlet).add(new Wire(w.from(), w.fromPort(), outlet.id(), "u"));
                    placed.add(outlet);
                    outlets.put(end, outlet.name());
                }
            }
        }

        /** The name of a port: that of the block, and of its port where it has several. */
        private static String port(String block, String port, Block source) {
            boolean several = source != null && Stock.find(source.type()).map(t -> t.role() == BlockType.Role.SUBSYSTEM
                    || t.face(new Settings(t, source.settings())).outputs().size() > 1).orElse(false);
            return (several ? block + " " + port : block).replace('/', ' ').replace('.', ' ');
        }

        /** Beside a block, and clear of the ports that are in that column already. */
        private double heightOf(String block, Collection<Block> column) {
            double y = Sheet.onGrid(inner.block(block).map(Block::y).orElse(0.0));
            for (Block placed : column.stream().sorted(Comparator.comparingDouble(Block::y)).toList()) {
                y = Math.abs(placed.y() - y) < APART ? placed.y() + APART : y;
            }
            return y;
        }

        Sheet sheet() {
            return inner;
        }

        List<Wire> outerWires(String subsystem) {
            List<Wire> all = new ArrayList<>(outside);
            inlets.forEach((end, inlet) -> all.add(new Wire(end.block(), end.port(), subsystem, inlet.name())));
            outOf.forEach(w -> all.add(new Wire(subsystem, outlets.get(new End(w.from(), w.fromPort())), w.to(), w.toPort())));
            return all;
        }
    }

    /**
     * Takes a subsystem apart: its blocks come to the sheet around it. Names that are taken there are changed.
     *
     * @param path diagram path of the sheet around it
     * @throws FindingException when the subsystem runs by conditions of its own, or its sheet is missing
     */
    public static Project dissolve(Project p, SheetRef ref, String path, String id) {
        Sheet outer = p.sheet(ref).orElseThrow();
        Part part = p.part(ref.part()).orElseThrow();
        Block subsystem = outer.block(id).orElseThrow();
        Place at = Place.sheet(path + "/" + subsystem.name());
        if (!Sheets.isSubsystem(subsystem)) {
            throw FindingException.of(at, "This block is not a subsystem.", "Select a subsystem.");
        }
        if (part.library().of(subsystem).isPresent()) {
            throw FindingException.of(at, "This block is a use of an own block.", "Detach the use first.");
        }
        if (Structure.runs(subsystem.settings()) != null) {
            throw FindingException.of(at, "The subsystem runs " + Structure.runs(subsystem.settings())
                    + "; without it, its blocks would run at other times.", "Set 'runs' to 'always' first.");
        }
        Sheet inner = part.sheet(subsystem.inner()).orElseThrow(() -> FindingException.of(at, "The sheet of the subsystem is missing.",
                "Undo the change that removed it, or delete the subsystem."));
        String sampleTime = subsystem.settings().getOrDefault(Settings.SAMPLE_TIME, "");
        List<Block> blocks = inner.blocks().stream().filter(b -> !isPort(b))
                .map(b -> sampleTime.isEmpty() || b.settings().containsKey(Settings.SAMPLE_TIME) || !takesSampleTime(b) ? b
                        : b.with(Settings.SAMPLE_TIME, sampleTime)).toList();
        double dx = Sheet.onGrid(subsystem.x() - blocks.stream().mapToDouble(Block::x).average().orElse(subsystem.x()));
        double dy = Sheet.onGrid(subsystem.y() - blocks.stream().mapToDouble(Block::y).average().orElse(subsystem.y()));
        Map<String, Block> copies = new HashMap<>();
        List<Wire> outside = outer.wires().stream().filter(w -> !w.touches(id)).toList();
        Sheet next = Sheets.with(outer.removeBlocks(Set.of(id)).withWires(outside), blocks,
                inner.wires().stream().filter(w -> !isPort(inner, w.from()) && !isPort(inner, w.to())).toList(), dx, dy, copies::put);
        List<Wire> joined = new ArrayList<>();
        for (Wire w : inner.wires()) {
            if (isPort(inner, w.from()) || isPort(inner, w.to())) {
                join(w, inner, outer, id, copies, joined);
            }
        }
        for (Wire w : joined) {
            next = next.add(w);
        }
        Sheet done = next;
        Project changed = p.change(ref, _ -> done);
        var body = new SheetRef(ref.part(), inner.id());
        boolean last = Sheets.uses(p, body) == 1 && p.rigs().stream().noneMatch(r -> r.bodies().containsValue(inner.id()));
        if (last) {
            changed = changed.remove(body);
        }
        Map<String, String> paths = new LinkedHashMap<>();
        blocks.forEach(b -> paths.put(path + "/" + subsystem.name() + "/" + b.name(), path + "/" + copies.get(b.id()).name()));
        return References.follow(changed, paths);
    }

    private static boolean takesSampleTime(Block b) {
        return Stock.find(b.type()).map(t -> !t.continuousOnly() && t.role() != BlockType.Role.CONSTANT && !t.role().isRouting())
                .orElse(true);
    }

    private static boolean isPort(Block b) {
        return b.type().equals("inlet") || b.type().equals("outlet");
    }

    private static boolean isPort(Sheet sheet, String id) {
        return sheet.block(id).map(Grouping::isPort).orElse(false);
    }

    /** Wires from what drives the inlet, or the block itself, to what the outlet drives, or the block itself. */
    private static void join(Wire w, Sheet inner, Sheet outer, String id, Map<String, Block> copies, List<Wire> joined) {
        Block from = inner.block(w.from()).orElse(null);
        Block to = inner.block(w.to()).orElse(null);
        if (from == null || to == null) {
            return;
        }
        End source;
        if (from.type().equals("inlet")) {
            var wire = outer.wireInto(id, from.name());
            if (wire.isEmpty()) {
                return;
            }
            source = passed(new End(wire.get().from(), wire.get().fromPort()), inner, outer, id, copies, 0);
        } else {
            source = new End(copies.get(from.id()).id(), w.fromPort());
        }
        if (source == null) {
            return;
        }
        if (to.type().equals("outlet")) {
            outer.wires().stream().filter(o -> o.from().equals(id) && o.fromPort().equals(to.name()) && !o.to().equals(id))
                    .forEach(o -> joined.add(new Wire(source.block(), source.port(), o.to(), o.toPort())));
        } else {
            joined.add(new Wire(source.block(), source.port(), copies.get(to.id()).id(), w.toPort()));
        }
    }

    /** What drives a wire that comes from the subsystem itself: the block behind its outlet. */
    private static End passed(End end, Sheet inner, Sheet outer, String id, Map<String, Block> copies, int depth) {
        if (!end.block().equals(id) || depth > 20) {
            return end.block().equals(id) ? null : end;
        }
        var outlet = inner.blocks().stream().filter(b -> b.type().equals("outlet") && b.name().equals(end.port())).findFirst();
        var wire = outlet.flatMap(o -> inner.wireInto(o.id(), "u"));
        if (wire.isEmpty()) {
            return null;
        }
        Block from = inner.block(wire.get().from()).orElse(null);
        if (from == null) {
            return null;
        }
        if (from.type().equals("inlet")) {
            return outer.wireInto(id, from.name()).map(o -> passed(new End(o.from(), o.fromPort()), inner, outer, id, copies, depth + 1))
                    .orElse(null);
        }
        return new End(copies.get(from.id()).id(), wire.get().fromPort());
    }
}
