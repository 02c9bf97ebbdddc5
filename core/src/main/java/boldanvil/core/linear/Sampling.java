package boldanvil.core.linear;

import org.ejml.simple.SimpleMatrix;
import org.hipparchus.complex.Complex;
import org.hipparchus.linear.MatrixUtils;

/** Ways from a continuous system to a sampled one (Franklin, Powell and Workman, Digital Control of Dynamic Systems, 1998, chapter 6). */
public enum Sampling {
    /** Exact where the input is held from sample to sample. */
    ZERO_ORDER_HOLD("Zero-order hold"),
    /** Exact where the input goes in straight lines from sample to sample. */
    FIRST_ORDER_HOLD("First-order hold"),
    /** s = 2/T (z − 1) / (z + 1). */
    TUSTIN("Tustin"),
    /** As Tustin, exact at one frequency. */
    PREWARPED("Tustin with prewarping"),
    /** Poles and zeros by z = exp(s T), gain equal at rest. */
    MATCHED("Matched poles and zeros"),
    /** s = (z − 1) / T. */
    FORWARD_EULER("Forward Euler"),
    /** s = (z − 1) / (z T). */
    BACKWARD_EULER("Backward Euler");

    private final String label;

    Sampling(String label) {
        this.label = label;
    }

    public String label() {
        return label;
    }

    /**
     * The sampled system.
     *
     * @param s continuous
     * @param period seconds
     * @param exactAt frequency in rad/s at which {@link #PREWARPED} is exact, below π / period
     * @throws NoSolutionException when a pole is where the way has none
     */
    public StateSpace of(StateSpace s, double period, double exactAt) {
        if (s.isSampled()) {
            throw new IllegalArgumentException("sampled already");
        }
        return switch (this) {
            case ZERO_ORDER_HOLD -> held(s, period);
            case FIRST_ORDER_HOLD -> lines(s, period);
            case TUSTIN -> bilinear(s, period, period / 2);
            case PREWARPED -> {
                if (!(exactAt > 0 && exactAt < Math.PI / period)) {
                    throw new NoSolutionException("The frequency of prewarping is not below half of the sample rate.",
                            "Choose one between 0 and π / T.");
                }
                yield bilinear(s, period, Math.tan(exactAt * period / 2) / exactAt);
            }
            case MATCHED -> matched(s, period);
            case FORWARD_EULER -> new StateSpace(unit(s).plus(s.a().scale(period)), s.b().scale(period), s.c(), s.d(), period);
            case BACKWARD_EULER -> {
                SimpleMatrix inverse = inverted(unit(s).minus(s.a().scale(period)));
                yield new StateSpace(inverse, inverse.mult(s.b()).scale(period), s.c().mult(inverse),
                        s.d().plus(s.c().mult(inverse).mult(s.b()).scale(period)), period);
            }
        };
    }

    /**
     * A continuous system behind a hold and a delay, exactly: within a sample the input is first the one before (Franklin, Powell and
     * Workman, section 4.3.4).
     *
     * @param period seconds
     * @param delay seconds, any time from 0 on
     */
    public static StateSpace delayed(StateSpace s, double period, double delay) {
        int whole = (int) Math.floor(delay / period + 1e-9);
        double rest = Math.max(0, delay - whole * period);
        boolean divides = rest > 1e-9 * period;
        int past = whole + (divides ? 1 : 0);
        int n = s.states();
        StateSpace late = held(s, period - (divides ? rest : 0));
        SimpleMatrix phi = late.a();
        SimpleMatrix before = new SimpleMatrix(n, 1);
        if (divides) {
            StateSpace early = held(s, rest);
            before = late.a().mult(early.b());
            phi = late.a().mult(early.a());
        }
        // Behind the plant's states come the inputs of the last samples, the newest first.
        var a = new SimpleMatrix(n + past, n + past);
        var b = new SimpleMatrix(n + past, 1);
        a.insertIntoThis(0, 0, phi);
        if (whole == 0) {
            b.insertIntoThis(0, 0, late.b());
        } else {
            a.insertIntoThis(0, n + whole - 1, late.b());
        }
        if (divides) {
            a.insertIntoThis(0, n + whole, before);
        }
        for (int i = 1; i < past; i++) {
            a.set(n + i, n + i - 1, 1);
        }
        if (past > 0) {
            b.set(n, 0, 1);
        }
        var c = new SimpleMatrix(1, n + past);
        c.insertIntoThis(0, 0, s.c());
        double direct = s.d().get(0, 0);
        var d = new SimpleMatrix(1, 1);
        // What goes through at once is that of the instant of the sample.
        if (past == 0) {
            d.set(0, 0, direct);
        } else {
            c.set(0, n + past - 1, c.get(0, n + past - 1) + direct);
        }
        return new StateSpace(a, b, c, d, period);
    }

