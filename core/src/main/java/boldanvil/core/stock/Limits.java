package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.real;

import boldanvil.core.program.Expr;
import java.util.List;

/** Bounds and other deliberate non-linearities. */
final class Limits {
    static final BlockType SATURATION = BlockType.named("saturation", "Saturation", Family.LIMIT)
            .help("y = u held between low and high.")
            .with(real("low", "-1", "", "Least output.").offered(), real("high", "1", "", "Greatest output.").offered())
            .face(Face.NONE.in("u", Accept.NUMBER).out("y")).says("{low} ≤ y ≤ {high}")
            .does(e -> {
                ordered(e);
                var t = e.typeOf("y");
                e.output("y", e.in("u").clamp(e.param("low", t), e.param("high", t)));
            });

    static final BlockType DEAD_ZONE = BlockType.named("deadzone", "Dead zone", Family.LIMIT)
            .help("y = 0 between low and high; outside, the distance to the nearer of them.")
            .with(real("low", "-1", "", "Lower edge.").offered(), real("high", "1", "", "Upper edge.").offered())
            .face(Face.NONE.in("u", Accept.NUMBER).out("y")).says("0 in {low} … {high}")
            .does(e -> {
                ordered(e);
                var t = e.typeOf("y");
                var u = e.in("u");
                e.output("y", u.minus(u.clamp(e.param("low", t), e.param("high", t))));
            });

    static final BlockType RATE_LIMIT = BlockType.named("ratelimit", "Rate limiter", Family.LIMIT)
            .help("y follows u, but rises no faster than rising and falls no faster than falling. At the first sample "
                    + "y = initial.")
            .with(real("rising", "1", "1/s", "Fastest rise per second.").atLeast(0).offered(),
                    real("falling", "1", "1/s", "Fastest fall per second.").atLeast(0).offered(),
                    real("initial", "0", "", "Value before the first sample."))
            .face(Face.NONE.in("u", Accept.REAL).optional("reset", Accept.LOGIC).out("y"))
            .says("−{falling} … {rising} per s").discreteOnly()
            .does(e -> {
                var t = e.typeOf("y");
                var last = e.state("last", t, e.value("initial"));
                var before = Expr.read(last);
                var least = e.temp("least", before.minus(e.param("falling", t).times(e.sampleTime())));
                var greatest = e.temp("greatest", before.plus(e.param("rising", t).times(e.sampleTime())));
                var limited = e.in("u").clamp(least, greatest);
                var value = e.connected("reset") ? e.in("u").when(e.in("reset"), limited) : limited;
                e.output("y", value);
                e.update(last, Expr.read(e.slotOf("y")));
            });

    static final List<BlockType> TYPES = List.of(SATURATION, DEAD_ZONE, RATE_LIMIT);

    private Limits() {}

    static void ordered(Emitter e) {
        if (e.value("low") > e.value("high")) {
            e.problem("low (" + e.value("low") + ") lies above high (" + e.value("high") + ").", "Exchange the two values.");
        }
    }
}
