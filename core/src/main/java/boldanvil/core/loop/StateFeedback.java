package boldanvil.core.loop;

import boldanvil.core.linear.Design;
import boldanvil.core.linear.Eigenvalues;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.linear.StateSpace;
import java.util.List;
import org.ejml.simple.SimpleMatrix;
import org.hipparchus.complex.Complex;

/**
 * A controller that feeds the estimated states back, with the integral of the first output's error: u = ki · x_I − K x̂ + N r. The
 * estimator is a predictor: x̂[n+1] = A x̂[n] + B u[n] + L (y[n] − C x̂[n]). Regulator and estimator are designed apart; the poles of the
 * closed loop are those of both (separation; Franklin, Powell and Workman, Digital Control of Dynamic Systems, 1998, chapter 8).
 *
 * @param plant all signals as deviations from its operating point
 * @param k one row
 * @param integral ki, per second and unit of the first output; 0 without integral action
 * @param reference N, from the reference of the first output straight to the input
 * @param l one column for each output
 */
public record StateFeedback(Plant plant, SimpleMatrix k, double integral, double reference, SimpleMatrix l) {
    /**
     * What counts how much. A deviation of each is as bad as of the others; a smaller one makes the controller hold it more tightly.
     *
     * @param outputs deviations, one for each output
     * @param input deviation of the input
     * @param integral of the error of the first output, in its unit times seconds; 0 for no integral action
     */
    public record Weights(double[] outputs, double input, double integral) {}

    /**
     * What disturbs.
     *
     * @param input standard deviation of what is added to the input
     * @param outputs standard deviations of the sensors' noise
     */
    public record Noise(double input, double[] outputs) {}

    /**
     * The regulator with the least sum of squares.
     *
     * @throws NoSolutionException when a mode that is not stable cannot be moved or is not seen, or an output follows the input at once
     */
    public static StateFeedback least(Plant plant, Weights w, Noise noise) {
        requireDelay(plant);
        StateSpace s = plant.system();
        int n = s.states();
        boolean integrates = w.integral() > 0;
        StateSpace whole = integrates ? augmented(s) : s;
        var q = new SimpleMatrix(whole.states(), whole.states());
        for (int o = 0; o < s.outputs(); o++) {
            SimpleMatrix row = s.c().extractVector(true, o).divide(positive(w.outputs()[o], "The weight of an output"));
            q.insertIntoThis(0, 0, q.extractMatrix(0, n, 0, n).plus(row.transpose().mult(row)));
        }
        if (integrates) {
            q.set(n, n, 1 / (w.integral() * w.integral()));
        }
        double u = positive(w.input(), "The weight of the input");
        return built(plant, Design.regulator(whole, q, new SimpleMatrix(new double[][] {{1 / (u * u)}})), integrates, estimator(s, noise));
    }

    /**
     * The regulator with given poles, in z.
     *
     * @param poles as many as the plant has states, and one more with integral action
     * @throws NoSolutionException when a mode cannot be moved, or an output follows the input at once
     */
    public static StateFeedback placed(Plant plant, Complex[] poles, boolean integrates, Noise noise) {
        requireDelay(plant);
        StateSpace s = plant.system();
        StateSpace whole = integrates ? augmented(s) : s;
        if (poles.length != whole.states()) {
            throw new NoSolutionException(poles.length + " poles were given for " + whole.states() + " states"
                    + (integrates ? ", that of the integral counted." : "."), "Give one pole for each state.");
        }
        return built(plant, Design.place(whole, poles), integrates, estimator(s, noise));
    }

    /**
     * The same with an estimator that has given poles, in z; for one output.
     *
     * @throws NoSolutionException when the output does not show all states
     */
    public StateFeedback estimating(Complex... poles) {
        StateSpace s = plant.system();
        if (s.outputs() != 1) {
            throw new NoSolutionException("Poles of the estimator can be given for one output only.", "Give the noise instead.");
        }
        if (poles.length != s.states()) {
            throw new NoSolutionException(poles.length + " poles were given for " + s.states() + " states of the estimator.",
                    "Give one pole for each state.");
        }
        var dual = new StateSpace(s.a().transpose(), s.c().transpose(), s.b().transpose(), s.d(), s.period());
        return new StateFeedback(plant, k, integral, reference, Design.place(dual, poles).transpose());
    }

    /** The same with a gain from the reference to the input that brings the first output to it, or without. */
    public StateFeedback referenced(boolean on) {
        if (!on) {
            return new StateFeedback(plant, k, integral, 0, l);
        }
        StateSpace s = plant.system();
        var held = new StateSpace(s.a().minus(s.b().mult(k)), s.b(), s.c().extractVector(true, 0), new SimpleMatrix(1, 1), s.period());
        double gain = held.gainAtRest();
        if (!Double.isFinite(gain) || gain == 0) {
            throw new NoSolutionException("The first output cannot be held at a reference by the input.", "Choose another first output.");
        }
        return new StateFeedback(plant, k, integral, 1 / gain, l);
    }

    private static double positive(double v, String what) {
        if (!(v > 0)) {
            throw new NoSolutionException(what + " is not above 0.", "Give a deviation above 0.");
        }
        return v;
    }

    private static void requireDelay(Plant plant) {
        if (plant.system().d().normF() > 1e-12 * Math.max(1e-300, plant.system().c().normF())) {
            throw new NoSolutionException("An output follows the input within the same sample.",
                    "Choose outputs that are sampled before the input is computed.");
        }
    }

