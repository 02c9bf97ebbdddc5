package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.real;

import boldanvil.core.maths.MathFunctions;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.Type;
import boldanvil.core.quantity.Dimension;
import java.util.List;
import java.util.function.BiFunction;

/**
 * Sensors as they are bought: what they measure becomes a voltage, behind a low pass of first order, with offset and noise, within the
 * range of their output, in steps of their resolution.
 */
final class Sensors {
    static final BlockType SHUNT = sensor("shunt amplifier", "Shunt amplifier", "A", (e, i) -> i.times(e.value("R") * e.value("gain")),
            "v = offset + gain · R · i.", real("R", "10 mΩ", "Ω", "Resistance of the shunt.").atLeast(0),
            real("gain", "20", "1", "Gain of the amplifier."), real("offset", "1.65 V", "V", "Output at no current."));

    static final BlockType HALL = sensor("hall sensor", "Hall current sensor", "A", (e, i) -> i.times(e.value("sensitivity")),
            "v = offset + sensitivity · i.", real("sensitivity", "66 mV/A", "V/A", "Change of the output for each ampere."),
            real("offset", "1.65 V", "V", "Output at no current."));

    static final BlockType POTENTIOMETER = sensor("potentiometer", "Potentiometer", "rad",
            (e, x) -> x.times(e.value("supply") / e.value("turn")), "v = offset + supply · angle / whole angle.",
            real("turn", "300°", "rad", "Angle from one end to the other.").atLeast(1e-9),
            real("supply", "3.3 V", "V", "Voltage at its ends."),
            real("offset", "0 V", "V", "Output at the angle 0."));

    static final BlockType THERMISTOR = sensor("thermistor", "Thermistor", "K", Sensors::divided,
            "A resistance with negative temperature coefficient, R = R25 exp(B (1 / T − 1 / 298.15 K)), from the output to ground, and "
                    + "a fixed one from the supply to the output. T counts from 100 K to 1000 K.",
            real("R25", "10 kΩ", "Ω", "Resistance at 25 °C.").atLeast(1e-6), real("B", "3950 K", "K", "Its constant B.").atLeast(1),
            real("Rs", "10 kΩ", "Ω", "The fixed resistance.").atLeast(1e-6), real("supply", "3.3 V", "V", "Voltage at the divider."),
            real("offset", "0 V", "V", "Added to the output."));

    static final BlockType PRESSURE = sensor("pressure sensor", "Pressure sensor", "Pa",
            (e, p) -> p.times(e.value("span") / e.value("range")),
            "v = offset + span · pressure / range.", real("range", "250 bar", "Pa", "Pressure at the upper end.").atLeast(1e-9),
            real("span", "2.64 V", "V", "Change of the output over the range."), real("offset", "0.33 V", "V", "Output at no pressure."));

    static final BlockType LEVEL = sensor("level sensor", "Level sensor", "m", (e, h) -> h.times(e.value("span") / e.value("range")),
            "v = offset + span · level / range.", real("range", "5 m", "m", "Level at the upper end.").atLeast(1e-9),
            real("span", "2.64 V", "V", "Change of the output over the range."), real("offset", "0.33 V", "V", "Output at the level 0."));

    static final BlockType RESOLVER = BlockType.named("resolver", "Resolver", Family.SENSOR).picture(Pictures::rotation)
            .help("sin = offset + peak · sin(p · angle), cos = offset + peak · cos(p · angle), as they are behind the demodulator, with "
                    + "noise.")
            .with(real("p", "1", "1", "Periods of its outputs in one turn.").atLeast(1), real("peak", "1 V", "V", "Peak of its outputs."),
                    real("offset", "1.65 V", "V", "Middle of its outputs."),
                    real("noise", "0 V", "V", "Standard deviation of the noise.").atLeast(0),
                    real("seed", "1", "1", "Start of the noise; a whole number.").atLeast(1).atMost(4e9))
            .face(Face.NONE.in("angle", Accept.REAL).out("sin").out("cos")).summary("{p} per turn").real().does(e -> {
                Type t = e.real();
                Expr x = e.in("angle").times(e.value("p"));
                Expr offset = Expr.of(t, e.value("offset"));
                Expr noise = noise(e);
                e.output("sin", MathFunctions.apply(MathFunctions.SINE, x).times(e.value("peak")).plus(offset).plus(noise));
                e.output("cos", MathFunctions.apply(MathFunctions.COSINE, x).times(e.value("peak")).plus(offset).minus(noise));
            });

