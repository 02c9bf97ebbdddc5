package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.choice;
import static boldanvil.core.stock.Parameter.real;

import boldanvil.core.diagram.Side;
import boldanvil.core.network.Domain;
import boldanvil.core.network.Element;
import boldanvil.core.network.Element.Branch;
import boldanvil.core.network.Element.Curve;
import boldanvil.core.network.Element.Own;
import boldanvil.core.network.Element.Pulse;
import boldanvil.core.network.Element.Rule;
import boldanvil.core.network.Element.Switching;
import boldanvil.core.network.Form;
import boldanvil.core.program.Expr;
import java.util.List;

/** Semiconductors that a signal switches, and bridges of them. A rig can choose how exactly a bridge is computed. */
final class PowerStages {
    private static final Parameter DROP = real("forward voltage", "0.8 V", "V", "Voltage at which the diodes begin to conduct.").atLeast(0);
    private static final Parameter DEAD = real("dead time", "500 ns", "s", "Time during which both switches are off.").atLeast(0);
    private static final Parameter FIDELITY = choice("fidelity", "How exactly it is computed: with diodes, forward voltage and dead time; "
            + "with ideal edges; or by the mean over a period. A rig may choose another one.", "detailed", "switching", "averaged");
    private static final Parameter TWO_FIDELITIES = choice("fidelity", "How exactly it is computed: with ideal edges, or by the mean over "
            + "a period. A rig may choose another one.", "switching", "averaged");
    private static final Face SUPPLIED = Face.NONE.contact("plus", Side.TOP, Domain.ELECTRICAL)
            .contact("minus", Side.BOTTOM, Domain.ELECTRICAL);

    static final BlockType MOSFET = BlockType.named("mosfet", "MOSFET", Family.ELECTRICAL).picture(Symbols::mosfet)
            .help("A switch from a (drain) to b (source) that the gate turns on, and beside it a diode from b to a, which conducts while "
            + "the "
                    + "gate is off.")
            .with(Circuits.ON, Circuits.OFF, real("forward voltage", "0.8 V", "V", "Voltage at which the body diode begins to conduct.")
            .atLeast(0))
            .face(Circuits.UPRIGHT.in("on", Accept.LOGIC)).warming(Side.RIGHT).summary("{on resistance}")
            .element(e -> e.loses(device(e, e.branch("a", "b"), Switching.by("on"))));

    static final BlockType PULSED_MOSFET = BlockType.named("pulsed mosfet", "Pulsed MOSFET", Family.ELECTRICAL).picture(Symbols::mosfet)
            .help("A MOSFET whose gate is on for the share 'duty' of each period. Its edges come at their instants, also between two "
            + "steps of "
                    + "the solver; the duty is taken at the beginning of each period.")
            .with(Circuits.FREQUENCY, Circuits.ON, Circuits.OFF, real("forward voltage", "0.8 V", "V",
            "Voltage at which the body diode begins to conduct.")
            .atLeast(0))
            .face(Circuits.UPRIGHT.in("duty", Accept.REAL)).warming(Side.RIGHT).summary("{frequency}")
            .element(e -> e.loses(device(e, e.branch("a", "b"), Switching.by(pulse(e, "duty", false, 0, false)))));

    static final BlockType IGBT = BlockType.named("igbt", "IGBT", Family.ELECTRICAL).picture(Symbols::igbt)
            .help("While its gate is on it conducts from a (collector) to b (emitter): v = saturation voltage + on resistance · i. Beside "
            + "it a "
                    + "diode from b to a.")
            .with(real("saturation voltage", "1.1 V", "V", "Voltage at which it begins to conduct.").atLeast(0), Circuits.ON, Circuits.OFF,
            DROP)
            .face(Circuits.UPRIGHT.in("on", Accept.LOGIC)).warming(Side.RIGHT).summary("{saturation voltage}").element(e -> {
                Branch x = e.branch("a", "b");
                Form above = x.across().minus(Form.of(e.value("saturation voltage")));
                e.equation(Switching.by("on").with(Rule.BOTH, Own.of(above, x.through())),
                        above.minus(x.through().times(e.value("on resistance"))), Statements.resistance(x, e.value("off resistance")));
                e.loses(x, diode(e, "b", "a"));
            });

