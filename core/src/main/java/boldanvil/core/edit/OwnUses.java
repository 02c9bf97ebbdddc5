package boldanvil.core.edit;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Library;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Variable;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.quantity.Variables;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/** Makes own blocks of subsystems, finds their uses, and detaches uses. What the sheets compute stays the same, bit for bit. */
public final class OwnUses {
    private OwnUses() {}

    /** Variables of the project that formulas within a subsystem name: what can become parameters. */
    public static List<Variable> candidates(Project p, SheetRef ref, String id) {
        Part part = p.part(ref.part()).orElseThrow();
        Block subsystem = p.sheet(ref).flatMap(s -> s.block(id)).orElseThrow();
        Set<String> known = p.variables().stream().map(Variable::name).collect(Collectors.toSet());
        Set<String> named = new HashSet<>();
        for (Sheet s : bodies(part, subsystem.inner()).values()) {
            s.blocks().forEach(b -> Formulas.block(p.library(), b, "", Set.of(), (_, text, _) -> {
                named.addAll(Formula.names(text, known));
                return text;
            }));
        }
        return p.variables().stream().filter(v -> named.contains(v.name())).toList();
    }

    /** A parameter in place of a variable. It has a unit only where the variable has one; a bare number takes the unit it is used in. */
    public static OwnBlock.Parameter parameter(Project p, Variable v) {
        Quantity q = Variables.resolve(p.variableTexts()).values().get(v.name());
        return new OwnBlock.Parameter(v.name(), v.value(), q == null || q.isBare() ? "" : v.unit(), v.note());
    }

    /** The sheet of a subsystem and of those within, but for those of own blocks, by id. */
    private static Map<String, Sheet> bodies(Part part, String sheetId) {
        Map<String, Sheet> all = new LinkedHashMap<>();
        collect(part, sheetId, all);
        return all;
    }

    private static void collect(Part part, String sheetId, Map<String, Sheet> all) {
        part.sheet(sheetId).filter(s -> !OwnBlock.holds(s.id()) && all.putIfAbsent(s.id(), s) == null)
                .ifPresent(s -> s.blocks().forEach(b -> collect(part, b.inner(), all)));
    }