    /** With the integral of the first output, less the reference. */
    private static StateSpace augmented(StateSpace s) {
        int n = s.states();
        var a = new SimpleMatrix(n + 1, n + 1);
        a.insertIntoThis(0, 0, s.a());
        a.insertIntoThis(n, 0, s.c().extractVector(true, 0).scale(-s.period()));
        a.set(n, n, 1);
        return new StateSpace(a, s.b().concatRows(new SimpleMatrix(1, 1)), new SimpleMatrix(1, n + 1), new SimpleMatrix(1, 1), s.period());
    }

    private static SimpleMatrix estimator(StateSpace s, Noise noise) {
        var sensors = new SimpleMatrix(s.outputs(), s.outputs());
        for (int o = 0; o < s.outputs(); o++) {
            double v = positive(noise.outputs()[o], "The noise of a sensor");
            sensors.set(o, o, v * v);
        }
        double u = positive(noise.input(), "The noise at the input");
        return Design.estimator(s, s.b().mult(s.b().transpose()).scale(u * u), sensors);
    }

    private static StateFeedback built(Plant plant, SimpleMatrix gain, boolean integrates, SimpleMatrix l) {
        int n = plant.system().states();
        return new StateFeedback(plant, gain.extractMatrix(0, 1, 0, n), integrates ? -gain.get(0, n) : 0, 0, l);
    }

    /** Poles of the regulator with known states, in z. */
    public Complex[] regulatorPoles() {
        StateSpace s = plant.system();
        if (integral == 0) {
            return Eigenvalues.of(s.a().minus(s.b().mult(k)));
        }
        StateSpace whole = augmented(s);
        SimpleMatrix gain = k.concatColumns(new SimpleMatrix(new double[][] {{-integral}}));
        return Eigenvalues.of(whole.a().minus(whole.b().mult(gain)));
    }

    /** Poles of the error of the estimate, in z. */
    public Complex[] estimatorPoles() {
        StateSpace s = plant.system();
        return Eigenvalues.of(s.a().minus(l.mult(s.c())));
    }

    /**
     * The controller as it runs: from the reference and the outputs of the plant to its input. The states are those of the estimator, and
     * the integral.
     */
    public StateSpace controller() {
        StateSpace s = plant.system();
        int n = s.states();
        int m = s.outputs();
        var a = new SimpleMatrix(n + 1, n + 1);
        a.insertIntoThis(0, 0, s.a().minus(l.mult(s.c())).minus(s.b().mult(k)));
        a.insertIntoThis(0, n, s.b().scale(integral));
        a.set(n, n, 1);
        var b = new SimpleMatrix(n + 1, m + 1);
        b.insertIntoThis(0, 0, s.b().scale(reference));
        b.insertIntoThis(0, 1, l);
        b.set(n, 0, s.period());
        b.set(n, 1, -s.period());
        var c = k.scale(-1).concatColumns(new SimpleMatrix(new double[][] {{integral}}));
        var d = new SimpleMatrix(1, m + 1);
        d.set(0, 0, reference);
        if (integral == 0) {
            // Nothing reads the integral.
            return new StateSpace(a.extractMatrix(0, n, 0, n), b.extractMatrix(0, n, 0, m + 1), c.extractMatrix(0, 1, 0, n), d, s.period());
        }
        return new StateSpace(a, b, c, d, s.period());
    }

    /** The loop opened at the plant's input, where margins are counted. */
    public OpenLoop loop() {
        StateSpace s = plant.system();
        StateSpace all = controller();
        var back = new StateSpace(all.a(), all.b().extractMatrix(0, all.states(), 1, all.inputs()), all.c(),
                all.d().extractMatrix(0, 1, 1, all.inputs()), s.period());
        return new OpenLoop(back.after(s).times(-1), 1, List.of(), plant.input(), plant.seconds(), List.of());
    }

    /** The closed loop from the reference to the outputs and, last, the input of the plant. */
    public StateSpace closed() {
        return closed(true);
    }

    /** The closed loop from a disturbance that is added to the plant's input, to the outputs and the input as the controller gives it. */
    public StateSpace disturbed() {
        return closed(false);
    }

    private StateSpace closed(boolean fromReference) {
        StateSpace s = plant.system();
        StateSpace c = controller();
        int n = s.states();
        int q = c.states();
        int m = s.outputs();
        SimpleMatrix reads = c.b().extractMatrix(0, q, 1, m + 1);
        SimpleMatrix direct = c.d().extractMatrix(0, 1, 1, m + 1);
        var a = new SimpleMatrix(n + q, n + q);
        a.insertIntoThis(0, 0, s.a().plus(s.b().mult(direct).mult(s.c())));
        a.insertIntoThis(0, n, s.b().mult(c.c()));
        a.insertIntoThis(n, 0, reads.mult(s.c()));
        a.insertIntoThis(n, n, c.a());
        var b = new SimpleMatrix(n + q, 1);
        if (fromReference) {
            b.insertIntoThis(0, 0, s.b().scale(c.d().get(0, 0)));
            b.insertIntoThis(n, 0, c.b().extractMatrix(0, q, 0, 1));
        } else {
            b.insertIntoThis(0, 0, s.b());
        }
        var out = new SimpleMatrix(m + 1, n + q);
        out.insertIntoThis(0, 0, s.c());
        out.insertIntoThis(m, 0, direct.mult(s.c()));
        out.insertIntoThis(m, n, c.c());
        var d = new SimpleMatrix(m + 1, 1);
        d.set(m, 0, fromReference ? c.d().get(0, 0) : 0);
        return new StateSpace(a, b, out, d, s.period());
    }
}
