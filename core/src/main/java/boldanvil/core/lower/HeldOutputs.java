package boldanvil.core.lower;

import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Set;

/** Which outputs keep their values while their subsystem does not run. */
final class HeldOutputs {
    private HeldOutputs() {}

    /** Blocks of conditional subsystems whose outputs are read outside of them. */
    static Set<FlatBlock> of(List<FlatBlock> blocks) {
        Set<FlatBlock> held = Collections.newSetFromMap(new IdentityHashMap<>());
        for (FlatBlock f : blocks) {
            for (var s : f.sources()) {
                if (s != null && outermostConditional(s.block().group(), f.group())) {
                    held.add(s.block());
                }
            }
            if (f.group() != null && f.group().control() != null) {
                var s = f.group().control();
                if (outermostConditional(s.block().group(), f.group().parent())) {
                    held.add(s.block());
                }
            }
        }
        return held;
    }

    /** Whether a conditional subsystem holds the source but not the reader. */
    private static boolean outermostConditional(Group source, Group reader) {
        for (Group g = source; g != null; g = g.parent()) {
            if (g.isConditional() && (reader == null || !reader.isWithin(g))) {
                return true;
            }
        }
        return false;
    }
}
