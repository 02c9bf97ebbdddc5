package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.choice;
import static boldanvil.core.stock.Parameter.real;

import boldanvil.core.maths.MathFunctions;
import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Type;
import boldanvil.core.quantity.Dimension;
import java.util.List;

/**
 * Blocks for electric drives and power converters. Transformations as in Krause, Wasynczuk, Sudhoff and Pekarek, Analysis of
 * Electric Machinery and Drive Systems, 2013, chapter 3, with the d axis at the angle θ from phase a and the q axis a quarter turn
 * ahead of it.
 */
final class Drives {
    private static final double ROOT3 = Math.sqrt(3);
    private static final Parameter SCALING = choice("keeps", "What the transformation preserves.", "amplitude", "power");

    static final BlockType CLARKE = BlockType.named("clarke", "Clarke transformation", Family.DRIVE).picture(Pictures::toAlphaBeta)
            .units(f -> {
                Dimension d = f.alike("a", "b", "c");
                f.out("alpha", d);
                f.out("beta", d);
                f.out("zero", d);
            })
            .help("From three phases to two stationary axes. Keeping the amplitude: α = (2a − b − c)/3, β = (b − c)/√3, zero = (a + b + "
                    + "c)/3. Keeping the power: α and β are √(3/2), zero √3 times as large.")
            .with(SCALING).face(Face.NONE.in("a", Accept.REAL).in("b", Accept.REAL).in("c", Accept.REAL).out("alpha").out("beta")
            .out("zero"))
            .summary("abc → αβ, keeps {keeps}")
            .does(e -> {
                boolean power = e.text("keeps").equals("power");
                double k = power ? Math.sqrt(1.5) : 1;
                var a = e.in("a");
                var b = e.in("b");
                var c = e.in("c");
                e.output("alpha", a.times(2).minus(b).minus(c).times(k / 3));
                e.output("beta", b.minus(c).times(k / ROOT3));
                e.output("zero", a.plus(b).plus(c).times(power ? 1 / ROOT3 : 1.0 / 3));
            });

    static final BlockType CLARKE_BACK = BlockType.named("inverse clarke", "Inverse Clarke", Family.DRIVE).picture(Pictures::fromAlphaBeta)
            .units(f -> {
                Dimension d = f.alike("alpha", "beta", "zero");
                f.out("a", d);
                f.out("b", d);
                f.out("c", d);
            })
            .help("From two stationary axes to three phases; the inverse of the Clarke transformation. An open zero input counts as 0.")
            .with(SCALING).face(Face.NONE.in("alpha", Accept.REAL).in("beta", Accept.REAL).optional("zero", Accept.REAL).out("a").out("b")
            .out("c"))
            .summary("αβ → abc, keeps {keeps}")
            .does(e -> {
                boolean power = e.text("keeps").equals("power");
                double k = power ? Math.sqrt(2.0 / 3) : 1;
                var alpha = e.in("alpha").times(k);
                var half = e.temp("half", e.in("alpha").times(-k / 2));
                var side = e.temp("side", e.in("beta").times(k * ROOT3 / 2));
                boolean three = e.connected("zero");
                var zero = e.in("zero").times(power ? 1 / ROOT3 : 1);
                e.output("a", three ? alpha.plus(zero) : alpha);
                e.output("b", three ? half.plus(side).plus(zero) : half.plus(side));
                e.output("c", three ? half.minus(side).plus(zero) : half.minus(side));
            });

    static final BlockType PARK = BlockType.named("park", "Park transformation", Family.DRIVE).picture(Pictures::rotation)
            .units(f -> {
                Dimension d = f.alike("alpha", "beta");
                f.out("d", d);
                f.out("q", d);
                f.must("theta", Dimension.NONE);
            })
            .help("From two stationary axes to two axes rotated by θ: d = α cos θ + β sin θ, q = −α sin θ + β cos θ. θ in radians.")
            .face(Face.NONE.in("alpha", Accept.REAL).in("beta", Accept.REAL).in("theta", Accept.REAL).out("d").out("q")).summary("αβ → dq")
            .does(e -> {
                var c = e.temp("cos", MathFunctions.apply(MathFunctions.COSINE, e.in("theta")));
                var s = e.temp("sin", MathFunctions.apply(MathFunctions.SINE, e.in("theta")));
                e.output("d", e.in("alpha").times(c).plus(e.in("beta").times(s)));
                e.output("q", e.in("beta").times(c).minus(e.in("alpha").times(s)));
            });

