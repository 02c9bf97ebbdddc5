package boldanvil.app.model;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.Stock;
import boldanvil.core.stock.TerminalPin;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Changes to sheets, each with a name for undo. A null sheet stands for the system sheet. */
public final class SheetEdits {
    private static final double ASIDE = 30;

    private final Workspace workspace;
    private List<Block> clipBlocks = List.of();
    private List<Wire> clipWires = List.of();

    public SheetEdits(Workspace workspace) {
        this.workspace = workspace;
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
        String inner = subsystem ? freshSheet(workspace.project().part(ref.part()).orElseThrow(), name) : "";
        if (subsystem) {
            settings.put("sheet", inner);
        }
        double aside = free(sheet.blocks().stream().map(b -> new double[] {b.x(), b.y()}).toList(), snap(x), snap(y));
        var block = Block.of(id, type.id(), name, snap(x) + aside, snap(y) + aside, settings);
        workspace.edit("add " + type.title(), p -> {
            Project next = p.change(ref, s -> s.add(block));
            return subsystem ? next.change(ref.part(), q -> {
                var sheets = new ArrayList<>(q.sheets());
                sheets.add(Sheet.empty(inner));
                return q.withSheets(sheets);
            }) : next;
        });
        return id;
    }

    private static String freshSheet(Part part, String name) {
        String wanted = name.toLowerCase(java.util.Locale.ROOT).replaceAll("[^a-z0-9]+", "-");
        String id = wanted;
        for (int n = 2; part.sheet(id).isPresent(); n++) {
            id = wanted + "-" + n;
        }
        return id;
    }

    /** How far to go to the right and down from a place until nothing stands there; what is new must not hide what is there. */
    private static double free(List<double[]> taken, double x, double y) {
        double aside = 0;
        while (isTaken(taken, x + aside, y + aside)) {
            aside += ASIDE;
        }
        return aside;
    }

    private static boolean isTaken(List<double[]> taken, double x, double y) {
        return taken.stream().anyMatch(at -> Math.abs(at[0] - x) < ASIDE / 2 && Math.abs(at[1] - y) < ASIDE / 2);
    }

    private static double snap(double v) {
        return Math.round(v / 10) * 10.0;
    }

    /** Puts a new part on the system sheet. */
    public String addPart(Part.Kind kind, double x, double y) {
        String stem = kind == Part.Kind.CONTROLLER ? "controller" : "plant";
        String id = stem;
        for (int n = 2; workspace.project().part(id).isPresent(); n++) {
            id = stem + n;
        }
        boolean plant = kind == Part.Kind.PLANT;
        double aside = free(workspace.project().parts().stream().map(q -> new double[] {q.x(), q.y()}).toList(), snap(x), snap(y));
        var part = new Part(id, plant ? "New plant" : "New controller", kind, plant ? "continuous" : "1 ms", "100 us", "rk4",
                "float64", snap(x) + aside, snap(y) + aside, List.of(Sheet.empty("main")));
        workspace.edit("add part", p -> {
            var parts = new ArrayList<>(p.parts());
            parts.add(part);
            return p.withParts(parts);
        });
        return id;
    }

    /** Moves blocks, or parts, by whole grid steps. */
    public void move(SheetRef ref, Set<String> ids, double dx, double dy) {
        String name = "move " + count(ids.size(), ref == null ? "part" : "block");
        workspace.edit(name, p -> {
            if (ref == null) {
                return p.withParts(p.parts().stream().map(q -> ids.contains(q.id())
                        ? q.at(snap(q.x() + dx), snap(q.y() + dy)) : q).toList()).withWires(along(p.wires(), ids, dx, dy));
            }
            return p.change(ref, s -> s.withBlocks(s.blocks().stream().map(b -> ids.contains(b.id())
                    ? b.at(snap(b.x() + dx), snap(b.y() + dy)) : b).toList())
                    .withWires(along(s.wires(), ids, dx, dy)));
        });
    }

    /** Wires that were laid between blocks that move go with them. */
    private static List<Wire> along(List<Wire> wires, Set<String> ids, double dx, double dy) {
        return wires.stream().map(w -> ids.contains(w.from()) && ids.contains(w.to()) ? w.moved(dx, dy) : w).toList();
    }

