package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.choice;
import static boldanvil.core.stock.Parameter.list;
import static boldanvil.core.stock.Parameter.real;

import boldanvil.core.quantity.Dimension;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.util.List;
import java.util.function.Consumer;

/** Blocks that remember from sample to sample. */
final class Sampled {
    static final BlockType DELAY = BlockType.named("delay", "Unit delay", Family.TIME).picture(Pictures::unitDelay)
            .units(Kinds.kept("y", "u", "initial"))
            .help("y[n] = u[n − 1]; y[0] = initial. Breaks an algebraic loop.")
            .with(real("initial", "0", "", "First output."))
            .face(Face.NONE.later("u", Accept.ANY).out("y")).summary("one sample later").discreteOnly()
            .does(e -> {
                var kept = e.state("kept", e.typeOf("y"), e.value("initial"));
                e.output("y", Expr.read(kept));
                e.update(kept, e.in("u"));
            });

    static final BlockType DELAY_N = BlockType.named("delay of n", "Delay by n samples", Family.TIME).picture(Pictures::delay)
            .units(Kinds.kept("y", "u", "initial"))
            .help("y[k] = u[k − n]; the first n outputs are initial.")
            .with(real("n", "10", "1", "Number of samples.").atLeast(1).atMost(100_000), real("initial", "0", "", "The first n outputs."))
            .face(Face.NONE.later("u", Accept.ANY).out("y")).summary("{n} samples later").discreteOnly()
            .does(e -> {
                int n = (int) Math.rint(e.value("n"));
                Type t = e.typeOf("y");
                if (n == 1) {
                    var kept = e.state("kept", t, e.value("initial"));
                    e.output("y", Expr.read(kept));
                    e.update(kept, e.in("u"));
                    return;
                }
                var past = e.array("past", t, filled(n, e.value("initial")));
                var at = e.state("at", Type.INT32, 0);
                e.output("y", Expr.at(past, Expr.read(at)));
                e.after(Lists.store(e, past, Expr.read(at), e.in("u")));
                e.update(at, Lists.next(past, Expr.read(at)));
            });

    static final BlockType INTEGRATOR = BlockType.named("accumulator", "Discrete integrator", Family.TIME).picture(Pictures::accumulator)
            .units(Sampled::accumulatorUnits)
            .help("The sum of k · T · u, limited to low and high. Forward: y[n+1] = y[n] + k T u[n]. Backward: y[n] = y[n−1] + k T u[n]. "
                    + "Trapezoidal: y[n] = y[n−1] + k T (u[n] + u[n−1]) / 2. It starts at the parameter initial, or, if the input start is "
                    + "connected, at the value of that input; reset sets it back to this value. " + Guards.STATES)
            .with(real("k", "1", "", "Factor.").offered(), real("initial", "0", "", "Value at the start."),
                    real("low", "-inf", "", "Minimum value.").offered(), real("high", "inf", "", "Maximum value.").offered(),
                    choice("method", "Integration method.", "forward", "backward", "trapezoidal"))
            .face(s -> {
                boolean direct = !s.text("method").equals("forward");
                return new Face(List.of(new Face.In("u", Accept.REAL, direct, false), new Face.In("reset", Accept.LOGIC, direct, true),
                        new Face.In("start", Accept.REAL, true, true)), List.of("y"));
            }).summary("Σ {k} · T · u").discreteOnly()
            .does(Sampled::accumulate);