    static final BlockType THYRISTOR = BlockType.named("thyristor", "Thyristor", Family.ELECTRICAL).picture(Symbols::thyristor)
            .help("Begins to conduct when v is above the forward voltage while its gate is on, and stops when the current falls below the "
                    + "holding current: v = forward voltage + on resistance · i.")
            .with(real("forward voltage", "1 V", "V", "Voltage at which it can begin to conduct.").atLeast(0),
                    real("holding current", "5 mA", "A", "Current below which it stops.").atLeast(0), Circuits.ON, Circuits.OFF)
            .face(Statements.two(Domain.ELECTRICAL).in("gate", Accept.LOGIC)).warming(Side.BOTTOM).summary("{forward voltage}")
                    .element(e -> {
                Branch x = e.branch("a", "b");
                e.loses(x);
                Form above = x.across().minus(Form.of(e.value("forward voltage")));
                e.equation(Switching.by("gate").with(Rule.LATCHED, Own.of(above, x.through().minus(Form.of(e.value("holding current"))))),
                        above.minus(x.through().times(e.value("on resistance"))), Statements.resistance(x, e.value("off resistance")));
            });

    static final BlockType PAIR = BlockType.named("switch and diode", "Switch and diode", Family.ELECTRICAL).picture(Symbols::pair)
            .help("The switch and the diode of a converter with one switch, such as buck, boost or SEPIC. The switch joins s1 with s2 for "
            + "the "
                    + "share 'duty' of each period; the diode conducts from 'anode' to 'cathode'. Averaged, they are the two ports of one "
                    + "transformer for direct current, in continuous and discontinuous conduction; L is the inductance that both see, "
                    + "that of coils in parallel.")
            .with(real("frequency", "100 kHz", "Hz", "Periods per second.").atLeast(1e-3), Circuits.ON, Circuits.OFF,
                    real("forward voltage", "0.45 V", "V", "Voltage at which the diode begins to conduct.").atLeast(0),
                    real("L", "50 µH", "H", "Inductance for the boundary of discontinuous conduction.").atLeast(1e-15), FIDELITY)
            .face(Face.NONE.contact("s1", Side.TOP, Domain.ELECTRICAL).contact("s2", Side.BOTTOM, Domain.ELECTRICAL)
                    .contact("anode", Side.RIGHT, Domain.ELECTRICAL).contact("cathode", Side.RIGHT, Domain.ELECTRICAL)
                    .in("duty", Accept.REAL)).warming(Side.RIGHT).summary("{frequency}").element(PowerStages::pair);

    static final BlockType HALF_BRIDGE = BlockType.named("half bridge", "Half bridge", Family.ELECTRICAL).picture(Symbols::halfBridge)
            .help("Joins 'out' with 'plus' for the share 'duty' of each period and with 'minus' for the rest. After each change both "
            + "switches "
                    + "are off for the dead time, and the diodes beside them conduct. Edges come at their instants, also between two "
                    + "steps of "
                    + "the solver; the duty is taken at the beginning of each period.")
            .with(Circuits.FREQUENCY, DEAD, Circuits.ON, Circuits.OFF, DROP, FIDELITY)
            .face(SUPPLIED.contact("out", Side.RIGHT, Domain.ELECTRICAL).in("duty", Accept.REAL)).warming(Side.RIGHT).summary("{frequency}")
            .element(e -> leg(e, "out", "duty", false));

    static final BlockType H_BRIDGE = BlockType.named("h-bridge", "H-bridge", Family.ELECTRICAL).picture(Symbols::bridge)
            .help("Two half bridges with a and b as outputs, for a load between them. Each pulse lies in the middle of the period, so that "
                    + "duties of (1 + m) / 2 and (1 − m) / 2 give the mean voltage m times that from plus to minus.")
            .with(Circuits.FREQUENCY, DEAD, Circuits.ON, Circuits.OFF, DROP, FIDELITY)
            .face(SUPPLIED.contact("a", Side.RIGHT, Domain.ELECTRICAL).contact("b", Side.RIGHT, Domain.ELECTRICAL)
                    .in("duty a", Accept.REAL).in("duty b", Accept.REAL)).warming(Side.RIGHT).summary("{frequency}").element(e -> {
                        leg(e, "a", "duty a", true);
                        leg(e, "b", "duty b", true);
                    });

    static final BlockType THREE_PHASE = BlockType.named("three-phase bridge", "Three-phase bridge", Family.ELECTRICAL)
            .picture(Symbols::bridge)
            .help("Three half bridges of one carrier. Each pulse lies in the middle of the period; the duties are taken at its beginning.")
            .with(Circuits.FREQUENCY, DEAD, Circuits.ON, Circuits.OFF, DROP, FIDELITY)
            .face(SUPPLIED.contact("a", Side.RIGHT, Domain.ELECTRICAL).contact("b", Side.RIGHT, Domain.ELECTRICAL)
                    .contact("c", Side.RIGHT, Domain.ELECTRICAL).in("duty a", Accept.REAL).in("duty b", Accept.REAL)
                    .in("duty c", Accept.REAL)).warming(Side.RIGHT).summary("{frequency}").element(e -> {
                        leg(e, "a", "duty a", true);
                        leg(e, "b", "duty b", true);
                        leg(e, "c", "duty c", true);
                    });

