package boldanvil.app.model;

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
import boldanvil.core.edit.Clip;
import boldanvil.core.edit.Faces;
import boldanvil.core.edit.Grouping;
import boldanvil.core.edit.OwnUses;
import boldanvil.core.edit.Renaming;
import boldanvil.core.edit.Wiring;
import boldanvil.core.files.ClipText;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.sheet.Box;
import boldanvil.core.sheet.SheetScene.Node;
import boldanvil.core.sheet.SheetScene.Point;
import boldanvil.core.sheet.SheetScene;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.Stock;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Supplier;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;

/** Changes to sheets, each with a name for undo. A null sheet stands for the system sheet. */
public final class SheetEdits {
    private static final double STEP = 20;
    private static final double GAP = 10;
    private static final double BEHIND = 190;
    private static final double HIGH = 50;

    private final Workspace workspace;
    /** Own blocks whose sheets may be changed. */
    private final Set<String> allowed = new HashSet<>();
    private Consumer<Finding> refused = _ -> { };

    public SheetEdits(Workspace workspace) {
        this.workspace = workspace;
    }

    /** What to do with the finding of an edit that cannot be made. */
    public void onRefused(Consumer<Finding> action) {
        refused = action;
    }

    /** Allows changes to the sheets of an own block; all its uses change with them. */
    public void allow(String ownBlock) {
        allowed.add(ownBlock);
    }

    /** Asks anew, as for another project. */
    public void forgetAllowed() {
        allowed.clear();
    }

    /** Whether a sheet may be changed. */
    public boolean isAllowed(SheetRef ref) {
        return ref == null || !OwnBlock.holds(ref.sheet()) || allowed.contains(OwnBlock.owner(ref.sheet()));
    }

    private void edit(SheetRef ref, String name, UnaryOperator<Project> how) {
        if (isAllowed(ref)) {
            workspace.edit(name, how);
        } else {
            refused.accept(Finding.warning(Place.named("own block " + OwnBlock.owner(ref.sheet())), "This sheet belongs to an own block; a "
                    + "change reaches all uses.", "Press 'Edit for all uses' above the sheet, or detach this use."));
        }
    }

    /** As {@link #edit}; what the change finds is shown and nothing is changed, and false is given. */
    private boolean editOrRefuse(SheetRef ref, String name, UnaryOperator<Project> how) {
        try {
            edit(ref, name, how);
            return true;
        } catch (FindingException e) {
            refused.accept(e.findings().getFirst());
            return false;
        }
    }

    private static String count(int n, String what) {
        return n == 1 ? what : n + " " + what + "s";
    }

    /** Puts a new block on a sheet and returns its id. */
    public String add(SheetRef ref, BlockType type, double x, double y) {
        Sheet sheet = workspace.project().sheet(ref).orElseThrow();
        String id = sheet.freshId();
        String name = sheet.freshName(type.title());
        Map<String, String> settings = new LinkedHashMap<>();
        boolean subsystem = type.role() == BlockType.Role.SUBSYSTEM;
        String inner = subsystem ? workspace.project().freshSheetId(ref, name) : "";
        if (subsystem) {
            settings.put("sheet", inner);
        }
        var at = free(ref, x, y, Node.WIDTH + (subsystem ? 20 : 0), HIGH);
        var block = Block.of(id, type.id(), name, at.x(), at.y(), settings);
        edit(ref, "add " + type.title(), p -> {
            Project next = p.change(ref, s -> s.add(block));
            return subsystem ? next.add(ref, Sheet.empty(inner)) : next;
        });
        return id;
    }

