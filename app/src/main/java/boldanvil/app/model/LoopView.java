package boldanvil.app.model;

import boldanvil.core.linear.Bode;
import boldanvil.core.linear.Frequencies;
import boldanvil.core.linear.Margins;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.linear.RootLocus;
import boldanvil.core.linear.StateSpace;
import boldanvil.core.linear.TimeResponse;
import boldanvil.core.linear.Zeros;
import boldanvil.core.loop.OpenLoop;
import boldanvil.core.measure.StepMetrics;
import boldanvil.core.samples.Series;
import java.util.Arrays;
import java.util.Optional;
import java.util.function.DoubleFunction;
import org.hipparchus.complex.Complex;

/**
 * Curves and figures of an open loop, for any factor to its gain. What no gain changes is computed once. Safe for use by several threads.
 */
public final class LoopView {
    /** Frequencies of the curves. */
    private static final int POINTS = 420;
    /** Decades below half of the sample rate. */
    private static final double DECADES = 4;
    /** Gains of the locus on each side of the present one, as powers of ten. */
    private static final double RANGE = 2;
    /** Time constants of the slowest motion that a step shows, and the most samples. */
    private static final double SHOWN = 5;
    private static final int MOST_SAMPLES = 4000;

    private final OpenLoop loop;
    private final DoubleFunction<Complex> response;
    private final double[] omega;
    private final Complex[] values;
    private final RootLocus locus;
    private final Complex[] zeros;

    /**
     * All that follows from a gain.
     *
     * @param loop the response of the open loop
     * @param sensitivity what the loop leaves of a disturbance, as a factor over the same frequencies
     * @param closed empty where the closed loop has no solution
     */
    public record At(double gain, Bode loop, Complex[] points, double[] sensitivity, Margins margins, Optional<OpenLoop.Closed> closed,
            Optional<TimeResponse> step) {
        /** How the closed loop follows a step, with a band of 2 %; empty where it does not come to rest. */
        public Optional<StepMetrics> figures() {
            return step.filter(_ -> isStable()).map(s -> StepMetrics.of(new Series("step", "", s.t(), s.y()), 0, 0, 1, StepMetrics.BAND));
        }

        /** Whether the loop is stable when closed. */
        public boolean isStable() {
            return closed.filter(OpenLoop.Closed::isStable).isPresent();
        }
    }

    public LoopView(OpenLoop loop) {
        this.loop = loop;
        response = loop.response();
        double nyquist = loop.nyquist();
        omega = Frequencies.between(lowest(loop, nyquist), nyquist, POINTS);
        values = Arrays.stream(omega).mapToObj(response).toArray(Complex[]::new);
        zeros = loop.samples() == 1 ? Zeros.of(loop.lifted()).zeros() : new Complex[0];
        locus = RootLocus.of(loop.single(), Math.pow(10, -RANGE), Math.pow(10, RANGE), 240);
    }

    /** A decade below the slowest mode that is not an integrator, within some decades of the highest frequency. */
    private static double lowest(OpenLoop loop, double nyquist) {
        StateSpace s = loop.lifted();
        double slowest = nyquist;
        for (Complex p : s.poles()) {
            double rate = p.norm() < 1e-9 ? nyquist : s.rate(p).norm();
            slowest = rate > nyquist * 1e-6 ? Math.min(slowest, rate) : slowest;
        }
        return Math.max(slowest / 10, nyquist * Math.pow(10, -DECADES - 1));
    }

    public OpenLoop loop() {
        return loop;
    }

    /** Zeros of the open loop, which no gain moves, in z; none where the wire has several samples in a period. */
    public Complex[] zeros() {
        return zeros;
    }

    /** The poles of the closed loop over the gain, over one period of all sample times. */
    public RootLocus locus() {
        return locus;
    }

    /** The gain of the locus whose pole is nearest to a place. */
    public double gainNear(Complex place) {
        double least = Double.POSITIVE_INFINITY;
        double gain = 1;
        for (Complex[] branch : locus.branches()) {
            for (int i = 1; i < branch.length; i++) {
                double away = branch[i] == null ? Double.POSITIVE_INFINITY : branch[i].subtract(place).norm();
                if (away < least) {
                    least = away;
                    gain = locus.gains()[i];
                }
            }
        }
        return gain;
    }

    /** Everything for a factor to the gain. */
    public At at(double gain) {
        Complex[] points = new Complex[values.length];
        double[] sensitivity = new double[values.length];
        for (int i = 0; i < points.length; i++) {
            points[i] = values[i].multiply(gain);
            sensitivity[i] = 1 / points[i].add(1).norm();
        }
        Bode bode = Bode.of(w -> points[Arrays.binarySearch(omega, w)], omega);
        Margins margins = Margins.of(w -> {
            int at = Arrays.binarySearch(omega, w);
            return at >= 0 ? points[at] : response.apply(w).multiply(gain);
        }, omega);
        try {
            OpenLoop.Closed closed = loop.closed(gain);
            return new At(gain, bode, points, sensitivity, margins, Optional.of(closed),
                    Optional.of(moving(loop.step(gain, shown(closed)))));
        } catch (NoSolutionException e) {
            return new At(gain, bode, points, sensitivity, margins, Optional.empty(), Optional.empty());
        }
    }

    /** As far as it moves, and a little beyond: a slow mode may have next to no part in it. */
    private static TimeResponse moving(TimeResponse r) {
        double[] y = r.y();
        double range = Arrays.stream(y).max().orElse(0) - Arrays.stream(y).min().orElse(0);
        int last = y.length - 1;
        while (last > 0 && Math.abs(y[last] - y[y.length - 1]) < 0.01 * range) {
            last--;
        }
        int end = Math.min(y.length, Math.max(20, 2 * last));
        return new TimeResponse(Arrays.copyOf(r.t(), end), Arrays.copyOf(y, end));
    }

    private double shown(OpenLoop.Closed closed) {
        double longest = MOST_SAMPLES * loop.samplePeriod();
        double slowest = closed.modes().stream().mapToDouble(m -> Math.abs(m.omega() * m.damping())).filter(r -> r > 1 / longest).min()
                .orElse(SHOWN / longest);
        return Math.min(longest, Math.max(SHOWN / slowest, 20 * loop.samplePeriod()));
    }
}
