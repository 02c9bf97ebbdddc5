package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.real;

import boldanvil.core.diagram.Side;
import boldanvil.core.network.Domain;
import boldanvil.core.network.Element.Branch;
import boldanvil.core.network.Element.Switching;
import boldanvil.core.network.Form;
import java.util.List;

/** Elements of electrical networks. A current is positive where it flows into contact a. */
final class Circuits {
    private static final Face TWO = Statements.two(Domain.ELECTRICAL);
    static final Face UPRIGHT = Face.NONE.contact("a", Side.TOP, Domain.ELECTRICAL).contact("b", Side.BOTTOM, Domain.ELECTRICAL);
    static final Parameter ON = real("on resistance", "10 mΩ", "Ω", "Resistance while it conducts.").atLeast(1e-9);
    static final Parameter OFF = real("off resistance", "1 MΩ", "Ω", "Resistance while it does not conduct.").atLeast(1);

    static final Parameter FREQUENCY = real("frequency", "20 kHz", "Hz", "Periods per second.").atLeast(1e-3);

    static final BlockType GROUND = BlockType.named("ground", "Ground", Family.ELECTRICAL).picture(Symbols::ground)
            .help("Its contact has the potential 0 V. Every circuit needs one.")
            .face(Face.NONE.contact("a", Side.TOP, Domain.ELECTRICAL)).summary("0 V").element(e -> e.reference("a"));

    static final BlockType RESISTOR = BlockType.named("resistor", "Resistor", Family.ELECTRICAL).picture(Symbols::resistor)
            .help("v = R i, from contact a to contact b.").with(real("R", "10 Ω", "Ω", "Resistance.").atLeast(0)).face(TWO)
            .warming(Side.BOTTOM).summary("{R}").element(e -> e.loses(Statements.resisting(e)));

    static final BlockType INDUCTOR = BlockType.named("inductor", "Inductor", Family.ELECTRICAL).picture(Symbols::inductor)
            .help("v = L di/dt + R i.")
            .with(real("L", "1 mH", "H", "Inductance.").atLeast(1e-15), real("R", "0 Ω", "Ω", "Resistance of the winding.").atLeast(0),
                    real("i0", "0 A", "A", "Current at the start."))
            .face(TWO).summary("{L}").element(e -> {
                Branch x = e.branch("a", "b");
                e.equation(Statements.resistance(x, e.value("R")).minus(e.rate(x.through(), e.value("i0")).times(e.value("L"))));
            });

    static final BlockType CAPACITOR = BlockType.named("capacitor", "Capacitor", Family.ELECTRICAL).picture(Symbols::capacitor)
            .help("i = C d(v − ESR i)/dt.")
            .with(real("C", "100 µF", "F", "Capacitance.").atLeast(1e-18),
                    real("ESR", "0 Ω", "Ω", "Equivalent series resistance.").atLeast(0),
                    real("v0", "0 V", "V", "Voltage at the start."))
            .face(TWO).summary("{C}").element(e -> {
                Branch x = e.branch("a", "b");
                Form inner = x.across().minus(x.through().times(e.value("ESR")));
                e.equation(x.through().minus(e.rate(inner, e.value("v0")).times(e.value("C"))));
            });

    static final BlockType VOLTAGE = BlockType.named("voltage source", "Voltage source", Family.ELECTRICAL).picture(Symbols::voltage)
            .help("The potential of contact a is V + u above that of contact b.")
            .with(real("V", "12 V", "V", "The voltage, to which a signal at u is added."))
            .face(UPRIGHT.optional("u", Accept.REAL)).signal("u", "V").summary("{V}")
            .element(e -> Statements.holding(e, e.branch("a", "b"), "V"));

    static final BlockType CURRENT = BlockType.named("current source", "Current source", Family.ELECTRICAL).picture(Symbols::current)
            .help("The current I + u flows out of contact a and back into contact b.")
            .with(real("I", "1 A", "A", "The current, to which a signal at u is added."))
            .face(UPRIGHT.optional("u", Accept.REAL)).signal("u", "A").summary("{I}").element(e -> {
                Branch x = e.branch("a", "b");
                e.equation(x.through().plus(Form.of(e.value("I"))).plus(e.input("u")));
            });

