package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.choice;
import static boldanvil.core.stock.Parameter.list;
import static boldanvil.core.stock.Parameter.real;

import boldanvil.core.quantity.Dimension;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.List;

/** Blocks with continuous states. */
final class Continuous {
    private static final String WHILE_ON = "while on";

    static final BlockType INTEGRATOR = BlockType.named("integrator", "Integrator", Family.PHYSICAL).picture(Pictures::integrator)
            .units(f -> Kinds.integral(f, "u", "y", "initial", "low", "high", "to"))
            .help("dy/dt = u; y = initial at the start, limited to low and high; at a limit, the integral does not increase beyond it. "
            + "While "
                    + "reset is on, y goes back to initial at each tick; or, as chosen, once at each edge of reset, at the instant of the "
                    + "edge "
                    + "and not only at a tick. A reset at an edge sets y to initial or to the value at the input to.")
            .with(real("initial", "0", "", "Value at the start."), real("low", "-inf", "", "Minimum value."),
                    real("high", "inf", "", "Maximum value."), choice("reset", "Condition for a reset.", WHILE_ON, "rising", "falling",
                    "either"),
                    choice("reset to", "What y becomes at an edge.", "initial", "input"))
            .face(s -> {
                Face f = Face.NONE.later("u", Accept.REAL).later("reset", Accept.LOGIC, true);
                return (takesInput(s) ? f.later("to", Accept.REAL) : f).out("y");
            }).summary("1 / s").continuousOnly()
            .does(e -> {
                Limits.ordered(e);
                Type t = e.real();
                var x = e.integrated("x", e.value("initial"));
                var now = Expr.read(x);
                boolean limited = !Double.isInfinite(e.value("low")) || !Double.isInfinite(e.value("high"));
                var low = Expr.of(t, e.value("low"));
                var high = Expr.of(t, e.value("high"));
                e.output("y", limited ? now.clamp(low, high) : now);
                var u = e.in("u");
                var zero = Expr.of(t, 0);
                if (limited) {
                    e.crossing(now.minus(high));
                    e.crossing(now.minus(low));
                    var pushing = now.compare(Expr.Op.GE, high).and(u.gt(zero)).or(now.compare(Expr.Op.LE, low).and(u.lt(zero)));
                    u = zero.when(pushing, u);
                }
                e.derivative(x, u);
                if (e.connected("reset") && e.text("reset").equals(WHILE_ON)) {
                    e.update(x, Expr.of(t, e.value("initial")).when(e.in("reset"), now));
                } else if (e.connected("reset")) {
                    var to = e.text("reset to").equals("input") ? e.in("to") : Expr.of(t, e.value("initial"));
                    e.reset(x, e.in("reset"), e.text("reset"), limited ? to.clamp(low, high) : to);
                }
            });

    static final BlockType TRANSFER = BlockType.named("transfer", "Transfer function", Family.PHYSICAL).picture(Pictures::transfer)
            .help("Y(s)/U(s) = (b0 sᵐ + … + bm) / (a0 sⁿ + … + an), m ≤ n, from rest. Realised in controllable canonical "
                    + "form (Kailath, Linear Systems, 1980, section 2.1).")
            .with(list("num", "[1]", "", "Coefficients b, highest power first."),
                    list("den", "[1, 1]", "", "Coefficients a, highest power first."))
            .face(s -> Lists.count(s.text("num")) < Lists.count(s.text("den"))
                    ? Face.NONE.later("u", Accept.REAL).out("y") : Face.NONE.in("u", Accept.REAL).out("y"))
            .summary("{num} / {den} in s").continuousOnly()
            .does(e -> transfer(e, e.list("num"), e.list("den")));

    static final BlockType ZERO_POLE = BlockType.named("zero-pole", "Zeros and poles", Family.PHYSICAL).picture(Pictures::zerosAndPoles)
            .help("Y(s)/U(s) = gain · Π(s − zero) / Π(s − pole), from rest. Complex zeros and poles come in pairs, written as rows [real "
                    + "part, imaginary part]. There are at most as many zeros as poles.")
            .with(real("gain", "1", "", "The gain factor."), list("zeros", "[]", "", "Real zeros."),
                    list("zero pairs", "[]", "", "Rows [real part, imaginary part]."), list("poles", "[-1]", "", "Real poles."),
                    list("pole pairs", "[]", "", "Rows [real part, imaginary part]."))
            .face(s -> size(s.text("zeros")) + size(s.text("zero pairs")) < size(s.text("poles")) + size(s.text("pole pairs"))
                    ? Face.NONE.later("u", Accept.REAL).out("y") : Face.NONE.in("u", Accept.REAL).out("y"))
            .summary("{gain} · {zeros} / {poles}").continuousOnly()
            .does(e -> {
                double[] num = roots(e.list("zeros"), e.list("zero pairs"));
                for (int i = 0; i < num.length; i++) {
                    num[i] *= e.value("gain");
                }
                transfer(e, num, roots(e.list("poles"), e.list("pole pairs")));
            });

