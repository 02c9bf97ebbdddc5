package boldanvil.core.edit;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.lower.Names;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** The diagram paths that lead to each sheet; several where subsystems share it. */
public final class Paths {
    private Paths() {}

    /**
     * All paths by sheet, in the order of the project; sheets of own blocks by each part that uses them. One that no block stands for has
     * none.
     */
    public static Map<SheetRef, List<String>> of(Project p) {
        Map<SheetRef, List<String>> paths = new LinkedHashMap<>();
        p.sheets().keySet().forEach(ref -> paths.put(ref, new ArrayList<>()));
        for (Part part : p.parts()) {
            visit(part, part.main(), part.id(), paths, new LinkedHashSet<>());
        }
        return paths;
    }

    /** The diagram path of the tap with an address. */
    public static Optional<String> ofTap(Project p, String address) {
        return of(p).entrySet().stream().flatMap(e -> e.getValue().stream().flatMap(path -> p.sheet(e.getKey()).stream()
                .flatMap(s -> s.blocks().stream()).filter(b -> b.type().equals("tap")).map(b -> path + "/" + b.name())))
                .filter(path -> Names.addressOf(path).equals(address)).findFirst();
    }

    /** The first path to a sheet; for one that nothing leads to, that of its part. One of an own block may be used by any part. */
    public static String first(Map<SheetRef, List<String>> paths, SheetRef sheet) {
        var known = paths.getOrDefault(sheet, List.of());
        if (known.isEmpty() && OwnBlock.holds(sheet.sheet())) {
            return paths.entrySet().stream().filter(e -> e.getKey().sheet().equals(sheet.sheet())).flatMap(e -> e.getValue().stream())
                    .findFirst().orElse(sheet.part());
        }
        return known.isEmpty() ? sheet.part() : known.getFirst();
    }

    /** @param within ids of the sheets around; one that contains itself is not entered again */
    private static void visit(Part part, Sheet sheet, String path, Map<SheetRef, List<String>> paths, Set<String> within) {
        if (within.add(sheet.id())) {
            paths.computeIfAbsent(new SheetRef(part.id(), sheet.id()), _ -> new ArrayList<>()).add(path);
            for (Block b : sheet.blocks()) {
                part.sheet(b.inner()).ifPresent(s -> visit(part, s, path + "/" + b.name(), paths, within));
            }
            within.remove(sheet.id());
        }
    }
}
