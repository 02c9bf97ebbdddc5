package boldanvil.core.program;

/** The peripherals a terminal can stand for. */
public enum TerminalKind {
    ANALOG_IN("analog in"),
    ANALOG_OUT("analog out"),
    PWM_OUT("PWM out"),
    /** Complementary outputs of one PWM channel with dead time between them. */
    PWM_PAIR_OUT("PWM pair out"),
    THREE_PHASE_OUT("three-phase PWM out"),
    /** The trip input of a PWM terminal's timer. */
    TRIP_IN("trip in"),
    /** Pulses of variable frequency. */
    PULSE_OUT("pulse out"),
    ENCODER_IN("encoder in"),
    /** An encoder with an index track. */
    INDEXED_ENCODER_IN("encoder with index in"),
    /** Frequency and duty cycle of pulses. */
    CAPTURE_IN("capture in"),
    /** Time from an edge at one pin to an edge at another. */
    DELAY_IN("edge delay in"),
    COUNTER_IN("counter in"),
    DIGITAL_IN("digital in"),
    DIGITAL_OUT("digital out"),
    /** A pin interrupt. */
    EDGE_IN("edge in"),
    /** Packets over a serial port. */
    PACKET_OUT("packet out"),
    PACKET_IN("packet in"),
    /** A register of a device on an I²C bus. */
    I2C_IN("I²C register in"),
    /** A register of a device on an SPI bus. */
    SPI_IN("SPI register in"),
    /** Messages of a CAN bus. */
    FRAME_OUT("CAN frame out"),
    FRAME_IN("CAN frame in"),
    /** What the device knows of itself; has no pin. */
    HEALTH("health"),
    /** Has no pin either. */
    WATCHDOG("watchdog");

    private final String label;

    TerminalKind(String label) {
        this.label = label;
    }

    public String label() {
        return label;
    }

    /** Whether it comes out at pins; the others stay within the device and need no place on the patch sheet. */
    public boolean hasPins() {
        return this != HEALTH && this != WATCHDOG;
    }

    /** Whether several terminals of such kinds can share one unit and its pins. */
    public boolean sharesUnit() {
        return this == I2C_IN || this == FRAME_IN || this == FRAME_OUT;
    }

    /** Whether it takes a whole timer, so that no other terminal can use a channel of it. */
    public boolean takesTimer() {
        return switch (this) {
            case THREE_PHASE_OUT, PULSE_OUT, ENCODER_IN, INDEXED_ENCODER_IN, CAPTURE_IN, DELAY_IN, COUNTER_IN -> true;
            default -> false;
        };
    }
}