    /**
     * Puts a use of an own block on a sheet.
     *
     * @param from where the block comes from, if the project does not have it
     * @return its id; empty where it cannot stand there
     */
    public String addUse(SheetRef ref, OwnBlock own, Library from, double x, double y) {
        Sheet sheet = workspace.project().sheet(ref).orElseThrow();
        var at = free(ref, x, y, Node.WIDTH + 20, HIGH);
        var use = Block.of(sheet.freshId(), "subsystem", sheet.freshName(own.title()), at.x(), at.y(), Map.of());
        return editOrRefuse(ref, "add " + own.title(), p -> OwnUses.add(p, ref, own, from, use)) && isAllowed(ref) ? use.id() : "";
    }

    /**
     * Keeps a subsystem as an own block.
     *
     * @param about what it is to be; its id is made from its title
     * @throws FindingException when it cannot be kept
     */
    public void keepOwn(SheetRef ref, String path, String id, OwnBlock about) {
        OwnBlock named = about.withId(OwnUses.freshId(workspace.project(), about.title()));
        workspace.edit("keep " + about.title() + " as an own block", p -> OwnUses.keep(p, ref, path, id, named));
    }

    /** Replaces an own block, for all uses. */
    public void defineOwn(OwnBlock own) {
        workspace.edit("change own block " + own.title(), p -> OwnUses.define(p, own));
    }

    /** Gives a use of an own block sheets of its own. */
    public void detachOwn(SheetRef ref, String path, String id) {
        edit(ref, "detach the use of an own block", p -> OwnUses.detach(p, ref, path, id));
    }

    /** Removes an own block that nothing uses. */
    public void removeOwn(String own) {
        workspace.edit("delete an own block", p -> OwnUses.remove(p, own));
    }

    /** The nearest place on the grid where a plate of a size covers nothing; what is new must not hide what is there. */
    private Point free(SheetRef ref, double x, double y, double width, double height) {
        SheetScene scene = ref == null ? SheetScene.system(workspace.source()) : SheetScene.of(workspace.source(), ref, ref.part());
        List<Box> taken = scene.nodes().stream().map(Node::box).toList();
        for (int ring = 0; ring < 60; ring++) {
            for (int dx = 0; dx <= ring; dx++) {
                for (int[] step : new int[][] {{dx, ring}, {ring, dx}}) {
                    var place = new Box(Sheet.onGrid(x) + step[0] * STEP, Sheet.onGrid(y) + step[1] * STEP, width, height);
                    if (taken.stream().noneMatch(n -> n.meets(place, GAP))) {
                        return new Point(place.x(), place.y());
                    }
                }
            }
        }
        return new Point(Sheet.onGrid(x), Sheet.onGrid(y));
    }

    /** Puts a new part on the system sheet. */
    public String addPart(Part.Kind kind, double x, double y) {
        String stem = kind == Part.Kind.CONTROLLER ? "controller" : "plant";
        String id = stem;
        for (int n = 2; workspace.project().part(id).isPresent(); n++) {
            id = stem + n;
        }
        boolean plant = kind == Part.Kind.PLANT;
        var at = free(null, x, y, Node.WIDTH + 20, HIGH);
        var part = new Part(id, plant ? "New plant" : "New controller", kind, plant ? "continuous" : "1 ms", "100 us", "rk4",
                "float64", at.x(), at.y(), List.of(Sheet.empty("main")));
        workspace.edit("add part", p -> {
            var parts = new ArrayList<>(p.parts());
            parts.add(part);
            return p.withParts(parts);
        });
        return id;
    }

    /**
     * Puts a new block behind another one, and wires it to it where that has an output and the new one an input.
     *
     * @return its id
     */
    public String addBehind(SheetRef ref, BlockType type, String before) {
        Block source = workspace.project().sheet(ref).flatMap(s -> s.block(before)).orElseThrow();
        boolean back = source.look().mirrored();
        return asOne("add " + type.title(), () -> {
            String id = add(ref, type, source.x() + (back ? -BEHIND : BEHIND), source.y());
            edit(ref, "wire it", p -> p.change(ref, s -> {
                Part part = p.part(ref.part()).orElseThrow();
                var out = Wiring.freeOutput(part, s, before);
                var in = Wiring.freeInput(part, s, id);
                return out.isPresent() && in.isPresent() ? s.add(new Wire(before, out.get(), id, in.get())) : s;
            }));
            return id;
        });
    }

