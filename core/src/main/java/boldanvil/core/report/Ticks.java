package boldanvil.core.report;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** Round numbers along an axis. */
public final class Ticks {
    private Ticks() {}

    /** Values at steps of 1, 2 or 5 times a power of ten, about {@code wanted} of them. */
    public static List<Double> of(double low, double high, int wanted) {
        List<Double> ticks = new ArrayList<>();
        double step = step(low, high, wanted);
        if (!(step > 0) || Double.isInfinite(step)) {
            return ticks;
        }
        for (double n = Math.ceil(low / step - 1e-9); n * step <= high + step * 1e-9; n++) {
            // Adding zero turns a negative zero into a plain one.
            ticks.add(n * step + 0.0);
        }
        return ticks;
    }

    /** A number of ticks to ask for, at least {@code wanted}, with which there are two or more; 8 at most where even that is not enough. */
    public static int enough(double low, double high, int wanted) {
        int n = wanted;
        while (n < 8 && of(low, high, n).size() < 2) {
            n++;
        }
        return n;
    }

    static double step(double low, double high, int wanted) {
        double raw = (high - low) / Math.max(1, wanted);
        double power = Math.pow(10, Math.floor(Math.log10(raw)));
        double m = raw / power;
        return power * (m <= 1 ? 1 : m <= 2 ? 2 : m <= 5 ? 5 : 10);
    }

    /** A tick's text with just the decimals its step needs. */
    public static String text(double v, double low, double high, int wanted) {
        int decimals = Math.clamp((int) -Math.floor(Math.log10(step(low, high, wanted)) + 1e-9), 0, 9);
        return String.format(Locale.ROOT, "%." + decimals + "f", v == 0 ? 0.0 : v);
    }
}