    static final BlockType DELAY = BlockType.named("transport delay", "Transport delay", Family.PHYSICAL).picture(Pictures::transportDelay)
            .units(Kinds.kept("y", "u", "initial"))
            .help("y(t) = u(t − delay); before that, initial. u is kept at every tick of the part, with straight lines in between; the "
            + "delay is "
                    + "at least one tick.")
            .with(real("delay", "0.1 s", "s", "The delay.").atLeast(1e-6), real("initial", "0", "", "y until the first value arrives."))
            .face(Face.NONE.later("u", Accept.REAL).out("y")).summary("{delay} later").continuousOnly()
            .does(Continuous::transportDelay);

    private static final String SIGNAL = "the signal";

    static final BlockType PERIOD_MEAN = BlockType.named("period mean", "Mean over a period", Family.PHYSICAL).picture(Pictures::average)
            .units(f -> f.out("y", f.text("u is").equals(SIGNAL) ? f.in("u") : UnitFlow.over(f.in("u"), Dimension.TIME)))
            .help("y(t) is the mean of a signal over the period before t, at every tick. With the integral of the signal at u, as a Flux "
                    + "meter or a Charge meter gives it, the mean contains every edge within the ticks; with the signal itself it is as "
                    + "fine "
                    + "as the ticks. In the first period, what was before the start counts as 0.")
            .with(real("period", "50 us", "s", "The period, such as that of a carrier.").atLeast(1e-6),
                    choice("u is", "What is at u.", SIGNAL, "its integral"))
            .face(Face.NONE.in("u", Accept.REAL).out("y")).summary("{period}").continuousOnly().does(Continuous::periodMean);

    static final BlockType PID = BlockType.named("continuous pid", "Continuous PID", Family.PHYSICAL)
            .units(f -> f.out("u", f.alike("low", "high")))
            .help("u = kp·e + ki·∫e dt + kd·s/(tf·s + 1)·e, limited to low and high; at a limit, the integral does not grow beyond it.")
            .with(real("kp", "1", "", "Proportional gain.").offered(), real("ki", "0", "per s", "Integral gain.").offered(),
                    real("kd", "0", "times s", "Derivative gain.").offered(),
                    real("tf", "10 ms", "s", "Filter time constant of the derivative.").atLeast(1e-9),
                    real("low", "-inf", "", "Minimum output.").offered(), real("high", "inf", "", "Maximum output.").offered())
            .face(Face.NONE.in("e", Accept.REAL).out("u")).limits("low", "high").summary("{kp} + {ki}/s + {kd} s").continuousOnly()
            .does(e -> {
                Limits.ordered(e);
                Type t = e.real();
                var error = e.in("e");
                var integral = e.integrated("integral", 0);
                var filtered = e.integrated("filtered", 0);
                var lag = e.temp("lag", error.minus(Expr.read(filtered)).times(1 / e.value("tf")));
                var wanted = e.temp("wanted", e.param("kp", t).times(error).plus(Expr.read(integral)).plus(e.param("kd", t).times(lag)));
                var low = e.param("low", t);
                var high = e.param("high", t);
                e.output("u", wanted.clamp(low, high));
                var growth = e.temp("growth", e.param("ki", t).times(error));
                var zero = Expr.of(t, 0);
                var pushing = wanted.gt(high).and(growth.gt(zero)).or(wanted.lt(low).and(growth.lt(zero)));
                e.derivative(integral, zero.when(pushing, growth));
                e.derivative(filtered, lag);
            });

    static final List<BlockType> TYPES = List.of(INTEGRATOR, TRANSFER, ZERO_POLE, DELAY, PERIOD_MEAN, PID);

    private Continuous() {}

    private static boolean takesInput(Settings s) {
        return !s.text("reset").equals(WHILE_ON) && s.text("reset to").equals("input");
    }

    /** How many rows or values a list text has at its outer level; 0 for an empty list. */
    private static int size(String text) {
        return text.replaceAll("[\\[\\]\\s]", "").isEmpty() ? 0 : text.contains("[[") ? Lists.rows(text) * 2 : Lists.count(text);
    }

    /** Coefficients of the polynomial with these roots, highest power first. */
    static double[] roots(double[] real, double[] pairs) {
        double[] p = {1};
        for (double r : real) {
            p = product(p, new double[] {1, -r});
        }
        for (int i = 0; i + 1 < pairs.length; i += 2) {
            p = product(p, new double[] {1, -2 * pairs[i], pairs[i] * pairs[i] + pairs[i + 1] * pairs[i + 1]});
        }
        return p;
    }

