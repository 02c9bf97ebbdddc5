package boldanvil.core.loop;

import boldanvil.core.linear.Frequencies;
import boldanvil.core.linear.Margins;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.linear.Response;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.DoubleFunction;
import org.ejml.simple.SimpleMatrix;
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

    /**
     * What the plant does slowly: K e^{−…} = K (1 − m1 s + m2 s² − m3 s³ …), or the same of s · plant for an integrating one.
     *
     * @param gain at rest; per second for an integrating plant
     */
    private record Slow(double gain, double first, double second, double third) {}

    /** From the response at low frequencies, by a polynomial through it. */
    private Slow slow(boolean integrating) {
        DoubleFunction<Complex> g = integrating ? w -> plant.apply(w).multiply(new Complex(0, w)) : plant;
        // Low enough that the polynomial holds, high enough that digits are left.
        double w = nyquist * 1e-7;
        double base = Math.signum(g.apply(w).getRealPart());
        while (w < nyquist / 8 && Math.abs(g.apply(w).multiply(base).getArgument()) < 0.03) {
            w *= 1.1;
        }
        var powers = new SimpleMatrix(4, 4);
        var values = new SimpleMatrix(4, 1);
        for (int i = 0; i < 2; i++) {
            double x = w * (i + 1);
            Complex v = g.apply(x);
            powers.setRow(2 * i, 0, 1, 0, -x * x, 0);
            powers.setRow(2 * i + 1, 0, 0, -x, 0, x * x * x);
            values.set(2 * i, 0, v.getRealPart());
            values.set(2 * i + 1, 0, v.getImaginaryPart());
        }
        SimpleMatrix c = powers.solve(values);
        double k = c.get(0, 0);
        if (!(Math.abs(k) > 0) || !Double.isFinite(k)) {
            throw new NoSolutionException("The plant has no gain at rest.", "Design by crossover and margin.");
        }
        return new Slow(k, c.get(1, 0) / k, c.get(2, 0) / k, c.get(3, 0) / k);
    }

    private boolean isIntegrating() {
        double w = nyquist * 1e-6;
        return plant.apply(w).norm() > 5 * plant.apply(10 * w).norm();
    }

    /**
     * So that the closed loop follows as a lag with a time constant, from a first-order model with delay that moves slowly as the plant
     * does (internal model control; Rivera, Morari and Skogestad, Industrial and Engineering Chemistry Process Design and Development 25,
     * 1986).
     *
     * @param lag of the closed loop, in seconds
     * @throws NoSolutionException for an integrating plant, or one that no such model resembles
     */
    public Map<String, Double> byInternalModel(double lag) {
        requireResting();
        Slow s = slow(false);
        double square = 2 * s.second() - s.first() * s.first();
        if (!(lag > 0) || !(square > 0) || !(s.first() > 0)) {
            throw new NoSolutionException("The plant does not behave slowly as a lag with a delay, or the time constant is not above 0.",
                    "Design by crossover and margin.");
        }
        double t = Math.min(Math.sqrt(square), s.first());
        double kp = t / (s.gain() * (lag + s.first() - t));
        return gains(kp, kp / t, 0);
    }

    /**
     * So that the closed loop is flat up to as high a frequency as can be (magnitude optimum, from what the plant does slowly; Vrančić,
     * Strmčnik and Juričić, Automatica 37, 2001).
     *
     * @throws NoSolutionException for an integrating plant, or where no PI controller does
     */
    public Map<String, Double> byMagnitudeOptimum() {
        requireResting();
        Slow s = slow(false);
        // The areas of that article are the moments times the gain.
        double kp = 0.5 * s.third() / (s.gain() * (s.first() * s.second() - s.third()));
        return checked(gains(kp, kp * s.second() / s.third(), 0), "The plant moves too much like a delay, or swings.",
                "Design by crossover and margin.");
    }

    private void requireResting() {
        if (isIntegrating()) {
            throw new NoSolutionException("The plant integrates.", "Use the symmetrical optimum, or design by crossover and margin.");
        }
    }

    /**
     * For an integrating plant with small lags: the crossover lies in the middle between the corners of the integral part and of the lags
     * (symmetrical optimum; Kessler, Regelungstechnik 6, 1958).
     *
     * @throws NoSolutionException when the plant does not integrate, or has no lag
     */
    public Map<String, Double> bySymmetricalOptimum() {
        if (!isIntegrating()) {
            throw new NoSolutionException("The plant does not integrate.", "Use the magnitude optimum, or design by crossover and margin.");
        }
        Slow s = slow(true);
        if (!(s.first() > 0)) {
            throw new NoSolutionException("The plant has no lag besides its integrator.", "Design by crossover and margin.");
        }
        double kp = 1 / (2 * s.gain() * s.first());
        return gains(kp, kp / (4 * s.first()), 0);
    }

    /**
     * A proportional and integral part that give the closed loop a pair of poles.
     *
     * @param loop the one this was made of
     * @param omega natural frequency, rad/s
     * @param damping ratio, below 1
     * @throws NoSolutionException when no gains of one sign do, or the wire has several samples in a period
     */
    public Map<String, Double> byPoles(OpenLoop loop, double omega, double damping) {
        if (loop.samples() != 1) {
            throw new NoSolutionException("The wire has several samples while all sample times repeat once.",
                    "Open the loop at a wire of the slowest task, or design by crossover and margin.");
        }
        if (!(omega > 0 && omega < nyquist && damping > 0 && damping < 1)) {
            throw new NoSolutionException("The poles need a frequency below half of the sample rate and a damping ratio between 0 and 1.",
                    "Choose others.");
        }
        Complex z = new Complex(-damping * omega * period, omega * Math.sqrt(1 - damping * damping) * period).exp();
        Complex whole = new Response(loop.lifted()).at(z)[0][0];
        Complex present = controller.at(controller.gains(), z, period);
        Complex wanted = new Complex(-1).divide(whole.divide(present));
        Complex i = Controller.integral(z, period);
        double ki = wanted.getImaginaryPart() / i.getImaginaryPart();
        return checked(gains(wanted.getRealPart() - ki * i.getRealPart(), ki, 0), "No proportional and integral part gives such poles.",
                "Choose a lower frequency or more damping.");
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
