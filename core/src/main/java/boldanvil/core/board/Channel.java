package boldanvil.core.board;

import boldanvil.core.program.TerminalKind;
import java.util.List;

/**
 * A way a board has to serve a terminal.
 *
 * @param id such as {@code ADC1.3}, or {@code Q1} where a terminal takes the whole unit
 * @param unit the peripheral it is part of, such as {@code ADC1}
 * @param pins where it can come out; a terminal with several pins names them with commas between
 */
public record Channel(String id, TerminalKind kind, String unit, List<String> pins) {
    public Channel {
        pins = List.copyOf(pins);
    }
}
