package boldanvil.core.lower;

import java.util.List;

/** What is put in order: a block, a subsystem that runs as one, or a loop of equations. */
sealed interface Unit {
    /** The block it begins with. */
    FlatBlock first();

    /** One block. */
    record Single(FlatBlock block) implements Unit {
        @Override
        public FlatBlock first() {
            return block;
        }
    }

    /** A subsystem that runs as one, its units in order. */
    record Grouped(Group group, List<Unit> inner) implements Unit {
        @Override
        public FlatBlock first() {
            return inner.getFirst().first();
        }
    }

    /**
     * Blocks that need each other's results at one instant. Once the outputs of the torn ones are assumed, the others follow
     * in the order given, the torn ones among them.
     */
    record Loop(List<FlatBlock> order, List<FlatBlock> torn) implements Unit {
        @Override
        public FlatBlock first() {
            return order.getFirst();
        }
    }
}
