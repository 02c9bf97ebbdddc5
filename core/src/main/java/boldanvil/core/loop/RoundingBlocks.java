package boldanvil.core.loop;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Project;
import boldanvil.core.edit.Paths;
import boldanvil.core.stock.OwnBlocks;
import java.util.HashSet;
import java.util.Set;
import java.util.function.Predicate;

/** Blocks that round on purpose, such as quantisers. Over many steps they let a signal through as it is. */
final class RoundingBlocks {
    private RoundingBlocks() {}

    /** Whether a diagram path is that of such a block. */
    static Predicate<String> of(Project p) {
        Set<String> paths = new HashSet<>();
        Paths.of(p).forEach((ref, all) -> {
            for (Block b : p.sheet(ref).orElseThrow().blocks()) {
                if (OwnBlocks.type(p.library(), b).filter(t -> t.isRounding()).isPresent()) {
                    all.forEach(path -> paths.add(path + "/" + b.name()));
                }
            }
        });
        return paths::contains;
    }
}
