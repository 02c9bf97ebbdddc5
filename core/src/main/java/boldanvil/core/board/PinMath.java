package boldanvil.core.board;

/** How peripherals quantise. One place for simulation, stand-in and the numbers on the patch sheet. */
public final class PinMath {
    private PinMath() {}

    /** Width of one count of the analog converter, volts. */
    public static double adcVoltsPerCount(Board b) {
        return b.adcVolts() / (1L << b.adcBits());
    }

    /** The converter's count for a voltage: rounded to the nearest, held within its range. */
    public static int adcCount(Board b, double volts) {
        double count = Math.floor(volts / adcVoltsPerCount(b) + 0.5);
        return Double.isNaN(count) ? 0 : (int) Math.clamp(count, 0, (1L << b.adcBits()) - 1.0);
    }

    /**
     * A PWM timer set for a frequency.
     *
     * @param prescaler divider in front of the counter
     * @param period counts of one period (edge aligned) or half a period (centre aligned)
     * @param hertz the frequency that results
     */
    public record PwmTimer(int prescaler, int period, double hertz) {
        /** Smallest change of the duty cycle. */
        public double dutyStep() {
            return 1.0 / period;
        }

        /** The compare count for a duty cycle from 0 to 1, rounded to the nearest. */
        public int compare(double duty) {
            double count = Math.floor(duty * period + 0.5);
            return Double.isNaN(count) ? 0 : (int) Math.clamp(count, 0, period);
        }

        /** The duty cycle that a compare count makes. */
        public double duty(int compare) {
            return (double) compare / period;
        }
    }

    /**
     * The timer setting nearest to a wanted frequency: the smallest prescaler with which the period fits the counter.
     *
     * @param centre whether the counter runs up and down
     * @return null when the frequency cannot be reached
     */
    public static PwmTimer pwm(Board b, double wantedHertz, boolean centre) {
        double directions = centre ? 2 : 1;
        for (int prescaler : b.prescalers()) {
            double counts = Math.rint(b.clockHz() / (prescaler * directions * wantedHertz));
            if (counts >= 2 && counts <= (1L << b.pwmBits()) - 1) {
                return new PwmTimer(prescaler, (int) counts, b.clockHz() / (prescaler * directions * counts));
            }
        }
        return null;
    }

    /** Radians of one count of an encoder whose lines are counted fourfold. */
    public static double radiansPerCount(double lines) {
        return 2 * Math.PI / (4 * lines);
    }

    /** Total count of an encoder at a shaft angle. */
    public static long encoderCount(double lines, double radians) {
        return (long) Math.floor(radians / radiansPerCount(lines));
    }
}
