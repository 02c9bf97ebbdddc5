package boldanvil.core.board;

import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.List;
import java.util.Optional;

/** A terminal at a channel of a board, with every pin it takes. */
record Placement(Terminal terminal, Channel channel, List<String> pins) {
    Placement {
        pins = List.copyOf(pins);
    }

    static Placement of(Terminal t, Channel channel, String way) {
        return new Placement(t, channel, List.of(way.split(",")));
    }

    /** Why two placements cannot both be, told of this one. */
    Optional<String> clash(Placement other, Board board) {
        String name = "'" + other.terminal().name() + "'";
        if (terminal.kind().sharesUnit() && other.terminal().kind().sharesUnit() && channel.unit().equals(other.channel().unit())) {
            return together(other, name);
        }
        for (String pin : pins) {
            if (other.pins().contains(pin)) {
                return Optional.of("Pin " + pin + " is taken by terminal " + name + " too.");
            }
        }
        if (terminal.kind() == TerminalKind.EDGE_IN && other.terminal().kind() == TerminalKind.EDGE_IN) {
            int lines = board.system().interruptLines();
            return line(pins.getFirst(), board) == line(other.pins().getFirst(), board)
                    ? Optional.of("Pin " + pins.getFirst() + " shares interrupt line " + line(pins.getFirst(), board) + " of " + lines + " with terminal " + name + ".")
                    : Optional.empty();
        }
        boolean sameBlock = terminal.path().equals(other.terminal().path());
        if (sameBlock && !channel.unit().equals(other.channel().unit())) {
            return Optional.of("The trip input must be that of the timer of its outputs, " + (terminal.kind() == TerminalKind.TRIP_IN ? other.channel().unit() : channel.unit()) + ".");
        }
        if (sameBlock || !channel.unit().equals(other.channel().unit())) {
            return Optional.empty();
        }
        if (terminal.kind().takesTimer() || other.terminal().kind().takesTimer()) {
            return Optional.of(channel.unit() + " serves terminal " + name + (other.terminal().kind().takesTimer() ? ", which takes all of it." : " already, and would be taken whole."));
        }
        if (terminal.numbers().containsKey("rate") && other.terminal().numbers().containsKey("rate") && terminal.number("rate") != other.terminal().number("rate")) {
            return Optional.of(channel.unit() + " serves terminal " + name + " with another rate: " + PatchNumbers.sig(other.terminal().number("rate")) + " instead of "
                    + PatchNumbers.sig(terminal.number("rate")) + " Hz.");
        }
        if (channel.id().equals(other.channel().id())) {
            return Optional.of(channel.id() + " serves terminal " + name + " too.");
        }
        return isPwm(terminal) && isPwm(other.terminal()) ? timing(other) : Optional.empty();
    }

    private static int line(String pin, Board board) {
        return board.pins().get(board.pinNumber(pin)).position() % board.system().interruptLines();
    }

    /** What terminals on one bus must have in common, and what they must not. */
    private Optional<String> together(Placement other, String name) {
        if (terminal.number("rate") != other.terminal().number("rate")) {
            return Optional.of("Bus " + channel.unit() + " serves " + name + " with another rate: " + PatchNumbers.sig(other.terminal().number("rate")) + " instead of "
                    + PatchNumbers.sig(terminal.number("rate")) + " Hz.");
        }
        if (terminal.kind() == other.terminal().kind() && terminal.kind() != TerminalKind.I2C_IN && Lines.message(terminal).id() == Lines.message(other.terminal()).id()) {
            return Optional.of("The message " + Lines.message(terminal).id() + " belongs to terminal " + name + " too.");
        }
        return Optional.empty();
    }

    /** What PWM outputs on one timer must have in common. */
    private Optional<String> timing(Placement other) {
        String start = "Timer " + channel.unit() + " serves '" + other.terminal().name() + "' with ";
        for (String number : List.of("frequency", "phase", "dead time")) {
            boolean pairs = terminal.kind() == TerminalKind.PWM_PAIR_OUT && other.terminal().kind() == TerminalKind.PWM_PAIR_OUT;
            if (terminal.number(number) != other.terminal().number(number) && (pairs || !number.equals("dead time"))) {
                return Optional.of(start + "another " + number + ": " + PatchNumbers.sig(other.terminal().number(number)) + " instead of "
                        + PatchNumbers.sig(terminal.number(number)) + ".");
            }
        }
        String alignment = other.terminal().texts().get("alignment");
        return terminal.has("alignment", alignment) ? Optional.empty() : Optional.of(start + "another alignment: " + alignment + ".");
    }

    private static boolean isPwm(Terminal t) {
        return t.kind() == TerminalKind.PWM_OUT || t.kind() == TerminalKind.PWM_PAIR_OUT;
    }
}