    private static double[] product(double[] a, double[] b) {
        double[] c = new double[a.length + b.length - 1];
        for (int i = 0; i < a.length; i++) {
            for (int j = 0; j < b.length; j++) {
                c[i + j] += a[i] * b[j];
            }
        }
        return c;
    }

    private static void transportDelay(Emitter e) {
        Expr y = delayed(e, e.value("delay"), e.value("initial"), e.in("u"));
        if (y != null) {
            e.output("y", y);
        }
    }

    private static void periodMean(Emitter e) {
        double period = e.value("period");
        Expr integral = e.in("u");
        if (e.text("u is").equals(SIGNAL)) {
            Slot sum = e.integrated("sum", 0);
            e.derivative(sum, integral);
            integral = Expr.read(sum);
        }
        Expr before = delayed(e, period, 0, integral);
        if (before != null) {
            e.output("y", integral.minus(before).times(1 / period));
        }
    }

    /** A signal some time before, on straight lines between the ticks; null, with a finding, where that cannot be kept. */
    private static Expr delayed(Emitter e, double delay, double first, Expr u) {
        Type t = e.real();
        double tick = e.tick();
        if (delay < tick * (1 - 1e-9)) {
            e.problem("The delay of " + delay + " s is shorter than the tick of " + tick + " s.",
                    "Shorten the part's step, or leave the delay out.");
            return null;
        }
        if (delay / tick > 1_000_000) {
            e.problem("The delay lasts more than a million ticks.", "Give the part a longer step.");
            return null;
        }
        int n = (int) Math.ceil(delay / tick) + 2;
        double[] initial = new double[n];
        java.util.Arrays.fill(initial, first);
        var past = e.array("past", t, initial);
        var at = e.state("at", Type.INT32, 0);
        var ticks = e.state("ticks", Type.FLOAT64, 0);
        // Ticks since the sample written last, of the instant one looks back to; negative lies in the past.
        var ago = e.temp("ago", Expr.of(delay).minus(e.time()).plus(Expr.read(ticks).minus(Expr.of(1.0)).times(tick)).times(1 / tick));
        var whole = e.temp("whole", ago.plus(Expr.of(1e-9)).call(Expr.Intrinsic.FLOOR).max(Expr.of(0.0)));
        var share = ago.minus(whole).max(Expr.of(0.0)).as(t);
        var back = e.temp("back", whole.as(Type.INT32));
        var newer = e.temp("newer", place(past, Expr.read(at), back));
        var older = e.temp("older", place(past, Expr.read(at), back.plus(Expr.of(Type.INT32, 1))));
        var next = Lists.next(past, Expr.read(at));
        e.after(Lists.store(e, past, next, u));
        e.update(at, next);
        e.update(ticks, Expr.read(ticks).plus(Expr.of(1.0)));
        return newer.plus(older.minus(newer).times(share));
    }

    /** The value that was written {@code back} ticks before the last one. */
    private static Expr place(Slot past, Expr at, Expr back) {
        var i = at.minus(back);
        return Expr.at(past, i.plus(Expr.of(Type.INT32, past.length())).when(i.lt(Expr.of(Type.INT32, 0)), i));
    }

    private static void transfer(Emitter e, double[] b, double[] a) {
        int n = a.length - 1;
        if (n < 1 || a[0] == 0 || b.length > a.length) {
            e.problem("The transfer function needs a denominator of degree 1 or more, not below the numerator's.",
                    "Check num and den; the first value of den must not be 0.");
            return;
        }
        Type t = e.real();
        double[] numerator = new double[n + 1];
        System.arraycopy(b, 0, numerator, n + 1 - b.length, b.length);
        double direct = numerator[0] / a[0];
        List<Slot> x = new ArrayList<>();
        for (int i = 0; i < n; i++) {
            x.add(e.integrated("x" + (i + 1), 0));
        }
        // x1' = x2, …, xn' = (u − an x1 − … − a1 xn) / a0;  y = Σ c_i x_i + d u
        Expr y = null;
        for (int i = 0; i < n; i++) {
            double c = numerator[n - i] - direct * a[n - i];
            if (c != 0) {
                var term = Expr.read(x.get(i)).times(c);
                y = y == null ? term : y.plus(term);
            }
        }
        if (direct != 0) {
            var term = e.in("u").times(direct);
            y = y == null ? term : y.plus(term);
        }
        e.output("y", y == null ? Expr.of(t, 0) : y);
        for (int i = 0; i < n - 1; i++) {
            e.derivative(x.get(i), Expr.read(x.get(i + 1)));
        }
        Expr last = e.in("u").times(1 / a[0]);
        for (int i = 0; i < n; i++) {
            last = last.minus(Expr.read(x.get(i)).times(a[n - i] / a[0]));
        }
        e.derivative(x.get(n - 1), last);
    }
}
