package boldanvil.core.loop;

import boldanvil.core.linear.Frequencies;
import boldanvil.core.linear.Margins;
import boldanvil.core.linear.NoSolutionException;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.DoubleFunction;
import org.hipparchus.complex.Complex;

/** Gains of a PID controller for a plant that is known by its frequency response, with the controller as it is sampled. */
public final class PidDesign {
    /** The integral's corner below the crossover, by this factor, where the derivative is free. */
    private static final double APART = 4;
    /** Gains that are tried for the best one, per decade. */
    private static final int PER_DECADE = 24;

    private final Controller controller;
    private final DoubleFunction<Complex> plant;
    private final double period;
    private final double nyquist;

    /** @param loop with the gains that the controller has; its response without the controller is the plant's */
    public PidDesign(Controller controller, OpenLoop loop) {
        if (!controller.isPid()) {
            throw new NoSolutionException("The loop is set by a gain, not by a PID controller.", "Move the gain instead.");
        }
        this.controller = controller;
        period = loop.samplePeriod();
        nyquist = loop.nyquist();
        var whole = loop.response();
        plant = w -> whole.apply(w).divide(controller.response(controller.gains(), w, period));
    }

    private Map<String, Double> gains(double kp, double ki, double kd) {
        Map<String, Double> all = new LinkedHashMap<>();
        all.put("kp", kp);
        all.put("ki", controller.ideal() ? ki / kp : ki);
        all.put("kd", controller.ideal() ? kd / kp : kd);
        return all;
    }

    /**
     * The crossover and phase margin that are asked for, met exactly at that frequency; with a derivative the integral's corner lies a
     * quarter of the crossover below (Åström and Hägglund, Advanced PID Control, 2006, section 5.5).
     *
     * @param crossover rad/s
     * @param margin rad
     * @throws NoSolutionException when no gains of the right sign do
     */
    public Map<String, Double> byMargin(double crossover, double margin, boolean derivative) {
        if (!(crossover > 0 && crossover < nyquist)) {
            throw new NoSolutionException("The crossover is not below half of the sample rate.", String.format(java.util.Locale.ROOT,
                    "Choose one below %.4g rad/s.", nyquist));
        }
        Complex z = new Complex(0, crossover * period).exp();
        Complex wanted = new Complex(0, margin - Math.PI).exp().divide(plant.apply(crossover));
        Complex i = Controller.integral(z, period);
        if (!derivative) {
            double ki = wanted.getImaginaryPart() / i.getImaginaryPart();
            double kp = wanted.getRealPart() - ki * i.getRealPart();
            return checked(gains(kp, ki, 0), "A proportional and integral part turn the phase too little there.",
                    "Choose a lower crossover or less phase margin, or allow a derivative.");
        }
        Complex d = controller.derivative(z, period);
        Complex p = i.multiply(crossover / APART).add(1);
        double det = p.getRealPart() * d.getImaginaryPart() - p.getImaginaryPart() * d.getRealPart();
        double kp = (wanted.getRealPart() * d.getImaginaryPart() - wanted.getImaginaryPart() * d.getRealPart()) / det;
        double kd = (p.getRealPart() * wanted.getImaginaryPart() - p.getImaginaryPart() * wanted.getRealPart()) / det;
        return checked(gains(kp, kp * crossover / APART, kd), "A PID controller turns the phase too little, or too far, there.",
                "Choose another crossover or phase margin; with much phase to spare, design without a derivative.");
    }

    private static Map<String, Double> checked(Map<String, Double> all, String cause, String cure) {
        double sign = Math.signum(all.get("kp"));
        if (sign == 0 || all.values().stream().anyMatch(v -> !Double.isFinite(v) || v * sign < 0)) {
            throw new NoSolutionException(cause, cure);
        }
        return all;
    }

    /**
     * From the gain at which the loop with a proportional part alone oscillates, and the period of that (Ziegler and Nichols, Trans. ASME
     * 64, 1942).
     *
     * @throws NoSolutionException when it never does
     */
    public Map<String, Double> byUltimateGain(boolean derivative) {
        var up = Margins.of(plant, Frequencies.between(nyquist * 1e-6, nyquist, 1200)).up();
        var last = up.isPresent() ? up : Margins.of(plant, Frequencies.between(nyquist * 1e-6, nyquist, 1200)).down();
        var found = last.orElseThrow(() -> new NoSolutionException("No gain makes the loop oscillate.", "Design by crossover and margin."));
        double seconds = 2 * Math.PI / found.omega();
        double kp = (derivative ? 0.6 : 0.45) * found.value();
        return gains(kp, kp / (derivative ? seconds / 2 : seconds / 1.2), derivative ? kp * seconds / 8 : 0);
    }

    /**
     * The proportional and integral part with the largest integral gain, so that a disturbance of the plant's input leaves the least
     * integral of the error, while the peak of the sensitivity stays within a limit (Åström, Panagopoulos and Hägglund, Automatica 34,
     * 1998).
     *
     * @param peak the limit, above 1
     * @throws NoSolutionException when there is none, as where the loop cannot be made stable
     */
    public Map<String, Double> leastError(double peak) {
        double[] omega = Frequencies.between(nyquist * 1e-4, nyquist * 0.999, 500);
        Complex[] p = new Complex[omega.length];
        Complex[] i = new Complex[omega.length];
        for (int k = 0; k < omega.length; k++) {
            p[k] = plant.apply(omega[k]);
            i[k] = Controller.integral(new Complex(0, omega[k] * period).exp(), period);
        }
        double sign = Math.signum(controller.gains().get("kp"));
        double middle = Math.abs(controller.gains().get("kp"));
        double bestGain = 0;
        double best = 0;
        // Upwards and downwards from the present gain, as far as the proportional part alone keeps the peak: so the loop stays stable on
        // the way.
        for (int step : new int[] {1, -1}) {
            boolean began = false;
            for (int n = 0; Math.abs(n) <= 3 * PER_DECADE; n += step) {
                double kp = sign * middle * Math.pow(10, n / (double) PER_DECADE);
                boolean holds = within(p, i, kp, 0, peak);
                if (began && !holds) {
                    break;
                }
                began |= holds;
                double ki = holds ? most(p, i, kp, omega, peak) : 0;
                if (ki > best) {
                    best = ki;
                    bestGain = kp;
                }
            }
        }
        if (best == 0) {
            throw new NoSolutionException("No gains keep the peak of the sensitivity within " + peak + ".", "Allow a higher peak.");
        }
        return gains(bestGain, sign * best, 0);
    }

    /** The largest integral gain that keeps the peak, grown from none, so that the loop stays stable on the way. */
    private static double most(Complex[] p, Complex[] i, double kp, double[] omega, double peak) {
        double sign = Math.signum(kp);
        double low = 0;
        double high = Math.abs(kp) * omega[0];
        while (high < Math.abs(kp) * omega[omega.length - 1] * 10 && within(p, i, kp, sign * high, peak)) {
            low = high;
            high *= 1.3;
        }
        for (int k = 0; k < 40; k++) {
            double mid = (low + high) / 2;
            if (within(p, i, kp, sign * mid, peak)) {
                low = mid;
            } else {
                high = mid;
            }
        }
        return low;
    }

    private static boolean within(Complex[] p, Complex[] i, double kp, double ki, double peak) {
        for (int k = 0; k < p.length; k++) {
            if (p[k].multiply(i[k].multiply(ki).add(kp)).add(1).norm() < 1 / peak) {
                return false;
            }
        }
        return true;
    }
}
