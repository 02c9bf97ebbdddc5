package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.choice;
import static boldanvil.core.stock.Parameter.real;
import static boldanvil.core.stock.Parameter.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.MathFunctions;
import boldanvil.core.program.Type;
import java.util.List;

/** Blocks without inputs. */
final class Sources {
    /** Instants closer than this count as the same; it absorbs the rounding of tick times. Seconds. */
    private static final double SAME_INSTANT = 1e-9;
    private static final Parameter TYPE =
            choice("type", "Type of the value.", "real", "float64", "float32", "int32", "uint16", "bool");

    private static final Face COUNTER_FACE = new Face(List.of(new Face.In("go", Accept.LOGIC, false, true),
            new Face.In("reset", Accept.LOGIC, false, true)), List.of("y"));

    static final BlockType CONSTANT = BlockType.named("constant", "Constant", Family.SOURCE)
            .help("y = value. Never changes, so it costs nothing at any sample time.")
            .with(real("value", "1", "", "The value.").offered(), TYPE)
            .face(Face.NONE.out("y")).says("{value}").type((_, s, real) -> typeNamed(s.text("type"), real))
            .role(BlockType.Role.CONSTANT)
            .does(e -> e.output("y", e.param("value", e.typeOf("y"))));

    static final BlockType TUNABLE = BlockType.named("tunable", "Tunable", Family.SOURCE)
            .help("y = value, which may be changed while running, between its limits: a set-point, a gain, a switch.")
            .with(real("value", "0", "", "The value at the start.").always(), text("unit", "", "Unit of the value."),
                    real("low", "-inf", "", "Least value that may be set."),
                    real("high", "inf", "", "Greatest value that may be set."), TYPE)
            .face(Face.NONE.out("y")).says("live {value}").type((_, s, real) -> typeNamed(s.text("type"), real))
            .role(BlockType.Role.CONSTANT)
            .does(e -> e.output("y", e.param("value", e.typeOf("y"))));

    static final BlockType STEP = BlockType.named("step", "Step", Family.SOURCE)
            .help("y = before until the instant, then after.")
            .with(real("at", "1 s", "s", "The instant of the step."),
                    real("before", "0", "", "Value before.").offered(), real("after", "1", "", "Value from then on.").offered(), TYPE)
            .face(Face.NONE.out("y")).says("{before} → {after} at {at}")
            .type((_, s, real) -> typeNamed(s.text("type"), real))
            .does(e -> {
                Type t = e.typeOf("y");
                e.output("y", e.param("after", t).when(
                        e.time().compare(Op.GE, Expr.of(e.value("at") - SAME_INSTANT)), e.param("before", t)));
            });

    static final BlockType PULSE = BlockType.named("pulse", "Pulse train", Family.SOURCE)
            .help("y = amplitude during the first share of each period, 0 in the rest; nothing before the delay.")
            .with(real("amplitude", "1", "", "Height.").offered(), real("period", "1 s", "s", "Period.").atLeast(1e-6),
                    real("share", "0.5", "", "High part of the period, 0 to 1.").atLeast(0).atMost(1),
                    real("delay", "0 s", "s", "When the first pulse begins."))
            .face(Face.NONE.out("y")).says("{amplitude} every {period}").real()
            .does(e -> {
                Type t = e.typeOf("y");
                var cycles = e.temp("cycles", e.time().minus(Expr.of(e.value("delay") - SAME_INSTANT))
                        .over(Expr.of(e.value("period"))));
                var phase = cycles.minus(cycles.call(Intrinsic.FLOOR));
                var high = cycles.compare(Op.GE, Expr.of(0.0)).and(phase.lt(Expr.of(e.value("share"))));
                e.output("y", e.param("amplitude", t).when(high, Expr.of(t, 0)));
            });

    static final BlockType SINE = BlockType.named("sine", "Sine", Family.SOURCE)
            .help("y = amplitude · sin(2π · frequency · t + phase) + bias.")
            .with(real("amplitude", "1", "", "Amplitude.").offered(), real("frequency", "1 Hz", "Hz", "Frequency."),
                    real("phase", "0", "rad", "Phase at t = 0."), real("bias", "0", "", "Mean value.").offered())
            .face(Face.NONE.out("y")).says("{amplitude} sin, {frequency}").real()
            .does(e -> {
                Type t = e.typeOf("y");
                var angle = e.time().times(2 * Math.PI * e.value("frequency")).plus(Expr.of(e.value("phase")));
                var sine = new Expr.Apply(MathFunctions.SINE, angle).as(t);
                e.output("y", e.param("amplitude", t).times(sine).plus(e.param("bias", t)));
            });

    static final BlockType COUNTER = BlockType.named("counter", "Counter", Family.SOURCE)
            .help("Counts samples: 0, 1, 2 … limit − 1, then 0 again. Counts while go holds (or is open); reset makes "
                    + "it 0 at the next sample.")
            .with(real("limit", "100", "", "Number of values.").atLeast(1).atMost(2e9))
            .face(COUNTER_FACE).says("0, 1 … below {limit}").type(Type.INT32)
            .discreteOnly()
            .does(e -> {
                var count = e.state("count", Type.INT32, 0);
                var now = Expr.read(count);
                e.output("y", now);
                var next = now.plus(Expr.of(Type.INT32, 1));
                var wrapped = Expr.of(Type.INT32, 0)
                        .when(next.compare(Op.GE, Expr.of(Type.INT32, Math.floor(e.value("limit")))), next);
                var going = e.connected("go") ? wrapped.when(e.in("go"), now) : wrapped;
                e.update(count, e.connected("reset") ? Expr.of(Type.INT32, 0).when(e.in("reset"), going) : going);
            });

    static final List<BlockType> TYPES = List.of(CONSTANT, TUNABLE, STEP, PULSE, SINE, COUNTER);

    private Sources() {}

    static Type typeNamed(String label, Type real) {
        Type t = Type.labelled(label);
        return t == null ? real : t;
    }
}
