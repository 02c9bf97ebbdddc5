package boldanvil.core.stock;

import boldanvil.core.program.Port;
import boldanvil.core.program.TerminalKind;
import boldanvil.core.program.Type;

/**
 * An outer side of a terminal, inlet or outlet. Its behaviour calls it {@code pin}, or {@code pin} and its name where it has several.
 *
 * @param name what its port on the system sheet is called after the block; empty for the block's name alone
 * @param input whether signals come in here
 * @param type null for the part's real type
 * @param unit of the signal
 * @param wire what may be connected to it
 * @param initial value while nothing is
 * @param ownKind what it is where it has a place of its own on the board; null where it goes with the others of its block
 */
public record TerminalPin(String name, boolean input, Type type, String unit, Port.Wire wire, double initial, TerminalKind ownKind) {
    TerminalPin(String name, boolean input, Type type, String unit, Port.Wire wire, double initial) {
        this(name, input, type, unit, wire, initial, null);
    }

    /** The same, as a terminal of its own on the patch sheet, called after block and pin. */
    TerminalPin as(TerminalKind kind) {
        return new TerminalPin(name, input, type, unit, wire, initial, kind);
    }

    static TerminalPin in(String name, Type type, String unit) {
        return new TerminalPin(name, true, type, unit, Port.Wire.NEEDED, 0);
    }

    public static TerminalPin out(String name, Type type, String unit) {
        return new TerminalPin(name, false, type, unit, Port.Wire.OPTIONAL, 0);
    }

    /** The same, but it may stay open and then reads as a value. */
    TerminalPin orElse(double value) {
        return new TerminalPin(name, input, type, unit, Port.Wire.OPTIONAL, value);
    }

    /** The same, but between the program and its device only. */
    TerminalPin within() {
        return new TerminalPin(name, input, type, unit, Port.Wire.NONE, initial);
    }

    /** The name of its port on the system sheet: that of its block, with its own where there are several. */
    public String portOf(String block) {
        return name.isEmpty() ? block : block + " " + name;
    }
}
