package boldanvil.core.linear;

import org.ejml.simple.SimpleMatrix;

/**
 * How an output moves over time.
 *
 * @param t seconds
 * @param y the output of one input
 */
public record TimeResponse(double[] t, double[] y) {
    /** What is put in. */
    public enum Input { STEP, IMPULSE, RAMP }

    /**
     * The first output for an input at the first one, from rest. Exact at the instants that are given: a continuous system is sampled with
     * a hold of the order that fits; an impulse is the state it leaves.
     *
     * @param seconds up to where
     * @param points how many intervals a continuous system has; a sampled one has its own
     */
    public static TimeResponse of(StateSpace system, Input input, double seconds, int points) {
        StateSpace s = system.channel(0, 0);
        boolean sampled = s.isSampled();
        double h = sampled ? s.period() : seconds / points;
        int count = sampled ? (int) Math.min(1_000_000, Math.floor(seconds / h + 1e-9)) : points;
        StateSpace step = sampled ? s : (input == Input.RAMP ? Sampling.FIRST_ORDER_HOLD : Sampling.ZERO_ORDER_HOLD).of(s, h, 0);
        double[] t = new double[count + 1];
        double[] y = new double[count + 1];
        SimpleMatrix x = new SimpleMatrix(s.states(), 1);
        if (input == Input.IMPULSE && !sampled) {
            x = s.b();
        }
        for (int i = 0; i <= count; i++) {
            t[i] = i * h;
            double u = switch (input) {
                case STEP -> 1;
                case RAMP -> t[i];
                // Of area one, as that of a continuous system.
                case IMPULSE -> sampled && i == 0 ? 1 / h : 0;
            };
            y[i] = step.c().mult(x).get(0, 0) + step.d().get(0, 0) * u;
            x = step.a().mult(x).plus(step.b().scale(u));
        }
        return new TimeResponse(t, y);
    }

    /** The first output of a sampled system for any course of its first input, from rest. */
    public static double[] of(StateSpace s, double[] input) {
        double[] y = new double[input.length];
        SimpleMatrix x = new SimpleMatrix(s.states(), 1);
        for (int k = 0; k < y.length; k++) {
            y[k] = s.c().mult(x).get(0, 0) + s.d().get(0, 0) * input[k];
            x = s.a().mult(x).plus(s.b().scale(input[k]));
        }
        return y;
    }

    /** A time after which a stable system has come to rest, by its slowest pole; for others some turns of the fastest growth. */
    public static double settling(StateSpace s) {
        double slowest = Double.POSITIVE_INFINITY;
        double fastest = 0;
        for (var p : s.poles()) {
            if (s.isSampled() && p.norm() < 1e-9) {
                continue;
            }
            double rate = Math.abs(s.rate(p).getRealPart());
            slowest = rate > 1e-9 ? Math.min(slowest, rate) : slowest;
            fastest = Math.max(fastest, s.rate(p).norm());
        }
        double longest = Double.isInfinite(slowest) ? fastest > 0 ? 20 / fastest : 1 : 6 / slowest;
        return s.isSampled() ? Math.max(longest, 20 * s.period()) : longest;
    }
}
