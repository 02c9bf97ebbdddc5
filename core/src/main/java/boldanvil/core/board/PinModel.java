package boldanvil.core.board;

import boldanvil.core.program.Terminal;
import boldanvil.core.program.Type;
import java.util.SplittableRandom;

/**
 * A terminal's peripheral at work: what it makes of signals, as counts in registers, and what counts mean. The program's side of it is
 * what generated code computes; the other side is the hardware, which a stand-in and a simulation as built share.
 *
 * <p>For an input the signals given are those on its wires, and the signals made are what the program sees; for an output it is the
 * other way round. Signals are in the order of the terminal's ports, counts in the order stated for each kind below.
 */
public abstract class PinModel {
    /** Back to the state at power-up. */
    public void init() { }

    /** A step begins; what is on its way goes on. For outputs only. */
    public void begin() { }

    /** Counts that follow from signals. Called once for each tick; may remember. */
    public abstract long[] counts(double[] signals);

    /** Signals that follow from counts. */
    public abstract double[] signals(long[] counts);

    /** The model of a terminal; null for one without pins, or whose setting is out of reach. */
    public static PinModel of(BoardSetup setup, Terminal t) {
        // Generated code computes in the part's own precision; on a board with float32 in hardware, double would cost it dearly.
        boolean single = !t.ports().isEmpty() && t.ports().getFirst().slot().type() == Type.FLOAT32;
        return switch (t.kind()) {
            case ANALOG_IN -> setup.scale(t).<PinModel>map(s -> new AnalogIn(s, t.number("noise"), t.path().hashCode(), single)).orElse(null);
            case ANALOG_OUT -> setup.scale(t).<PinModel>map(s -> new AnalogOut(s, single)).orElse(null);
            case PWM_OUT, THREE_PHASE_OUT -> setup.pwm(t).<PinModel>map(p -> new Pwm(p, single)).orElse(null);
            case PWM_PAIR_OUT -> setup.pwm(t).flatMap(p -> setup.deadTime(t).<PinModel>map(d -> new Pair(p, d, setup.timerHertz(t), single))).orElse(null);
            case PULSE_OUT -> setup.timer(t).<PinModel>map(x -> new Pulses(x, setup.timerHertz(t))).orElse(null);
            case ENCODER_IN, INDEXED_ENCODER_IN -> new Encoder(t.number("lines"), setup.filter(t), setup.program().tickSeconds(), t.ports().size() > 1, single);
            case CAPTURE_IN -> setup.capture(t).<PinModel>map(Capture::new).orElse(null);
            case DELAY_IN -> setup.capture(t).<PinModel>map(Delay::new).orElse(null);
            case COUNTER_IN -> new Counter();
            case DIGITAL_IN, DIGITAL_OUT, TRIP_IN -> new Level();
            case EDGE_IN -> new Edges();
            case PACKET_OUT, FRAME_OUT -> setup.rate(t).<PinModel>map(r -> new LineModels.Sent(Lines.codec(t), Lines.steps(Lines.seconds(t, r), setup.program().tickSeconds()))).orElse(null);
            case PACKET_IN, FRAME_IN -> setup.rate(t).<PinModel>map(r -> new LineModels.Received(Lines.codec(t), Lines.steps(Lines.seconds(t, r), setup.program().tickSeconds()), t.ports().size() - 1)).orElse(null);
            case I2C_IN, SPI_IN -> new LineModels.Measured(Lines.register(t), Lines.steps(Lines.update(t), setup.program().tickSeconds()));
            case HEALTH, WATCHDOG -> null;
        };
    }

    /** One count of a converter. */
    private static final class AnalogIn extends PinModel {
        private final PinMath.Scale scale;
        private final double noiseVolts;
        private final long seed;
        private final boolean single;
        private SplittableRandom random;

        AnalogIn(PinMath.Scale scale, double noiseVolts, long seed, boolean single) {
            this.scale = scale;
            this.noiseVolts = noiseVolts;
            this.seed = seed;
            this.single = single;
            init();
        }

