package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.real;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Type;
import java.util.List;

/** Blocks that remember from sample to sample. */
final class Sampled {
    static final BlockType DELAY = BlockType.named("delay", "Unit delay", Family.TIME)
            .help("y[n] = u[n − 1]; y[0] = initial. Breaks an algebraic loop.")
            .with(real("initial", "0", "", "First output."))
            .face(Face.NONE.later("u", Accept.ANY).out("y")).says("one sample later").discreteOnly()
            .does(e -> {
                var kept = e.state("kept", e.typeOf("y"), e.value("initial"));
                e.output("y", Expr.read(kept));
                e.update(kept, e.in("u"));
            });

    static final BlockType INTEGRATOR = BlockType.named("accumulator", "Discrete integrator", Family.TIME)
            .help("y[n+1] = y[n] + k · T · u[n], held between low and high; y = initial at the start and one sample after "
                    + "reset (forward Euler).")
            .with(real("k", "1", "", "Factor.").offered(), real("initial", "0", "", "Value at the start."),
                    real("low", "-inf", "", "Least value.").offered(), real("high", "inf", "", "Greatest value.").offered())
            .face(new Face(List.of(new Face.In("u", Accept.REAL, false, false),
                    new Face.In("reset", Accept.LOGIC, false, true)), List.of("y"))).says("Σ {k} · T · u").discreteOnly()
            .does(e -> {
                Limits.ordered(e);
                var t = e.typeOf("y");
                var sum = e.state("sum", t, e.value("initial"));
                e.output("y", Expr.read(sum));
                var next = Expr.read(sum).plus(e.in("u").times(e.param("k", t)).times(e.sampleTime()))
                        .clamp(e.param("low", t), e.param("high", t));
                e.update(sum, e.connected("reset") ? Expr.of(t, e.value("initial")).when(e.in("reset"), next) : next);
            });

    static final BlockType PID = BlockType.named("pid", "PID controller", Family.TIME)
            .help("y = kp·e + ki·∫e dt + kd·de/dt, held between low and high. Forward Euler; the derivative passes a first-"
                    + "order filter with time constant tf. Anti-windup by conditional integration: while y is at a limit, "
                    + "the integral takes no step that would push further (Åström and Hägglund, Advanced PID Control, 2006, "
                    + "section 3.5). reset clears the integral and the filter.")
            .with(real("kp", "1", "", "Proportional gain.").offered(), real("ki", "0", "1/s", "Integral gain.").offered(),
                    real("kd", "0", "s", "Derivative gain.").offered(),
                    real("tf", "10 ms", "s", "Filter time constant of the derivative.").atLeast(1e-9),
                    real("low", "-inf", "", "Least output.").offered(), real("high", "inf", "", "Greatest output.").offered())
            .face(Face.NONE.in("e", Accept.REAL).optional("reset", Accept.LOGIC).out("y")).says(Sampled::pidText).discreteOnly()
            .does(Sampled::pid);

    static final BlockType RATE = BlockType.named("rate", "Rate transition", Family.TIME)
            .help("Gives u on at this block's own sample time. From fast to slow the value is taken when the slow task is "
                    + "released; from slow to fast it shows at the slow task's next release.")
            .with(real("initial", "0", "", "Value until the first sample arrives."))
            .face(Face.NONE.in("u", Accept.ANY).out("y")).says("own sample time").discreteOnly()
            .does(e -> e.output("y", e.in("u")));

    static final List<BlockType> TYPES = List.of(DELAY, INTEGRATOR, PID, RATE);

    private Sampled() {}

    private static String pidText(Settings s) {
        String text = s.text("kp");
        if (!s.text("ki").equals("0")) {
            text += " + " + s.text("ki") + "/s";
        }
        return s.text("kd").equals("0") ? text : text + " + " + s.text("kd") + " s";
    }

    private static void pid(Emitter e) {
        Limits.ordered(e);
        Type t = e.typeOf("y");
        double ts = e.sampleTime();
        var error = e.in("e");
        var integral = e.state("integral", t, 0);
        Expr sum = e.param("kp", t).times(error).plus(Expr.read(integral));
        boolean derivative = !(e.param("kd", t) instanceof Expr.Literal kd && kd.value() == 0);
        if (derivative) {
            double tf = e.value("tf");
            if (tf < ts) {
                e.problem("The filter time tf is shorter than the sample time.", "Choose tf of at least " + ts + " s.");
            }
            var filtered = e.state("filtered", t, 0);
            var difference = e.temp("difference", error.minus(Expr.read(filtered)));
            sum = sum.plus(e.param("kd", t).times(difference.over(Expr.of(t, tf))));
            var follows = Expr.read(filtered).plus(difference.times(ts / tf));
            e.update(filtered, resetting(e, error, follows));
        }
        var wanted = e.temp("wanted", sum);
        e.output("y", wanted.clamp(e.param("low", t), e.param("high", t)));
        var growth = e.temp("growth", e.param("ki", t).times(error).times(ts));
        var zero = Expr.of(t, 0);
        var pushing = wanted.gt(e.param("high", t)).and(growth.gt(zero)).or(wanted.lt(e.param("low", t)).and(growth.lt(zero)));
        var kept = e.temp("kept", Expr.read(integral).when(pushing, Expr.read(integral).plus(growth)));
        e.update(integral, resetting(e, zero, kept));
    }

    private static Expr resetting(Emitter e, Expr to, Expr otherwise) {
        return e.connected("reset") ? to.when(e.in("reset"), otherwise) : otherwise;
    }
}