    static final BlockType DERIVATIVE = BlockType.named("derivative", "Filtered derivative", Family.TIME).picture(Pictures::derivative)
            .units(f -> f.out("y", UnitFlow.over(f.in("u"), Dimension.TIME)))
            .help("The rate of change of u through a first-order lag with time constant tf: Y/U = s / (tf s + 1), discretised by Tustin's "
                    + "rule; with tf = 0 it is the difference quotient. The first output is 0. " + Guards.STATES)
            .with(real("tf", "10 ms", "s", "Time constant of the filter.").atLeast(0))
            .face(Face.NONE.in("u", Accept.REAL).optional("reset", Accept.LOGIC).out("y")).summary("d/dt, tf {tf}").discreteOnly()
            .does(e -> {
                Type t = e.typeOf("y");
                double ts = e.sampleTime();
                double tf = e.value("tf");
                if (tf > 0 && tf < ts) {
                    e.problem("The filter time tf is shorter than the sample time.",
                            "Choose tf of at least " + ts + " s, or 0 for no filter.");
                }
                var u = Guards.finite(e, e.in("u"));
                var last = e.state("last", t, 0);
                var began = e.state("began", Type.BOOL, 0);
                var change = u.minus(Expr.read(last).when(Expr.read(began), u));
                if (tf == 0) {
                    e.output("y", resetting(e, Expr.of(t, 0), change.times(1 / ts)));
                } else {
                    var slope = e.state("slope", t, 0);
                    var y = e.temp("next", Expr.read(slope).times((2 * tf - ts) / (2 * tf + ts)).plus(change.times(2 / (2 * tf + ts))));
                    e.output("y", resetting(e, Expr.of(t, 0), y));
                    e.update(slope, Expr.read(e.slotOf("y")));
                }
                e.update(last, u);
                e.update(began, Expr.of(true));
            });

    static final BlockType TRANSFER_Z = BlockType.named("transfer in z", "Transfer function in z", Family.TIME)
            .picture(Pictures::transferInZ)
            .help("Y(z)/U(z) = (b0 + b1 z⁻¹ + …) / (a0 + a1 z⁻¹ + …), from rest, in the transposed second form (Oppenheim and Schafer, "
                    + "Discrete-Time Signal Processing, 2010, section 6.3). " + Guards.STATES)
            .with(list("b", "[1]", "", "Coefficients b0, b1 …"), list("a", "[1, -0.5]", "", "Coefficients a0, a1 …; a0 is not 0."))
            .face(s -> firstIsZero(s.text("b")) ? Face.NONE.later("u", Accept.REAL).out("y") : Face.NONE.in("u", Accept.REAL).out("y"))
            .summary("{b} / {a} in 1/z").discreteOnly()
            .does(e -> {
                double[] a = e.list("a");
                if (a[0] == 0) {
                    e.problem("a0 is 0.", "Divide by the first coefficient that is not 0, and delay the output.");
                    return;
                }
                boolean direct = !firstIsZero(e.text("b"));
                filter(e, "w", e.list("b"), a, direct ? Guards.finite(e, e.in("u")) : Guards.finiteLater(e, "finite", e.in("u")),
                        y -> e.output("y", y), Expr.read(e.slotOf("y")));
            });

    static final BlockType BIQUADS = BlockType.named("biquads", "Second-order sections", Family.TIME)
            .help("Sections (b0 + b1 z⁻¹ + b2 z⁻²) / (1 + a1 z⁻¹ + a2 z⁻²) in series, each in the transposed second form; a list of rows "
            + "b0, "
                    + "b1, b2, a1, a2. " + Guards.STATES)
            .with(list("sections", "[[1, 0, 0, 0, 0]]", "", "One row b0, b1, b2, a1, a2 for each section."))
            .face(Face.NONE.in("u", Accept.REAL).out("y")).summary("sections {sections}").discreteOnly()
            .does(e -> {
                double[] all = e.list("sections");
                if (all.length % 5 != 0) {
                    e.problem("The sections have " + all.length + " values, not five each.", "Give b0, b1, b2, a1, a2 for each section.");
                    return;
                }
                Expr u = Guards.finite(e, e.in("u"));
                for (int k = 0; k < all.length / 5; k++) {
                    double[] s = java.util.Arrays.copyOfRange(all, 5 * k, 5 * k + 5);
                    var y = e.local("section" + (k + 1), e.typeOf("y"));
                    filter(e, "w" + (k + 1) + "_", new double[] {s[0], s[1], s[2]}, new double[] {1, s[3], s[4]}, u,
                            value -> e.assign(y, value), Expr.read(y));
                    u = Expr.read(y);
                }
                e.output("y", u);
            });

