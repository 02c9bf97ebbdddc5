package boldanvil.core.lower;

import boldanvil.core.diagram.Block;
import boldanvil.core.stock.Structure;

/** A subsystem that runs as one, perhaps only under a condition. */
final class Group {
    private final String path;
    private final Group parent;
    private final String runs;
    private final boolean restarts;
    private FlatBlock.Source control;

    Group(String path, Group parent, Block block) {
        this.path = path;
        this.parent = parent;
        this.runs = Structure.runs(block.settings());
        this.restarts = Structure.restarts(block.settings());
    }

    String path() {
        return path;
    }

    /** The group around this one; null for the outermost. */
    Group parent() {
        return parent;
    }

    /** Whether it runs only at times. */
    boolean isConditional() {
        return !runs.equals(Structure.AS_ONE);
    }

    /** When it runs; one of the choices of the subsystem block. */
    String runs() {
        return runs;
    }

    /** Whether its states go back to their beginning when it is switched on. */
    boolean restarts() {
        return restarts;
    }

    /** What drives its control input; null where nothing does. */
    FlatBlock.Source control() {
        return control;
    }

    void control(FlatBlock.Source source) {
        control = source;
    }

    /** Whether this group is the other one or lies within it. */
    boolean isWithin(Group other) {
        for (Group g = this; g != null; g = g.parent) {
            if (g == other) {
                return true;
            }
        }
        return other == null;
    }

    /** The group just below {@code outer} that holds this one, or this one. */
    Group below(Group outer) {
        Group g = this;
        while (g.parent != outer) {
            g = g.parent;
        }
        return g;
    }
}