        @Override
        public void init() {
            random = new SplittableRandom(seed);
        }

        @Override
        public long[] counts(double[] volts) {
            return new long[] {scale.count(noiseVolts > 0 ? volts[0] + noiseVolts * random.nextGaussian() : volts[0])};
        }

        @Override
        public double[] signals(long[] counts) {
            return new double[] {single ? scale.volts32((int) counts[0]) : scale.volts((int) counts[0])};
        }
    }

    /** One count of an analog output. */
    private static final class AnalogOut extends PinModel {
        private final PinMath.Scale scale;
        private final boolean single;

        AnalogOut(PinMath.Scale scale, boolean single) {
            this.scale = scale;
            this.single = single;
        }

        @Override
        public long[] counts(double[] volts) {
            return new long[] {single ? scale.count((float) volts[0]) : scale.count(volts[0])};
        }

        @Override
        public double[] signals(long[] counts) {
            return new double[] {scale.volts((int) counts[0])};
        }
    }

    /** One compare count for each duty cycle. */
    private static final class Pwm extends PinModel {
        private final PinMath.PwmTimer timer;
        private final boolean single;

        Pwm(PinMath.PwmTimer timer, boolean single) {
            this.timer = timer;
            this.single = single;
        }

        @Override
        public long[] counts(double[] duties) {
            long[] compare = new long[duties.length];
            for (int i = 0; i < compare.length; i++) {
                compare[i] = single ? timer.compare((float) duties[i]) : timer.compare(duties[i]);
            }
            return compare;
        }

        @Override
        public double[] signals(long[] counts) {
            double[] duties = new double[counts.length];
            for (int i = 0; i < duties.length; i++) {
                duties[i] = timer.duty((int) counts[i]);
            }
            return duties;
        }
    }

    /**
     * A compare count; the second signal is the complement's share of the period. The high side is on for the compare time less the
     * dead time, the low side for the rest less the dead time.
     */
    private static final class Pair extends PinModel {
        private final PinMath.PwmTimer timer;
        private final double deadShare;
        private final boolean single;

        Pair(PinMath.PwmTimer timer, PinMath.Dead dead, double clockHertz, boolean single) {
            this.timer = timer;
            this.single = single;
            deadShare = (double) dead.count() * dead.prescaler() / clockHertz * timer.hertz();
        }

        @Override
        public long[] counts(double[] duties) {
            return new long[] {single ? timer.compare((float) duties[0]) : timer.compare(duties[0])};
        }

        @Override
        public double[] signals(long[] counts) {
            double duty = timer.duty((int) counts[0]);
            return new double[] {duty == 1 ? 1 : Math.max(0, duty - (duty > 0 ? deadShare : 0)), duty == 0 ? 1 : Math.max(0, 1 - duty - (duty < 1 ? deadShare : 0))};
        }
    }

    /** Prescaler and period; period 0 is off. */
    private static final class Pulses extends PinModel {
        private final Board.Timer timer;
        private final double clockHertz;

        Pulses(Board.Timer timer, double clockHertz) {
            this.timer = timer;
            this.clockHertz = clockHertz;
        }

        @Override
        public long[] counts(double[] hertz) {
            var p = PinMath.pulse(timer, clockHertz, hertz[0]);
            return new long[] {p.prescaler(), p.period()};
        }

        @Override
        public double[] signals(long[] counts) {
            return new double[] {counts[1] == 0 ? 0 : clockHertz / counts[0] / counts[1]};
        }
    }

    /**
     * Total count, whether the index was seen, and the count at which it was first. What the filter does not let through is not
     * counted: a count stays away while the shaft is faster than it allows. The index stands at every full turn.
     */
    private static final class Encoder extends PinModel {
        private final double lines;
        private final double mostPerTick;
        private final boolean indexed;
        private final boolean single;
        private boolean first = true;
        private long last;
        private long lost;
        private boolean found;
        private long at;