    static final BlockType VOLTMETER = BlockType.named("voltmeter", "Voltmeter", Family.ELECTRICAL).picture(Symbols::voltmeter)
            .help("v is the potential of contact a less that of contact b. No current flows through it.")
            .face(UPRIGHT.out("v")).summary("→ v").element(e -> {
                Branch x = e.branch("a", "b");
                e.equation(x.through());
                e.output("v", x.across());
            });

    static final BlockType AMMETER = BlockType.named("ammeter", "Ammeter", Family.ELECTRICAL).picture(Symbols::ammeter)
            .help("i is the current from contact a to contact b. There is no voltage across it.")
            .face(TWO.out("i")).summary("→ i").element(e -> Statements.metering(e, "i"));

    static final BlockType FLUX_METER = BlockType.named("flux meter", "Flux meter", Family.ELECTRICAL).picture(Symbols::fluxmeter)
            .help("flux is the integral of the voltage from contact a to contact b since the start. It contains the edges of switches "
                    + "within a step. No current flows through it.")
            .face(UPRIGHT.out("flux")).summary("→ flux").element(e -> {
                Branch x = e.branch("a", "b");
                e.equation(x.through());
                e.output("flux", Statements.integral(e, x.across(), 0));
            });

    static final BlockType CHARGE_METER = BlockType.named("charge meter", "Charge meter", Family.ELECTRICAL).picture(Symbols::chargemeter)
            .help("passed is the charge that has gone from contact a to contact b since the start. There is no voltage across it.")
            .face(TWO.out("passed")).summary("→ passed").element(e -> {
                Branch x = e.branch("a", "b");
                e.equation(x.across());
                e.output("passed", Statements.integral(e, x.through(), 0));
            });

    static final BlockType SWITCH = BlockType.named("circuit switch", "Circuit switch", Family.ELECTRICAL).picture(Symbols::contact)
            .help("While on: v = on resistance · i. While off: v = off resistance · i.").with(ON, OFF)
            .face(TWO.in("on", Accept.LOGIC)).warming(Side.BOTTOM).summary("{on resistance}").element(e -> {
                Branch x = e.branch("a", "b");
                e.loses(x);
                e.equation(Switching.by("on"), Statements.resistance(x, e.value("on resistance")),
                        Statements.resistance(x, e.value("off resistance")));
            });

    static final BlockType DIODE = BlockType.named("diode", "Diode", Family.ELECTRICAL).picture(Symbols::diode)
            .help("While v is above the forward voltage: v = forward voltage + on resistance · i. Else: v = off resistance · i.")
            .with(real("forward voltage", "0.7 V", "V", "Voltage at which it begins to conduct.").atLeast(0), ON, OFF)
            .face(TWO).warming(Side.BOTTOM).summary("{forward voltage}").element(e -> e.loses(PowerStages.diode(e, "a", "b")));

    static final BlockType CHOPPER = BlockType.named("pulsed switch", "Pulsed switch", Family.ELECTRICAL).picture(Symbols::pulsed)
            .help("A circuit switch that is on for the share 'duty' of each period. Its edges come at their instants, also between two "
            + "steps "
                    + "of the solver; the duty is taken at the beginning of each period.")
            .with(FREQUENCY, ON, OFF).face(TWO.in("duty", Accept.REAL)).warming(Side.BOTTOM).summary("{frequency}").element(e -> {
                Branch x = e.branch("a", "b");
                e.loses(x);
                e.equation(Switching.by(PowerStages.pulse(e, "duty", false, 0, false)),
                        Statements.resistance(x, e.value("on resistance")),
                        Statements.resistance(x, e.value("off resistance")));
            });

