package boldanvil.core.edit;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Variable;
import boldanvil.core.diagram.Wire;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.quantity.Formula;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.Stock;
import boldanvil.core.stock.TerminalPin;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;

/** Gives variables, blocks and parts other names, everywhere they are named. */
public final class Renaming {
    private Renaming() {}

    /**
     * Renames a variable and every formula that names it.
     *
     * @throws FindingException when the name is taken or is not a name
     */
    public static Project variable(Project p, String from, String to) {
        Place at = new Place.Variable(from);
        if (!to.matches("[A-Za-z_][A-Za-z0-9_]{0,60}")) {
            throw FindingException.of(at, "'" + to + "' is not a name.", "Use letters, digits and underscores, beginning with a letter.");
        }
        Set<String> names = p.variables().stream().map(Variable::name).collect(Collectors.toSet());
        if (names.contains(to)) {
            throw FindingException.of(at, "There is a variable '" + to + "' already.", "Choose another name.");
        }
        Project next = Formulas.each(p, (_, text, parameters) -> parameters.contains(from) ? text
                : Formula.replaced(text, Map.of(from, to), names));
        return next.withVariables(next.variables().stream().map(v -> v.name().equals(from) ? v.named(to) : v).toList());
    }

    /**
     * Renames a block. Wires at the ports that stand for it outside, wire labels, the bench, patches and rigs follow.
     *
     * @throws FindingException when another block of the sheet has the name, or it cannot be a name
     */
    public static Project block(Project p, SheetRef ref, String id, String name) {
        Block before = p.sheet(ref).flatMap(s -> s.block(id)).orElseThrow();
        var paths = Paths.of(p);
        Place at = Place.sheet(Paths.first(paths, ref) + "/" + before.name());
        if (name.isBlank() || name.contains("/") || name.length() > 100) {
            throw FindingException.of(at, "'" + name + "' cannot be the name of a block.", "Use up to 100 characters without '/'.");
        }
        if (p.sheet(ref).orElseThrow().blocks().stream().anyMatch(b -> !b.id().equals(id) && b.name().equals(name))) {
            throw FindingException.of(at, "There is a block '" + name + "' on this sheet already.", "Choose another name.");
        }
        Project next = p.change(ref, s -> s.change(id, b -> b.named(name)));
        if (before.type().equals("label")) {
            next = next.change(ref, s -> s.withBlocks(s.blocks().stream().map(b -> b.type().equals("from label")
                    && before.name().equals(b.settings().get("wire")) ? b.with("wire", name) : b).toList()));
        }
        next = ports(next, ref, before, name);
        Map<String, String> moved = new LinkedHashMap<>();
        paths.entrySet().stream().filter(e -> e.getKey().equals(ref) || OwnBlock.holds(ref.sheet())
                && e.getKey().sheet().equals(ref.sheet())).flatMap(e -> e.getValue().stream())
                .forEach(path -> moved.put(path + "/" + before.name(), path + "/" + name));
        return References.follow(next, moved);
    }

    private static Project ports(Project p, SheetRef ref, Block before, String name) {
        var type = Stock.find(before.type()).orElse(null);
        Project next = p;
        if (type != null) {
            for (TerminalPin pin : type.pins(new Settings(type, before.settings()))) {
                next = port(next, ref, pin.portOf(before.name()), pin.portOf(name));
            }
        }
        return next;
    }

    private static Project port(Project p, SheetRef ref, String before, String name) {
        Part part = p.part(ref.part()).orElseThrow();
        if (part.main().id().equals(ref.sheet())) {
            return p.withWires(p.wires().stream().map(w -> rewire(w, part.id(), before, name)).toList());
        }
        return p.changeAll((outer, s) -> OwnBlock.holds(ref.sheet()) || outer.part().equals(ref.part())
                ? users(s, ref.sheet(), before, name) : s);
    }

    /** A sheet whose subsystems with a body have another name for one of their ports. */
    private static Sheet users(Sheet s, String body, String before, String name) {
        List<Block> users = s.blocks().stream().filter(b -> b.inner().equals(body)).toList();
        return users.isEmpty() ? s : s.withWires(s.wires().stream().map(w -> {
            Wire next = w;
            for (Block user : users) {
                next = rewire(next, user.id(), before, name);
            }
            return next;
        }).toList());
    }

    private static Wire rewire(Wire w, String end, String from, String to) {
        return w.atPorts(w.from().equals(end) && w.fromPort().equals(from) ? to : w.fromPort(), w.to().equals(end)
                && w.toPort().equals(from) ? to : w.toPort());
    }

    /**
     * Gives a part another id, which is its file's name and the first word of its addresses.
     *
     * @throws FindingException when another part has it, or it cannot be an id
     */
    public static Project part(Project p, String from, String to) {
        Place at = Place.sheet(from);
        if (!to.matches("[a-z][a-z0-9_]{0,40}")) {
            throw FindingException.of(at, "'" + to + "' cannot be the id of a part.",
                    "Use small letters, digits and underscores, beginning with a letter.");
        }
        if (p.part(to).isPresent()) {
            throw FindingException.of(at, "There is a part '" + to + "' already.", "Choose another id.");
        }
        UnaryOperator<String> id = s -> s.equals(from) ? to : s;
        Project next = p.withParts(p.parts().stream().map(q -> q.id().equals(from)
                ? new Part(to, q.title(), q.kind(), q.sampleTime(), q.step(),
                q.solver(), q.real(), q.x(), q.y(), q.sheets(), q.look()) : q).toList())
                .withWires(p.wires().stream().map(w -> w.between(id.apply(w.from()), id.apply(w.to()))).toList())
                .withRigs(p.rigs().stream().map(r -> {
                    Map<String, Rig.Place> places = new LinkedHashMap<>();
                    r.places().forEach((part, place) -> places.put(id.apply(part), place));
                    return r.withPlaces(places);
                }).toList());
        return References.follow(next.followed(from, to), Map.of(from, to));
    }
}