    static final BlockType FIR = BlockType.named("fir", "FIR filter", Family.TIME).picture(Pictures::samples)
            .help("y[n] = b0 u[n] + b1 u[n−1] + …; the past before the start is 0. " + Guards.STATES)
            .with(list("b", "[0.5, 0.5]", "", "Coefficients b0, b1 …"))
            .face(Face.NONE.in("u", Accept.REAL).out("y")).summary("Σ b · u").discreteOnly()
            .does(e -> {
                Type t = e.typeOf("y");
                double[] b = e.list("b");
                if (b.length < 3) {
                    filter(e, "w", b, new double[] {1}, Guards.finite(e, e.in("u")), y -> e.output("y", y), Expr.read(e.slotOf("y")));
                    return;
                }
                var past = e.array("past", t, new double[b.length]);
                var at = e.state("at", Type.INT32, 0);
                var coefficients = e.table("b", t, b);
                var sum = e.local("sum", t);
                var i = e.counter("i");
                e.add(Lists.store(e, past, Expr.read(at), Guards.finite(e, e.in("u"))));
                e.assign(sum, Expr.of(t, 0));
                var place = Expr.read(at).minus(Expr.read(i));
                var wrapped = place.plus(Expr.of(Type.INT32, b.length)).when(place.lt(Expr.of(Type.INT32, 0)), place);
                e.add(new Stmt.Repeat(i, b.length, List.of(new Stmt.Assign(sum, Expr.read(sum).plus(
                        new Expr.Element(coefficients, Expr.read(i)).times(Expr.at(past, wrapped))), e.origin())), e.origin()));
                e.output("y", Expr.read(sum));
                e.update(at, Lists.next(past, Expr.read(at)));
            });

    static final BlockType MOVING = BlockType.named("moving", "Moving average", Family.TIME).picture(Pictures::average)
            .units(Kinds.kept("y", "u"))
            .help("The mean of the last n samples, or the root of the mean of their squares; the past before the start is 0. The sum is "
                    + "computed again in each sample, so that rounding errors do not accumulate. " + Guards.STATES)
            .with(real("n", "10", "1", "Number of samples.").atLeast(2).atMost(10_000),
            choice("of", "Mean or root mean square.", "mean", "RMS"))
            .face(Face.NONE.in("u", Accept.REAL).out("y")).summary("{of} of {n}").discreteOnly()
            .does(e -> {
                Type t = e.typeOf("y");
                int n = (int) Math.rint(e.value("n"));
                boolean rms = e.text("of").equals("RMS");
                var u = Guards.finite(e, e.in("u"));
                var past = e.array("past", t, new double[n]);
                var at = e.state("at", Type.INT32, 0);
                var sum = e.local("sum", t);
                var i = e.counter("i");
                var value = Expr.at(past, Expr.read(i));
                e.add(Lists.store(e, past, Expr.read(at), rms ? u.times(u) : u));
                e.assign(sum, Expr.of(t, 0));
                e.add(new Stmt.Repeat(i, n, List.of(new Stmt.Assign(sum, Expr.read(sum).plus(value), e.origin())), e.origin()));
                var mean = Expr.read(sum).times(1.0 / n);
                e.output("y", rms ? mean.call(Expr.Intrinsic.SQRT) : mean);
                e.update(at, Lists.next(past, Expr.read(at)));
            });

    static final BlockType MEDIAN = BlockType.named("median", "Median filter", Family.TIME).picture(Pictures::average)
            .units(Kinds.kept("y", "u"))
            .help("y = the median of the last n samples; it removes single outliers and keeps edges. The past before the start is 0.")
            .with(choice("n", "Number of samples.", "3", "5", "7", "9"))
            .face(Face.NONE.in("u", Accept.NUMBER).out("y")).summary("middle of {n}").discreteOnly()
            .does(Sampled::median);

