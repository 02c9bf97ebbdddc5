package boldanvil.core.program;

/** The peripherals a terminal can stand for. */
public enum TerminalKind {
    ANALOG_IN("analog in"),
    PWM_OUT("PWM out"),
    ENCODER_IN("encoder in"),
    DIGITAL_IN("digital in"),
    DIGITAL_OUT("digital out");

    private final String label;

    TerminalKind(String label) {
        this.label = label;
    }

    public String label() {
        return label;
    }
}
