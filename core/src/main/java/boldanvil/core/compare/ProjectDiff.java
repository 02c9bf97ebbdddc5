package boldanvil.core.compare;

import boldanvil.core.compare.Change.Kind;
import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Mapping;
import boldanvil.core.diagram.Mark;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Variable;
import boldanvil.core.diagram.TagTable;
import boldanvil.core.diagram.Wire;
import boldanvil.core.edit.Paths;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.Place;
import boldanvil.core.stock.OwnBlocks;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.Stock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;

/** Compares two projects. Parts, sheets and blocks are the same where their ids are; a block that was renamed is therefore not new. */
public final class ProjectDiff {
    private static final String OWN = "own block";

    private final Project before;
    private final Project after;
    private final Map<SheetRef, List<String>> paths;
    private final Map<SheetRef, List<String>> formerPaths;
    private final List<Change> changes = new ArrayList<>();

    private ProjectDiff(Project before, Project after) {
        this.before = before;
        this.after = after;
        paths = Paths.of(after);
        formerPaths = Paths.of(before);
    }

    /** All differences, in the order of the newer project. */
    public static List<Change> of(Project before, Project after) {
        var diff = new ProjectDiff(before, after);
        diff.compare();
        return List.copyOf(diff.changes);
    }

    private static <T> Map<String, T> byId(List<T> all, Function<T, String> id) {
        Map<String, T> map = new LinkedHashMap<>();
        all.forEach(t -> map.putIfAbsent(id.apply(t), t));
        return map;
    }

    private static Set<String> all(Map<String, ?> a, Map<String, ?> b) {
        Set<String> ids = new LinkedHashSet<>(b.keySet());
        ids.addAll(a.keySet());
        return ids;
    }

    private void add(Kind kind, String what, Place place, String item, String old, String now) {
        changes.add(new Change(kind, what, place, item, old, now, false, null, ""));
    }

    /** Notes a text that differs. */
    private void text(String what, Place place, String item, String old, String now) {
        if (!old.equals(now)) {
            add(Kind.CHANGED, what, place, item, old, now);
        }
    }

    private void compare() {
        text("project", Place.named("project"), "name", before.name(), after.name());
        variables();
        parts();
        ownBlocks();
        wires("system", Place.sheet(""), null, before.wires(), after.wires(), Function.identity(), Function.identity());
        lines("rig", before.rigs(), after.rigs(), r -> r.name(), r -> Place.rig(r.name()));
        for (String part : all(before.patches(), after.patches())) {
            whole("patch", Place.patch(part), String.valueOf(before.patches().getOrDefault(part, null)),
                    String.valueOf(after.patches().getOrDefault(part, null)), part);
        }
        for (String part : all(before.mappings(), after.mappings())) {
            var old = before.mappings().getOrDefault(part, Mapping.NONE);
            var now = after.mappings().getOrDefault(part, Mapping.NONE);
            lines("channel", old.rows(), now.rows(), Mapping.Row::port, r -> Place.mapping(part, r.port()));
            text("mapping", Place.mapping(part, ""), "board", old.board(), now.board());
            text("mapping", Place.mapping(part, ""), "budget", old.budgetSeconds() + " s", now.budgetSeconds() + " s");
        }
        for (String part : all(before.tags(), after.tags())) {
            tags(part, before.tagTable(part), after.tagTable(part));
        }
        lines("control", before.bench().controls(), after.bench().controls(), c -> c.title(), c -> Place.bench(c.title()));
        lines("chart", before.bench().charts(), after.bench().charts(), c -> c.title(), c -> Place.bench(c.title()));
        lines("readout", before.bench().readouts(), after.bench().readouts(), c -> c.title(), c -> Place.bench(c.title()));
        lines("drawing", before.bench().drawings(), after.bench().drawings(), c -> c.title(), c -> Place.bench(c.title()));
        lines("limit", before.bench().limits(), after.bench().limits(), c -> c.tap(), c -> Place.bench("limit on " + c.tap()));
        lines("set of values", before.bench().sets(), after.bench().sets(), c -> c.name(), c -> Place.bench("set " + c.name()));
        for (String board : all(before.boards(), after.boards())) {
            whole("board file", Place.named(board), before.boards().getOrDefault(board, "null"), after.boards().getOrDefault(board, "null"),
                    board);
        }
    }

    private void tags(String part, TagTable old, TagTable now) {
        lines("tag", old.lines(), now.lines(), TagTable.Line::name, l -> Place.tags(part, l.name()));
        for (String port : all(old.bindings(), now.bindings())) {
            text("binding", Place.tags(part, port), port, old.bindings().getOrDefault(port, "—"), now.bindings().getOrDefault(port, "—"));
        }
        if (!old.program().equals(now.program())) {
            add(Kind.CHANGED, "program of the PLC", Place.tags(part, ""), part, "as it was", "as it is");
        }
    }

