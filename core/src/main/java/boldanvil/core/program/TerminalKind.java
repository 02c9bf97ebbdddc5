package boldanvil.core.program;

/** The peripherals a terminal can stand for. */
public enum TerminalKind {
    ANALOG_IN("analog in"),
    ANALOG_OUT("analog out"),
    PWM_OUT("PWM out"),
    /** Complementary outputs of one PWM channel with dead time between them. */
    PWM_PAIR_OUT("PWM pair out"),
    THREE_PHASE_OUT("three-phase PWM out"),
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

    /** Whether it takes a whole timer, so that no other terminal can use a channel of it. */
    public boolean takesTimer() {
        return switch (this) {
            case THREE_PHASE_OUT, PULSE_OUT, ENCODER_IN, INDEXED_ENCODER_IN, CAPTURE_IN, DELAY_IN, COUNTER_IN -> true;
            default -> false;
        };
    }
}
