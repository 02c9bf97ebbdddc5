package boldanvil.core.edit;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Places;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.Wire;
import boldanvil.core.finding.FindingException;
import boldanvil.core.network.Domain;
import boldanvil.core.stock.Face;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Wires that follow from where blocks are put. */
public final class Wiring {
    private Wiring() {}

    /** What flows through a contact of a block; empty where there is no such contact. */
    public static Optional<Domain> domain(Part part, Sheet sheet, String blockId, String contact) {
        return sheet.block(blockId).flatMap(b -> Faces.of(part, b)).flatMap(f -> f.contact(contact)).map(Face.Contact::domain);
    }

    /**
     * Checks that a net joins contacts of one domain.
     *
     * @throws FindingException when it does not
     */
    public static void requireOneDomain(Part part, Sheet sheet, Wire net) {
        var from = domain(part, sheet, net.from(), net.fromPort());
        var to = domain(part, sheet, net.to(), net.toPort());
        if (from.isPresent() && to.isPresent() && from.get() != to.get()) {
            throw FindingException.of(sheet.block(net.to()).orElseThrow().name(), "A net cannot join an " + from.get().label() + " and a "
                    + to.get().label() + " contact.", "Put an element with contacts of both between them, such as a machine.");
        }
    }

    private static Face face(Part part, Block b) {
        return Faces.of(part, b).orElse(Face.NONE);
    }

    /** A wire that carries what a block gives, or, for one without outputs, what it takes. */
    public static Optional<Wire> source(Project p, Places.Place at) {
        List<Wire> wires = p.sheet(at.sheet()).orElseThrow().wires();
        String id = at.block().id();
        return wires.stream().filter(w -> !w.isNet() && w.from().equals(id)).findFirst()
                .or(() -> wires.stream().filter(w -> !w.isNet() && w.to().equals(id)).findFirst());
    }

    /** The first input of a block that has no wire; empty where there is none. */
    public static Optional<String> freeInput(Part part, Sheet sheet, String id) {
        return sheet.block(id).flatMap(b -> face(part, b).inputs().stream().map(Face.In::name)
                .filter(port -> sheet.wireInto(id, port).isEmpty()).findFirst());
    }

    /** The first output of a block that drives nothing, else its first one; empty where it has none. */
    public static Optional<String> freeOutput(Part part, Sheet sheet, String id) {
        Block b = sheet.block(id).orElseThrow();
        List<String> outputs = face(part, b).outputs();
        return outputs.stream().filter(o -> sheet.wires().stream().noneMatch(w -> w.from().equals(id) && w.fromPort().equals(o)))
                .findFirst()
                .or(() -> outputs.stream().findFirst());
    }

    /**
     * Puts a block into a wire, between its first free input and its first output.
     *
     * @return the sheet with the block in the wire; empty where the block has no free input or no output
     */
    public static Optional<Sheet> insert(Part part, Sheet sheet, String id, Wire wire) {
        if (wire.isNet() || wire.touches(id)) {
            return Optional.empty();
        }
        var in = freeInput(part, sheet, id);
        var out = freeOutput(part, sheet, id);
        if (in.isEmpty() || out.isEmpty()) {
            return Optional.empty();
        }
        return Optional.of(sheet.remove(wire).add(new Wire(wire.from(), wire.fromPort(), id, in.get()))
                .add(new Wire(id, out.get(), wire.to(), wire.toPort())));
    }

    /**
     * Deletes blocks; what drove the first wired input of each then drives what its outputs drove.
     *
     * @param ids blocks with at least one input and one output are joined over, others just deleted
     */
    public static Sheet deleteAndJoin(Sheet sheet, Set<String> ids) {
        Sheet next = sheet;
        for (String id : ids) {
            Sheet now = next;
            var into = now.wires().stream().filter(w -> !w.isNet() && w.to().equals(id) && !w.from().equals(id)).findFirst();
            List<Wire> joined = new ArrayList<>();
            into.ifPresent(w -> now.wires().stream().filter(o -> !o.isNet() && o.from().equals(id) && !o.to().equals(id))
                    .forEach(o -> joined.add(new Wire(w.from(), w.fromPort(), o.to(), o.toPort()))));
            next = now.removeBlocks(Set.of(id));
            for (Wire w : joined) {
                next = next.add(w);
            }
        }
        return next;
    }

    /** Wires the outputs of one block to the free inputs of another: those of like names first, then in order. */
    public static Sheet connect(Part part, Sheet sheet, String from, String to) {
        Face a = face(part, sheet.block(from).orElseThrow());
        Face b = face(part, sheet.block(to).orElseThrow());
        List<String> free = new ArrayList<>(b.inputs().stream().map(Face.In::name).filter(i -> sheet.wireInto(to, i).isEmpty()).toList());
        Set<String> left = new HashSet<>(a.outputs());
        Sheet next = sheet;
        for (String output : a.outputs()) {
            if (free.remove(output)) {
                next = next.add(new Wire(from, output, to, output));
                left.remove(output);
            }
        }
        for (String output : a.outputs()) {
            if (left.contains(output) && !free.isEmpty()) {
                next = next.add(new Wire(from, output, to, free.removeFirst()));
            }
        }
        return next;
    }
}
