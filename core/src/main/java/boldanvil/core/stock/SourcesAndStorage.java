package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.list;
import static boldanvil.core.stock.Parameter.real;

import boldanvil.core.diagram.Side;
import boldanvil.core.maths.MathFunctions;
import boldanvil.core.network.Domain;
import boldanvil.core.network.Element;
import boldanvil.core.network.Element.Branch;
import boldanvil.core.network.Element.Switching;
import boldanvil.core.network.Form;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Intrinsic;
import java.util.List;

/** What supplies a circuit and what stores more than a coil or a capacitor does. */
final class SourcesAndStorage {
    /** Boltzmann's constant over the elementary charge, V/K (SI brochure, 2019, exact values of k and e). */
    private static final double THERMAL_VOLTAGE = 1.380649e-23 / 1.602176634e-19;
    private static final double STANDARD_SUN = 1000;

    static final BlockType AC = BlockType.named("ac source", "AC source", Family.ELECTRICAL).picture(Symbols::alternating)
            .help("The potential of contact a is V sin(2π frequency t + phase) above that of contact b.")
            .with(real("V", "325 V", "V", "Peak value."), real("frequency", "50 Hz", "Hz", "Frequency.").atLeast(1e-6),
                    real("phase", "0 rad", "rad", "Phase at the start."))
            .face(Circuits.UPRIGHT).summary("{V} {frequency}").element(e -> {
                Form[] turning = turning(e, e.value("frequency"), e.value("phase"));
                e.equation(e.branch("a", "b").across().minus(turning[0].times(e.value("V"))));
            });

    static final BlockType THREE_PHASE = BlockType.named("three-phase source", "Three-phase source", Family.ELECTRICAL)
            .picture(Symbols::threePhase)
            .help("The potentials of a, b and c over n are sines of the peak value V, each 120° behind the one before; the voltage between "
                    + "two of them is √3 times that.")
            .with(real("V", "325 V", "V", "Peak value of a phase."), real("frequency", "50 Hz", "Hz", "Frequency.").atLeast(1e-6),
                    real("phase", "0 rad", "rad", "Phase of a at the start."))
            .face(Face.NONE.contact("n", Side.LEFT, Domain.ELECTRICAL).contact("a", Side.RIGHT, Domain.ELECTRICAL)
                    .contact("b", Side.RIGHT, Domain.ELECTRICAL).contact("c", Side.RIGHT, Domain.ELECTRICAL))
            .summary("{V} {frequency}").element(e -> {
                Form[] turning = turning(e, e.value("frequency"), e.value("phase"));
                double v = e.value("V");
                for (int k = 0; k < 3; k++) {
                    double lag = -2 * Math.PI * k / 3;
                    Form sine = turning[0].times(Math.cos(lag)).plus(turning[1].times(Math.sin(lag)));
                    e.equation(e.branch(List.of("a", "b", "c").get(k), "n").across().minus(sine.times(v)));
                }
            });

    static final BlockType LOAD_STEP = BlockType.named("load step", "Load step", Family.ELECTRICAL).picture(Symbols::load)
            .help("Takes a constant current from contact a to contact b: one while 'on' is true, another one else.")
            .with(real("I on", "1 A", "A", "Current while on."), real("I off", "0 A", "A", "Current while not on."))
            .face(Circuits.UPRIGHT.in("on", Accept.LOGIC)).summary("{I on}").element(e -> {
                Branch x = e.branch("a", "b");
                e.equation(Switching.by("on"), x.through().minus(Form.of(e.value("I on"))), x.through().minus(Form.of(e.value("I off"))));
            });

