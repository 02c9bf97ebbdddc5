package boldanvil.core.identify;

import boldanvil.core.linear.NoSolutionException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * What an oscillation under a relay says about a loop: the gain and the period at which it would oscillate by itself (Åström and Hägglund,
 * Automatic tuning of simple regulators with specifications on phase and amplitude margins, Automatica 20, 1984).
 *
 * @param gain the ultimate gain, from the first harmonics of relay and output
 * @param seconds the period
 * @param amplitude of the output
 * @param spread largest difference of a period from the mean, as a share
 */
public record RelayOscillation(double gain, double seconds, double amplitude, double spread) {
    private static final int FEWEST = 3;

    /**
     * From a record of the relay and the output; the first periods are left out.
     *
     * @throws NoSolutionException when it does not oscillate
     */
    public static RelayOscillation of(Record r) {
        double low = Arrays.stream(r.input()).min().orElse(0);
        double high = Arrays.stream(r.input()).max().orElse(0);
        double middle = (low + high) / 2;
        List<Integer> rises = new ArrayList<>();
        for (int i = 1; i < r.size(); i++) {
            if (r.input()[i - 1] <= middle && r.input()[i] > middle) {
                rises.add(i);
            }
        }
        int skipped = Math.min(2, Math.max(0, rises.size() - FEWEST - 1));
        List<Integer> counted = rises.subList(skipped, rises.size());
        if (counted.size() < FEWEST + 1) {
            throw new NoSolutionException("The relay switched over " + Math.max(0, rises.size() - 1) + " whole periods only.",
                    "Excite for a longer time, take a larger amplitude or less hysteresis, or check the sign of the loop.");
        }
        double mean = (counted.getLast() - counted.getFirst()) * r.period() / (counted.size() - 1.0);
        double spread = 0;
        for (int i = 1; i < counted.size(); i++) {
            spread = Math.max(spread, Math.abs((counted.get(i) - counted.get(i - 1)) * r.period() / mean - 1));
        }
        double[] y = Arrays.copyOfRange(r.output(), counted.getFirst(), counted.getLast());
        double[] u = Arrays.copyOfRange(r.input(), counted.getFirst(), counted.getLast());
        double turn = 2 * Math.PI * r.period() / mean;
        double a = harmonic(y, turn);
        double d = harmonic(u, turn);
        double swing = (Arrays.stream(y).max().orElse(0) - Arrays.stream(y).min().orElse(0)) / 2;
        if (!(a > 0)) {
            throw new NoSolutionException("The output does not move with the relay.", "Choose another output, or a larger amplitude.");
        }
        return new RelayOscillation(d / a, mean, swing, spread);
    }

    /** Amplitude of the first harmonic. */
    private static double harmonic(double[] all, double turn) {
        double mean = Arrays.stream(all).average().orElse(0);
        double re = 0;
        double im = 0;
        for (int i = 0; i < all.length; i++) {
            re += (all[i] - mean) * Math.cos(turn * i);
            im += (all[i] - mean) * Math.sin(turn * i);
        }
        return 2 * Math.hypot(re, im) / all.length;
    }
}