    /** Adds a block at the open end of a wire, and wires it there where it has a fitting port. */
    public String addAt(SheetRef ref, BlockType type, double x, double y, String node, String port, SheetScene.PortKind kind) {
        return asOne("add " + type.title(), () -> {
            String id = add(ref, type, kind == SheetScene.PortKind.INPUT ? x - Node.WIDTH : x, y - 30);
            edit(ref, "wire it", p -> p.change(ref, s -> {
                Part part = p.part(ref.part()).orElseThrow();
                if (kind == SheetScene.PortKind.CONTACT) {
                    var domain = Wiring.domain(part, s, node, port);
                    return Faces.of(part, s.block(id).orElseThrow())
                            .flatMap(f -> f.contacts().stream().filter(c -> domain.isEmpty() || c.domain() == domain.get()).findFirst())
                            .map(c -> s.add(Wire.net(node, port, id, c.name()))).orElse(s);
                }
                return kind == SheetScene.PortKind.OUTPUT ? Wiring.freeInput(part, s, id).map(i -> s.add(new Wire(node, port, id, i)))
                        .orElse(s)
                        : Wiring.freeOutput(part, s, id).map(o -> s.add(new Wire(id, o, node, port))).orElse(s);
            }));
            return id;
        });
    }

    /** Several edits that are undone together. */
    private <T> T asOne(String name, Supplier<T> edits) {
        int before = workspace.depth();
        T result = edits.get();
        workspace.join(name, before);
        return result;
    }

    /** Moves blocks, or parts, by whole grid steps. */
    public void move(SheetRef ref, Set<String> ids, double dx, double dy) {
        move(ref, ids, Set.of(), dx, dy);
    }

    /** Moves blocks, or parts, and marks by whole grid steps. */
    public void move(SheetRef ref, Set<String> ids, Set<String> marks, double dx, double dy) {
        String name = "move " + count(ids.size() + marks.size(), ref == null ? "part" : "block");
        edit(ref, name, p -> ref == null ? p.withParts(p.parts().stream().map(q -> ids.contains(q.id())
                ? q.at(Sheet.onGrid(q.x() + dx), Sheet.onGrid(q.y() + dy)) : q).toList()).withWires(along(p.wires(), ids, dx, dy))
                : p.change(ref, s -> moved(s, ids, marks, dx, dy)));
    }

    private static Sheet moved(Sheet s, Set<String> ids, Set<String> marks, double dx, double dy) {
        return s.withBlocks(s.blocks().stream().map(b -> ids.contains(b.id()) ? b.at(Sheet.onGrid(b.x() + dx), Sheet.onGrid(b.y() + dy))
                : b).toList())
                .withWires(along(s.wires(), ids, dx, dy))
                .withMarks(s.marks().stream().map(m -> marks.contains(m.id()) ? m.at(Sheet.onGrid(m.x() + dx), Sheet.onGrid(m.y() + dy))
                : m).toList());
    }

    /** Moves a block onto a wire and puts it into it; gives false where it has no free input or no output. */
    public boolean insert(SheetRef ref, String id, Wire wire, double dx, double dy) {
        Project p = workspace.project();
        Part part = p.part(ref.part()).orElseThrow();
        var next = p.sheet(ref).flatMap(s -> Wiring.insert(part, moved(s, Set.of(id), Set.of(), dx, dy), id, wire));
        next.ifPresent(s -> edit(ref, "put a block into a wire", q -> q.change(ref, _ -> s)));
        return next.isPresent();
    }

    /** Takes another way for a wire. */
    public void lay(SheetRef ref, Wire wire, Wire laid) {
        edit(ref, laid.lanes().isEmpty() ? "route a wire" : "lay a wire", p -> wires(p, ref, wires -> {
            var next = new ArrayList<>(wires);
            next.replaceAll(w -> w.equals(wire) ? laid : w);
            return next;
        }));
    }