    static final BlockType BATTERY = BlockType.named("battery", "Battery", Family.ELECTRICAL).picture(Symbols::battery)
            .help("v = open-circuit voltage(charge) + R i + v1, d(charge)/dt = i / capacity, dv1/dt = i / C1 − v1 / (R1 C1); the current i "
                    + "flows into contact a. The open-circuit voltage is interpolated in straight lines.")
            .with(real("capacity", "7 A·h", "C", "Charge when full.").atLeast(1e-9),
                    real("charge0", "0.5", "1", "Charge at the start, 0 to 1."),
                    list("charges", "[0, 0.1, 0.3, 0.6, 0.9, 1]", "1", "Charges for which the open-circuit voltage is known, rising."),
                    list("voltages", "[11.4, 11.9, 12.2, 12.5, 12.85, 13.1]", "V", "Open-circuit voltage at each of them."),
                    real("R", "40 mΩ", "Ω", "Resistance.").atLeast(0), real("R1", "30 mΩ", "Ω", "Resistance of the slow part.")
                    .atLeast(1e-9),
                    real("C1", "2000 F", "F", "Capacitance of the slow part.").atLeast(1e-9))
            .face(Circuits.UPRIGHT.out("charge")).summary("{capacity}").element(SourcesAndStorage::battery);

    static final BlockType SOLAR = BlockType.named("solar panel", "Solar panel", Family.ELECTRICAL).picture(Symbols::solar)
            .help("Single-diode model: i = Isc · sun / 1000 W/m² − I0 (exp(z / a) − 1) − z / Rp, z = v + Rs i, a = ideality · cells · k T "
            + "/ q; "
                    + "the current i flows out of contact a. I0 follows from Isc and Voc.")
            .with(real("Isc", "1.2 A", "A", "Short-circuit current at 1000 W/m².").atLeast(1e-9),
                    real("Voc", "21.6 V", "V", "Open-circuit voltage at 1000 W/m².").atLeast(1e-3),
                    real("cells", "36", "1", "Cells in series.").atLeast(1),
                    real("ideality", "1.3", "1", "Ideality of the diode.").atLeast(0.1),
                    real("T", "298.15 K", "K", "Temperature of the cells.").atLeast(1),
                    real("Rs", "0.3 Ω", "Ω", "Resistance in series.").atLeast(0),
                    real("Rp", "400 Ω", "Ω", "Resistance in parallel.").atLeast(1e-3),
                    real("sun", "1000 W/m²", "W/m²", "Irradiance, to which a signal at u is added."))
            .face(Circuits.UPRIGHT.optional("u", Accept.REAL)).signal("u", "W/m²").summary("{Voc} {Isc}").element(SourcesAndStorage::solar);

    static final BlockType SATURABLE = BlockType.named("saturable inductor", "Saturable inductor", Family.ELECTRICAL)
            .picture(Symbols::saturable)
            .help("v = R i + dψ/dt. Below the saturation current ψ = L i, above it the flux grows with the saturated inductance.")
            .with(real("L", "1 mH", "H", "Inductance below saturation.").atLeast(1e-15),
                    real("Ls", "0.1 mH", "H", "Inductance in saturation.").atLeast(1e-15),
                    real("Is", "2 A", "A", "Current at which it saturates.").atLeast(1e-12),
                    real("R", "0.1 Ω", "Ω", "Resistance of the winding.").atLeast(0))
            .face(Statements.two(Domain.ELECTRICAL)).summary("{L}").element(e -> {
                Branch x = e.branch("a", "b");
                Form flux = e.unknown();
                double knee = e.value("L") * e.value("Is");
                double factor = 1 / e.value("Ls") - 1 / e.value("L");
                Form beyond = e.function(a -> {
                    Expr psi = a.getFirst();
                    Expr soft = Expr.of(psi.type(), 0.0025 * knee * knee);
                    Expr up = psi.minus(Expr.of(psi.type(), knee));
                    Expr down = psi.plus(Expr.of(psi.type(), knee));
                    return up.times(up).plus(soft).call(Intrinsic.SQRT).minus(down.times(down).plus(soft).call(Intrinsic.SQRT))
                            .times(0.5).plus(psi).times(factor);
                }, flux);
                e.equation(Statements.resistance(x, e.value("R")).minus(e.rate(flux, 0)));
                e.equation(x.through().minus(flux.times(1 / e.value("L"))).minus(beyond));
            });