    static final BlockType PARK_BACK = BlockType.named("inverse park", "Inverse Park", Family.DRIVE).picture(Pictures::rotation)
            .units(f -> {
                Dimension d = f.alike("d", "q");
                f.out("alpha", d);
                f.out("beta", d);
                f.must("theta", Dimension.NONE);
            })
            .help("From two axes rotated by θ to two stationary axes: α = d cos θ − q sin θ, β = d sin θ + q cos θ. θ in radians.")
            .face(Face.NONE.in("d", Accept.REAL).in("q", Accept.REAL).in("theta", Accept.REAL).out("alpha").out("beta")).summary("dq → αβ")
            .does(e -> {
                var c = e.temp("cos", MathFunctions.apply(MathFunctions.COSINE, e.in("theta")));
                var s = e.temp("sin", MathFunctions.apply(MathFunctions.SINE, e.in("theta")));
                e.output("alpha", e.in("d").times(c).minus(e.in("q").times(s)));
                e.output("beta", e.in("d").times(s).plus(e.in("q").times(c)));
            });

    static final BlockType MODULATOR = BlockType.named("modulator", "Three-phase modulator", Family.DRIVE)
            .units(f -> f.alike("alpha", "beta", "Udc"))
            .help("Duty ratios, 0 to 1, of three half bridges that give the voltage (α, β) from the direct voltage Udc. sine: u/Udc + "
            + "1/2, up to an amplitude of Udc/2. min-max: half the sum of the "
                    + "minimum and maximum phase voltage is subtracted from all three, up to Udc/√3. space vector: the same duties from "
                    + "the times of the two neighbouring vectors in one of six sectors (van "
                    + "der Broeck, Skudelny and Stanke, IEEE Trans. Industry Applications 24, 1988); a vector out of range keeps its "
                    + "direction. If Udc is not above 0, all three are 1/2. " + Guards.LIMITS)
            .with(choice("method", "How the zero vector is divided.", "min-max", "space vector", "sine"))
            .face(Face.NONE.in("alpha", Accept.REAL).in("beta", Accept.REAL).in("Udc", Accept.REAL).out("a").out("b").out("c"))
            .summary("{method}")
            .does(Drives::modulate);

    static final BlockType SINE_TRIO = BlockType.named("three-phase sine", "Three-phase sine", Family.DRIVE).picture(Pictures::threeSines)
            .formerly("sine trio")
            .units(f -> {
                f.must("theta", Dimension.NONE);
                f.out("a", f.in("amplitude"));
                f.out("b", f.in("amplitude"));
                f.out("c", f.in("amplitude"));
            })
            .help("Three sines a third of a turn apart: a = amplitude · cos θ, b = amplitude · cos(θ − 2π/3), c = amplitude · cos(θ + "
                    + "2π/3).")
            .face(Face.NONE.in("amplitude", Accept.REAL).in("theta", Accept.REAL).out("a").out("b").out("c")).summary("three phases")
            .does(e -> {
                var c = e.temp("cos", MathFunctions.apply(MathFunctions.COSINE, e.in("theta")).times(e.in("amplitude")));
                var s = e.temp("sin", MathFunctions.apply(MathFunctions.SINE, e.in("theta")).times(e.in("amplitude")));
                var half = e.temp("half", c.times(-0.5));
                var side = e.temp("side", s.times(ROOT3 / 2));
                e.output("a", c);
                e.output("b", half.plus(side));
                e.output("c", half.minus(side));
            });

    static final BlockType CARRIER = BlockType.named("carrier", "Carrier comparison", Family.DRIVE).picture(Pictures::triangle)
            .help("y = whether the reference u lies above a carrier between −1 and 1: a triangle, or a saw-tooth that rises.")
            .with(real("frequency", "10 kHz", "Hz", "Frequency of the carrier.").atLeast(1e-3),
            choice("shape", "Waveform of the carrier.", "triangle", "saw-tooth"),
                    real("phase", "0", "1", "Part of a period that has passed at the start, 0 to 1."))
            .face(Face.NONE.in("u", Accept.REAL).out("y").out("carrier")).summary("{shape}, {frequency}")
            .types((o, _, _, real) -> o == 0 ? Type.BOOL : real)
            .does(e -> {
                var turns = e.temp("turns", e.time().times(e.value("frequency")).plus(Expr.of(e.value("phase"))));
                var share = e.temp("share", turns.minus(turns.call(Intrinsic.FLOOR)));
                var one = Expr.of(1.0);
                var carrier = e.text("shape").equals("triangle") ? one.minus(share.minus(Expr.of(0.5)).call(Intrinsic.ABS).times(4))
                        : share.times(2).minus(one);
                e.output("carrier", carrier.as(e.typeOf("carrier")));
                e.crossing(e.in("u").minus(Expr.read(e.slotOf("carrier"))));
                e.output("y", e.in("u").gt(Expr.read(e.slotOf("carrier"))));
            });