    /** An id like a title that no own block of the project has. */
    public static String freshId(Project p, String title) {
        String plain = title.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9]+", "_").replaceAll("^[_0-9]+|_+$", "");
        return p.library().freshId(plain.isEmpty() ? "block" : plain.substring(0, Math.min(30, plain.length())));
    }

    /**
     * Keeps a subsystem as an own block. Every subsystem of the part with the same sheet becomes a use of it. Parameters are named like the
     * variables they replace, and each use gives them the values of these.
     *
     * @param about what the block is to be; its sheets are those of the subsystem
     * @throws FindingException when there is such a block already, or the subsystem has no sheet or is a use of an own block
     */
    public static Project keep(Project p, SheetRef ref, String path, String id, OwnBlock about) {
        Part part = p.part(ref.part()).orElseThrow();
        Block subsystem = p.sheet(ref).flatMap(s -> s.block(id)).orElseThrow();
        Place at = Place.sheet(path + "/" + subsystem.name());
        Map<String, Sheet> bodies = bodies(part, subsystem.inner());
        if (bodies.isEmpty()) {
            throw FindingException.of(at, OwnBlock.holds(subsystem.inner()) ? "This block is a use of an own block already."
                    : "This block has no sheet.", "Select a subsystem.");
        }
        if (OwnBlock.holds(ref.sheet())) {
            throw FindingException.of(at, "The subsystem is inside an own block.", "Detach a use of that block first.");
        }
        if (p.library().blocks().containsKey(about.id())) {
            throw FindingException.of(at, "There is an own block '" + about.id() + "' already.", "Choose another name.");
        }
        Map<String, String> ids = new HashMap<>();
        bodies.keySet().forEach(b -> ids.put(b, b.equals(subsystem.inner()) ? about.mainSheet() : about.mainSheet() + "/" + b));
        List<Sheet> sheets = bodies.values().stream().map(s -> new Sheet(ids.get(s.id()), s.blocks().stream()
                .map(b -> b.within(ids)).toList(), s.wires(), s.marks())).toList();
        Project next = p.withLibrary(p.library().with(about.withSheets(sheets)));
        for (Sheet s : part.sheets()) {
            next = next.change(new SheetRef(part.id(), s.id()), t -> t.withBlocks(t.blocks().stream()
                    .map(b -> b.inner().equals(subsystem.inner()) ? use(b, about) : b).toList()));
        }
        for (String body : bodies.keySet()) {
            var old = new SheetRef(part.id(), body);
            boolean chosen = p.rigs().stream().anyMatch(r -> r.bodies().containsValue(body));
            next = chosen || isUsedOutside(part, body, bodies.keySet()) ? next : next.remove(old);
        }
        return next;
    }

    /** Whether a sheet that is not moved has a subsystem with a body other than that of the new block. */
    private static boolean isUsedOutside(Part part, String body, Set<String> moved) {
        boolean first = body.equals(moved.iterator().next());
        return !first && part.sheets().stream().filter(s -> !moved.contains(s.id())).flatMap(s -> s.blocks().stream())
                .anyMatch(b -> b.inner().equals(body));
    }

    private static Block use(Block b, OwnBlock own) {
        Block next = b.with("sheet", own.mainSheet());
        for (OwnBlock.Parameter p : own.parameters()) {
            next = next.with(p.name(), p.name());
        }
        return next;
    }

    /** The diagram paths of all uses of an own block, and of the own blocks' sheets that use it. */
    public static List<String> of(Project p, String id) {
        Set<String> uses = new LinkedHashSet<>();
        Paths.of(p).forEach((ref, paths) -> p.sheet(ref).ifPresent(s -> s.blocks().stream()
                .filter(b -> OwnBlock.holds(b.inner()) && OwnBlock.owner(b.inner()).equals(id) && !isWithin(ref, id))
                .forEach(b -> paths.forEach(path -> uses.add(path + "/" + b.name())))));
        return List.copyOf(uses);
    }

    private static boolean isWithin(SheetRef ref, String id) {
        return OwnBlock.holds(ref.sheet()) && OwnBlock.owner(ref.sheet()).equals(id);
    }

    /**
     * Detaches a use: it becomes a subsystem with sheets of its own, whose formulas have its values in place of the parameters.
     *
     * @throws FindingException when the block is not a use, or the own block is missing
     */
    public static Project detach(Project p, SheetRef ref, String path, String id) {
        Block use = p.sheet(ref).flatMap(s -> s.block(id)).orElseThrow();
        OwnBlock own = p.library().of(use).orElseThrow(() -> FindingException.of(Place.sheet(path + "/" + use.name()),
                "This block is not a use of an own block.", "Select a use of an own block."));
        Set<String> names = new HashSet<>(own.names());
        p.variables().forEach(v -> names.add(v.name()));
        Map<String, Quantity> variables = Variables.resolve(p.variableTexts()).values();
        Map<String, String> values = new HashMap<>();
        own.parameters().forEach(q -> values.put(q.name(), value(use.settings().getOrDefault(q.name(), q.value()), q.unit(), variables)));
        Map<String, String> ids = new LinkedHashMap<>();
        Project next = p;
        for (Sheet s : own.sheets()) {
            String name = s.id().equals(own.mainSheet()) ? own.title() : s.id().substring(own.mainSheet().length() + 1);
            String fresh = next.freshSheetId(ref, name);
            ids.put(s.id(), fresh);
            next = next.add(ref, Sheet.empty(fresh));
        }
        for (Sheet s : own.sheets()) {
            List<Block> blocks = new ArrayList<>();
            for (Block b : s.blocks()) {
                Block valued = Formulas.block(p.library(), b, "", own.names(), (_, text, _) -> Formula.replaced(text, values, names));
                blocks.add(valued.within(ids));
            }
            String fresh = ids.get(s.id());
            next = next.change(new SheetRef(ref.part(), fresh), _ -> new Sheet(fresh, blocks, s.wires(), s.marks()));
        }
        return next.change(ref, s -> s.change(id, b -> b.within(ids).without(own.names())));
    }

    /** A value that can stand in a formula; a bare number gets the unit of its parameter. */
    private static String value(String text, String unit, Map<String, Quantity> variables) {
        boolean number = text.strip().matches("[0-9.]+([eE][+-]?[0-9]+)?");
        if (number) {
            return unit.isBlank() || unit.equals("1") ? text.strip() : "(" + text.strip() + " " + unit + ")";
        }
        boolean bare = false;
        try {
            bare = Formula.quantity(text, variables).isBare();
        } catch (FormulaException e) {
            // It names parameters of the block around, which state their kinds themselves.
        }
        return bare && !unit.isBlank() && !unit.equals("1") ? "((" + text + ") * 1 " + unit + ")" : Formula.isName(text) ? text.strip()
                : "(" + text + ")";
    }

    /**
     * Puts a use of an own block on a sheet. A project that does not have the block gets it, and those it uses.
     *
     * @param from where the block comes from
     * @throws FindingException when the sheet is one of the block itself, or of a block it uses
     */
    public static Project add(Project p, SheetRef ref, OwnBlock own, Library from, Block use) {
        List<OwnBlock> needed = (p.library().blocks().containsKey(own.id()) ? p.library() : from).closure(own.id());
        if (OwnBlock.holds(ref.sheet()) && needed.stream().anyMatch(b -> b.id().equals(OwnBlock.owner(ref.sheet())))) {
            throw FindingException.of(Place.named("own block " + OwnBlock.owner(ref.sheet())), "'" + own.title()
                    + "' would contain itself.", "Use another block here.");
        }
        Library library = p.library();
        for (OwnBlock b : needed) {
            library = library.blocks().containsKey(b.id()) ? library : library.with(b);
        }
        return p.withLibrary(library).change(ref, s -> s.add(use.with("sheet", own.mainSheet())));
    }

    /** Replaces an own block. Its uses lose the values of parameters that it no longer has. */
    public static Project define(Project p, OwnBlock own) {
        Set<String> gone = p.library().find(own.id()).map(b -> new HashSet<>(b.names())).orElse(new HashSet<>());
        gone.removeAll(own.names());
        return p.withLibrary(p.library().with(own)).changeAll((_, s) -> s.withBlocks(s.blocks().stream()
                .map(b -> b.inner().equals(own.mainSheet()) ? b.without(gone) : b).toList()));
    }

    /** Removes an own block that nothing uses. */
    public static Project remove(Project p, String id) {
        List<String> uses = of(p, id);
        if (!uses.isEmpty()) {
            throw FindingException.of(Place.sheet(uses.getFirst()), "The own block '" + id + "' is in use.",
                    "Delete or detach its " + uses.size() + " uses first.");
        }
        return p.withLibrary(p.library().without(id));
    }
}
