package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import java.util.List;

/**
 * How peripherals divide their clocks and quantise. One place for simulation, stand-in, generated code and the numbers on the patch
 * sheet. A method that seeks a setting returns null when there is none.
 */
public final class PinMath {
    private PinMath() {}

    /**
     * A converter's counts.
     *
     * @param volts voltage at full scale
     */
    public record Scale(int bits, double volts) {
        /** Width of one count, volts. */
        public double voltsPerCount() {
            return volts / (1L << bits);
        }

        /** The count for a voltage: rounded to the nearest, held within the range. */
        public int count(double v) {
            double count = Math.floor(v / voltsPerCount() + 0.5);
            return Double.isNaN(count) ? 0 : (int) Math.clamp(count, 0, (1L << bits) - 1.0);
        }

        /** As {@link #count(double)}, computed in single precision, as a part of float32 does. */
        public int count(float v) {
            return held(v / (float) voltsPerCount() + 0.5f, (1 << bits) - 1);
        }

        public double volts(int count) {
            return count * voltsPerCount();
        }

        /** As {@link #volts(int)}, computed in single precision, as a part of float32 does. */
        public float volts32(int count) {
            return count * (float) voltsPerCount();
        }
    }

    /** The whole number below a value, held between 0 and a greatest one; 0 for what is not a number. */
    private static int held(float value, int greatest) {
        float count = (float) Math.floor(value);
        return count > 0 ? (int) Math.min(count, greatest) : 0;
    }

    /**
     * The timing of one conversion.
     *
     * @param choice number of the sampling time in the board's list
     */
    public record Sampling(int choice, double samplingSeconds, double conversionSeconds) {
        public double seconds() {
            return samplingSeconds + conversionSeconds;
        }
    }

    /** The shortest sampling time of a converter that is at least as long as asked; the longest when none is. */
    public static Sampling sampling(Board.Converter c, double clockHertz, double askedSeconds) {
        int choice = 0;
        while (choice < c.samplingCycles().size() - 1 && c.samplingCycles().get(choice) / clockHertz < askedSeconds * (1 - 1e-9)) {
            choice++;
        }
        return new Sampling(choice, c.samplingCycles().get(choice) / clockHertz, c.conversionCycles() / clockHertz);
    }

    /**
     * A PWM timer set for a frequency.
     *
     * @param prescaler divider in front of the counter
     * @param period counts of one period (edge aligned) or half a period (centre aligned)
     * @param centre whether the counter runs up and down
     * @param hertz the frequency that results
     */
    public record PwmTimer(int prescaler, int period, boolean centre, double hertz) {
        /** Smallest change of the duty cycle. */
        public double dutyStep() {
            return 1.0 / period;
        }

        /** The resolution of the duty cycle in bits. */
        public double bits() {
            return Math.log(period) / Math.log(2);
        }

        /** The compare count for a duty cycle from 0 to 1, rounded to the nearest. */
        public int compare(double duty) {
            double count = Math.floor(duty * period + 0.5);
            return Double.isNaN(count) ? 0 : (int) Math.clamp(count, 0, period);
        }

        /** As {@link #compare(double)}, computed in single precision, as a part of float32 does. */
        public int compare(float duty) {
            return held(duty * period + 0.5f, period);
        }

        /** The duty cycle that a compare count makes. */
        public double duty(int compare) {
            return (double) compare / period;
        }
    }

    /** The timer setting nearest to a wanted frequency: the smallest prescaler with which the period fits the counter. */
    public static PwmTimer pwm(Board.Timer timer, double clockHertz, double wantedHertz, boolean centre) {
        double directions = centre ? 2 : 1;
        for (int prescaler : timer.prescalers()) {
            double counts = Math.rint(clockHertz / (prescaler * directions * wantedHertz));
            if (counts >= 2 && counts <= timer.top()) {
                return new PwmTimer(prescaler, (int) counts, centre, clockHertz / (prescaler * directions * counts));
            }
        }
        return null;
    }

    /** A dead time as it is made: {@code count} of the timer's clock behind a divider. */
    public record Dead(int prescaler, int count, double seconds) {
        public static final Dead NONE = new Dead(1, 0, 0);
    }

    /** The shortest dead time not below what is asked: a bridge must never be given less. */
    public static Dead deadTime(Board.DeadTime d, double clockHertz, double askedSeconds) {
        if (askedSeconds <= 0) {
            return Dead.NONE;
        }
        for (int prescaler : d.prescalers()) {
            double count = Math.ceil(askedSeconds * clockHertz / prescaler - 1e-6);
            if (count <= (1L << d.bits()) - 1) {
                return new Dead(prescaler, (int) count, count * prescaler / clockHertz);
            }
        }
        return null;
    }

