package boldanvil.core.linear;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.DoubleFunction;
import java.util.function.DoubleUnaryOperator;
import org.hipparchus.analysis.solvers.BrentSolver;
import org.hipparchus.complex.Complex;
import org.hipparchus.exception.MathRuntimeException;
import org.hipparchus.optim.MaxEval;
import org.hipparchus.optim.nonlinear.scalar.GoalType;
import org.hipparchus.optim.univariate.BrentOptimizer;
import org.hipparchus.optim.univariate.SearchInterval;
import org.hipparchus.optim.univariate.UnivariateObjectiveFunction;

/**
 * How far an open loop is from the point −1, where its closed loop oscillates.
 *
 * @param up the smallest factor above 1 by which the gain may grow
 * @param down the largest factor below 1 to which it may shrink
 * @param phase the crossover with the least distance in phase
 * @param delay the crossover with the least delay that may be added
 * @param peak the peak of the sensitivity 1 / |1 + L|, and where it is
 */
public record Margins(Optional<Crossing> up, Optional<Crossing> down, Optional<Crossing> phase, Optional<Crossing> delay, Crossing peak) {
    /**
     * A value at a frequency.
     *
     * @param omega rad/s
     * @param value a factor, rad or s
     */
    public record Crossing(double omega, double value) {}

    /**
     * Finds the margins between and at some frequencies, refined to full accuracy.
     *
     * @param loop response of the open loop by frequency in rad/s, with negative feedback around it
     */
    public static Margins of(DoubleFunction<Complex> loop, double[] omega) {
        List<Crossing> gains = new ArrayList<>();
        List<Crossing> phases = new ArrayList<>();
        List<Crossing> delays = new ArrayList<>();
        DoubleUnaryOperator level = w -> Math.log(Math.max(loop.apply(w).norm(), 1e-300));
        DoubleUnaryOperator side = w -> loop.apply(w).getImaginaryPart();
        Complex before = loop.apply(omega[0]);
        Crossing peak = new Crossing(omega[0], sensitivity(before));
        int highest = 0;
        for (int i = 0; i < omega.length; i++) {
            Complex now = i == 0 ? before : loop.apply(omega[i]);
            double s = sensitivity(now);
            if (s > peak.value()) {
                peak = new Crossing(omega[i], s);
                highest = i;
            }
            if (i > 0 && before.norm() > 1 != now.norm() > 1) {
                double w = zero(level, omega[i - 1], omega[i]);
                double phase = Math.PI + loop.apply(w).getArgument();
                phases.add(new Crossing(w, phase > Math.PI ? phase - 2 * Math.PI : phase));
                delays.add(new Crossing(w, phase / w));
            }
            boolean crosses = i > 0 && before.getImaginaryPart() > 0 != now.getImaginaryPart() > 0;
            // The negative real axis; on the way through infinity of an integrator the real part changes sign as well.
            if (crosses && before.getRealPart() < 0 && now.getRealPart() < 0) {
                double w = zero(side, omega[i - 1], omega[i]);
                gains.add(new Crossing(w, 1 / loop.apply(w).norm()));
            }
            before = now;
        }
        // At half of the sample rate a loop is real.
        if (Math.abs(before.getImaginaryPart()) <= 1e-9 * before.norm() && before.getRealPart() < 0) {
            gains.add(new Crossing(omega[omega.length - 1], 1 / before.norm()));
        }
        peak = refined(loop, omega, highest, peak);
        Comparator<Crossing> least = Comparator.comparingDouble(Crossing::value);
        return new Margins(gains.stream().filter(g -> g.value() > 1).min(least), gains.stream().filter(g -> g.value() <= 1).max(least),
                phases.stream().min(Comparator.comparingDouble(c -> Math.abs(c.value()))), delays.stream().min(least), peak);
    }

    private static double sensitivity(Complex loop) {
        return 1 / loop.add(1).norm();
    }

    private static double zero(DoubleUnaryOperator f, double low, double high) {
        if (f.applyAsDouble(low) == 0) {
            return low;
        }
        if (f.applyAsDouble(high) == 0) {
            return high;
        }
        try {
            return new BrentSolver(1e-14 * high, 1e-15 * high).solve(200, f::applyAsDouble, low, high);
        } catch (MathRuntimeException e) {
            // Rounding hides the crossing, as beside a pole on the way.
            return Math.sqrt(low * high);
        }
    }

    private static Crossing refined(DoubleFunction<Complex> loop, double[] omega, int highest, Crossing coarse) {
        if (highest == 0 || highest == omega.length - 1 || Double.isInfinite(coarse.value())) {
            return coarse;
        }
        var best = new BrentOptimizer(1e-9, 1e-14).optimize(new MaxEval(300), GoalType.MAXIMIZE,
                new UnivariateObjectiveFunction(w -> sensitivity(loop.apply(w))), new SearchInterval(omega[highest - 1], omega[highest + 1],
                        omega[highest]));
        return best.getValue() > coarse.value() ? new Crossing(best.getPoint(), best.getValue()) : coarse;
    }
}
