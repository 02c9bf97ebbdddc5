package boldanvil.core.replay;

import boldanvil.core.program.Slot;
import boldanvil.core.replay.Why.Part;
import java.util.List;

/**
 * A value that was in a slot, with what made it.
 *
 * @param slot where it was; null for a constant
 * @param path of the block whose statement put it there; null when it was there before the traced tick
 * @param causes what it was made of; empty for a constant, and for what was there before
 */
record Node(Slot slot, double value, String path, List<Cause> causes) {
    /** Something that had a part in a value. */
    record Cause(Node node, Part role) {
        /** The same as something that only decided which value it is. */
        Cause deciding() {
            return role == Part.CHOICE ? this : new Cause(node, Part.CHOICE);
        }
    }

    Node {
        causes = List.copyOf(causes);
    }

    static Node before(Slot slot, double value) {
        return new Node(slot, value, null, List.of());
    }

    static Node constant(double value) {
        return new Node(null, value, null, List.of());
    }

    boolean isConstant() {
        return slot == null;
    }

    /** Whether it was there before the traced tick. */
    boolean isBefore() {
        return slot != null && path == null;
    }
}
