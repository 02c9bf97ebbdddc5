package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.choice;
import static boldanvil.core.stock.Parameter.real;

import boldanvil.core.maths.MathFunctions;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Type;
import boldanvil.core.quantity.Dimension;
import java.util.List;

/** Bounds and other deliberate non-linearities. */
final class Limits {
    static final BlockType SATURATION = BlockType.named("saturation", "Saturation", Family.LIMIT).picture(Pictures::saturation)
            .units(Kinds.kept("y", "u", "low", "high"))
            .help("y = u limited to low and high. " + Guards.LIMITS)
            .with(real("low", "-1", "", "Minimum output.").offered(), real("high", "1", "", "Maximum output.").offered())
            .face(Face.NONE.in("u", Accept.NUMBER).out("y")).limits("low", "high").summary("{low} ≤ y ≤ {high}")
            .does(e -> {
                ordered(e);
                var t = e.typeOf("y");
                var u = e.in("u");
                breaks(e, u);
                e.output("y", Guards.number(e, u).clamp(e.param("low", t), e.param("high", t)));
            });

    static final BlockType DEAD_ZONE = BlockType.named("deadzone", "Dead zone", Family.LIMIT).picture(Pictures::deadZone)
            .units(Kinds.kept("y", "u", "low", "high"))
            .help("y = 0 between low and high; outside, the distance to the nearer limit. " + Guards.LIMITS)
            .with(real("low", "-1", "", "Lower edge.").offered(), real("high", "1", "", "Upper edge.").offered())
            .face(Face.NONE.in("u", Accept.NUMBER).out("y")).summary("0 in {low} … {high}")
            .does(e -> {
                ordered(e);
                var t = e.typeOf("y");
                var u = Guards.number(e, e.in("u"));
                breaks(e, u);
                e.output("y", u.minus(u.clamp(e.param("low", t), e.param("high", t))));
            });

    static final BlockType RATE_LIMIT = BlockType.named("ratelimit", "Rate limiter", Family.LIMIT).picture(Pictures::rateLimit)
            .units(f -> {
                Dimension d = f.alike("u", "initial");
                f.out("y", d);
                f.must("rising", UnitFlow.over(d, Dimension.TIME));
                f.must("falling", UnitFlow.over(d, Dimension.TIME));
            })
            .help("y follows u, but changes no faster than the limits rising and falling; before the first sample y was initial, so the "
            + "first "
                    + "sample differs from it by one step's change at most. " + Guards.STATES)
            .with(real("rising", "1", "per s", "Fastest rise per second.").atLeast(0).offered(),
                    real("falling", "1", "per s", "Fastest fall per second.").atLeast(0).offered(),
                    real("initial", "0", "", "Value before the first sample."))
            .face(Face.NONE.in("u", Accept.REAL).optional("reset", Accept.LOGIC).out("y"))
            .summary("−{falling} … {rising} per s").discreteOnly()
            .does(e -> {
                var t = e.typeOf("y");
                var u = Guards.finite(e, e.in("u"));
                var last = e.state("last", t, e.value("initial"));
                var before = Expr.read(last);
                var least = e.temp("least", before.minus(e.param("falling", t).times(e.sampleTime())));
                var greatest = e.temp("greatest", before.plus(e.param("rising", t).times(e.sampleTime())));
                var limited = u.clamp(least, greatest);
                var value = e.connected("reset") ? u.when(e.in("reset"), limited) : limited;
                e.output("y", value);
                e.update(last, Expr.read(e.slotOf("y")));
            });

    static final BlockType LIMITER = BlockType.named("limiter", "Saturation, variable limits", Family.LIMIT).picture(Pictures::limiter)
            .units(Kinds.kept("y"))
            .help("y = u held between the inputs low and high; if low is above high, y = high. " + Guards.LIMITS)
            .face(Face.NONE.in("u", Accept.NUMBER).in("low", Accept.NUMBER).in("high", Accept.NUMBER).out("y")).limits("low", "high")
            .summary("low ≤ y ≤ high")
            .does(e -> e.output("y", e.temp("raised", Guards.number(e, e.in("u")).max(e.in("low"))).min(e.in("high"))));

    static final BlockType QUANTISER = BlockType.named("quantiser", "Quantiser", Family.LIMIT).picture(Pictures::quantiser)
            .units(Kinds.kept("y", "u", "step", "offset"))
            .help("y = u rounded to whole multiples of the step, halves upwards, offset by the offset.")
            .with(real("step", "1", "", "Distance between two levels.").atLeast(1e-300), real("offset", "0", "", "A level."))
            .face(Face.NONE.in("u", Accept.REAL).out("y")).rounding().summary("steps of {step}")
            .does(e -> {
                Type t = e.typeOf("y");
                double q = e.value("step");
                var offset = Expr.of(t, e.value("offset"));
                e.output("y", e.in("u").minus(offset).over(Expr.of(t, q)).plus(Expr.of(t, 0.5)).call(Expr.Intrinsic.FLOOR).times(q)
                        .plus(offset));
            });

    static final BlockType HYSTERESIS = BlockType.named("hysteresis", "Hysteresis", Family.LIMIT).picture(Pictures::loop)
            .units(Kinds.compared("u", "low", "high"))
            .help("y becomes true above high and false below low, and keeps its value in between.")
            .with(real("low", "-1", "", "Below it, y is false.").offered(), real("high", "1", "", "Above it, y is true.").offered(),
                    choice("initial", "y at the start.", "off", "on"))
            .face(Face.NONE.in("u", Accept.NUMBER).out("y")).summary("on above {high}, off below {low}").type(Type.BOOL)
            .does(e -> {
                ordered(e);
                e.output("y", switched(e));
            });