    static final BlockType GLITCH = BlockType.named("glitch filter", "Glitch filter", Family.TIME)
            .help("y follows u only after u has kept a new value for n samples; shorter pulses are ignored.")
            .with(real("n", "3", "1", "Number of samples.").atLeast(1).atMost(1e6), choice("initial", "y at the start.", "off", "on"))
            .face(Face.NONE.in("u", Accept.LOGIC).out("y")).summary("{n} samples").type(Type.BOOL).discreteOnly()
            .does(e -> {
                var kept = e.state("kept", Type.BOOL, e.text("initial").equals("on") ? 1 : 0);
                var count = e.state("count", Type.INT32, 0);
                var differs = e.in("u").compare(Expr.Op.NE, Expr.read(kept));
                var next = e.temp("seen", Expr.read(count).plus(Expr.of(Type.INT32, 1)).when(differs, Expr.of(Type.INT32, 0)));
                var takes = next.compare(Expr.Op.GE, Expr.of(Type.INT32, Math.rint(e.value("n"))));
                e.output("y", e.in("u").when(takes, Expr.read(kept)));
                e.update(kept, Expr.read(e.slotOf("y")));
                e.update(count, Expr.of(Type.INT32, 0).when(takes, next));
            });

    static final BlockType HOLD = BlockType.named("hold", "Sample and hold", Family.TIME).picture(Pictures::hold)
            .units(Kinds.kept("y", "u", "initial"))
            .help("y = u while 'take' is true; otherwise y keeps the last value taken.")
            .with(real("initial", "0", "", "y before the first value is taken."))
            .face(Face.NONE.in("u", Accept.ANY).in("take", Accept.LOGIC).out("y")).summary("while 'take'").discreteOnly()
            .does(e -> {
                var kept = e.state("kept", e.typeOf("y"), e.value("initial"));
                e.output("y", e.in("u").when(e.in("take"), Expr.read(kept)));
                e.update(kept, Expr.read(e.slotOf("y")));
            });

    private static final Parameter[] PID_PARAMETERS = {
        choice("form", "Parallel: kp, ki and kd act separately. Ideal: kp multiplies all, ki = 1/Ti, kd = Td.", "parallel", "ideal"),
        real("kp", "1", "", "Proportional gain.").offered(), real("ki", "0", "per s", "Integral gain.").offered(),
        real("kd", "0", "times s", "Derivative gain.").offered(),
        real("tf", "10 ms", "s", "Filter time constant of the derivative.").atLeast(1e-9),
        real("low", "-inf", "", "Minimum output.").offered(), real("high", "inf", "", "Maximum output.").offered(),
        choice("anti-windup", "What the integral does while the output is limited.", "clamping", "back-calculation", "none"),
        real("tt", "100 ms", "s", "Tracking time of the back-calculation.").atLeast(1e-9)};

    private static final String PID_HELP =
            "u = kp·e + ki·∫e dt + kd·de/dt, limited to low and high. Forward Euler; the derivative passes a first-order filter with time "
            + "constant tf. "
            + "Anti-windup: clamping stops the integral while u is at a limit; back-calculation returns it with the time constant tt "
            + "(Åström and "
            + "Hägglund, Advanced PID Control, 2006, section 3.5). While 'manual' is on, the output is the input 'track' and the integral "
            + "follows it, for "
            + "bumpless transfer back to automatic. While ki is 0 the integral is 0. reset clears the integral and the filter; at the "
            + "first sample the "
            + "derivative is 0. " + Guards.STATES;