    private void whole(String what, Place place, String old, String now, String name) {
        if (!old.equals(now)) {
            changes.add(new Change(old.equals("null") ? Kind.ADDED : now.equals("null") ? Kind.REMOVED : Kind.CHANGED, what, place, name,
                    old.equals("null") ? "" : "as it was", now.equals("null") ? "" : "as it is", false, null, ""));
        }
    }

    private <T> void lines(String what, List<T> old, List<T> now, Function<T, String> name, Function<T, Place> place) {
        var a = byId(old, name);
        var b = byId(now, name);
        for (String id : all(a, b)) {
            T t = b.getOrDefault(id, a.get(id));
            whole(what, place.apply(t), String.valueOf(a.get(id)), String.valueOf(b.get(id)), id);
        }
    }

    private void variables() {
        var a = byId(before.variables(), Variable::name);
        var b = byId(after.variables(), Variable::name);
        for (String name : all(a, b)) {
            Variable old = a.get(name);
            Variable now = b.get(name);
            Place at = new Place.Variable(name);
            if (old == null) {
                add(Kind.ADDED, "variable", at, name, "", now.value());
            } else if (now == null) {
                add(Kind.REMOVED, "variable", at, name, old.value(), "");
            } else {
                text("variable", at, name, old.value(), now.value());
                text("variable", at, name + " note", old.note(), now.note());
                text("variable", at, name + " unit", old.unit(), now.unit());
                text("variable", at, name + " group", old.group(), now.group());
            }
        }
    }

    private void parts() {
        var a = byId(before.parts(), Part::id);
        var b = byId(after.parts(), Part::id);
        for (String id : all(a, b)) {
            Part old = a.get(id);
            Part now = b.get(id);
            Place at = Place.sheet(id);
            if (old == null || now == null) {
                add(old == null ? Kind.ADDED : Kind.REMOVED, "part", at, id, old == null ? "" : old.title(), now == null ? ""
                        : now.title());
                continue;
            }
            text("part", at, "title", old.title(), now.title());
            text("part", at, "kind", String.valueOf(old.kind()), String.valueOf(now.kind()));
            text("part", at, "sample time", old.sampleTime(), now.sampleTime());
            text("part", at, "step", old.step(), now.step());
            text("part", at, "solver", old.solver(), now.solver());
            text("part", at, "real numbers", old.real(), now.real());
            boolean moved = old.x() != now.x() || old.y() != now.y() || !old.look().equals(now.look());
            if (moved) {
                changes.add(new Change(Kind.CHANGED, "part", at, "place", point(old.x(), old.y()), point(now.x(), now.y()), true, null,
                        id));
            }
            sheets(id, old.sheets(), now.sheets());
        }
    }

    private void sheets(String part, List<Sheet> old, List<Sheet> now) {
        var a = byId(old, Sheet::id);
        var b = byId(now, Sheet::id);
        for (String sheet : all(a, b)) {
            var ref = new SheetRef(part, sheet);
            String path = Paths.first(b.containsKey(sheet) ? paths : formerPaths, ref);
            sheet(ref, path, a.getOrDefault(sheet, Sheet.empty(sheet)), b.getOrDefault(sheet, Sheet.empty(sheet)));
        }
    }

    private void ownBlocks() {
        var a = before.library().blocks();
        var b = after.library().blocks();
        for (String id : all(a, b)) {
            OwnBlock old = a.get(id);
            OwnBlock now = b.get(id);
            Place at = Place.named("own block " + id);
            if (old == null || now == null) {
                add(old == null ? Kind.ADDED : Kind.REMOVED, OWN, at, id, old == null ? "" : old.title(), now == null ? "" : now.title());
                continue;
            }
            text(OWN, at, "title", old.title(), now.title());
            text(OWN, at, "help", old.help(), now.help());
            text(OWN, at, "caption", old.caption(), now.caption());
            text(OWN, at, "curve", String.join(" ", old.curve(), old.curveFrom(), old.curveTo()), String.join(" ", now.curve(),
                    now.curveFrom(), now.curveTo()));
            lines("parameter", old.parameters(), now.parameters(), OwnBlock.Parameter::name, _ -> at);
            String part = after.parts().isEmpty() ? "" : after.parts().getFirst().id();
            sheets(part, old.sheets(), now.sheets());
        }
    }

    private static String point(double x, double y) {
        return Math.round(x) + ", " + Math.round(y);
    }