    static final BlockType RELAY = BlockType.named("relay", "Relay", Family.LIMIT).picture(Pictures::loop)
            .units(f -> {
                f.alike("u", "low", "high");
                f.out("y", f.alike("on", "off"));
            })
            .help("y = on above high and off below low, and keeps its value in between.")
            .with(real("low", "-0.1", "", "Below it, y = off.").offered(), real("high", "0.1", "", "Above it, y = on.").offered(),
                    real("on", "1", "", "Value when switched on.").offered(), real("off", "-1", "", "Value when switched off.").offered(),
                    choice("initial", "State at the start.", "off", "on"))
            .face(Face.NONE.in("u", Accept.REAL).out("y")).summary("{on} above {high}, {off} below {low}")
            .does(e -> {
                ordered(e);
                Type t = e.typeOf("y");
                e.output("y", e.param("on", t).when(switched(e), e.param("off", t)));
            });

    static final BlockType BACKLASH = BlockType.named("backlash", "Backlash", Family.LIMIT).picture(Pictures::backlash)
            .units(Kinds.kept("y", "u", "width", "initial"))
            .help("y follows u only when u has crossed the play of the given width: u − width/2 ≤ y ≤ u + width/2.")
            .with(real("width", "1", "", "Width of the play.").atLeast(0), real("initial", "0", "", "y before the start."))
            .face(Face.NONE.in("u", Accept.REAL).out("y")).summary("play of {width}")
            .does(e -> {
                Type t = e.typeOf("y");
                var kept = e.state("kept", t, e.value("initial"));
                var half = Expr.of(t, e.value("width") / 2);
                var low = e.in("u").minus(half);
                var high = e.in("u").plus(half);
                e.crossing(Expr.read(kept).minus(low));
                e.crossing(Expr.read(kept).minus(high));
                e.output("y", Expr.read(kept).clamp(low, high));
                e.follow(kept, Expr.read(e.slotOf("y")));
            });

    static final BlockType FRICTION = BlockType.named("friction", "Friction", Family.LIMIT).picture(Pictures::friction)
            .units(Limits::frictionUnits)
            .help("The force that acts against a velocity v: F = −(Fc + (Fs − Fc) · exp(−(v/vs)²)) · sat(v/v0) − b · v, Coulomb friction "
            + "Fc, "
                    + "static friction Fs with the Stribeck velocity vs, viscous friction b; within ±v0 a straight line replaces the jump "
                    + "at "
                    + "rest (Armstrong-Hélouvry, Dupont and Canudas de Wit, Automatica 30, 1994). Where vs = 0: no Stribeck effect.")
            .with(real("Fc", "1", "N or N·m", "Coulomb friction.").atLeast(0).offered(),
            real("Fs", "1", "N or N·m", "Static friction.").atLeast(0).offered(),
                    real("vs", "0", "m/s or rad/s", "Stribeck velocity.").atLeast(0),
                    real("b", "0", "N·s/m or N·m·s", "Viscous friction.").atLeast(0).offered(),
                    real("v0", "1e-3", "m/s or rad/s", "Half width of the line through rest.").atLeast(1e-12))
            .face(Face.NONE.in("v", Accept.REAL).out("F")).summary("Fc {Fc}, Fs {Fs}, b {b}")
            .does(e -> {
                Type t = e.typeOf("F");
                var v = e.in("v");
                var one = Expr.of(t, 1);
                double v0 = e.value("v0");
                e.crossing(v.minus(Expr.of(t, v0)));
                e.crossing(v.plus(Expr.of(t, v0)));
                Expr level = e.param("Fc", t);
                if (e.value("vs") > 0) {
                    var ratio = e.temp("ratio", v.times(1 / e.value("vs")));
                    var bell = MathFunctions.apply(MathFunctions.EXPONENTIAL, ratio.times(ratio).negated());
                    level = level.plus(e.param("Fs", t).minus(e.param("Fc", t)).times(bell));
                }
                var side = v.times(1 / v0).clamp(one.negated(), one);
                e.output("F", level.times(side).plus(e.param("b", t).times(v)).negated());
            });

    static final List<BlockType> TYPES = List.of(SATURATION, LIMITER, DEAD_ZONE, RATE_LIMIT, QUANTISER, HYSTERESIS, RELAY, BACKLASH,
            FRICTION);

    private Limits() {}

    static void ordered(Emitter e) {
        if (e.value("low") > e.value("high")) {
            e.problem("low (" + e.value("low") + ") is above high (" + e.value("high") + ").", "Swap the two values.");
        }
    }

    /** Where u passes low or high, the slope changes. */
    private static void breaks(Emitter e, Expr u) {
        if (u.type().isFloat()) {
            for (String edge : List.of("low", "high")) {
                if (!Double.isInfinite(e.value(edge))) {
                    e.crossing(u.minus(e.param(edge, u.type())));
                }
            }
        }
    }

    private static Expr switched(Emitter e) {
        var u = e.in("u");
        return e.switched("kept", e.text("initial").equals("on"), u, e.param("low", u.type()), e.param("high", u.type()));
    }

    /** A force against a velocity, or a torque against an angular velocity. */
    private static void frictionUnits(UnitFlow f) {
        Dimension d = f.alike("Fc", "Fs");
        f.out("F", d);
        f.must("b", UnitFlow.over(d, f.in("v")));
        f.alike("v", "vs", "v0");
    }
}