    static final BlockType PID = BlockType.named("pid", "PID controller", Family.TIME)
            .units(f -> f.out("y", f.alike("track", "low", "high")))
            .help(PID_HELP).with(PID_PARAMETERS)
            .face(Face.NONE.in("e", Accept.REAL).optional("reset", Accept.LOGIC).optional("manual", Accept.LOGIC)
            .optional("track", Accept.REAL)
                    .out("y")).limits("low", "high").summary(Sampled::pidText).discreteOnly()
            .does(e -> new PidWriter(e, "y", e.in("e"), e.in("e"), e.in("e")).write());

    static final BlockType PID2 = BlockType.named("two-degree pid", "PID, two degrees of freedom", Family.TIME).formerly("pid of two")
            .units(f -> {
                f.alike("r", "y");
                f.out("u", f.alike("feed", "track", "low", "high"));
            })
            .help("A PID controller with set-point r, measured y and a feed-forward; the proportional part acts on b·r − y, the derivative "
                    + "part on c·r − y, the integral part on r − y. " + PID_HELP)
            .with(PID_PARAMETERS)
            .with(real("b", "1", "1", "Weight of the set-point in the proportional part.").offered(),
                    real("c", "0", "1", "Weight of the set-point in the derivative part.").offered())
            .face(Face.NONE.in("r", Accept.REAL).in("y", Accept.REAL).optional("feed", Accept.REAL).optional("reset", Accept.LOGIC)
                    .optional("manual", Accept.LOGIC).optional("track", Accept.REAL).out("u")).limits("low", "high")
                            .summary(Sampled::pidText)
                    .discreteOnly()
            .does(e -> {
                var r = e.in("r");
                var y = e.in("y");
                Type t = e.typeOf("u");
                new PidWriter(e, "u", e.param("b", t).times(r).minus(y), e.temp("error", r.minus(y)), e.param("c", t).times(r).minus(y))
                        .write();
            });

    static final BlockType RATE = BlockType.named("sample time change", "Sample time change", Family.TIME).picture(Pictures::hold)
            .formerly("rate")
            .units(Kinds.kept("y", "u", "initial"))
            .help("Passes u on at this block's own sample time. From fast to slow, the value is read when the slow task is "
                    + "released. From slow to fast, the value appears at the slow task's next release; until the first one, y = "
                    + "initial.")
            .with(real("initial", "0", "", "Value until the first sample arrives."))
            .face(Face.NONE.in("u", Accept.ANY).out("y")).summary("own sample time").discreteOnly().beforeFirst("initial")
            .does(e -> e.output("y", e.in("u")));

    static final List<BlockType> TYPES = List.of(DELAY, DELAY_N, INTEGRATOR, DERIVATIVE, TRANSFER_Z, BIQUADS, FIR, MOVING, MEDIAN, GLITCH,
            HOLD, PID,
            PID2, RATE);

    private Sampled() {}

    private static String pidText(Settings s) {
        String text = s.text("kp");
        if (!s.text("ki").equals("0")) {
            text += " + " + s.text("ki") + "/s";
        }
        return s.text("kd").equals("0") ? text : text + " + " + s.text("kd") + " s";
    }

    private static double[] filled(int n, double value) {
        double[] all = new double[n];
        java.util.Arrays.fill(all, value);
        return all;
    }

    private static boolean firstIsZero(String list) {
        return list.strip().matches("\\[\\s*0(\\.0*)?\\s*,.*");
    }

    private static void accumulate(Emitter e) {
        Limits.ordered(e);
        var t = e.typeOf("y");
        String method = e.text("method");
        var sum = e.state("sum", t, e.value("initial"));
        Expr initial = Expr.of(t, e.value("initial"));
        Expr now = Expr.read(sum);
        if (e.connected("start")) {
            initial = e.in("start");
            var began = e.state("began", Type.BOOL, 0);
            now = e.temp("now", now.when(Expr.read(began), initial));
            e.update(began, Expr.of(true));
        }
        var rate = e.param("k", t);
        var low = e.param("low", t);
        var high = e.param("high", t);
        if (method.equals("forward")) {
            e.output("y", now);
            var u = Guards.finiteLater(e, "finite", e.in("u"));
            var next = now.plus(u.times(rate).times(e.sampleTime())).clamp(low, high);
            e.update(sum, resetting(e, initial, next));
            return;
        }
        var u = Guards.finite(e, e.in("u"));
        Expr area = u.times(rate).times(e.sampleTime());
        if (method.equals("trapezoidal")) {
            var last = e.state("last", t, 0);
            area = u.plus(Expr.read(last)).times(rate).times(e.sampleTime() / 2);
            e.update(last, u);
        }
        e.output("y", resetting(e, initial, now.plus(area).clamp(low, high)));
        e.update(sum, Expr.read(e.slotOf("y")));
    }

