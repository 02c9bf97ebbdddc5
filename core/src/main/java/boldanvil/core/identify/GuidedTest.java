package boldanvil.core.identify;

import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.samples.Series;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.function.Function;

/**
 * A ready experiment: what is to be done, which signals of the run it needs, and the values that follow from them.
 *
 * @param steps what to do, in order
 * @param signals names of the signals, which a tap of the run stands for each
 * @param numbers what has to be known, with a proposal; formulas with units
 * @param evaluation gives the values
 */
public record GuidedTest(String title, List<String> steps, List<String> signals, Map<String, String> numbers,
        Function<Given, Estimate> evaluation) {
    /**
     * What is given for an evaluation.
     *
     * @param signals within the span that counts, by name
     * @param numbers SI, by name
     */
    public record Given(Map<String, Series> signals, Map<String, Double> numbers) {
        Series signal(String name) {
            return signals.get(name);
        }

        double number(String name) {
            return numbers.get(name);
        }

        /** From one signal to another. */
        Record record(String in, String out) {
            Series u = signal(in);
            if (u.size() < 2) {
                throw new NoSolutionException("The span has fewer than two samples.", "Choose a longer span.");
            }
            return Record.of(u, signal(out), (u.times()[u.size() - 1] - u.times()[0]) / (u.size() - 1));
        }
    }

    private static final String VOLTAGE = "voltage";
    private static final String CURRENT = "current";
    private static final String SPEED = "speed";
    /** Slopes are taken over the span by this. */
    private static final int SLOPES = 4000;

    /** All there are. */
    public static List<GuidedTest> all() {
        return List.of(LOCKED, RUNNING, COASTING, TWO_POINTS, DELAY, BACKLASH);
    }

    /** Resistance and inductance of a motor that is held. */
    public static final GuidedTest LOCKED = new GuidedTest("Motor, locked: R and L", List.of("Hold the shaft, so that it cannot turn.",
            "Apply a voltage that steps between two small values, some time constants long each; random steps are best.",
            "Record the voltage at the terminals, or duty cycle times supply, and the current, at the full sample rate.",
            "Choose a span with some of the steps."), List.of(VOLTAGE, CURRENT), Map.of(), g -> {
                Record r = g.record(VOLTAGE, CURRENT).withoutOffset();
                Estimate e = DifferenceModel.outputError(r, 1, 1, 1).estimate();
                return derived(e, List.of("R", "L"), v -> {
                    double pole = -v[0];
                    double resistance = (1 - pole) / v[1];
                    return new double[] {resistance, -resistance * r.period() / Math.log(pole)};
                });
            });

    /** EMF constant and friction of a motor that turns freely. */
    public static final GuidedTest RUNNING = new GuidedTest("Motor, no load: constant and friction", List.of(
            "Take the load off the shaft.", "Apply a staircase of voltages in one direction; let the speed settle on each step.",
            "Record voltage, current and speed.", "Choose a span with at least three of the steps."), List.of(VOLTAGE, CURRENT, SPEED),
            Map.of("R", "1 ohm"), GuidedTest::running);

    /** Inertia of a motor whose friction is known. */
    public static final GuidedTest COASTING = new GuidedTest("Motor, coast-down: inertia",
            List.of("Let the motor turn freely, as fast as it "
            + "may.", "Disconnect it, so that no current flows, and record the speed until it stands.",
            "Choose the span from just after the current is gone to just before it stands.",
            "Enter the friction that the test without load has given."), List.of(SPEED),
            Map.of("Coulomb friction", "1 mN*m", "viscous friction", "1e-5 N*m*s/rad"), GuidedTest::coasting);

    /** Offset and sensitivity of a sensor. */
    public static final GuidedTest TWO_POINTS = new GuidedTest("Sensor, two points: offset and sensitivity", List.of(
            "Bring the measured quantity to a first known value, and record the sensor's signal for a while.",
            "Bring it to a second value, far from the first, in the same run.",
            "Choose a span that begins with the first and ends with the second value; a quarter at each end counts."), List.of("signal"),
            Map.of("first value", "0", "second value", "1"), GuidedTest::twoPoints);

    /** Dead time from one signal to another. */
    public static final GuidedTest DELAY = new GuidedTest("Delay between two signals", List.of(
            "Move the first signal by steps, some time constants long each.", "Record both signals at the full sample rate.",
            "Choose a span with some of the steps."), List.of("from", "to"), Map.of(), g ->
                ProcessModel.fit(g.record("from", "to").withoutOffset(), 1).estimate());

    /** Play of a gear. */
    public static final GuidedTest BACKLASH = new GuidedTest("Backlash of a gear", List.of(
            "Measure the position before and behind the gear, both in the unit behind it.",
            "Move slowly to and fro a few times, farther than the play; the side behind must follow by itself.",
            "Choose a span with at least two reversals."), List.of("before", "behind"), Map.of(), GuidedTest::backlash);

    private static Estimate running(Given g) {
        Record iw = g.record(CURRENT, SPEED);
        Record uw = g.record(VOLTAGE, SPEED);
        int n = Math.min(iw.size(), uw.size());
        int apart = Math.max(1, n / SLOPES);
        double[] w = iw.output();
        double[] i = iw.input();
        List<double[]> emf = new ArrayList<>();
        List<Double> voltage = new ArrayList<>();
        for (int k = apart; k + apart < n; k++) {
            // What the inductance and the inertia take while the speed changes belongs to neither.
            emf.add(new double[] {w[k], (i[k + apart] - i[k - apart]) / (2 * apart * iw.period())});
            voltage.add(uw.input()[k] - g.number("R") * i[k]);
        }
        Estimate k = LinearFit.of(emf, voltage, List.of("k", "L"));
        double constant = k.values().getFirst().value();
        List<double[]> friction = new ArrayList<>();
        List<Double> torque = new ArrayList<>();
        for (int s = apart; s + apart < n; s++) {
            friction.add(new double[] {Math.signum(w[s]), w[s], (w[s + apart] - w[s - apart]) / (2 * apart * iw.period())});
            torque.add(constant * i[s]);
        }
        Estimate f = LinearFit.of(friction, torque, List.of("Coulomb friction", "viscous friction", "J"));
        List<Estimate.Value> all = List.of(k.values().getFirst(), f.values().get(0), f.values().get(1));
        double[][] correlation = {{1, 0, 0}, {0, 1, f.correlation()[0][1]}, {0, f.correlation()[1][0], 1}};
        return new Estimate(all, correlation, f.rms(), k.fit(), k.white(), f.warnings());
    }

    private static Estimate coasting(Given g) {
        Series s = g.signal(SPEED);
        double coulomb = g.number("Coulomb friction");
        double viscous = g.number("viscous friction");
        if (s.size() < 20 || !(s.values()[0] > 0) || s.values()[s.size() - 1] >= s.values()[0]) {
            throw new NoSolutionException("The speed does not fall from a positive value in the span.",
                    "Choose the span of the coast-down; turn in the positive direction.");
        }
        double[] t = Arrays.stream(s.times()).map(x -> x - s.times()[0]).toArray();
        double lasts = t[t.length - 1];
        double guess = (coulomb + viscous * s.values()[0]) * lasts / Math.max(1e-12, s.values()[0] - s.values()[t.length - 1]);
        var parameters = List.of(new LeastSquares.Parameter("J", guess, guess / 1000, guess * 1000),
                new LeastSquares.Parameter("speed at the start", s.values()[0], 0, 10 * s.values()[0]));
        return LeastSquares.fit(p -> Arrays.stream(t).map(x -> {
            double ratio = viscous / p[0];
            double still = viscous == 0 ? 0 : coulomb / viscous;
            double w = viscous == 0 ? p[1] - coulomb / p[0] * x : (p[1] + still) * Math.exp(-ratio * x) - still;
            return Math.max(0, w);
        }).toArray(), s.values(), parameters);
    }

    private static Estimate twoPoints(Given g) {
        double[] v = g.signal("signal").values();
        int quarter = v.length / 4;
        if (quarter < 10) {
            throw new NoSolutionException("The span has " + v.length + " samples only; 40 are needed at least.", "Choose a longer span.");
        }
        List<double[]> x = new ArrayList<>();
        List<Double> y = new ArrayList<>();
        for (int i = 0; i < quarter; i++) {
            x.add(new double[] {1, g.number("first value")});
            y.add(v[i]);
            x.add(new double[] {1, g.number("second value")});
            y.add(v[v.length - 1 - i]);
        }
        return LinearFit.of(x, y, List.of("offset", "sensitivity"));
    }

    private static Estimate backlash(Given g) {
        Record r = g.record("before", "behind");
        double range = Arrays.stream(r.output()).max().orElse(0) - Arrays.stream(r.output()).min().orElse(0);
        List<double[]> x = new ArrayList<>();
        List<Double> y = new ArrayList<>();
        for (int i = 1; i < r.size(); i++) {
            double moved = r.output()[i] - r.output()[i - 1];
            // Only while the far side is taken along.
            if (Math.abs(moved) > 0.2 * range / r.size()) {
                x.add(new double[] {1, Math.signum(moved) / 2});
                y.add(r.input()[i] - r.output()[i]);
            }
        }
        return LinearFit.of(x, y, List.of("offset", "backlash"));
    }

    /** Values that follow from others, with the bounds that follow from theirs to the first order. */
    private static Estimate derived(Estimate e, List<String> names, Function<double[], double[]> how) {
        double[] v = e.values().stream().mapToDouble(Estimate.Value::value).toArray();
        double[] base = how.apply(v);
        int n = v.length;
        double[][] slopes = new double[base.length][n];
        for (int j = 0; j < n; j++) {
            double h = 1e-6 * Math.max(Math.abs(v[j]), 1e-12);
            double[] moved = v.clone();
            moved[j] += h;
            double[] next = how.apply(moved);
            for (int i = 0; i < base.length; i++) {
                slopes[i][j] = (next[i] - base[i]) / h;
            }
        }
        double[][] covariance = new double[base.length][base.length];
        for (int i = 0; i < base.length; i++) {
            for (int k = 0; k < base.length; k++) {
                for (int j = 0; j < n; j++) {
                    for (int m = 0; m < n; m++) {
                        covariance[i][k] += slopes[i][j] * slopes[k][m] * e.correlation()[j][m] * e.values().get(j).sigma()
                                * e.values().get(m).sigma();
                    }
                }
            }
        }
        List<Estimate.Value> all = new ArrayList<>();
        double[][] correlation = new double[base.length][base.length];
        for (int i = 0; i < base.length; i++) {
            if (!Double.isFinite(base[i])) {
                throw new NoSolutionException("The record does not behave as such a motor does: the model that fits it best is not a lag.",
                        "Check the signals, and choose a span in which the input steps.");
            }
            all.add(new Estimate.Value(names.get(i), base[i], Math.sqrt(covariance[i][i])));
            for (int k = 0; k < base.length; k++) {
                correlation[i][k] = covariance[i][k] / Math.sqrt(covariance[i][i] * covariance[k][k]);
            }
        }
        return new Estimate(all, correlation, e.rms(), e.fit(), e.white(), e.warnings());
    }
}