    static final BlockType ENCODER = BlockType.named("encoder", "Encoder with index", Family.SENSOR).rounding()
            .picture(Pictures::quadrature)
            .help("angle is rounded down to a quarter of a line; index is on within the first quarter line of each turn.")
            .with(real("lines", "1024", "1", "Lines in one turn.").atLeast(1), real("zero", "0 rad", "rad", "Angle of the index."))
            .face(Face.NONE.in("angle", Accept.REAL).out("rounded").out("index")).summary("{lines} lines")
            .types((output, _, _, real) -> output == 0 ? real : Type.BOOL).does(e -> {
                double quarter = 2 * Math.PI / (4 * e.value("lines"));
                Expr counts = e.temp("counts", e.in("angle").times(1 / quarter).call(Intrinsic.FLOOR));
                e.output("rounded", counts.times(quarter));
                Expr turns = e.temp("turns", e.in("angle").minus(Expr.of(e.real(), e.value("zero"))).times(1 / (2 * Math.PI)));
                e.output("index", turns.minus(turns.call(Intrinsic.FLOOR)).times(2 * Math.PI).lt(Expr.of(e.real(), quarter)));
            });

    static final List<BlockType> TYPES = List.of(SHUNT, HALL, POTENTIOMETER, THERMISTOR, PRESSURE, LEVEL, RESOLVER, ENCODER);

    private Sensors() {}

    private static BlockType sensor(String id, String title, String unit, BiFunction<Emitter, Expr, Expr> voltage, String help,
            Parameter... own) {
        return BlockType.named(id, title, Family.SENSOR).rounding().picture(Pictures::saturation)
                .units(f -> {
                    f.must("u", Dimension.of(unit).orElse(null));
                    f.out("v", Dimension.of("V").orElse(null));
                })
                .help(help + " Behind a low pass of the bandwidth; with noise, within the range of the output, in steps of the resolution.")
                .with(own).with(real("bandwidth", "100 kHz", "Hz", "Frequency at which it has lost 3 dB.").atLeast(1e-6),
                        real("noise", "0 V", "V", "Standard deviation of the noise.").atLeast(0),
                        real("seed", "1", "1", "Start of the noise; a whole number.").atLeast(1).atMost(4e9),
                        real("low", "0 V", "V", "Least output."), real("high", "3.3 V", "V", "Greatest output."),
                        real("resolution", "0 V", "V", "Step of the output; 0 for none.").atLeast(0))
                .face(Face.NONE.later("u", Accept.REAL).out("v")).summary("{bandwidth}").continuousOnly().real().does(e -> {
                    // The first order answers exactly to a value that holds over the tick.
                    double share = -Math.expm1(-2 * Math.PI * e.value("bandwidth") * e.tick());
                    var lag = e.state("lag", e.real(), 0);
                    e.update(lag, Expr.read(lag).plus(voltage.apply(e, e.in("u")).minus(Expr.read(lag)).times(share)));
                    Expr v = Expr.read(lag).plus(Expr.of(e.real(), e.value("offset"))).plus(noise(e));
                    double step = e.value("resolution");
                    Expr held = v.clamp(Expr.of(e.real(), e.value("low")), Expr.of(e.real(), e.value("high")));
                    e.output("v", step > 0 ? held.times(1 / step).call(Intrinsic.RINT).times(step) : held);
                });
    }

    private static Expr noise(Emitter e) {
        return e.value("noise") > 0 ? Sources.normal(e).times(e.value("noise")).as(e.real()) : Expr.of(e.real(), 0);
    }

    private static Expr divided(Emitter e, Expr kelvin) {
        Type t = kelvin.type();
        Expr exponent = Expr.of(t, 1).over(kelvin.clamp(Expr.of(t, 100), Expr.of(t, 1000))).minus(Expr.of(t, 1 / 298.15))
                .times(e.value("B"));
        Expr r = MathFunctions.apply(MathFunctions.EXPONENTIAL, exponent).times(e.value("R25"));
        return r.over(r.plus(Expr.of(t, e.value("Rs")))).times(e.value("supply"));
    }
}