    /** y = (b0 u + w1) / a0, w1' = b1 u − a1 y + w2, … */
    private static void filter(Emitter e, String name, double[] b, double[] a, Expr u, Consumer<Expr> result, Expr y) {
        int n = Math.max(a.length, b.length) - 1;
        Type t = u.type();
        Slot[] w = new Slot[n + 1];
        for (int i = 1; i <= n; i++) {
            w[i] = e.state(name + i, t, 0);
        }
        Expr direct = b[0] == 0 ? null : u.times(b[0] / a[0]);
        result.accept(n == 0 ? direct == null ? Expr.of(t, 0) : direct : Lists.plus(direct, Expr.read(w[1])));
        for (int i = 1; i <= n; i++) {
            Expr next = i < b.length && b[i] != 0 ? u.times(b[i] / a[0]) : null;
            if (i < n) {
                next = Lists.plus(next, Expr.read(w[i + 1]));
            }
            if (i < a.length && a[i] != 0) {
                next = Lists.plus(next, y.times(-a[i] / a[0]));
            }
            e.update(w[i], next == null ? Expr.of(t, 0) : next);
        }
    }

    private static void median(Emitter e) {
        int n = Integer.parseInt(e.text("n"));
        Type t = e.typeOf("y");
        List<Slot> past = new java.util.ArrayList<>();
        List<Expr> values = new java.util.ArrayList<>(List.of(e.in("u")));
        for (int i = 1; i < n; i++) {
            past.add(e.state("past" + i, t, 0));
            values.add(Expr.read(past.getLast()));
        }
        // Selection by exchange: after each round the greatest of the rest stands last.
        Slot[] sorted = new Slot[n];
        for (int i = 0; i < n; i++) {
            sorted[i] = e.local("s" + i, t);
            e.assign(sorted[i], values.get(i));
        }
        var kept = e.local("kept", t);
        for (int end = n - 1; end >= n / 2; end--) {
            for (int i = 0; i < end; i++) {
                var a = Expr.read(sorted[i]);
                var b = Expr.read(sorted[i + 1]);
                e.add(new Stmt.If(a.gt(b), List.of(new Stmt.Assign(kept, a, e.origin()), new Stmt.Assign(sorted[i], b, e.origin()),
                        new Stmt.Assign(sorted[i + 1], Expr.read(kept), e.origin())), List.of(), e.origin()));
            }
        }
        e.output("y", Expr.read(sorted[n / 2]));
        for (int i = past.size() - 1; i > 0; i--) {
            e.update(past.get(i), Expr.read(past.get(i - 1)));
        }
        e.update(past.getFirst(), e.in("u"));
    }

    private static Expr resetting(Emitter e, Expr to, Expr otherwise) {
        return e.connected("reset") ? to.when(e.in("reset"), otherwise) : otherwise;
    }

    private static void accumulatorUnits(UnitFlow f) {
        Dimension k = f.text("k").strip().equals("1") ? Dimension.NONE : f.param("k");
        Dimension sum = UnitFlow.times(UnitFlow.times(f.in("u"), k), Dimension.TIME);
        f.out("y", sum == null ? f.alike("initial", "low", "high", "start") : sum);
        for (String name : new String[] {"initial", "low", "high", "start"}) {
            f.must(name, sum);
        }
    }
}
