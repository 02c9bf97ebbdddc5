package boldanvil.core.patch;

import boldanvil.core.peripheral.Fact;
import boldanvil.core.peripheral.Frame;
import boldanvil.core.peripheral.Peripheral.Sharing;
import boldanvil.core.peripheral.Peripherals;
import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
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

    /** Why two placements exclude each other, as seen from this one. */
    Optional<String> clash(Placement other, Board board) {
        String name = "'" + other.terminal().name() + "'";
        if (sharing() == Sharing.BUS && other.sharing() == Sharing.BUS && channel.unit().equals(other.channel().unit())) {
            return together(other, name);
        }
        for (String pin : pins) {
            if (other.pins().contains(pin)) {
                return Optional.of("Pin " + pin + " is used by terminal " + name + " too.");
            }
        }
        if (terminal.kind().equals(TerminalKind.EDGE_IN) && other.terminal().kind().equals(TerminalKind.EDGE_IN)) {
            int lines = board.system().interruptLines();
            return line(pins.getFirst(), board) == line(other.pins().getFirst(), board)
                    ? Optional.of("Pin " + pins.getFirst() + " shares interrupt line " + line(pins.getFirst(), board) + " of " + lines
                    + " with terminal " + name + ".")
                    : Optional.empty();
        }
        boolean sameBlock = terminal.path().equals(other.terminal().path());
        if (sameBlock && !channel.unit().equals(other.channel().unit())) {
            return Optional.of("The trip input must be that of the timer of its outputs, " + (terminal.kind().equals(TerminalKind.TRIP_IN)
                    ? other.channel().unit() : channel.unit()) + ".");
        }
        if (sameBlock || !channel.unit().equals(other.channel().unit())) {
            return Optional.empty();
        }
        if (sharing() == Sharing.WHOLE_TIMER || other.sharing() == Sharing.WHOLE_TIMER) {
            return Optional.of(channel.unit() + " serves terminal " + name + (other.sharing() == Sharing.WHOLE_TIMER
                    ? ", which uses all of it." : " already, and all of it is needed."));
        }
        if (terminal.numbers().containsKey("rate") && other.terminal().numbers().containsKey("rate")
                && terminal.number("rate") != other.terminal().number("rate")) {
            return Optional.of(channel.unit() + " serves terminal " + name + " with another rate: "
                    + Fact.sig(other.terminal().number("rate")) + " instead of "
                    + Fact.sig(terminal.number("rate")) + " Hz.");
        }
        if (channel.id().equals(other.channel().id())) {
            return Optional.of(channel.id() + " serves terminal " + name + " too.");
        }
        return isPwm(terminal) && isPwm(other.terminal()) ? timing(other) : Optional.empty();
    }

    /** Whether both are PWM outputs of one timer whose settings differ. */
    boolean differsOnTimer(Placement other) {
        return isPwm(terminal) && isPwm(other.terminal()) && channel.unit().equals(other.channel().unit()) && timing(other).isPresent();
    }

    private static int line(String pin, Board board) {
        return board.pins().get(board.pinNumber(pin)).position() % board.system().interruptLines();
    }

    /** What terminals on one bus must have in common, and what they must not. */
    private Optional<String> together(Placement other, String name) {
        if (terminal.number("rate") != other.terminal().number("rate")) {
            return Optional.of("Bus " + channel.unit() + " serves " + name + " with another rate: "
                    + Fact.sig(other.terminal().number("rate")) + " instead of "
                    + Fact.sig(terminal.number("rate")) + " Hz.");
        }
        if (terminal.kind().equals(other.terminal().kind()) && Peripherals.of(terminal) instanceof Frame
                && Frame.message(terminal).id() == Frame.message(other.terminal()).id()) {
            return Optional.of("The message " + Frame.message(terminal).id() + " belongs to terminal " + name + " too.");
        }
        return Optional.empty();
    }

    /** What PWM outputs on one timer must have in common. */
    private Optional<String> timing(Placement other) {
        String start = "Timer " + channel.unit() + " serves '" + other.terminal().name() + "' with ";
        for (String number : List.of("frequency", "phase", "dead time")) {
            boolean pairs = terminal.kind().equals(TerminalKind.PWM_PAIR_OUT) && other.terminal().kind().equals(TerminalKind.PWM_PAIR_OUT);
            if (terminal.number(number) != other.terminal().number(number) && (pairs || !number.equals("dead time"))) {
                return Optional.of(start + "another " + number + ": " + Fact.sig(other.terminal().number(number)) + " instead of "
                        + Fact.sig(terminal.number(number)) + ".");
            }
        }
        String alignment = other.terminal().texts().get("alignment");
        return terminal.has("alignment", alignment) ? Optional.empty() : Optional.of(start + "another alignment: " + alignment + ".");
    }

    /** PWM outputs that share a timer with others. */
    private static boolean isPwm(Terminal t) {
        return Peripherals.of(t).isPwm() && Peripherals.of(t).sharing() == Sharing.CHANNELS;
    }

    private Sharing sharing() {
        return Peripherals.of(terminal).sharing();
    }
}
