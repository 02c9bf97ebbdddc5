package boldanvil.core.identify;

import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.simulate.Stimulus;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import org.hipparchus.complex.Complex;

/**
 * How an input is moved so that a plant shows what it is, and how its response is taken from what was recorded. The record begins with the
 * stimulus.
 *
 * @param middle of the input, SI
 * @param amplitude greatest distance from the middle, SI
 * @param low lowest frequency of interest, 1/s; without effect for a step and a relay
 * @param high highest one, 1/s
 * @param seconds in all, at least
 * @param sampleTime of what is recorded, in seconds; periods are whole numbers of it
 */
public record Excitation(Kind kind, double middle, double amplitude, double low, double high, double seconds, double sampleTime) {
    /** Kinds of excitation. */
    public enum Kind {
        STEP("Step"), SINES("Sines, one after the other"), CHIRP("Chirp"), MULTISINE("Multisine"), RANDOM("Pseudo-random steps"),
                RELAY("Relay");

        private final String label;

        Kind(String label) {
            this.label = label;
        }

        @Override
        public String toString() {
            return label;
        }

        /** Whether it has frequencies. */
        public boolean isBand() {
            return this != STEP && this != RELAY;
        }
    }

    /** Frequencies of sines one after the other. */
    private static final int SINES = 14;
    /** Multiples of the lowest frequency that are used, at most. */
    private static final int LINES = 40;
    /** Values of a sine that are played for a period of the highest frequency. */
    private static final double FINE = 24;
    /** Periods of each sine, at least; the first third is not counted. */
    private static final double FEWEST = 3.5;
    private static final int STRETCHES = 6;
    private static final int MOST_VALUES = 400_000;
    /** Taps of shift registers of 5 to 15 bits that go through all states (Golomb, Shift Register Sequences, 1967). */
    private static final int[][] TAPS = {{5, 3}, {6, 5}, {7, 6}, {8, 6, 5, 4}, {9, 5}, {10, 7}, {11, 9}, {12, 11, 10, 4}, {13, 12, 11, 8},
        {14, 13, 12, 2}, {15, 14}};

    /** @throws NoSolutionException when values do not fit */
    public Excitation {
        if (!(amplitude > 0) || !(seconds > 0) || !(sampleTime > 0)) {
            throw new NoSolutionException("An excitation needs an amplitude and a time above 0.", "Enter both.");
        }
        if (kind.isBand() && !(low > 0 && high > low && high < 0.5 / sampleTime)) {
            throw new NoSolutionException(String.format(Locale.ROOT,
                    "The frequencies must rise, above 0 and below half of the sample rate, "
                    + "%.4g Hz.", 0.5 / sampleTime), "Choose others.");
        }
    }

    /** What drives the input; of a relay, which follows a tap, see {@link #relay}. */
    public Stimulus stimulus() {
        return switch (kind) {
            case STEP -> Stimulus.step(middle, middle + amplitude, seconds, true);
            case CHIRP -> Stimulus.chirp(middle, amplitude, low, high, seconds);
            case SINES -> sines();
            case MULTISINE -> played(multisine(), true);
            case RANDOM -> random();
            case RELAY -> throw new IllegalStateException("a relay follows a tap");
        };
    }

    /** A relay that switches the input by a tap; without hysteresis where that is 0. */
    public Stimulus relay(String tap, double level, double hysteresis) {
        return Stimulus.relay(middle - amplitude, middle + amplitude, seconds, new Stimulus.Relay(tap, level, hysteresis));
    }

    /** How long the input must be driven; for periodic ones whole periods, three at least. */
    public double duration() {
        return switch (kind) {
            case MULTISINE, RANDOM -> Math.max(3, Math.floor(seconds / period() + 1e-9)) * period();
            default -> seconds;
        };
    }

    /** The response from input to output. */
    public MeasuredResponse response(Record r) {
        return switch (kind) {
            case SINES -> ofSines(r);
            case MULTISINE, RANDOM -> MeasuredResponse.periodic(r, period(), lines(), 1);
            case STEP, CHIRP, RELAY -> MeasuredResponse.of(r, STRETCHES);
        };
    }

    /** The period of what repeats, in seconds. */
    private double period() {
        return switch (kind) {
            case MULTISINE -> Math.ceil(1 / low / sampleTime - 1e-9) * sampleTime;
            case RANDOM -> length() * hold();
            default -> seconds;
        };
    }

    /** Time of one of the random steps: short enough for the highest frequency. */
    private double hold() {
        return Math.max(1, Math.floor(1 / (2.5 * high) / sampleTime + 1e-9)) * sampleTime;
    }

    private int bits() {
        int bits = 5;
        while (bits < 15 && ((1 << bits) - 1) * hold() < 1 / low) {
            bits++;
        }
        return bits;
    }

    private int length() {
        return (1 << bits()) - 1;
    }

    private Stimulus random() {
        int bits = bits();
        int[] taps = TAPS[bits - 5];
        int state = 1;
        int n = length();
        double[] values = new double[n + 1];
        double[] times = new double[n + 1];
        for (int i = 0; i < n; i++) {
            times[i] = i * hold();
            values[i] = (state & 1) == 0 ? middle - amplitude : middle + amplitude;
            int bit = 0;
            for (int t : taps) {
                bit ^= state >> bits - t & 1;
            }
            state = state >> 1 | bit << bits - 1;
        }
        times[n] = n * hold();
        values[n] = values[0];
        return Stimulus.playback(times, values, true);
    }