    private static SimpleMatrix unit(StateSpace s) {
        return SimpleMatrix.identity(s.states());
    }

    /** The exponential of a matrix. */
    static SimpleMatrix exponential(SimpleMatrix m) {
        return m.getNumRows() == 0 ? m : new SimpleMatrix(MatrixUtils.matrixExponential(MatrixUtils.createRealMatrix(m.toArray2()))
                .getData());
    }

    private static SimpleMatrix inverted(SimpleMatrix m) {
        if (!StateSpace.isRegular(m)) {
            throw new NoSolutionException("A pole lies where this way of sampling has none.",
                    "Choose another sample time, or another way.");
        }
        return m.getNumRows() == 0 ? m : m.invert();
    }

    private static StateSpace held(StateSpace s, double period) {
        int n = s.states();
        int m = s.inputs();
        var whole = new SimpleMatrix(n + m, n + m);
        whole.insertIntoThis(0, 0, s.a().scale(period));
        whole.insertIntoThis(0, n, s.b().scale(period));
        SimpleMatrix e = exponential(whole);
        return new StateSpace(e.extractMatrix(0, n, 0, n), e.extractMatrix(0, n, n, n + m), s.c(), s.d(), period);
    }

    /** With the state x[n] − Γ2 u[n] (Franklin, Powell and Workman, section 6.3.2). */
    private static StateSpace lines(StateSpace s, double period) {
        int n = s.states();
        int m = s.inputs();
        var whole = new SimpleMatrix(n + 2 * m, n + 2 * m);
        whole.insertIntoThis(0, 0, s.a().scale(period));
        whole.insertIntoThis(0, n, s.b().scale(period));
        whole.insertIntoThis(n, n + m, SimpleMatrix.identity(m));
        SimpleMatrix e = exponential(whole);
        SimpleMatrix phi = e.extractMatrix(0, n, 0, n);
        SimpleMatrix first = e.extractMatrix(0, n, n, n + m);
        SimpleMatrix second = e.extractMatrix(0, n, n + m, n + 2 * m);
        return new StateSpace(phi, first.plus(phi.mult(second)).minus(second), s.c(), s.d().plus(s.c().mult(second)), period);
    }

    /** s = (z − 1) / (h (z + 1)). */
    private static StateSpace bilinear(StateSpace s, double period, double h) {
        SimpleMatrix inverse = inverted(unit(s).minus(s.a().scale(h)));
        SimpleMatrix a = inverse.mult(unit(s).plus(s.a().scale(h)));
        SimpleMatrix b = inverse.mult(s.b()).scale(2 * h);
        SimpleMatrix c = s.c().mult(inverse);
        return new StateSpace(a, b, c, s.d().plus(s.c().mult(inverse).mult(s.b()).scale(h)), period);
    }

    /** Zeros at infinity go to −1, but for one, so that the output follows a sample later as behind a hold. */
    private static StateSpace matched(StateSpace s, double period) {
        Zeros z = Zeros.of(s);
        Complex[] poles = s.poles();
        Complex[] mapped = new Complex[poles.length];
        for (int i = 0; i < poles.length; i++) {
            mapped[i] = poles[i].multiply(period).exp();
        }
        int count = Math.max(z.zeros().length, poles.length - 1);
        Complex[] zeros = new Complex[count];
        for (int i = 0; i < count; i++) {
            zeros[i] = i < z.zeros().length ? z.zeros()[i].multiply(period).exp() : Complex.MINUS_ONE;
        }
        StateSpace plain = StateSpace.zerosPolesGain(zeros, mapped, 1, period);
        // Equal at rest, or where there is a pole or zero at rest, at a frequency well below all others.
        double at = 0;
        for (Complex p : poles) {
            at = p.norm() < 1e-9 / period ? 1e-3 / period : at;
        }
        for (Complex p : z.zeros()) {
            at = p.norm() < 1e-9 / period ? 1e-3 / period : at;
        }
        Complex wanted = new Response(s).at(new Complex(at, 0))[0][0];
        Complex has = new Response(plain).at(new Complex(Math.exp(at * period), 0))[0][0];
        return plain.times(wanted.divide(has).getRealPart());
    }
}