    /** Draws a wire; what drove the input before is replaced. */
    public void connect(SheetRef ref, Wire wire) {
        workspace.edit("draw wire", p -> {
            if (ref == null) {
                var wires = new ArrayList<>(p.wires());
                wires.removeIf(w -> w.to().equals(wire.to()) && w.toPort().equals(wire.toPort()));
                wires.add(wire);
                return p.withWires(wires);
            }
            return p.change(ref, s -> s.add(wire));
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
        workspace.edit("pin the value of a wire", p -> p.change(ref, s -> s.add(
                Block.of(id, "tap", name, snap(source.x() + 170), snap(source.y() - 70), Map.of()))
                .add(new Wire(wire.from(), wire.fromPort(), id, "u"))));
        return name;
    }

    /** Deletes blocks with their wires, and single wires. */
    public void delete(SheetRef ref, Set<String> ids, Set<Wire> wires) {
        String what = ids.isEmpty() ? count(wires.size(), "wire") : count(ids.size(), ref == null ? "part" : "block");
        workspace.edit("delete " + what, p -> {
            if (ref == null) {
                return p.withParts(p.parts().stream().filter(q -> !ids.contains(q.id())).toList())
                        .withWires(p.wires().stream().filter(w -> !ids.contains(w.from()) && !ids.contains(w.to())
                                && !wires.contains(w)).toList());
            }
            return p.change(ref, s -> {
                Sheet next = s.removeBlocks(ids);
                for (Wire w : wires) {
                    next = next.remove(w);
                }
                return next;
            });
        });
    }

    /** Renames a block or part. A block's wires go by its id; wires at the ports of subsystem or part follow the name. */
    public void rename(SheetRef ref, String id, String name) {
        if (name.isBlank() || name.contains("/")) {
            return;
        }
        workspace.edit("rename to " + name, p -> {
            if (ref == null) {
                return p.change(id, q -> q.titled(name));
            }
            Block before = p.sheet(ref).flatMap(s -> s.block(id)).orElseThrow();
            Project next = p.change(ref, s -> s.change(id, b -> b.named(name)));
            return followPort(next, ref, before, name);
        });
    }

    private static Project followPort(Project p, SheetRef ref, Block before, String name) {
        var type = Stock.find(before.type()).orElse(null);
        if (type == null) {
            return p;
        }
        Project next = p;
        for (TerminalPin pin : type.pins(new Settings(type, before.settings()))) {
            next = followPort(next, ref, pin.portOf(before.name()), pin.portOf(name));
        }
        return next;
    }

    private static Project followPort(Project p, SheetRef ref, String before, String name) {
        Part part = p.part(ref.part()).orElseThrow();
        if (part.main().id().equals(ref.sheet())) {
            return p.withWires(p.wires().stream().map(w -> rewire(w, part.id(), before, name)).toList());
        }
        return p.change(part.id(), q -> q.withSheets(q.sheets().stream().map(s -> {
            Set<String> users = new HashSet<>();
            s.blocks().stream().filter(b -> ref.sheet().equals(b.settings().get("sheet"))).forEach(b -> users.add(b.id()));
            return users.isEmpty() ? s : s.withWires(s.wires().stream().map(w -> {
                Wire next = w;
                for (String user : users) {
                    next = rewire(next, user, before, name);
                }
                return next;
            }).toList());
        }).toList()));
    }

    private static Wire rewire(Wire w, String end, String from, String to) {
        return w.atPorts(w.from().equals(end) && w.fromPort().equals(from) ? to : w.fromPort(), w.to().equals(end)
                && w.toPort().equals(from) ? to : w.toPort());
    }

    /** Changes one setting of a block. */
    public void set(SheetRef ref, String id, String setting, String text) {
        workspace.edit("set " + setting, p -> p.change(ref, s -> s.change(id,
                b -> b.with(Stock.find(b.type()).map(t -> Settings.key(t, b.settings(), setting)).orElse(setting), text))));
    }

    /** Lets a parameter change while running, or not. */
    public void tune(SheetRef ref, String id, String parameter, boolean may) {
        workspace.edit((may ? "make " : "fix ") + parameter + (may ? " tunable" : ""),
                p -> p.change(ref, s -> s.change(id, b -> b.tune(parameter, may))));
    }

    /** Takes copies of blocks, and of the wires between them. */
    public void copy(SheetRef ref, Set<String> ids) {
        Sheet s = workspace.project().sheet(ref).orElseThrow();
        clipBlocks = s.blocks().stream().filter(b -> ids.contains(b.id())).toList();
        clipWires = s.wires().stream().filter(w -> ids.contains(w.from()) && ids.contains(w.to())).toList();
    }

    /** Puts the copies on a sheet, a little beside their originals, and returns their ids. */
    public Set<String> paste(SheetRef ref) {
        Set<String> fresh = new java.util.LinkedHashSet<>();
        if (clipBlocks.isEmpty()) {
            return fresh;
        }
        workspace.edit("paste " + count(clipBlocks.size(), "block"), p -> p.change(ref, s -> {
            Sheet next = s;
            Map<String, String> ids = new HashMap<>();
            for (Block b : clipBlocks) {
                String id = next.freshId();
                ids.put(b.id(), id);
                fresh.add(id);
                next = next.add(b.identified(id).named(next.freshName(b.name())).at(b.x() + 30, b.y() + 30));
            }
            for (Wire w : clipWires) {
                next = next.add(w.between(ids.get(w.from()), ids.get(w.to())));
            }
            return next;
        }));
        return fresh;
    }
}