    /** Leaves the ways of wires to the router. */
    public void route(SheetRef ref, Set<Wire> wires) {
        edit(ref, "route " + count(wires.size(), "wire"), p -> wires(p, ref, all -> all.stream()
                .map(w -> wires.contains(w) ? w.laid(List.of()) : w).toList()));
    }

    /** Hangs a wire on another port. */
    public void rehang(SheetRef ref, Wire before, Wire after) {
        edit(ref, "move the end of a wire", p -> wires(p, ref, all -> {
            var next = new ArrayList<>(all);
            next.remove(before);
            next.removeIf(w -> w.drives(after.to(), after.toPort()));
            next.add(after);
            return next;
        }));
    }

    private static Project wires(Project p, SheetRef ref, UnaryOperator<List<Wire>> how) {
        return ref == null ? p.withWires(how.apply(p.wires())) : p.change(ref, s -> s.withWires(how.apply(s.wires())));
    }

    /** Wires the first of two blocks to the second. */
    public void connectBlocks(SheetRef ref, String from, String to) {
        edit(ref, "connect two blocks", p -> p.change(ref, s -> Wiring.connect(p.part(ref.part()).orElseThrow(), s, from, to)));
    }

    /** Deletes blocks and joins the wires that led through them. */
    public void deleteAndJoin(SheetRef ref, Set<String> ids) {
        if (ref != null && !ids.isEmpty()) {
            edit(ref, "delete " + count(ids.size(), "block") + " and join", p -> p.change(ref, s -> Wiring.deleteAndJoin(s, ids)));
        }
    }

    /** Changes how blocks, or parts, are drawn. */
    public void look(SheetRef ref, Set<String> ids, String name, UnaryOperator<Look> how) {
        edit(ref, name, p -> ref == null ? p.withParts(p.parts().stream().map(q -> ids.contains(q.id())
                ? q.looking(how.apply(q.look())) : q).toList())
                : p.change(ref, s -> s.withBlocks(s.blocks().stream().map(b -> ids.contains(b.id()) ? b.looking(how.apply(b.look())) : b)
                        .toList())));
    }

    /**
     * Puts blocks, or parts, at places.
     *
     * @param route whether wires at them that were laid by hand are left to the router
     */
    public void place(SheetRef ref, String name, Map<String, Point> places, boolean route) {
        edit(ref, name + " " + count(places.size(), ref == null ? "part" : "block"), p -> {
            Project next = ref == null ? p.withParts(p.parts().stream().map(q -> places.containsKey(q.id())
                    ? q.at(places.get(q.id()).x(), places.get(q.id()).y()) : q).toList())
                    : p.change(ref, s -> s.withBlocks(s.blocks().stream().map(b -> places.containsKey(b.id())
                            ? b.at(places.get(b.id()).x(), places.get(b.id()).y()) : b).toList()));
            return route ? wires(next, ref, all -> all.stream().map(w -> places.containsKey(w.from()) || places.containsKey(w.to())
                    ? w.laid(List.of()) : w).toList()) : next;
        });
    }

    public void resize(SheetRef ref, String id, double width, double height) {
        look(ref, Set.of(id), "resize", l -> l.sized(width, height));
    }

    /** Adds a frame or a note and returns its id. */
    public String addMark(SheetRef ref, Mark.Kind kind, String text, double x, double y, double width, double height) {
        var mark = new Mark("", kind, text, Sheet.onGrid(x), Sheet.onGrid(y), width, height, "");
        edit(ref, "add " + (kind == Mark.Kind.FRAME ? "frame" : "note"), p -> p.change(ref, s -> s.add(mark)));
        var marks = workspace.project().sheet(ref).orElseThrow().marks();
        return isAllowed(ref) ? marks.getLast().id() : "";
    }

