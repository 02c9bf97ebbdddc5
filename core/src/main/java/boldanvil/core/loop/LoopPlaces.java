package boldanvil.core.loop;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Project;
import boldanvil.core.edit.Paths;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/** Outputs at which people open loops: those of controllers first, then of gains that drive something. */
public final class LoopPlaces {
    private static final List<Set<String>> TYPES = List.of(Set.of("pid", "two-degree pid", "continuous pid"),
            Set.of("gain", "sum", "saturation"));

    private LoopPlaces() {}

    /** Diagram paths, the likeliest first. */
    public static List<String> of(Project p) {
        List<String> all = new ArrayList<>();
        for (Set<String> types : TYPES) {
            Paths.of(p).forEach((ref, paths) -> p.sheet(ref).orElseThrow().blocks().stream().filter(b -> types.contains(b.type()))
                    .filter(b -> drives(p, ref, b)).forEach(b -> paths.forEach(path -> all.add(path + "/" + b.name()))));
        }
        return all;
    }

    private static boolean drives(Project p, boldanvil.core.diagram.SheetRef ref, Block b) {
        return p.sheet(ref).orElseThrow().wires().stream().anyMatch(w -> !w.isNet() && w.from().equals(b.id()));
    }
}
