package boldanvil.core.identify;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.edit.Paths;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.lower.Names;
import boldanvil.core.stock.Family;
import boldanvil.core.stock.Stock;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * A project in which some tapped outputs are replaced by tunables, which can have the recorded values.
 *
 * @param tunables the address of the tunable for each tap
 * @param held taps whose signal follows from inlets alone, so that in a continuous part it stays as it is from tick to tick
 */
record FedTaps(Project project, Map<String, String> tunables, Set<String> held) {
    private static final String STEM = "zz fed ";

    /** @throws FindingException when there is no such tap, or its output drives nothing */
    static FedTaps of(Project project, List<String> taps) {
        Project p = project;
        Map<String, String> tunables = new LinkedHashMap<>();
        Set<String> held = new HashSet<>();
        for (String tap : taps) {
            String path = Paths.ofTap(p, tap).orElseThrow(() -> FindingException.of(Place.sheet(tap), "There is no tap '" + tap
                    + "' whose record could drive the sheet.", "Name a tap of the project as input."));
            String parent = path.substring(0, path.lastIndexOf('/'));
            String name = path.substring(path.lastIndexOf('/') + 1);
            SheetRef ref = Paths.of(p).entrySet().stream().filter(e -> e.getValue().contains(parent)).findFirst().orElseThrow().getKey();
            var sheet = p.sheet(ref).orElseThrow();
            var block = sheet.blocks().stream().filter(b -> b.type().equals("tap") && b.name().equals(name)).findFirst().orElseThrow();
            Wire source = sheet.wireInto(block.id(), "u").orElseThrow(() -> FindingException.of(Place.sheet(path),
                    "Nothing is wired to the tap.", "Choose another tap as input."));
            List<Wire> driven = sheet.driven(source.from(), source.fromPort());
            if (driven.isEmpty()) {
                throw FindingException.of(Place.sheet(path), "What the tap records drives nothing, so that it cannot be an input.",
                        "Choose a tap at an output that drives the plant.");
            }
            if (isHeld(sheet, source.from(), new HashSet<>())) {
                held.add(tap);
            }
            String fed = STEM + (tunables.size() + 1);
            tunables.put(tap, Names.addressOf(parent + "/" + fed));
            p = p.change(ref, s -> {
                String id = s.freshId();
                return s.add(Block.of(id, "tunable", fed, 0, 0, Map.of())).redriven(driven, id, "y");
            });
        }
        return new FedTaps(p, tunables, held);
    }

    /** Whether only inlets and what has no memory lead to a block. */
    private static boolean isHeld(Sheet sheet, String block, Set<String> seen) {
        var b = sheet.block(block).orElseThrow();
        if (b.type().equals("inlet") || !seen.add(block)) {
            return true;
        }
        boolean plain = Stock.find(b.type()).filter(t -> t.family() == Family.CALCULATION || b.type().equals("saturation")).isPresent();
        return plain && sheet.wires().stream().filter(w -> !w.isNet() && w.to().equals(block)).allMatch(w -> isHeld(sheet, w.from(), seen));
    }
}