    static final BlockType TRANSFORMER = BlockType.named("ideal transformer", "Ideal transformer", Family.ELECTRICAL)
            .picture(Symbols::transformer)
            .help("v1 = n v2 and i2 = −n i1; without losses and without magnetising current.")
            .with(real("n", "2", "1", "Turns of the first winding over those of the second."))
            .face(windings()).summary("{n} : 1").element(e -> {
                Branch one = e.branch("a1", "b1");
                Branch two = e.branch("a2", "b2");
                e.equation(one.across().minus(two.across().times(e.value("n"))));
                e.equation(two.through().plus(one.through().times(e.value("n"))));
            });

    static final BlockType COUPLED = BlockType.named("coupled inductors", "Coupled inductors", Family.ELECTRICAL)
            .picture(Symbols::transformer)
            .help("v1 = L1 di1/dt + M di2/dt + R1 i1, v2 = M di1/dt + L2 di2/dt + R2 i2, with M = k √(L1 L2).")
            .with(real("L1", "1 mH", "H", "First inductance.").atLeast(1e-15), real("L2", "1 mH", "H", "Second inductance.").atLeast(1e-15),
                    real("k", "0.98", "1", "Coupling, below 1.").atLeast(-0.999999).atMost(0.999999),
                    real("R1", "0 Ω", "Ω", "Resistance of the first winding.").atLeast(0),
                    real("R2", "0 Ω", "Ω", "Resistance of the second winding.").atLeast(0))
            .face(windings()).summary("{L1}, {L2}").element(e -> {
                Branch one = e.branch("a1", "b1");
                Branch two = e.branch("a2", "b2");
                Form di1 = e.rate(one.through(), 0);
                Form di2 = e.rate(two.through(), 0);
                double m = e.value("k") * Math.sqrt(e.value("L1") * e.value("L2"));
                e.equation(Statements.resistance(one, e.value("R1")).minus(di1.times(e.value("L1"))).minus(di2.times(m)));
                e.equation(Statements.resistance(two, e.value("R2")).minus(di1.times(m)).minus(di2.times(e.value("L2"))));
            });

    static final BlockType DC_MACHINE = BlockType.named("dc machine", "DC machine", Family.ELECTRICAL).picture(Symbols::machine)
            .help("v = R i + L di/dt + k w, torque on the shaft = k i; w is the speed of the shaft. Connect an Inertia to it.")
            .with(real("R", "0.6 Ω", "Ω", "Resistance of the armature.").atLeast(0),
                    real("L", "0.9 mH", "H", "Inductance of the armature.").atLeast(1e-15),
                    real("k", "0.042 N·m/A", "N·m/A", "Torque and back-EMF constant."))
            .face(UPRIGHT.contact("shaft", Side.RIGHT, Domain.ROTATIONAL)).warming(Side.LEFT).summary("{k}").element(e -> {
                Branch x = e.branch("a", "b");
                e.loses(a -> Statements.squares(a).times(e.value("R")), x.through());
                Branch shaft = e.branch("shaft", "");
                e.equation(Statements.resistance(x, e.value("R")).minus(e.rate(x.through(), 0).times(e.value("L"))).minus(shaft.across()
                        .times(e.value("k"))));
                e.equation(shaft.through().plus(x.through().times(e.value("k"))));
            });

    static final List<BlockType> TYPES = List.of(GROUND, RESISTOR, INDUCTOR, CAPACITOR, VOLTAGE, CURRENT, SWITCH, DIODE, CHOPPER,
            TRANSFORMER,
            COUPLED, DC_MACHINE, VOLTMETER, AMMETER, FLUX_METER, CHARGE_METER);

    private Circuits() {}

    private static Face windings() {
        return Face.NONE.contact("a1", Side.LEFT, Domain.ELECTRICAL).contact("b1", Side.LEFT, Domain.ELECTRICAL)
                .contact("a2", Side.RIGHT, Domain.ELECTRICAL).contact("b2", Side.RIGHT, Domain.ELECTRICAL);
    }
}
