package boldanvil.core.instance;

import boldanvil.core.program.Port;

/**
 * What a wire from a PWM output carries besides its duty cycle.
 *
 * @param hertz frequency
 * @param deadSeconds time between the edges of complementary outputs
 * @param centred whether the pulses lie about the beginning of each period; else they begin there
 */
public record Pulse(double hertz, double deadSeconds, boolean centred) {
    /** As the terminal's settings ask for, without a board. */
    public static Pulse asked(Port port) {
        return new Pulse(port.numbers().getOrDefault("frequency", 0.0), port.numbers().getOrDefault("dead time", 0.0),
                "centre".equals(port.texts().get("alignment")));
    }
}