    static final BlockType THREE_LEVEL = BlockType.named("three-level bridge", "Three-level bridge", Family.ELECTRICAL)
            .picture(Symbols::threeLevel)
            .help("Three legs that join each output with plus, mid or minus. With m from 0 to 1 it is plus for the share m of each period "
                    + "and mid for the rest; with m from −1 to 0 it is minus for the share −m. Without dead time.")
            .with(Circuits.FREQUENCY, Circuits.ON, Circuits.OFF, TWO_FIDELITIES)
            .face(SUPPLIED.contact("mid", Side.LEFT, Domain.ELECTRICAL).contact("a", Side.RIGHT, Domain.ELECTRICAL)
                    .contact("b", Side.RIGHT, Domain.ELECTRICAL).contact("c", Side.RIGHT, Domain.ELECTRICAL).in("m a", Accept.REAL)
                    .in("m b", Accept.REAL).in("m c", Accept.REAL)).warming(Side.RIGHT).summary("{frequency}").element(e -> {
                        threeLevels(e, "a");
                        threeLevels(e, "b");
                        threeLevels(e, "c");
                    });

    static final List<BlockType> TYPES = List.of(MOSFET, PULSED_MOSFET, IGBT, THYRISTOR, PAIR, HALF_BRIDGE, H_BRIDGE, THREE_PHASE,
            THREE_LEVEL);

    private PowerStages() {}

    /** A diode between two contacts. */
    static Branch diode(Element e, String anode, String cathode) {
        Branch x = e.branch(anode, cathode);
        Form above = x.across().minus(Form.of(e.value("forward voltage")));
        e.equation(Switching.by(Own.of(above)), above.minus(x.through().times(e.value("on resistance"))),
                Statements.resistance(x, e.value("off resistance")));
        return x;
    }

    /** A switch that conducts both ways while its gate is on, and against its direction, with the forward voltage, while it is not. */
    private static Branch device(Element e, Branch x, Switching gate) {
        Form back = x.across().times(-1).minus(Form.of(e.value("forward voltage")));
        Element.Switch s = e.switched(gate.with(Rule.EITHER, Own.of(back, x.through().times(-1))));
        e.equation(s, Statements.resistance(x, e.value("on resistance")).plus(s.alone().times(e.value("forward voltage"))),
                Statements.resistance(x, e.value("off resistance")));
        return x;
    }

    private static void pair(Element e) {
        String fidelity = e.text("fidelity");
        Branch gate = e.branch("s1", "s2");
        if (fidelity.equals("averaged")) {
            Branch mean = e.branch("anode", "cathode");
            meanPair(e, gate, mean);
            e.loses(gate, mean);
            return;
        }
        Pulse pulse = pulse(e, "duty", false, 0, false);
        if (fidelity.equals("detailed")) {
            device(e, gate, Switching.by(pulse));
            e.loses(gate, diode(e, "anode", "cathode"));
            return;
        }
        e.equation(Switching.by(pulse), Statements.resistance(gate, e.value("on resistance")),
                Statements.resistance(gate, e.value("off resistance")));
        Branch diode = e.branch("anode", "cathode");
        e.loses(gate, diode);
        e.equation(Switching.by(Own.of(diode.across(), diode.through())), Statements.resistance(diode, e.value("on resistance")),
                Statements.resistance(diode, e.value("off resistance")));
    }

    /**
     * Means over a period: v1 = (1 − u) / u · v2, i2 = (1 − u) / u · i1, u being the duty d, or d² / (d² + 2 L f i1 / v2) in discontinuous
     * conduction, whichever is larger (Erickson and Maksimović, Fundamentals of Power Electronics, 2001, section 11.3).
     */
    private static void meanPair(Element e, Branch gate, Branch diode) {
        double slope = 2 * e.value("L") * e.value("frequency");
        Form duty = e.input("duty");
        Form current = gate.through();
        Form voltage = diode.across().times(-1);
        Curve rest = a -> {
            Expr d = a.get(0).clamp(Expr.of(a.get(0).type(), 1e-3), Expr.of(a.get(0).type(), 1));
            Expr small = Expr.of(d.type(), 1e-9);
            Expr square = d.times(d);
            Expr discontinuous = square.over(square.plus(a.get(1).max(small).times(slope).over(a.get(2).max(small))));
            return Expr.of(d.type(), 1).minus(d.max(discontinuous)).times(a.get(3));
        };
        e.equation(gate.across().minus(current.times(e.value("on resistance")))
                .minus(e.function(rest, duty, current, voltage, gate.across().plus(voltage))));
        e.equation(diode.through().minus(e.function(rest, duty, current, voltage, current.plus(diode.through()))));
    }

