package boldanvil.core.program;

/**
 * A kind of peripheral a terminal can stand for. What it is and does is stated in one place, by its {@code Peripheral}; the constants are
 * those that ship with the product.
 *
 * @param label what people read
 * @param pulses what its wires carry of pulses besides their value
 */
public record TerminalKind(String label, Pulses pulses) {
    /** What a wire can carry of pulses, so that a PWM output can be measured. */
    public enum Pulses {
        NONE,
        /** Gives frequency and duty cycle. */
        GIVES,
        /** Gives frequency, duty cycle and the dead time between an output and its complement. */
        GIVES_DEAD_TIME,
        /** Takes frequency and duty cycle. */
        TAKES,
        /** Takes the dead time. */
        TAKES_DEAD_TIME;

        public boolean isGiven() {
            return this == GIVES || this == GIVES_DEAD_TIME;
        }
    }

    public static final TerminalKind ANALOG_IN = new TerminalKind("analog in");
    public static final TerminalKind ANALOG_OUT = new TerminalKind("analog out");
    public static final TerminalKind PWM_OUT = new TerminalKind("PWM out", Pulses.GIVES);
    /** Complementary outputs of one PWM channel with dead time between them. */
    public static final TerminalKind PWM_PAIR_OUT = new TerminalKind("PWM pair out", Pulses.GIVES_DEAD_TIME);
    public static final TerminalKind THREE_PHASE_OUT = new TerminalKind("three-phase PWM out", Pulses.GIVES_DEAD_TIME);
    /** The trip input of a PWM terminal's timer. */
    public static final TerminalKind TRIP_IN = new TerminalKind("trip in");
    /** Pulses of variable frequency. */
    public static final TerminalKind PULSE_OUT = new TerminalKind("pulse out");
    public static final TerminalKind ENCODER_IN = new TerminalKind("encoder in");
    /** An encoder with an index track. */
    public static final TerminalKind INDEXED_ENCODER_IN = new TerminalKind("encoder with index in");
    /** Frequency and duty cycle of pulses. */
    public static final TerminalKind CAPTURE_IN = new TerminalKind("capture in", Pulses.TAKES);
    /** Time from an edge at one pin to an edge at another. */
    public static final TerminalKind DELAY_IN = new TerminalKind("edge delay in", Pulses.TAKES_DEAD_TIME);
    public static final TerminalKind COUNTER_IN = new TerminalKind("counter in");
    public static final TerminalKind DIGITAL_IN = new TerminalKind("digital in");
    public static final TerminalKind DIGITAL_OUT = new TerminalKind("digital out");
    /** A pin interrupt. */
    public static final TerminalKind EDGE_IN = new TerminalKind("edge in");
    /** Packets over a serial port. */
    public static final TerminalKind PACKET_OUT = new TerminalKind("packet out");
    public static final TerminalKind PACKET_IN = new TerminalKind("packet in");
    /** A register of a device on an I²C bus. */
    public static final TerminalKind I2C_IN = new TerminalKind("I²C register in");
    /** A register of a device on an SPI bus. */
    public static final TerminalKind SPI_IN = new TerminalKind("SPI register in");
    /** Messages of a CAN bus. */
    public static final TerminalKind FRAME_OUT = new TerminalKind("CAN frame out");
    public static final TerminalKind FRAME_IN = new TerminalKind("CAN frame in");
    /** Diagnostic values of the device; has no pin. */
    public static final TerminalKind HEALTH = new TerminalKind("health");
    /** Has no pin either. */
    public static final TerminalKind WATCHDOG = new TerminalKind("watchdog");

    public TerminalKind(String label) {
        this(label, Pulses.NONE);
    }
}
