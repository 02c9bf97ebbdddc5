package boldanvil.core.loop;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.edit.Faces;
import boldanvil.core.edit.Paths;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.lower.Names;
import boldanvil.core.stock.Face;
import java.util.Comparator;
import java.util.List;
import java.util.Map;

/**
 * Where a loop is opened: at an output of a block, for all that it drives or for one of its wires.
 *
 * @param path diagram path of the sheet
 * @param to the one wire's end, block and port; null for all wires
 */
public record Cut(SheetRef sheet, String path, String block, String port, End to) {
    /** Where a wire ends. */
    public record End(String block, String port) {}

    /**
     * The output with a diagram path, such as {@code controller/current loop/output}; behind a dot follows the port where it is not the
     * first output, as in {@code controller/split.y2}.
     *
     * @throws FindingException when there is none
     */
    public static Cut at(Project p, String text) {
        int slash = text.lastIndexOf('/');
        String parent = slash < 0 ? "" : text.substring(0, slash);
        String last = text.substring(slash + 1);
        for (Map.Entry<SheetRef, List<String>> e : Paths.of(p).entrySet()) {
            if (e.getValue().contains(parent)) {
                // The longest name first, since names may have dots.
                var block = p.sheet(e.getKey()).orElseThrow().blocks().stream()
                        .filter(b -> last.equals(b.name()) || last.startsWith(b.name() + "."))
                        .max(Comparator.comparingInt(b -> b.name().length()));
                if (block.isPresent()) {
                    String port = last.length() > block.get().name().length() ? last.substring(block.get().name().length() + 1) : "";
                    return output(p, e.getKey(), parent, block.get(), port);
                }
            }
        }
        throw FindingException.of(Place.sheet(text), "There is no block '" + text + "' to open a loop at.",
                "Name the path of a block with an output, such as controller/current loop/voltage.");
    }

    private static Cut output(Project p, SheetRef ref, String path, Block b, String port) {
        List<String> outputs = p.part(ref.part()).flatMap(part -> Faces.of(part, b)).orElse(Face.NONE).outputs();
        if (outputs.isEmpty() || !port.isEmpty() && !outputs.contains(port)) {
            throw FindingException.of(Place.sheet(path + "/" + b.name()), "The block '" + b.name() + "' has no output"
                    + (port.isEmpty() ? "." : " '" + port + "'."), "Name one of: " + String.join(", ", outputs) + ".");
        }
        return new Cut(ref, path, b.id(), port.isEmpty() ? outputs.getFirst() : port, null);
    }

    /**
     * The place of a wire of the system sheet: the wire to the outlet or terminal it begins at, within that part.
     *
     * @throws FindingException when that has no wire
     */
    public static Cut atSystemWire(Project p, Wire wire) {
        var part = p.part(wire.from()).orElseThrow();
        var ref = new SheetRef(part.id(), part.main().id());
        var wires = part.main().wires();
        return part.main().blocks().stream().filter(b -> b.name().equals(wire.fromPort()) || wire.fromPort().startsWith(b.name() + " "))
                .max(Comparator.comparingInt(b -> b.name().length()))
                .flatMap(b -> wires.stream().filter(w -> !w.isNet() && w.to().equals(b.id())).findFirst())
                .map(w -> new Cut(ref, part.id(), w.from(), w.fromPort(), new End(w.to(), w.toPort())))
                .orElseThrow(() -> FindingException.of(Place.sheet(part.id() + "/" + wire.fromPort()),
                        "Nothing drives '" + wire.fromPort() + "' of the part '" + part.id() + "'.",
                                "Draw a wire to it, or open the loop elsewhere."));
    }

    /** The id of the part it is in. */
    public String part() {
        return Names.partOf(path);
    }

    /** @throws NoSolutionException when the wire is on the sheet of an own block, whose uses would all change */
    void requirePartSheet() {
        if (OwnBlock.holds(sheet.sheet())) {
            throw new NoSolutionException("The wire is on the sheet of an own block, whose uses would all change.",
                    "Open the loop at a wire of a part.");
        }
    }

    /** Whether a wire of the sheet is opened. */
    boolean opens(Wire w) {
        return !w.isNet() && w.from().equals(block) && w.fromPort().equals(port)
                && (to == null || w.to().equals(to.block()) && w.toPort().equals(to.port()));
    }

    /** The diagram path of the block, with the port. */
    public String label(Project p) {
        return p.sheet(sheet).flatMap(s -> s.block(block)).map(b -> path + "/" + b.name() + "." + port).orElse(path);
    }
}
