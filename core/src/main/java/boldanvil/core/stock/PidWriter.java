package boldanvil.core.stock;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Type;

/** States what a PID controller computes from its three errors. */
final class PidWriter {
    private final Emitter e;
    private final Expr proportional;
    private final Expr error;
    private final Expr differentiated;
    private final String output;
    private final Type t;
    private final Expr scale;

    /**
     * @param output the name of its output
     * @param proportional what kp acts on
     * @param error what is integrated
     * @param differentiated what kd acts on
     */
    PidWriter(Emitter e, String output, Expr proportional, Expr error, Expr differentiated) {
        this.e = e;
        this.proportional = Guards.finite(e, "proportional", proportional);
        this.error = error.equals(proportional) ? this.proportional : Guards.finite(e, "error", error);
        this.differentiated = differentiated.equals(error) ? this.error : differentiated;
        this.output = output;
        this.t = e.typeOf(output);
        this.scale = e.text("form").equals("ideal") ? e.param("kp", t) : Expr.of(t, 1);
    }

    void write() {
        Limits.ordered(e);
        double ts = e.sampleTime();
        var zero = Expr.of(t, 0);
        var integral = e.state("integral", t, 0);
        Expr rest = e.param("kp", t).times(proportional);
        if (!isZero("kd")) {
            rest = rest.plus(derivative(ts));
        }
        if (output.equals("u") && e.connected("feed")) {
            rest = rest.plus(Guards.finite(e, "feed", e.in("feed")));
        }
        // Without a track input the sum needs no name of its own.
        boolean tracks = e.connected("manual");
        if (tracks) {
            rest = e.temp("rest", rest);
        }
        var wanted = e.temp("wanted", rest.plus(Expr.read(integral)));
        var low = e.param("low", t);
        var high = e.param("high", t);
        var automatic = wanted.clamp(low, high);
        e.output(output, tracks ? Guards.finite(e, "track", e.in("track")).clamp(low, high).when(e.in("manual"), automatic) : automatic);
        var growth = isZero("ki") ? zero : e.temp("growth", scale.times(e.param("ki", t)).times(error).times(ts));
        Expr next = switch (e.text("anti-windup")) {
            case "none" -> Expr.read(integral).plus(growth);
            case "back-calculation" -> {
                if (e.value("tt") < ts) {
                    e.problem("The tracking time tt is shorter than the sample time.", "Choose tt of at least " + ts + " s.");
                }
                yield Expr.read(integral).plus(growth).plus(Expr.read(e.slotOf(output)).minus(wanted).times(ts / e.value("tt")));
            }
            default -> {
                var pushing = wanted.gt(high).and(growth.gt(zero)).or(wanted.lt(low).and(growth.lt(zero)));
                yield Expr.read(integral).when(pushing, Expr.read(integral).plus(growth));
            }
        };
        if (tracks) {
            next = Expr.read(e.slotOf(output)).minus(rest).when(e.in("manual"), next);
        }
        // Without an integral part nothing could take out again what is put in here.
        next = zero.when(e.param("ki", t).eq(zero), next);
        var kept = e.temp("kept", next);
        e.update(integral, resetting(zero, kept));
    }

    private Expr derivative(double ts) {
        double tf = e.value("tf");
        if (tf < ts) {
            e.problem("The filter time tf is shorter than the sample time.", "Choose tf of at least " + ts + " s.");
        }
        var input = differentiated.equals(error) || differentiated.equals(proportional) ? differentiated
                : Guards.finite(e, "differentiated", differentiated);
        var filtered = e.state("filtered", t, 0);
        // At the first sample there is no change yet, so no kick.
        var began = e.state("began", Type.BOOL, 0);
        var before = e.temp("before", Expr.read(filtered).when(Expr.read(began), input));
        var difference = e.temp("difference", input.minus(before));
        e.update(filtered, resetting(input, before.plus(difference.times(ts / tf))));
        e.update(began, Expr.of(true));
        return scale.times(e.param("kd", t)).times(difference.over(Expr.of(t, tf)));
    }

    private boolean isZero(String parameter) {
        return e.param(parameter, t) instanceof Expr.Literal l && l.value() == 0;
    }

    private Expr resetting(Expr to, Expr otherwise) {
        return e.connected("reset") ? to.when(e.in("reset"), otherwise) : otherwise;
    }
}
