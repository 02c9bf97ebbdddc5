package boldanvil.core.program;

import java.util.Map;

/**
 * Where a part meets its surroundings.
 *
 * @param name the name on the sheet
 * @param slot an INPUT or OUTPUT slot holding the signal on the wire
 * @param terminal kind of peripheral, or null for a plain port
 * @param path diagram place
 * @param numbers the terminal's numeric parameters by name, SI
 */
public record Port(String name, Slot slot, TerminalKind terminal, String path, Map<String, Double> numbers) {
    public Port {
        numbers = Map.copyOf(numbers);
    }

    public boolean isInput() {
        return slot.role() == Slot.Role.INPUT;
    }
}