    /** A timer that measures: its counting frequency and the slowest signal it can measure. */
    public record CaptureTimer(int prescaler, double tickHertz, double slowestHertz, long top) {
        /** Counts of a period; 0 when the signal is slower than the timer can measure. */
        public long period(double hertz) {
            double counts = Math.rint(tickHertz / hertz);
            return counts >= 1 && counts <= top ? (long) counts : 0;
        }
    }

    /** The smallest prescaler with which one period of the slowest signal fits the counter. */
    public static CaptureTimer capture(Board.Timer timer, double clockHertz, double slowestHertz) {
        for (int prescaler : timer.prescalers()) {
            double tick = clockHertz / prescaler;
            if (tick / slowestHertz <= timer.top()) {
                return new CaptureTimer(prescaler, tick, tick / timer.top(), timer.top());
            }
        }
        return null;
    }

    /** The setting of a pulse timer for one frequency; period 0 for none. */
    public record Pulse(int prescaler, int period, double hertz) {
        public static final Pulse OFF = new Pulse(1, 0, 0);
    }

    /** As {@link #pwm}, edge aligned; frequencies that cannot be reached switch the pulses off. */
    public static Pulse pulse(Board.Timer timer, double clockHertz, double hertz) {
        for (int prescaler : timer.prescalers()) {
            double counts = Math.floor(clockHertz / prescaler / hertz + 0.5);
            if (hertz > 0 && counts >= 2 && counts <= timer.top()) {
                return new Pulse(prescaler, (int) counts, clockHertz / prescaler / counts);
            }
        }
        return Pulse.OFF;
    }

    /** Radians of one count of an encoder whose lines are counted fourfold. */
    public static double radiansPerCount(double lines) {
        return 2 * Math.PI / (4 * lines);
    }

    /** Total count of an encoder at a shaft angle. */
    public static long encoderCount(double lines, double radians) {
        return (long) Math.floor(radians / radiansPerCount(lines));
    }

    /** The shortest glitch filter not below what is asked, in seconds; the longest when none is, 0 where there is none. */
    public static double filter(List<Double> nanos, double askedSeconds) {
        double last = 0;
        for (double n : nanos) {
            last = n * 1e-9;
            if (last >= askedSeconds * (1 - 1e-9)) {
                return last;
            }
        }
        return last;
    }

    /** A watchdog's setting: it times out after {@code reload} counts behind a divider. */
    public record Dog(int prescaler, int reload, double seconds) {}

    /** The shortest time not below what is asked. */
    public static Dog watchdog(Board.Watchdog w, double askedSeconds) {
        for (int prescaler : w.prescalers()) {
            double counts = Math.ceil(askedSeconds * w.hertz() / prescaler - 1e-6);
            if (counts <= (1L << w.bits()) - 1) {
                return new Dog(prescaler, Math.max(1, (int) counts), Math.max(1, counts) * prescaler / w.hertz());
            }
        }
        return null;
    }

    /** A serial port's divisor, in units of its fraction. */
    public record Baud(int divisor, double reached) {
    }

    /** The divisor nearest to a wanted rate of bits per second: rate = clock · 2^f / (oversampling · divisor). */
    public static Baud baud(Board.SerialPort port, double clockHertz, double asked) {
        double parts = 1L << port.fractionBits();
        double divisor = Math.rint(clockHertz * parts / (port.oversampling() * asked));
        if (divisor < parts || divisor > (1L << port.divisorBits()) * parts - 1) {
            return null;
        }
        return new Baud((int) divisor, clockHertz * parts / (port.oversampling() * divisor));
    }

    /** A CAN controller's bit time in quanta of its divided clock. */
    public record CanTiming(int prescaler, int quanta, int beforeSample, double bitsPerSecond) {
        public double samplePoint() {
            return (double) beforeSample / quanta;
        }
    }

    /** The bit time nearest to a wanted rate; of equal ones that with the most quanta, sampled nearest to 87.5 % as CiA 301 advises. */
    public static CanTiming can(Board.Can can, double clockHertz, double asked) {
        CanTiming best = null;
        for (int q = can.quanta().getLast().intValue(); q >= can.quanta().getFirst().intValue(); q--) {
            double prescaler = Math.rint(clockHertz / (asked * q));
            if (prescaler >= can.prescalers().getFirst() && prescaler <= can.prescalers().getLast()) {
                var t = new CanTiming((int) prescaler, q, (int) Math.rint(0.875 * q), clockHertz / (prescaler * q));
                if (best == null || Math.abs(t.bitsPerSecond() - asked) < Math.abs(best.bitsPerSecond() - asked) * (1 - 1e-12)) {
                    best = t;
                }
            }
        }
        return best;
    }
}
