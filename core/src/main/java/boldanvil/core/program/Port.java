package boldanvil.core.program;

import java.util.Map;

/**
 * Where a part meets its surroundings.
 *
 * @param name the name on the system sheet
 * @param slot an INPUT or OUTPUT slot holding the signal on the wire
 * @param owner the block it belongs to; a terminal with several wires has several ports
 * @param terminal kind of peripheral, or null for a plain port
 * @param wire what may be connected to it
 * @param path diagram place
 * @param numbers the block's numeric parameters by name, SI
 * @param texts its choices and texts by name
 */
public record Port(String name, Slot slot, String owner, TerminalKind terminal, Wire wire, String path, Map<String, Double> numbers,
        Map<String, String> texts) {
    /** Whether a port takes a wire. */
    public enum Wire {
        NEEDED,
        OPTIONAL,
        /** It is not a port of the part: the signal passes between the program and its device. */
        NONE
    }

    public Port {
        numbers = Map.copyOf(numbers);
        texts = Map.copyOf(texts);
    }

    public boolean isInput() {
        return slot.role() == Slot.Role.INPUT;
    }

    /** Whether it is a port of the part on the system sheet; the others are between the program and its device. */
    public boolean isOnSystemSheet() {
        return wire != Wire.NONE;
    }
}