    static final BlockType DEAD_TIME = BlockType.named("dead time", "Dead time", Family.DRIVE)
            .help("Signals for the upper and the lower switch of a half bridge: each is switched on only when the other has been off for "
            + "the "
                    + "dead time, rounded up to whole samples.")
            .with(real("time", "1 us", "s", "The dead time.").atLeast(0))
            .face(Face.NONE.in("on", Accept.LOGIC).out("upper").out("lower")).summary("{time}").type(Type.BOOL).discreteOnly()
            .does(e -> {
                double n = Math.ceil(e.value("time") / e.sampleTime() - 1e-9);
                if (n > 1e9) {
                    e.problem("The dead time lasts more than 10⁹ samples.", "Choose a shorter one.");
                    return;
                }
                var on = e.in("on");
                var last = e.state("last", Type.BOOL, 0);
                var count = e.state("count", Type.INT32, n);
                var limit = Expr.of(Type.INT32, n);
                var now = e.temp("now", Expr.of(Type.INT32, 0).when(on.compare(Op.NE, Expr.read(last)), Expr.read(count)));
                var over = e.temp("over", now.compare(Op.GE, limit));
                e.output("upper", on.and(over));
                e.output("lower", on.not().and(over));
                e.update(last, on);
                e.update(count, now.plus(Expr.of(Type.INT32, 1)).min(limit));
            });

    static final BlockType PLL = BlockType.named("pll", "Phase-locked loop", Family.DRIVE)
            .help("Angle θ, −π to π, and frequency ω in rad/s of the turning vector (α, β): its q component in a frame turned by θ, "
            + "divided by "
                    + "the vector's length, goes through a PI controller (Kaura and Blasko, IEEE Trans. Industry Applications 33, 1997). "
                    + "The "
                    + "loop's natural frequency and damping give kp = 2 ζ ωn and ki = ωn².")
            .with(real("bandwidth", "20 Hz", "Hz", "Natural frequency of the loop.").atLeast(1e-6),
            real("damping", "0.7071", "1", "Damping ratio ζ.")
                    .atLeast(0), real("centre", "50 Hz", "Hz", "Frequency at the start."))
            .face(Face.NONE.later("alpha", Accept.REAL).later("beta", Accept.REAL).out("theta").out("omega"))
            .summary("{bandwidth} around {centre}")
            .discreteOnly()
            .does(e -> {
                Type t = e.typeOf("theta");
                double ts = e.sampleTime();
                double wn = 2 * Math.PI * e.value("bandwidth");
                var theta = e.state("theta", t, 0);
                var omega = e.state("omega", t, 2 * Math.PI * e.value("centre"));
                var integral = e.state("integral", t, 2 * Math.PI * e.value("centre"));
                e.output("theta", Expr.read(theta));
                e.output("omega", Expr.read(omega));
                var cos = later(e, "cos", MathFunctions.apply(MathFunctions.COSINE, Expr.read(theta)));
                var sin = later(e, "sin", MathFunctions.apply(MathFunctions.SINE, Expr.read(theta)));
                var a = e.in("alpha");
                var b = e.in("beta");
                var length = later(e, "length", a.times(a).plus(b.times(b)).call(Intrinsic.SQRT));
                var q = later(e, "q", b.times(cos).minus(a.times(sin)));
                var error = later(e, "error", q.over(length).when(length.gt(Expr.of(t, 1e-9)), Expr.of(t, 0)));
                e.update(integral, Expr.read(integral).plus(error.times(wn * wn * ts)));
                e.update(omega, Expr.read(integral).plus(error.times(2 * e.value("damping") * wn)));
                var next = later(e, "next", Expr.read(theta).plus(Expr.read(omega).times(ts)));
                var turns = next.times(1 / (2 * Math.PI)).plus(Expr.of(t, 0.5)).call(Intrinsic.FLOOR);
                e.update(theta, next.minus(turns.times(2 * Math.PI)));
            });

