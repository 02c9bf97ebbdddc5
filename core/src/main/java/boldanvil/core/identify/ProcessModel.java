package boldanvil.core.identify;

import boldanvil.core.linear.Sampling;
import boldanvil.core.linear.StateSpace;
import java.util.ArrayList;
import java.util.List;
import org.ejml.simple.SimpleMatrix;

/**
 * A process of the first or second order with a gain and a delay: K exp(−L s) / ((T1 s + 1)(T2 s + 1)). The input is held from sample to
 * sample; the delay is any time, so it divides a sample (Franklin, Powell and Workman, Digital Control of Dynamic Systems, 1998, section
 * 4.3).
 *
 * @param lags time constants in seconds, one or two
 * @param delay seconds
 */
public record ProcessModel(double gain, double[] lags, double delay, Estimate estimate) {
    private static final int TRIED_LAGS = 14;
    private static final int TRIED_DELAYS = 14;

    /** Without its delay. */
    public StateSpace rational() {
        double[] den = {lags[0], 1};
        if (lags.length > 1) {
            den = new double[] {lags[0] * lags[1], lags[0] + lags[1], 1};
        }
        return StateSpace.transfer(new double[] {gain}, den, 0);
    }

    /**
     * Fits a process.
     *
     * @param order 1 or 2
     */
    public static ProcessModel fit(Record r, int order) {
        double span = r.size() * r.period();
        double bestLag = r.period();
        double bestDelay = 0;
        double bestGain = 1;
        double least = Double.POSITIVE_INFINITY;
        for (int i = 0; i < TRIED_LAGS; i++) {
            double lag = r.period() * Math.pow(span / r.period() / 4, i / (TRIED_LAGS - 1.0));
            for (int k = 0; k < TRIED_DELAYS; k++) {
                double delay = k == 0 ? 0 : lag * Math.pow(2, k - TRIED_DELAYS + 3.0);
                double[] y = simulated(new double[] {1, lag, delay}, 1, r);
                double cross = 0;
                double square = 0;
                for (int n = 0; n < y.length; n++) {
                    cross += y[n] * r.output()[n];
                    square += y[n] * y[n];
                }
                double gain = square == 0 ? 0 : cross / square;
                double left = 0;
                for (int n = 0; n < y.length; n++) {
                    double e = r.output()[n] - gain * y[n];
                    left += e * e;
                }
                if (left < least && gain != 0) {
                    least = left;
                    bestLag = lag;
                    bestDelay = delay;
                    bestGain = gain;
                }
            }
        }
        List<LeastSquares.Parameter> p = new ArrayList<>();
        p.add(new LeastSquares.Parameter("K", bestGain, Double.NEGATIVE_INFINITY, Double.POSITIVE_INFINITY));
        double shortest = r.period() * 1e-3;
        p.add(new LeastSquares.Parameter("T1", Math.max(bestLag, shortest), shortest, span * 10));
        if (order > 1) {
            p.add(new LeastSquares.Parameter("T2", Math.max(bestLag / 5, shortest), shortest, span * 10));
        }
        p.add(new LeastSquares.Parameter("L", Math.clamp(bestDelay, r.period() * 0.01, span / 2), 0, span / 2));
        Estimate e = LeastSquares.fit(v -> simulated(v, order, r), r.output(), p);
        double[] v = e.values().stream().mapToDouble(Estimate.Value::value).toArray();
        return new ProcessModel(v[0], order > 1 ? new double[] {v[1], v[2]} : new double[] {v[1]}, v[v.length - 1], e);
    }

    /** The output that follows from the input of a record, from rest at its first value. */
    double[] simulated(Record r) {
        double[] v = lags.length > 1 ? new double[] {gain, lags[0], lags[1], delay} : new double[] {gain, lags[0], delay};
        return simulated(v, lags.length, r);
    }

    /** @param v gain, time constants, delay */
    private static double[] simulated(double[] v, int order, Record r) {
        double delay = v[v.length - 1];
        double[] lags = order > 1 ? new double[] {v[1], v[2]} : new double[] {v[1]};
        StateSpace s = new ProcessModel(v[0], lags, delay, null).rational();
        int whole = (int) Math.floor(delay / r.period());
        double rest = delay - whole * r.period();
        // Until the rest of the delay is over the input is still the one before.
        StateSpace early = Sampling.ZERO_ORDER_HOLD.of(s, Math.max(rest, 1e-12 * r.period()), 0);
        StateSpace late = Sampling.ZERO_ORDER_HOLD.of(s, Math.max(r.period() - rest, 1e-12 * r.period()), 0);
        SimpleMatrix a = late.a().mult(early.a());
        SimpleMatrix before = late.a().mult(early.b());
        SimpleMatrix now = late.b();
        int n = s.states();
        double[] x = new double[n];
        double[] y = new double[r.size()];
        for (int k = 0; k < y.length; k++) {
            for (int i = 0; i < n; i++) {
                y[k] += s.c().get(0, i) * x[i];
            }
            double u0 = k - whole >= 0 ? r.input()[k - whole] : r.input()[0];
            double u1 = k - whole - 1 >= 0 ? r.input()[k - whole - 1] : r.input()[0];
            double[] next = new double[n];
            for (int i = 0; i < n; i++) {
                next[i] = before.get(i, 0) * u1 + now.get(i, 0) * u0;
                for (int j = 0; j < n; j++) {
                    next[i] += a.get(i, j) * x[j];
                }
            }
            x = next;
        }
        return y;
    }
}
