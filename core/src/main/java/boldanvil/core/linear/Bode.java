package boldanvil.core.linear;

import java.util.function.DoubleFunction;
import org.hipparchus.complex.Complex;

/**
 * Magnitude and phase over frequency.
 *
 * @param omega rad/s, rising
 * @param magnitude as a factor
 * @param phase rad, without jumps; at the first frequency on the side that fits the slope of the magnitude: −π/2 for each integrator
 */
public record Bode(double[] omega, double[] magnitude, double[] phase) {
    /** @param response by frequency in rad/s */
    public static Bode of(DoubleFunction<Complex> response, double[] omega) {
        double[] magnitude = new double[omega.length];
        double[] phase = new double[omega.length];
        for (int i = 0; i < omega.length; i++) {
            Complex g = response.apply(omega[i]);
            magnitude[i] = g.norm();
            phase[i] = g.getArgument();
            if (i > 0) {
                phase[i] -= 2 * Math.PI * Math.rint((phase[i] - phase[i - 1]) / (2 * Math.PI));
            }
        }
        if (omega.length > 1) {
            double slope = Math.log(magnitude[1] / magnitude[0]) / Math.log(omega[1] / omega[0]);
            double turns = Math.rint((phase[0] - Math.PI / 2 * Math.rint(slope)) / (2 * Math.PI));
            for (int i = 0; i < phase.length && Double.isFinite(turns); i++) {
                phase[i] -= 2 * Math.PI * turns;
            }
        }
        return new Bode(omega, magnitude, phase);
    }

    /** A factor in decibels. */
    public static double decibels(double factor) {
        return 20 * Math.log10(factor);
    }
}
