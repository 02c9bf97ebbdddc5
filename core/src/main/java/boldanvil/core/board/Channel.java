package boldanvil.core.board;

import boldanvil.core.program.TerminalKind;
import java.util.List;

/**
 * A channel of a peripheral.
 *
 * @param id such as {@code ADC1.3}
 * @param pins where it can come out; an encoder names its two pins with a comma
 */
public record Channel(String id, TerminalKind kind, List<String> pins) {
    public Channel {
        pins = List.copyOf(pins);
    }
}