    static final BlockType ENCODER = BlockType.named("encoder speed", "Encoder speed", Family.DRIVE)
            .help("Angle and speed from the count of an encoder; the count may wrap around. angle, from 0 to below 2π: counted from the "
            + "last "
                    + "index pulse. counts per period: counts within the last n samples, divided by their time; resolution 2π/(counts · n "
                    + "· T). "
                    + "period: one count divided by the time between the last two changes of the count, better at low speed; while no "
                    + "count comes, "
                    + "the speed is at most one count in the time since. both: the better of the two.")
            .with(real("counts", "4096", "1", "Counts per turn.").atLeast(1),
            real("n", "1", "1", "Samples for counts per period.").atLeast(1)
                    .atMost(1000), choice("method", "How speed is measured.", "counts per period", "period", "both"))
            .face(Face.NONE.in("count", Type.INT32).optional("index", Accept.LOGIC).out("angle").out("speed"))
            .summary("{counts} counts, {method}").real()
            .discreteOnly()
            .does(Drives::encoder);

    static final BlockType PER_UNIT = BlockType.named("per unit", "Per unit", Family.DRIVE)
            .units(f -> {
                if (f.text("direction").equals("to per unit")) {
                    f.must("u", f.param("base"));
                } else {
                    f.out("y", f.param("base"));
                }
            })
            .help("y = u / base, or back: y = u · base.")
            .with(real("base", "1", "", "The base value."), choice("direction", "Direction of the conversion.", "to per unit",
            "from per unit"))
            .face(Face.NONE.in("u", Accept.REAL).out("y")).summary("{direction}, base {base}")
            .does(e -> {
                if (e.value("base") == 0) {
                    e.problem("The base is 0.", "Enter the rated value.");
                }
                e.output("y", e.in("u").times(e.text("direction").equals("to per unit") ? 1 / e.value("base") : e.value("base")));
            });

    static final List<BlockType> TYPES = List.of(CLARKE, CLARKE_BACK, PARK, PARK_BACK, MODULATOR, SINE_TRIO, CARRIER, DEAD_TIME, PLL,
            ENCODER,
            PER_UNIT);

    private Drives() {}

    /** A value that only updates use. */
    private static Expr later(Emitter e, String name, Expr value) {
        var s = e.local(name, value.type());
        e.after(new boldanvil.core.program.Stmt.Assign(s, value, e.origin()));
        return Expr.read(s);
    }

    private static void modulate(Emitter e) {
        Type t = e.typeOf("a");
        var zero = Expr.of(t, 0);
        var one = Expr.of(t, 1);
        var udc = e.in("Udc");
        var perVolt = e.temp("per_volt", one.over(udc).when(udc.gt(Expr.of(t, 1e-6)), zero));
        var alpha = e.temp("alpha", Guards.number(e, "alpha", e.in("alpha")).times(perVolt));
        var beta = e.temp("beta", Guards.number(e, "beta", e.in("beta")).times(perVolt));
        if (e.text("method").equals("space vector")) {
            spaceVector(e, alpha, beta);
            return;
        }
        var side = e.temp("side", beta.times(ROOT3 / 2));
        var b = e.temp("b", alpha.times(-0.5).plus(side));
        var c = e.temp("c", alpha.times(-0.5).minus(side));
        Expr shift = Expr.of(t, 0.5);
        if (e.text("method").equals("min-max")) {
            var least = e.temp("least", e.temp("lower", alpha.min(b)).min(c));
            var greatest = e.temp("greatest", e.temp("upper", alpha.max(b)).max(c));
            shift = e.temp("shift", Expr.of(t, 0.5).minus(least.plus(greatest).times(0.5)));
        }
        e.output("a", alpha.plus(shift).clamp(zero, one));
        e.output("b", b.plus(shift).clamp(zero, one));
        e.output("c", c.plus(shift).clamp(zero, one));
    }

