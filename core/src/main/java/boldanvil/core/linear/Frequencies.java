package boldanvil.core.linear;

import java.util.ArrayList;
import java.util.List;
import org.hipparchus.complex.Complex;

/** Frequencies at which a response is computed. */
public final class Frequencies {
    private Frequencies() {}

    /** Frequencies at equal ratios, both ends included, in the unit of the ends. */
    public static double[] between(double low, double high, int count) {
        double[] all = new double[count];
        for (int i = 0; i < count; i++) {
            all[i] = low * Math.pow(high / low, i / (count - 1.0));
        }
        all[count - 1] = high;
        return all;
    }

    /**
     * Frequencies in rad/s that show all that a system does: from a tenth of its slowest pole or zero to ten times the fastest, or to the
     * Nyquist frequency; more of them around resonances.
     */
    public static double[] of(StateSpace s) {
        List<Complex> places = new ArrayList<>();
        for (Complex p : s.poles()) {
            places.add(s.rate(p));
        }
        for (Complex z : Zeros.of(s.channel(0, 0)).zeros()) {
            places.add(s.rate(z));
        }
        double[] sizes = places.stream().mapToDouble(Complex::norm).filter(v -> v > 1e-6 && v < 1e12).sorted().toArray();
        double nyquist = s.isSampled() ? Math.PI / s.period() : Double.POSITIVE_INFINITY;
        double low = sizes.length == 0 ? Math.min(0.1, nyquist / 1e4) : sizes[0] / 10;
        double high = sizes.length == 0 ? 1e3 : sizes[sizes.length - 1] * 10;
        high = s.isSampled() ? nyquist : Math.max(high, low * 100);
        low = Math.min(low, high / 1e3);
        List<Double> all = new ArrayList<>();
        for (double w : between(low, high, 400)) {
            all.add(w);
        }
        for (Complex p : places) {
            double w = Math.abs(p.getImaginaryPart());
            if (w > low && w < high && Math.abs(p.getRealPart()) < 0.3 * w) {
                double half = Math.max(Math.abs(p.getRealPart()), 1e-6 * w);
                for (int k = -8; k <= 8; k++) {
                    double at = w + half * Math.signum(k) * Math.pow(1.7, Math.abs(k) - 4);
                    if (at > low && at < high) {
                        all.add(at);
                    }
                }
            }
        }
        return all.stream().mapToDouble(Double::doubleValue).sorted().distinct().toArray();
    }
}