    static final List<BlockType> TYPES = List.of(AC, THREE_PHASE, LOAD_STEP, BATTERY, SOLAR, SATURABLE);

    private SourcesAndStorage() {}

    /** Sine and cosine of an angle that grows evenly, as two quantities that turn into each other, so that no step is too long for them. */
    private static Form[] turning(Element e, double frequency, double phase) {
        double w = 2 * Math.PI * frequency;
        Form sine = e.unknown();
        Form cosine = e.unknown();
        e.equation(e.rate(sine, Math.sin(phase)).minus(cosine.times(w)));
        e.equation(e.rate(cosine, Math.cos(phase)).plus(sine.times(w)));
        return new Form[] {sine, cosine};
    }

    private static void battery(Element e) {
        double[] charges = e.list("charges");
        double[] voltages = e.list("voltages");
        if (charges.length < 2 || charges.length != voltages.length || !rises(charges)) {
            e.problem("The open-circuit voltage needs two or more charges that rise, and a voltage for each.",
                    "Enter as many numbers in 'charges' as in 'voltages'.");
        }
        Branch x = e.branch("a", "b");
        Form charge = e.unknown();
        Form slow = e.unknown();
        Form open = e.function(a -> interpolated(a.getFirst(), charges, voltages), charge);
        e.equation(e.rate(charge, e.value("charge0")).times(e.value("capacity")).minus(x.through()));
        e.equation(e.rate(slow, 0).times(e.value("C1")).minus(x.through()).plus(slow.times(1 / e.value("R1"))));
        e.equation(Statements.resistance(x, e.value("R")).minus(open).minus(slow));
        e.output("charge", charge);
    }

    private static boolean rises(double[] all) {
        for (int i = 1; i < all.length; i++) {
            if (!(all[i] > all[i - 1])) {
                return false;
            }
        }
        return true;
    }

    /** In straight lines, which go on beyond the ends. */
    private static Expr interpolated(Expr x, double[] at, double[] values) {
        int last = Math.min(at.length, values.length) - 1;
        Expr y = Expr.of(x.type(), values[last]);
        for (int i = last - 1; i >= 0; i--) {
            double slope = (values[i + 1] - values[i]) / (at[i + 1] - at[i]);
            Expr line = x.minus(Expr.of(x.type(), at[i])).times(slope).plus(Expr.of(x.type(), values[i]));
            y = i == last - 1 ? line : line.when(x.lt(Expr.of(x.type(), at[i + 1])), y);
        }
        return y;
    }

    private static void solar(Element e) {
        double a = e.value("ideality") * e.value("cells") * THERMAL_VOLTAGE * e.value("T");
        double isc = e.value("Isc");
        double saturation = (isc - e.value("Voc") / e.value("Rp")) / Math.expm1(e.value("Voc") / a);
        if (!(saturation > 0)) {
            e.problem("The resistance in parallel takes the whole current at the open-circuit voltage.",
                    "Choose an Rp above Voc / Isc.");
        }
        // Beyond fifty times the greatest current the curve goes on as a line, so that no guess leads to infinity.
        double knee = Math.log(50 * isc / saturation + 1);
        Branch x = e.branch("a", "b");
        Form inner = x.across().minus(x.through().times(e.value("Rs")));
        Form diode = e.function(z -> {
            Expr y = z.getFirst().times(1 / a);
            Expr bound = Expr.of(y.type(), knee);
            Expr held = y.min(bound);
            Expr power = MathFunctions.apply(MathFunctions.EXPONENTIAL, held);
            return power.minus(Expr.of(y.type(), 1)).plus(y.minus(held).times(Math.exp(knee))).times(saturation);
        }, inner);
        Form photo = Form.of(e.value("sun")).plus(e.input("u")).times(isc / STANDARD_SUN);
        e.equation(x.through().plus(photo).minus(diode).minus(inner.times(1 / e.value("Rp"))));
    }
}
