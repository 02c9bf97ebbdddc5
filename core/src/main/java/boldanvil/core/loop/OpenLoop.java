package boldanvil.core.loop;

import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.linear.Response;
import boldanvil.core.linear.StateSpace;
import boldanvil.core.linear.TimeResponse;
import java.util.List;
import java.util.function.DoubleFunction;
import java.util.stream.IntStream;
import org.ejml.simple.SimpleMatrix;
import org.hipparchus.complex.Complex;

/**
 * A loop, opened and made linear at an operating point. The closed loop has negative feedback around {@code lifted}.
 *
 * @param lifted from the samples of the wire in one period, as they are put in, to the same samples as they come back, with the other sign
 * @param samples how many of them there are
 * @param states what each state is: part and slot
 * @param value of the wire at the operating point, SI
 * @param seconds the instant of the operating point
 * @param frozen parts that are not in a ring with this one, whose outputs stay as they were
 */
public record OpenLoop(StateSpace lifted, int samples, List<String> states, double value, double seconds, List<String> frozen) {
    /** The sample time of the wire, in seconds. */
    public double samplePeriod() {
        return lifted.period() / samples;
    }

    /** Half of the sample rate of the wire, in rad/s. */
    public double nyquist() {
        return Math.PI / samplePeriod();
    }

    /**
     * The response by frequency in rad/s. Where the wire is sampled more than once in a period, a sine comes back as several; this is the
     * one with its own frequency.
     */
    public DoubleFunction<Complex> response() {
        var whole = new Response(lifted);
        if (samples == 1) {
            return whole::at;
        }
        return omega -> {
            Complex[] turn = IntStream.range(0, samples).mapToObj(k -> new Complex(0, omega * samplePeriod() * k).exp())
                    .toArray(Complex[]::new);
            Complex[][] all = whole.all(omega);
            Complex sum = Complex.ZERO;
            for (int k = 0; k < samples; k++) {
                Complex row = Complex.ZERO;
                for (int i = 0; i < samples; i++) {
                    row = row.add(all[k][i].multiply(turn[i]));
                }
                sum = sum.add(row.multiply(turn[k].conjugate()));
            }
            return sum.divide(samples);
        };
    }

    /**
     * The modes of the loop when closed.
     *
     * @param poles in z, over one period
     * @param period in seconds
     */
    public record Closed(Complex[] poles, double period) {
        /** Whether all motions die out. */
        public boolean isStable() {
            return IntStream.range(0, poles.length).allMatch(i -> poles[i].norm() < 1);
        }

        /** A mode's natural frequency, in rad/s, and damping ratio. */
        public record Mode(Complex pole, double omega, double damping) {}

        /** The modes, those of conjugate poles once, the slowest first. */
        public List<Mode> modes() {
            return java.util.Arrays.stream(poles).filter(p -> p.getImaginaryPart() >= 0 && p.norm() > 1e-9).map(p -> {
                Complex rate = p.log().divide(period);
                double omega = rate.norm();
                return new Mode(p, omega, omega == 0 ? 1 : -rate.getRealPart() / omega);
            }).sorted(java.util.Comparator.comparingDouble(Mode::omega)).toList();
        }
    }

    /**
     * The closed loop with another gain.
     *
     * @param gain factor to the gain that the loop has
     * @throws NoSolutionException when it is algebraic and has no solution
     */
    public Closed closed(double gain) {
        return new Closed(lifted.times(gain).closed().poles(), lifted.period());
    }

    /** The loop as one with a single input and output where the wire is sampled once in a period; else what its mean does over one. */
    public StateSpace single() {
        if (samples == 1) {
            return lifted;
        }
        var ones = new SimpleMatrix(samples, 1);
        ones.fill(1);
        return new StateSpace(lifted.a(), lifted.b().mult(ones), ones.transpose().mult(lifted.c()).scale(1.0 / samples),
                ones.transpose().mult(lifted.d()).mult(ones).scale(1.0 / samples), lifted.period());
    }

    /**
     * The loop with a compensator in the wire.
     *
     * @param compensator sampled as the wire is
     */
    public OpenLoop with(StateSpace compensator) {
        return new OpenLoop(lifted.after(lifted(compensator)), samples, states, value, seconds, frozen);
    }

    /** A system of the wire's rate over one period: its samples in, the same out. */
    private StateSpace lifted(StateSpace s) {
        if (samples == 1) {
            return new StateSpace(s.a(), s.b(), s.c(), s.d(), lifted.period());
        }
        int n = s.states();
        SimpleMatrix[] power = new SimpleMatrix[samples + 1];
        power[0] = SimpleMatrix.identity(n);
        for (int k = 1; k <= samples; k++) {
            power[k] = s.a().mult(power[k - 1]);
        }
        var b = new SimpleMatrix(n, samples);
        var c = new SimpleMatrix(samples, n);
        var d = new SimpleMatrix(samples, samples);
        for (int k = 0; k < samples; k++) {
            b.insertIntoThis(0, k, power[samples - 1 - k].mult(s.b()));
            c.insertIntoThis(k, 0, s.c().mult(power[k]));
            d.set(k, k, s.d().get(0, 0));
            for (int i = 0; i < k; i++) {
                d.set(k, i, s.c().mult(power[k - 1 - i]).mult(s.b()).get(0, 0));
            }
        }
        return new StateSpace(power[samples], b, c, d, lifted.period());
    }

    /** What comes back in the closed loop after a step is added to the wire, with another gain; a value for each sample of the wire. */
    public TimeResponse step(double gain, double seconds) {
        StateSpace t = lifted.times(gain).closed();
        int periods = (int) Math.clamp(Math.ceil(seconds / lifted.period()), 1, 200_000.0 / samples);
        var ones = new SimpleMatrix(samples, 1);
        ones.fill(1);
        SimpleMatrix x = new SimpleMatrix(t.states(), 1);
        double[] time = new double[periods * samples];
        double[] y = new double[periods * samples];
        for (int n = 0; n < periods; n++) {
            SimpleMatrix out = t.c().mult(x).plus(t.d().mult(ones));
            for (int k = 0; k < samples; k++) {
                time[n * samples + k] = n * lifted.period() + k * samplePeriod();
                y[n * samples + k] = out.get(k, 0);
            }
            x = t.a().mult(x).plus(t.b().mult(ones));
        }
        return new TimeResponse(time, y);
    }
}