    private void sheet(SheetRef ref, String path, Sheet old, Sheet now) {
        var a = byId(old.blocks(), Block::id);
        var b = byId(now.blocks(), Block::id);
        for (String id : all(a, b)) {
            Block was = a.get(id);
            Block is = b.get(id);
            if (was == null || is == null) {
                Block one = was == null ? is : was;
                changes.add(new Change(was == null ? Kind.ADDED : Kind.REMOVED, "block", Place.sheet(path + "/" + one.name()), "",
                        was == null ? "" : title(was), is == null ? "" : title(is), false, ref, id));
            } else {
                block(ref, path, was, is);
            }
        }
        wires(path, Place.sheet(path), ref, old.wires(), now.wires(), names(a), names(b));
        var marks = byId(old.marks(), Mark::id);
        var present = byId(now.marks(), Mark::id);
        for (String id : all(marks, present)) {
            Mark was = marks.get(id);
            Mark is = present.get(id);
            if (was == null || is == null || !was.equals(is)) {
                changes.add(new Change(was == null ? Kind.ADDED : is == null ? Kind.REMOVED : Kind.CHANGED, "mark", Place.sheet(path), "",
                        was == null ? "" : was.text(), is == null ? "" : is.text(), was != null && is != null
                        && was.text().equals(is.text()),
                        ref, id));
            }
        }
    }

    private static String title(Block b) {
        return b.name() + " (" + Stock.find(b.type()).map(t -> t.title()).orElse(b.type()) + ")";
    }

    private static Function<String, String> names(Map<String, Block> blocks) {
        return id -> blocks.containsKey(id) ? blocks.get(id).name() : id;
    }

    private void block(SheetRef ref, String path, Block was, Block is) {
        Place at = Place.sheet(path + "/" + is.name());
        changed(ref, at, is, "name", was.name(), is.name());
        changed(ref, at, is, "type", was.type(), is.type());
        Set<String> keys = new LinkedHashSet<>(is.settings().keySet());
        keys.addAll(was.settings().keySet());
        for (String key : keys) {
            changed(ref, at, is, key, setting(before, was, key), setting(after, is, key));
        }
        changed(ref, at, is, "live", String.join(", ", was.tunable()), String.join(", ", is.tunable()));
        if (was.x() != is.x() || was.y() != is.y() || !was.look().equals(is.look())) {
            changes.add(new Change(Kind.CHANGED, "block", at, "place", point(was.x(), was.y()), point(is.x(), is.y()), true, ref, is.id()));
        }
    }

    /** A setting as given, or the default it stands for. */
    private static String setting(Project p, Block b, String key) {
        String given = b.settings().get(key);
        return given != null ? given : OwnBlocks.type(p.library(), b).filter(t -> t.hasParameter(key))
                .map(t -> new Settings(t, b.settings()).given(key))
                .orElse("");
    }

    private void changed(SheetRef ref, Place at, Block is, String item, String old, String now) {
        if (!old.equals(now)) {
            changes.add(new Change(Kind.CHANGED, "block", at, item, old, now, false, ref, is.id()));
        }
    }

    private void wires(String path, Place at, SheetRef ref, List<Wire> old, List<Wire> now, Function<String, String> formerName,
            Function<String, String> name) {
        Map<Wire, Wire> a = bare(old);
        Map<Wire, Wire> b = bare(now);
        b.forEach((w, laid) -> {
            if (!a.containsKey(w)) {
                changes.add(new Change(Kind.ADDED, "wire", at, "", "", text(w, name), false, ref, ""));
            } else if (!a.get(w).lanes().equals(laid.lanes())) {
                changes.add(new Change(Kind.CHANGED, "wire", at, text(w, name), "way", "another way", true, ref, ""));
            }
        });
        a.keySet().stream().filter(w -> !b.containsKey(w))
                .forEach(w -> changes.add(new Change(Kind.REMOVED, "wire", at, "", text(w, formerName), "", false, ref, "")));
    }

    private static Map<Wire, Wire> bare(List<Wire> wires) {
        Map<Wire, Wire> map = new LinkedHashMap<>();
        wires.forEach(w -> map.put(w.laid(List.of()), w));
        return map;
    }

    private static String text(Wire w, Function<String, String> name) {
        return name.apply(w.from()) + "." + w.fromPort() + (w.isNet() ? " — " : " → ") + name.apply(w.to()) + "." + w.toPort();
    }

    /** Whether two projects would be saved as the same files. */
    public static boolean sameFiles(Project a, Project b) {
        return ProjectWriter.files(a).equals(ProjectWriter.files(b));
    }
}
