package boldanvil.core.text;

import boldanvil.core.program.Slot;
import java.util.Map;

/**
 * Where a variable lies. A structure in an array is an array for each of its members, so that every value, however deep, is an element of
 * one slot.
 */
sealed interface Storage {
    DataType type();

    /** Values of one kind: a single slot, or an array of them. */
    record Cell(Slot slot, DataType.Plain type) implements Storage {}

    /**
     * Values at a direct address.
     *
     * @param area bytes of inputs, outputs or memory
     * @param bit number of the first bit, from the beginning of the area
     */
    record Located(Slot area, int bit, DataType.Plain type) implements Storage {}

    /** Strings: the characters of each, and a zero at its end. */
    record Text(Slot slot, DataType.Chars type) implements Storage {}

    /** An array of what {@code element} says. */
    record Row(DataType.Row type, Storage element) implements Storage {}

    /** A structure with its members by key. */
    record Fields(DataType.Structure type, Map<String, Storage> members) implements Storage {}

    /** An instance of a function block, or an array of them. */
    record Instance(DataType.Block type, Scope scope) implements Storage {}
}
