package boldanvil.core.target;

import boldanvil.core.program.Port;
import boldanvil.core.program.TerminalKind;
import boldanvil.core.program.Type;
import java.util.Map;
import java.util.Optional;

/** Kinds of channels of a target. Packets and frames have one kind for both directions. */
public enum ChannelKind {
    ANALOG_IN("analog in"), ANALOG_OUT("analog out"), DIGITAL_IN("digital in"), DIGITAL_OUT("digital out"), ENCODER_IN("encoder in"),
    ENCODER_OUT("encoder out"), PWM_IN("PWM in"), PWM_OUT("PWM out"), SERIAL("serial"), CAN("CAN"), PACKETS("packets");

    private static final Map<TerminalKind, ChannelKind> OF_TERMINALS = Map.ofEntries(
            Map.entry(TerminalKind.ANALOG_IN, ANALOG_IN), Map.entry(TerminalKind.ANALOG_OUT, ANALOG_OUT),
            Map.entry(TerminalKind.PWM_OUT, PWM_OUT), Map.entry(TerminalKind.PWM_PAIR_OUT, PWM_OUT),
            Map.entry(TerminalKind.THREE_PHASE_OUT, PWM_OUT), Map.entry(TerminalKind.TRIP_IN, DIGITAL_IN),
            Map.entry(TerminalKind.ENCODER_IN, ENCODER_IN), Map.entry(TerminalKind.INDEXED_ENCODER_IN, ENCODER_IN),
            Map.entry(TerminalKind.CAPTURE_IN, PWM_IN), Map.entry(TerminalKind.DIGITAL_IN, DIGITAL_IN),
            Map.entry(TerminalKind.DIGITAL_OUT, DIGITAL_OUT), Map.entry(TerminalKind.EDGE_IN, DIGITAL_IN),
            Map.entry(TerminalKind.PACKET_OUT, SERIAL), Map.entry(TerminalKind.PACKET_IN, SERIAL),
            Map.entry(TerminalKind.FRAME_OUT, CAN), Map.entry(TerminalKind.FRAME_IN, CAN));

    private final String label;

    ChannelKind(String label) {
        this.label = label;
    }

    /** As board files and people name it. */
    public String label() {
        return label;
    }

    static ChannelKind of(String label) {
        for (ChannelKind k : values()) {
            if (k.label.equals(label)) {
                return k;
            }
        }
        throw new IllegalArgumentException(label);
    }

    public boolean isAnalog() {
        return this == ANALOG_IN || this == ANALOG_OUT;
    }

    public boolean isEncoder() {
        return this == ENCODER_IN || this == ENCODER_OUT;
    }

    /** Whether one channel carries several signals, as packets or frames. */
    boolean isShared() {
        return this == SERIAL || this == CAN || this == PACKETS;
    }

    /** Whether a channel of this kind serves a signal that needs one of another; packets of a serial line fit others. */
    public boolean serves(ChannelKind wanted) {
        return this == wanted || this == PACKETS && wanted == SERIAL;
    }

    /** The kind at the other end of a wire. */
    private ChannelKind mirrored() {
        return switch (this) {
            case ANALOG_IN -> ANALOG_OUT;
            case ANALOG_OUT -> ANALOG_IN;
            case DIGITAL_IN -> DIGITAL_OUT;
            case DIGITAL_OUT -> DIGITAL_IN;
            case ENCODER_IN -> ENCODER_OUT;
            case ENCODER_OUT -> ENCODER_IN;
            case PWM_IN -> PWM_OUT;
            case PWM_OUT -> PWM_IN;
            case SERIAL, CAN, PACKETS -> this;
        };
    }

    /**
     * The kind of channel a signal needs: that of its own terminal, else what the terminal at the other end of its wire needs there, else
     * digital for {@code bool} and analog for numbers.
     *
     * @return empty for a terminal that no channel serves, such as one on an I²C bus
     */
    public static Optional<ChannelKind> of(Port own, Port far) {
        if (own.terminal() != null) {
            return Optional.ofNullable(OF_TERMINALS.get(own.terminal()));
        }
        if (far.terminal() != null) {
            return Optional.ofNullable(OF_TERMINALS.get(far.terminal())).map(ChannelKind::mirrored);
        }
        boolean digital = own.slot().type() == Type.BOOL;
        return Optional.of(own.isInput() ? digital ? DIGITAL_IN : ANALOG_IN : digital ? DIGITAL_OUT : ANALOG_OUT);
    }
}