    /** A half bridge between plus and minus. */
    private static void leg(Element e, String out, String duty, boolean centred) {
        Branch high = e.branch("plus", out);
        Branch low = e.branch(out, "minus");
        e.loses(high, low);
        switch (e.text("fidelity")) {
            case "averaged" -> averaged(e, duty, high, low);
            case "switching" -> {
                double on = e.value("on resistance");
                double off = e.value("off resistance");
                Element.Switch s = e.switched(Switching.by(pulse(e, duty, centred, 0, false)));
                e.equation(s, Statements.resistance(high, on), Statements.resistance(high, off));
                e.equation(s, Statements.resistance(low, off), Statements.resistance(low, on));
            }
            default -> {
                double dead = e.value("dead time") * e.value("frequency");
                if (dead >= 0.5) {
                    e.problem("The dead time takes half of the period or more.", "Choose a shorter dead time or a lower frequency.");
                }
                device(e, high, Switching.by(pulse(e, duty, centred, dead, false)));
                device(e, low, Switching.by(pulse(e, duty, centred, dead, true)));
            }
        }
    }

    /** When the upper switch of a leg is on, or the lower one, each later by the dead time. */
    static Pulse pulse(Element e, String duty, boolean centred, double dead, boolean lower) {
        double period = 1 / e.value("frequency");
        if (!centred) {
            return lower ? new Pulse(duty, period, 0, dead, 1, 1, 0, false) : new Pulse(duty, period, 0, dead, 0, 0, 1, false);
        }
        return lower ? new Pulse(duty, period, 0, 0.5, -0.5, 0.5 + dead, 0.5, true)
                : new Pulse(duty, period, 0, 0.5 + dead, -0.5, 0.5, 0.5, false);
    }

    /** The mean over a period: a transformer for direct current, whose ratio is the duty. */
    private static void averaged(Element e, String duty, Branch high, Branch low) {
        Form share = e.input(duty);
        Form current = high.through().minus(low.through());
        Form whole = high.across().plus(low.across());
        e.equation(high.through().minus(shared(e, share, current)));
        e.equation(low.across().plus(current.times(e.value("on resistance")))
                .minus(shared(e, share, whole)));
    }

    /** A quantity times a share, which counts as 0 where it is negative and as 1 where it is more. */
    private static Form shared(Element e, Form share, Form whole) {
        return e.function(a -> Statements.share(a.get(0), 0).times(a.get(1)), share, whole);
    }

    private static void threeLevels(Element e, String out) {
        String m = "m " + out;
        Branch high = e.branch("plus", out);
        Branch middle = e.branch("mid", out);
        Branch low = e.branch(out, "minus");
        e.loses(high, middle, low);
        double on = e.value("on resistance");
        double off = e.value("off resistance");
        if (e.text("fidelity").equals("averaged")) {
            Form share = e.input(m);
            Form current = high.through().plus(middle.through()).minus(low.through());
            Form up = high.across().minus(middle.across());
            Form down = middle.across().plus(low.across());
            e.equation(high.through().minus(shared(e, share, current)));
            e.equation(low.through().plus(shared(e, share.times(-1), current)));
            e.equation(middle.across().minus(current.times(on))
                    .plus(shared(e, share, up))
                    .minus(shared(e, share.times(-1), down)));
            return;
        }
        double period = 1 / e.value("frequency");
        Element.Switch above = e.switched(Switching.by(new Pulse(m, period, 0, 0.5, -0.5, 0.5, 0.5, false)));
        Element.Switch below = e.switched(Switching.by(new Pulse(m, period, 0, 0.5, 0.5, 0.5, -0.5, false)));
        e.equation(above, Statements.resistance(high, on), Statements.resistance(high, off));
        e.equation(below, Statements.resistance(low, on), Statements.resistance(low, off));
        // The middle is joined while neither of the others is.
        Form first = e.unknown();
        e.equation(above, first.minus(middle.through().times(off)), first.minus(middle.through().times(on / 2)));
        Form second = middle.across().minus(first);
        e.equation(below, second.minus(middle.through().times(off)), second.minus(middle.through().times(on / 2)));
    }
}