    /** Replaces a frame or a note. */
    public void change(SheetRef ref, Mark mark) {
        edit(ref, "change a " + (mark.kind() == Mark.Kind.FRAME ? "frame" : "note"),
                p -> p.change(ref, s -> s.withMarks(s.marks().stream()
                .map(m -> m.id().equals(mark.id()) ? mark : m).toList())));
    }

    /** Puts blocks into a new subsystem; its id is that of the new block. */
    public String group(SheetRef ref, String path, Set<String> ids, String name) {
        Set<String> before = ids(ref);
        edit(ref, "make a subsystem", p -> Grouping.extract(p, ref, path, ids, name));
        return ids(ref).stream().filter(i -> !before.contains(i)).findFirst().orElse(ids.iterator().next());
    }

    /** Takes a subsystem apart; the ids of its blocks. */
    public Set<String> ungroup(SheetRef ref, String path, String id) {
        Set<String> before = ids(ref);
        edit(ref, "dissolve a subsystem", p -> Grouping.dissolve(p, ref, path, id));
        Set<String> after = new LinkedHashSet<>(ids(ref));
        after.removeAll(before);
        return after;
    }

    private Set<String> ids(SheetRef ref) {
        return workspace.project().sheet(ref).map(s -> s.blocks().stream().map(Block::id).collect(Collectors.toSet())).orElse(Set.of());
    }

    /** Copies blocks to another place on the same sheet; the ids of the copies. */
    public Set<String> duplicate(SheetRef ref, Set<String> ids, double dx, double dy) {
        if (ref == null || ids.isEmpty()) {
            return ids;
        }
        var clip = Clip.of(workspace.project(), ref, ids, Set.of());
        return put(ref, clip, dx, dy, "duplicate " + count(ids.size(), "block"));
    }

    private Set<String> put(SheetRef ref, Clip clip, double dx, double dy, String name) {
        Set<String> fresh = new LinkedHashSet<>();
        edit(ref, name, p -> clip.on(p, ref, dx, dy, fresh));
        return fresh;
    }

    /** Wires that were laid between blocks that move go with them. */
    private static List<Wire> along(List<Wire> wires, Set<String> ids, double dx, double dy) {
        return wires.stream().map(w -> ids.contains(w.from()) && ids.contains(w.to()) ? w.moved(dx, dy) : w).toList();
    }

    /** Draws a wire; what drove the input before is replaced. */
    public void connect(SheetRef ref, Wire wire) {
        editOrRefuse(ref, "draw wire", p -> connected(p, ref, wire));
    }

    private static Project connected(Project p, SheetRef ref, Wire wire) {
        if (ref == null) {
            var wires = new ArrayList<>(p.wires());
            wires.removeIf(w -> w.to().equals(wire.to()) && w.toPort().equals(wire.toPort()));
            wires.add(wire);
            return p.withWires(wires);
        }
        return p.change(ref, s -> {
            if (wire.isNet()) {
                Wiring.requireOneDomain(p.part(ref.part()).orElseThrow(), s, wire);
            }
            return s.add(wire);
        });
    }

    /**
     * Pins the value of a wire: a tap beside the block it comes from.
     *
     * @return the tap's name; of the one that is there already, if the wire has one
     */
    public String pin(SheetRef ref, Wire wire) {
        Sheet sheet = workspace.project().part(ref.part()).flatMap(p -> p.sheet(ref.sheet())).orElseThrow();
        var there = sheet.wires().stream().filter(w -> w.from().equals(wire.from()) && w.fromPort().equals(wire.fromPort())).map(Wire::to)
                .map(sheet::block)
                .flatMap(Optional::stream).filter(b -> b.type().equals("tap")).findFirst();
        if (there.isPresent()) {
            return there.get().name();
        }
        Block source = sheet.block(wire.from()).orElseThrow();
        String id = sheet.freshId();
        String name = sheet.freshName(source.name() + " value");
        edit(ref, "pin the value of a wire", p -> p.change(ref, s -> s.add(
                Block.of(id, "tap", name, Sheet.onGrid(source.x() + 170), Sheet.onGrid(source.y() - 70), Map.of()))
                .add(new Wire(wire.from(), wire.fromPort(), id, "u"))));
        return name;
    }

