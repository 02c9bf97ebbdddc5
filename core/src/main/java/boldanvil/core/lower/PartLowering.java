package boldanvil.core.lower;

import boldanvil.core.diagram.Part;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.program.Program;
import boldanvil.core.program.Type;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.stock.BlockType;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Takes one part through all passes. */
public final class PartLowering {
    private PartLowering() {}

    /**
     * @param part the part
     * @param variables values of the project's variables
     */
    public static Lowered lower(Part part, Map<String, Quantity> variables) {
        List<Finding> findings = new ArrayList<>();
        if (!part.id().matches("[a-z][a-z0-9_]{0,40}")) {
            findings.add(Finding.error(Place.sheet(part.id()), "The part's id is not an identifier.",
                    "Use small letters, digits and underscores, beginning with a letter."));
        }
        if (Type.labelled(part.real()) == null || !Type.labelled(part.real()).isFloat()) {
            findings.add(Finding.error(Place.sheet(part.id(), "real"), "'" + part.real() + "' is not a type for real numbers.",
                    "Choose float64 or float32."));
        }
        if (Solver.named(part.solver()) == null) {
            findings.add(Finding.error(Place.sheet(part.id(), "solver"), "There is no solver '" + part.solver() + "'.",
                    "Choose one of: " + String.join(", ", Solver.names()) + "."));
        }
        if (!findings.isEmpty()) {
            return new Lowered(part.id(), Optional.empty(), findings, Map.of());
        }
        var flattener = new Flattener(part, variables, findings);
        List<FlatBlock> blocks = flattener.flatten();
        blocks.removeIf(f -> !f.isTop()
                && (f.type().role() == BlockType.Role.INLET || f.type().role() == BlockType.Role.OUTLET));
        for (FlatBlock f : blocks) {
            if (!f.isTop() && f.type().role() == BlockType.Role.TERMINAL) {
                findings.add(Finding.error(Place.sheet(f.path()), "A terminal is inside a subsystem.",
                        "Move it to the part's own sheet and connect it through an inlet."));
            }
        }
        var resolver = new Resolver(part, variables, findings);
        Map<String, Map<String, Type>> measured = measured(blocks, Type.labelled(part.real()));
        blocks.forEach(resolver::parameters);
        // Elements have units; what takes their place has none.
        List<Finding> units = new ArrayList<>();
        new UnitCheck(blocks, resolver, units).check();
        Networks.replace(blocks, flattener.nets(), resolver, findings);
        resolver.resolve(blocks);
        findings.addAll(units);
        if (findings.stream().anyMatch(Finding::isError)) {
            // Loops are reported even now: to correct one error should not uncover the next.
            sortOnly(blocks, findings);
            return new Lowered(part.id(), Optional.empty(), findings, outputs(blocks, measured));
        }
        Program program = new ProgramWriter(part, resolver, findings).write(blocks);
        boolean broken = findings.stream().anyMatch(Finding::isError);
        return new Lowered(part.id(), broken ? Optional.empty() : Optional.of(program), findings, outputs(blocks, measured));
    }

    /** Outputs of network elements, of which nothing else is left. */
    private static Map<String, Map<String, Type>> measured(List<FlatBlock> blocks, Type real) {
        Map<String, Map<String, Type>> all = new HashMap<>();
        blocks.stream().filter(f -> f.type().role() == BlockType.Role.ELEMENT).forEach(f -> {
            Map<String, Type> types = new HashMap<>();
            f.face().outputs().forEach(o -> types.put(o, real));
            all.put(f.path(), types);
        });
        return all;
    }

    private static void sortOnly(List<FlatBlock> blocks, List<Finding> findings) {
        blocks.stream().filter(f -> f.rateNanos() != FlatBlock.CONSTANT)
                .collect(java.util.stream.Collectors.groupingBy(FlatBlock::rateNanos, java.util.TreeMap::new,
                        java.util.stream.Collectors.toList()))
                .forEach((rate, task) -> Sorter.sort(task, findings, rate == FlatBlock.CONTINUOUS));
    }

    private static Map<String, Map<String, Type>> outputs(List<FlatBlock> blocks, Map<String, Map<String, Type>> measured) {
        Map<String, Map<String, Type>> all = new HashMap<>(measured);
        for (FlatBlock f : blocks) {
            if (measured.containsKey(f.path())) {
                continue;
            }
            Map<String, Type> types = new HashMap<>();
            for (int i = 0; i < f.face().outputs().size(); i++) {
                if (f.outputType(i) != null) {
                    types.put(f.face().outputs().get(i), f.outputType(i));
                }
            }
            all.put(f.path(), types);
        }
        return all;
    }
}
