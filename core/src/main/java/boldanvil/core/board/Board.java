package boldanvil.core.board;

import boldanvil.core.program.TerminalKind;
import java.util.List;
import java.util.Optional;

/**
 * A board as its file describes it.
 *
 * @param clockHz processor and timer clock
 * @param floatBits widest floating point its hardware computes; 0 for none
 * @param adcBits resolution of the converter
 * @param adcVolts input voltage at full scale
 * @param adcSeconds time of one conversion
 * @param pwmBits width of the PWM timers
 * @param prescalers dividers in front of the PWM timers, rising
 * @param encoderBits width of the encoder counters
 * @param highVolts voltage of a high level
 */
public record Board(String name, String title, double clockHz, long flashBytes, long ramBytes, int floatBits, int adcBits,
        double adcVolts, double adcSeconds, int pwmBits, List<Integer> prescalers, int encoderBits, double highVolts,
        List<Channel> channels, List<Pin> pins) {
    /**
     * A pin.
     *
     * @param name as printed on the board
     * @param also another function it has, for people
     */
    public record Pin(String name, String also) {}

    public Board {
        prescalers = List.copyOf(prescalers);
        channels = List.copyOf(channels);
        pins = List.copyOf(pins);
    }

    /** The channel with an id that serves a kind of terminal. */
    public Optional<Channel> channel(String id, TerminalKind kind) {
        return channels.stream().filter(c -> c.id().equals(id) && c.kind() == kind).findFirst();
    }

    public List<Channel> channels(TerminalKind kind) {
        return channels.stream().filter(c -> c.kind() == kind).toList();
    }

    public boolean hasPin(String pin) {
        return pins.stream().anyMatch(p -> p.name().equals(pin));
    }
}