    private static void spaceVector(Emitter e, Expr alpha, Expr beta) {
        Type t = alpha.type();
        var zero = Expr.of(t, 0);
        var one = Expr.of(t, 1);
        var x = e.temp("x", beta.times(ROOT3));
        var y = e.temp("y", beta.times(ROOT3 / 2).plus(alpha.times(1.5)));
        var z = e.temp("z", beta.times(ROOT3 / 2).minus(alpha.times(1.5)));
        // Which of the six sectors, 1 to 6 counter-clockwise from phase a; and the times of its first and second vector.
        var upper = beta.compare(Op.GE, zero);
        var sector = e.temp("sector", whole(1).when(z.lt(zero), whole(2).when(y.compare(Op.GE, zero), whole(3)))
                .when(upper, whole(6).when(y.compare(Op.GE, zero), whole(5).when(z.lt(zero), whole(4)))));
        Expr[] first = {z.negated(), y, x, z, y.negated(), x.negated()};
        Expr[] second = {x, z, y.negated(), x.negated(), z.negated(), y};
        var t1 = e.temp("first", chosen(sector, first));
        var t2 = e.temp("second", chosen(sector, second));
        var sum = e.temp("sum", t1.plus(t2));
        var within = e.temp("within", one.when(sum.compare(Op.LE, one), one.over(sum)));
        var early = e.temp("early", t1.times(within));
        var late = e.temp("late", t2.times(within));
        var rest = e.temp("rest", one.minus(early).minus(late).times(0.5));
        // In odd sectors the second vector adds a bridge to the first; in even ones it takes one away.
        var both = e.temp("both", rest.plus(early).plus(late));
        var longer = e.temp("longer", rest.plus(early));
        var shorter = e.temp("shorter", rest.plus(late));
        e.output("a", chosen(sector, new Expr[] {both, longer, rest, rest, shorter, both}));
        e.output("b", chosen(sector, new Expr[] {shorter, both, both, longer, rest, rest}));
        e.output("c", chosen(sector, new Expr[] {rest, rest, shorter, both, both, longer}));
    }

    private static Expr whole(int n) {
        return Expr.of(Type.INT32, n);
    }

    private static Expr chosen(Expr sector, Expr[] values) {
        Expr result = values[5];
        for (int i = 4; i >= 0; i--) {
            result = values[i].when(sector.eq(whole(i + 1)), result);
        }
        return result;
    }

    private static void encoder(Emitter e) {
        Type t = e.typeOf("speed");
        double perCount = 2 * Math.PI / e.value("counts");
        double ts = e.sampleTime();
        int n = (int) Math.rint(e.value("n"));
        var count = e.in("count");
        var origin = e.state("origin", Type.INT32, 0);
        var from = e.temp("from", count.when(e.in("index"), Expr.read(origin)));
        e.update(origin, from);
        var counted = e.temp("counted", count.minus(from).as(Type.FLOAT64));
        var turns = counted.times(1 / e.value("counts"));
        e.output("angle", counted.minus(turns.call(Intrinsic.FLOOR).times(e.value("counts"))).times(perCount).as(t));
        var began = e.state("began", Type.BOOL, 0);
        e.update(began, Expr.of(true));
        Expr perPeriod = null;
        String method = e.text("method");
        if (!method.equals("period")) {
            Expr old;
            if (n == 1) {
                var last = e.state("last", Type.INT32, 0);
                old = Expr.read(last);
                e.update(last, count);
            } else {
                var past = e.array("past", Type.INT32, new double[n]);
                var at = e.state("at", Type.INT32, 0);
                old = Expr.at(past, Expr.read(at));
                var filled = e.state("filled", Type.INT32, 0);
                e.after(Lists.store(e, past, Expr.read(at), count));
                e.update(at, Lists.next(past, Expr.read(at)));
                e.update(filled, Expr.read(filled).plus(Expr.of(Type.INT32, 1)).min(Expr.of(Type.INT32, n)));
                old = old.when(Expr.read(filled).compare(Op.GE, Expr.of(Type.INT32, n)), count);
            }
            perPeriod = e.temp("per_period", count.minus(old.when(Expr.read(began), count)).as(t).times(perCount / (n * ts)));
        }
        if (method.equals("counts per period")) {
            e.output("speed", perPeriod);
            return;
        }
        var before = e.state("before", Type.INT32, 0);
        var since = e.state("since", Type.INT32, 0);
        var known = e.state("known", t, 0);
        var step = e.temp("step", count.minus(Expr.read(before).when(Expr.read(began), count)));
        var one = Expr.of(Type.INT32, 1);
        var elapsed = e.temp("elapsed", Expr.read(since).plus(one).min(Expr.of(Type.INT32, 1_000_000_000)));
        var time = elapsed.as(t).times(ts);
        var changed = e.temp("changed", step.compare(Op.NE, Expr.of(Type.INT32, 0)));
        var bound = e.temp("bound", Expr.of(t, perCount).over(time));
        var idle = Expr.read(known).clamp(bound.negated(), bound);
        var perChange = e.temp("per_change", step.as(t).times(perCount).over(time).when(changed, idle));
        e.update(before, count);
        e.update(since, Expr.of(Type.INT32, 0).when(changed, elapsed));
        e.update(known, perChange);
        // Where many counts fall into the window, counting them is finer than timing the last one.
        e.output("speed", perPeriod == null ? perChange : perPeriod.when(
                perPeriod.call(Intrinsic.ABS).gt(Expr.of(t, 8 * perCount / (n * ts))), perChange));
    }
}