        Encoder(double lines, double filterSeconds, double tickSeconds, boolean indexed, boolean single) {
            this.lines = lines;
            this.indexed = indexed;
            this.single = single;
            mostPerTick = filterSeconds > 0 ? Math.floor(tickSeconds / filterSeconds) : Double.POSITIVE_INFINITY;
        }

        @Override
        public void init() {
            first = true;
            last = 0;
            lost = 0;
            found = false;
            at = 0;
        }

        @Override
        public long[] counts(double[] angle) {
            long now = PinMath.encoderCount(lines, angle[0]);
            long turn = Math.round(4 * lines);
            if (!first) {
                long moved = now - last;
                if (Math.abs(moved) > mostPerTick) {
                    lost += moved;
                }
                long before = Math.floorDiv(last, turn);
                long after = Math.floorDiv(now, turn);
                if (before != after && !found) {
                    found = true;
                    at = Math.max(before, after) * turn - lost;
                    // Going down, the index stands at the upper edge of the turn that was entered.
                }
            }
            first = false;
            last = now;
            return indexed ? new long[] {now - lost, found ? 1 : 0, at} : new long[] {now - lost};
        }

        @Override
        public double[] signals(long[] counts) {
            long count = counts[0] - (indexed ? counts[2] : 0);
            double rpc = PinMath.radiansPerCount(lines);
            double angle = single ? (float) count * (float) rpc : count * rpc;
            return indexed ? new double[] {angle, counts[1] == 0 ? 1 : 2} : new double[] {angle};
        }
    }

    /** Counts of a period and of its high part. */
    private static final class Capture extends PinModel {
        private final PinMath.CaptureTimer timer;

        Capture(PinMath.CaptureTimer timer) {
            this.timer = timer;
        }

        @Override
        public long[] counts(double[] pulses) {
            long period = timer.period(pulses[0]);
            return new long[] {period, Math.round(Math.clamp(pulses[1], 0, 1) * period)};
        }

        @Override
        public double[] signals(long[] counts) {
            return new double[] {counts[0] == 0 ? 0 : timer.tickHertz() / counts[0], counts[0] == 0 ? 0 : (double) counts[1] / counts[0]};
        }
    }

    /** Counts between two edges. */
    private static final class Delay extends PinModel {
        private final PinMath.CaptureTimer timer;

        Delay(PinMath.CaptureTimer timer) {
            this.timer = timer;
        }

        @Override
        public long[] counts(double[] seconds) {
            double counts = Math.rint(seconds[0] * timer.tickHertz());
            return new long[] {Double.isNaN(counts) ? 0 : (long) Math.clamp(counts, 0, timer.top())};
        }

        @Override
        public double[] signals(long[] counts) {
            return new double[] {counts[0] / timer.tickHertz()};
        }
    }

    /** Pulses so far. */
    private static final class Counter extends PinModel {
        @Override
        public long[] counts(double[] pulses) {
            double count = Math.floor(pulses[0]);
            return new long[] {Double.isNaN(count) ? 0 : (long) count};
        }

        @Override
        public double[] signals(long[] counts) {
            return new double[] {counts[0]};
        }
    }

    /** One bit. */
    private static final class Level extends PinModel {
        @Override
        public long[] counts(double[] level) {
            return new long[] {level[0] != 0 ? 1 : 0};
        }

        @Override
        public double[] signals(long[] counts) {
            return new double[] {counts[0]};
        }
    }

    /** The level, and whether an edge came and went unseen between two ticks; wires that change at ticks make none. */
    private static final class Edges extends PinModel {
        @Override
        public long[] counts(double[] level) {
            return new long[] {level[0] != 0 ? 1 : 0, 0};
        }

        @Override
        public double[] signals(long[] counts) {
            return new double[] {counts[0], counts[1]};
        }
    }
}