    /** Multiples of the lowest frequency, by about the same factor from one to the next. */
    private double[] lines() {
        double base = 2 * Math.PI / period();
        int most = (int) Math.floor(2 * Math.PI * high / base + 1e-9);
        int count = Math.min(LINES, most);
        double[] all = new double[count];
        int last = 0;
        int n = 0;
        for (int i = 0; i < count; i++) {
            int k = Math.max(last + 1, (int) Math.round(Math.pow(most, count == 1 ? 0 : i / (count - 1.0))));
            if (k <= most) {
                all[n++] = k * base;
                last = k;
            }
        }
        return Arrays.copyOf(all, n);
    }

    /** One period, with phases that keep its peaks low (Schroeder, IEEE Trans. Information Theory 16, 1970). */
    private double[] multisine() {
        double[] omega = lines();
        double step = fineStep();
        int n = (int) Math.round(period() / step);
        double[] sum = new double[n];
        double peak = 0;
        for (int i = 0; i < n; i++) {
            for (int k = 0; k < omega.length; k++) {
                sum[i] += Math.cos(omega[k] * i * step - Math.PI * k * (k + 1.0) / omega.length);
            }
            peak = Math.max(peak, Math.abs(sum[i]));
        }
        double scale = amplitude / peak;
        return Arrays.stream(sum).map(v -> middle + scale * v).toArray();
    }

    /** Whole samples, so that a period repeats exactly. */
    private double fineStep() {
        double wanted = Math.max(1 / (FINE * high), period() / MOST_VALUES);
        double step = Math.max(1, Math.floor(wanted / sampleTime + 1e-9)) * sampleTime;
        long samples = Math.round(period() / sampleTime);
        long every = Math.round(step / sampleTime);
        while (samples % every != 0) {
            every--;
        }
        return every * sampleTime;
    }

    private Stimulus played(double[] values, boolean repeat) {
        double step = fineStep();
        double[] times = new double[values.length + 1];
        double[] all = Arrays.copyOf(values, values.length + 1);
        for (int i = 0; i < times.length; i++) {
            times[i] = i * step;
        }
        all[values.length] = values[0];
        return Stimulus.playback(times, all, repeat);
    }

    /** A sine: its frequency in 1/s, and how long it lasts. */
    private record Sine(double hertz, double seconds) {}

    /** Half of the time is shared evenly, the other half by periods: so that even the fastest sine lasts until the start has died out. */
    private List<Sine> plan() {
        double sum = 0;
        double[] hertz = new double[SINES];
        for (int i = 0; i < SINES; i++) {
            hertz[i] = low * Math.pow(high / low, i / (SINES - 1.0));
            sum += 1 / hertz[i];
        }
        List<Sine> all = new ArrayList<>();
        for (double f : hertz) {
            all.add(new Sine(f, seconds / 2 * (1.0 / SINES + 1 / f / sum)));
        }
        double periods = all.getFirst().seconds() * low;
        if (periods < FEWEST) {
            throw new NoSolutionException(String.format(Locale.ROOT, "In %.4g s the slowest sine has %.2g periods only.", seconds, periods),
                    String.format(Locale.ROOT, "Allow %.3g s at least, or begin at a higher frequency.", FEWEST / periods * seconds));
        }
        return all;
    }

    private Stimulus sines() {
        List<Double> times = new ArrayList<>();
        List<Double> values = new ArrayList<>();
        double begin = 0;
        for (Sine sine : plan()) {
            double f = sine.hertz();
            double lasts = sine.seconds();
            double step = Math.max(sampleTime, 1 / (FINE * f));
            for (double t = 0; t < lasts - step / 2 && times.size() < MOST_VALUES; t += step) {
                times.add(begin + t);
                values.add(middle + amplitude * Math.sin(2 * Math.PI * f * t));
            }
            begin += lasts;
        }
        times.add(begin);
        values.add(middle);
        return Stimulus.playback(times.stream().mapToDouble(Double::doubleValue).toArray(), values.stream().mapToDouble(Double::doubleValue)
                .toArray(), false);
    }

    private MeasuredResponse ofSines(Record r) {
        List<Double> omega = new ArrayList<>();
        List<Complex> response = new ArrayList<>();
        List<Double> coherence = new ArrayList<>();
        double begin = 0;
        for (Sine sine : plan()) {
            double f = sine.hertz();
            double lasts = sine.seconds();
            int from = (int) Math.ceil((begin + lasts / 3) / r.period());
            int to = Math.min(r.size(), (int) Math.floor((begin + lasts) / r.period()));
            begin += lasts;
            if (to - from >= 20) {
                var found = MeasuredResponse.sine(r.between(from, to), 2 * Math.PI * f);
                omega.add(2 * Math.PI * f);
                response.add(found.getKey());
                coherence.add(found.getValue());
            }
        }
        if (omega.isEmpty()) {
            throw new NoSolutionException("The record ends before the first sine is over.", "Record the whole experiment.");
        }
        return new MeasuredResponse(omega.stream().mapToDouble(Double::doubleValue).toArray(), response.toArray(Complex[]::new),
                coherence.stream().mapToDouble(Double::doubleValue).toArray());
    }
}