    /** Deletes blocks with their wires, single wires, and marks. */
    public void delete(SheetRef ref, Set<String> ids, Set<Wire> wires, Set<String> marks) {
        int others = wires.isEmpty() ? marks.size() : wires.size();
        String what = ids.isEmpty() ? count(others, wires.isEmpty() ? "mark" : "wire") : count(ids.size(), ref == null ? "part" : "block");
        edit(ref, "delete " + what, p -> {
            if (ref == null) {
                return p.withParts(p.parts().stream().filter(q -> !ids.contains(q.id())).toList())
                        .withWires(p.wires().stream().filter(w -> !ids.contains(w.from()) && !ids.contains(w.to())
                                && !wires.contains(w)).toList());
            }
            return p.change(ref, s -> {
                Sheet next = s.removeBlocks(ids).withMarks(s.marks().stream().filter(m -> !marks.contains(m.id())).toList());
                for (Wire w : wires) {
                    next = next.remove(w);
                }
                return next;
            });
        });
    }

    /** Deletes blocks with their wires, and single wires. */
    public void delete(SheetRef ref, Set<String> ids, Set<Wire> wires) {
        delete(ref, ids, wires, Set.of());
    }

    /** Renames a block, everywhere it is named, or gives a part another title. A name that cannot be taken changes nothing. */
    public void rename(SheetRef ref, String id, String name) {
        if (name.isBlank() || name.contains("/")) {
            return;
        }
        editOrRefuse(ref, "rename to " + name, p -> ref == null ? p.change(id, q -> q.titled(name)) : Renaming.block(p, ref, id, name));
    }

    /** Changes one setting of a block. */
    public void set(SheetRef ref, String id, String setting, String text) {
        set(ref, Set.of(id), setting, text);
    }

    /** Changes one setting of several blocks; an empty sample time is that of the surroundings. */
    public void set(SheetRef ref, Set<String> ids, String setting, String text) {
        boolean inherited = setting.equals(Settings.SAMPLE_TIME) && text.isBlank();
        each(ref, ids, "set " + setting + of(ids), b -> inherited ? b.without(setting)
                : b.with(Stock.find(b.type()).map(t -> Settings.key(t, b.settings(), setting)).orElse(setting), text));
    }

    /** Lets a parameter of blocks change while running, or not. */
    public void tune(SheetRef ref, Set<String> ids, String parameter, boolean may) {
        each(ref, ids, (may ? "make " : "fix ") + parameter + of(ids) + (may ? " tunable" : ""), b -> b.tune(parameter, may));
    }

    private static String of(Set<String> ids) {
        return ids.size() > 1 ? " of " + ids.size() + " blocks" : "";
    }

    private void each(SheetRef ref, Set<String> ids, String name, UnaryOperator<Block> how) {
        edit(ref, name, p -> p.change(ref, s -> s.withBlocks(s.blocks().stream().map(b -> ids.contains(b.id()) ? how.apply(b) : b)
                .toList())));
    }

    /** Blocks and marks with the wires between them, as a text for the clipboard. */
    public String copy(SheetRef ref, Set<String> ids, Set<String> marks) {
        return ClipText.write(Clip.of(workspace.project(), ref, ids, marks).part());
    }

    /**
     * Puts copied blocks on a sheet, a little beside their originals, and returns their ids.
     *
     * @throws boldanvil.core.finding.FindingException when the text is not one of {@link #copy}
     */
    public Set<String> paste(SheetRef ref, String text) {
        Clip clip = Clip.of(ClipText.read(text));
        return put(ref, clip, 30, 30, "paste " + count(clip.blocks().size(), "block"));
    }
}
