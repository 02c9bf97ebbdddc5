package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.real;

import boldanvil.core.diagram.Side;
import boldanvil.core.maths.MathFunctions;
import boldanvil.core.network.Domain;
import boldanvil.core.network.Element;
import boldanvil.core.network.Element.Branch;
import boldanvil.core.network.Form;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Intrinsic;
import java.util.List;

/**
 * Rotating machines with three phases, without a neutral. Two currents and voltages in fixed axes, alpha and beta, stand for the three
 * (Clarke, Circuit Analysis of A-C Power Systems, 1943, in the form that keeps amplitudes). The shaft turns against the frame.
 */
final class Machines {
    private static final double ROOT = Math.sqrt(3);
    private static final Face PHASES = Face.NONE.contact("a", Side.LEFT, Domain.ELECTRICAL).contact("b", Side.LEFT, Domain.ELECTRICAL)
            .contact("c", Side.LEFT, Domain.ELECTRICAL).contact("shaft", Side.RIGHT, Domain.ROTATIONAL);
    private static final Parameter POLES = real("p", "4", "1", "Pole pairs.").atLeast(1);

    static final BlockType SYNCHRONOUS = BlockType.named("synchronous machine", "Synchronous machine", Family.ELECTRICAL)
            .picture(v -> Symbols.rotating("S"))
            .help("With permanent magnets. vd = R id + Ld did/dt − p w Lq iq, vq = R iq + Lq diq/dt + p w (Ld id + psi), "
                    + "torque = 1.5 p (psi iq + (Ld − Lq) id iq) − cogging · sin(teeth · angle). The d axis is the magnets'; at the angle "
                    + "0 it "
                    + "is the axis of phase a.")
            .with(real("R", "0.35 Ω", "Ω", "Resistance of a phase.").atLeast(0), real("Ld", "0.8 mH", "H", "Inductance of the d axis.")
                            .atLeast(1e-12), real("Lq", "0.8 mH", "H", "Inductance of the q axis.").atLeast(1e-12),
                    real("psi", "12 mWb", "Wb", "Flux linkage of the magnets, peak."), POLES,
                    real("cogging", "0 N·m", "N·m", "Peak of the cogging torque."), real("teeth", "24", "1", "Periods of it in one turn."),
                    real("angle0", "0 rad", "rad", "Angle of the shaft at the start."))
            .face(PHASES.out("angle").out("torque")).warming(Side.BOTTOM).summary("{psi}").element(Machines::synchronous);

    static final BlockType INDUCTION = BlockType.named("induction machine", "Induction machine", Family.ELECTRICAL)
            .picture(v -> Symbols.rotating("A"))
            .help("Cage rotor, equations with the rotor flux in fixed axes: v = Rs i + σ Ls di/dt + Lm/Lr dψ/dt, "
                    + "dψ/dt = Rr Lm/Lr i − Rr/Lr ψ + j p w ψ, torque = 1.5 p Lm/Lr (ψ × i).")
            .with(real("Rs", "1.2 Ω", "Ω", "Resistance of a stator phase.").atLeast(0),
                    real("Rr", "0.9 Ω", "Ω", "Resistance of the rotor, seen from the stator.").atLeast(0),
                    real("Ls", "86 mH", "H", "Inductance of the stator.").atLeast(1e-12),
                    real("Lr", "86 mH", "H", "Inductance of the rotor.").atLeast(1e-12),
                    real("Lm", "82 mH", "H", "Inductance of the field that both share.").atLeast(1e-12),
                    real("p", "2", "1", "Pole pairs.").atLeast(1))
            .face(PHASES.out("torque")).warming(Side.BOTTOM).summary("{Ls}").element(Machines::induction);

    static final BlockType BRUSHLESS = BlockType.named("brushless machine", "Brushless machine", Family.ELECTRICAL)
            .picture(v -> Symbols.rotating("B"))
            .help("With trapezoidal back-EMF: v = R i + L di/dt + k w trapezoid(p · angle) in each phase, torque = k Σ trapezoid · i. "
                    + "The trapezoid is flat over 120° of the electrical angle; that of phase a rises through 0 at the angle 0.")
            .with(real("R", "0.3 Ω", "Ω", "Resistance of a phase.").atLeast(0),
            real("L", "0.4 mH", "H", "Inductance of a phase.").atLeast(1e-12),
                    real("k", "0.03 N·m/A", "N·m/A", "Back-EMF and torque constant of a phase."), POLES,
                    real("angle0", "0 rad", "rad", "Angle of the shaft at the start."))
            .face(PHASES.out("angle").out("torque")).warming(Side.BOTTOM).summary("{k}").element(Machines::brushless);

    static final List<BlockType> TYPES = List.of(SYNCHRONOUS, INDUCTION, BRUSHLESS);

    /** Currents and voltages of the phases, and the shaft. */
    private record Terminals(Form currentA, Form currentB, Form alpha, Form beta, Form voltageAlpha, Form voltageBeta, Branch ac, Branch bc,
            Branch shaft) {
        static Terminals of(Element e) {
            Branch ac = e.branch("a", "c");
            Branch bc = e.branch("b", "c");
            return new Terminals(ac.through(), bc.through(), ac.through(), ac.through().plus(bc.through().times(2)).times(1 / ROOT),
                    ac.across().times(2).minus(bc.across()).times(1.0 / 3), bc.across().times(1 / ROOT), ac, bc, e.branch("shaft", ""));
        }

        /** What the windings lose: the squares of the currents alpha and beta, in the form that keeps amplitudes, times 3/2 R. */
        void warm(Element e, double resistance) {
            e.loses(a -> Statements.squares(a).times(1.5 * resistance), alpha, beta);
        }

        /** The torque acts on what the shaft drives. */
        void drive(Element e, Form torque) {
            e.equation(shaft.through().plus(torque));
            e.output("torque", torque);
        }
    }

    private Machines() {}

    private static Form angle(Element e, Terminals t) {
        Form angle = e.unknown();
        e.equation(e.rate(angle, e.value("angle0")).minus(t.shaft().across()));
        e.output("angle", angle);
        return angle;
    }

    private static Expr sine(Expr x) {
        return MathFunctions.apply(MathFunctions.SINE, x);
    }

    private static Expr cosine(Expr x) {
        return MathFunctions.apply(MathFunctions.COSINE, x);
    }

    private static void synchronous(Element e) {
        Terminals t = Terminals.of(e);
        t.warm(e, e.value("R"));
        Form angle = angle(e, t);
        double p = e.value("p");
        double mean = (e.value("Ld") + e.value("Lq")) / 2;
        double salient = (e.value("Ld") - e.value("Lq")) / 2;
        double psi = e.value("psi");
        Form da = e.rate(t.alpha(), 0);
        Form db = e.rate(t.beta(), 0);
        // What the turning magnets, and the turning axes of a salient rotor, add to R i + L di/dt.
        Form ea;
        Form eb;
        if (salient == 0) {
            ea = e.function(a -> sine(a.get(0).times(p)).times(a.get(1)).times(-p * psi), angle, t.shaft().across());
            eb = e.function(a -> cosine(a.get(0).times(p)).times(a.get(1)).times(p * psi), angle, t.shaft().across());
        } else {
            ea = e.function(a -> induced(a, p, psi, salient, true), angle, t.shaft().across(), t.alpha(), t.beta(), da, db);
            eb = e.function(a -> induced(a, p, psi, salient, false), angle, t.shaft().across(), t.alpha(), t.beta(), da, db);
        }
        e.equation(t.voltageAlpha().minus(t.alpha().times(e.value("R"))).minus(da.times(mean)).minus(ea));
        e.equation(t.voltageBeta().minus(t.beta().times(e.value("R"))).minus(db.times(mean)).minus(eb));
        double cogging = e.value("cogging");
        double teeth = e.value("teeth");
        t.drive(e, e.function(a -> {
            Expr c = cosine(a.get(0).times(p));
            Expr s = sine(a.get(0).times(p));
            Expr d = c.times(a.get(1)).plus(s.times(a.get(2)));
            Expr q = c.times(a.get(2)).minus(s.times(a.get(1)));
            Expr reluctance = salient == 0 ? Expr.of(d.type(), psi) : d.times(2 * salient).plus(Expr.of(d.type(), psi));
            Expr torque = reluctance.times(q).times(1.5 * p);
            return cogging == 0 ? torque : torque.minus(sine(a.get(0).times(teeth)).times(cogging));
        }, angle, t.alpha(), t.beta()));
    }

    /** @param a angle of the shaft, its speed, currents alpha and beta, and their rates of change */
    private static Expr induced(List<Expr> a, double p, double psi, double salient, boolean alpha) {
        Expr electrical = a.get(0).times(p);
        Expr w = a.get(1).times(p);
        Expr s2 = sine(electrical.times(2));
        Expr c2 = cosine(electrical.times(2));
        Expr ia = a.get(2);
        Expr ib = a.get(3);
        Expr turned = alpha ? c2.times(a.get(4)).plus(s2.times(a.get(5))).plus(w.times(2).times(c2.times(ib).minus(s2.times(ia))))
                : s2.times(a.get(4)).minus(c2.times(a.get(5))).plus(w.times(2).times(c2.times(ia).plus(s2.times(ib))));
        Expr magnets = alpha ? sine(electrical).negated() : cosine(electrical);
        return turned.times(salient).plus(magnets.times(w).times(psi));
    }

    private static void induction(Element e) {
        Terminals t = Terminals.of(e);
        double p = e.value("p");
        double lr = e.value("Lr");
        double share = e.value("Lm") / lr;
        double leakage = e.value("Ls") - e.value("Lm") * share;
        if (leakage <= 0) {
            e.problem("The field that stator and rotor share is larger than both allow.", "Choose an Lm below √(Ls Lr).");
        }
        Form fluxA = e.unknown();
        Form fluxB = e.unknown();
        Form rateA = e.rate(fluxA, 0);
        Form rateB = e.rate(fluxB, 0);
        Form turnA = e.function(a -> a.get(0).times(a.get(1)).times(-p), t.shaft().across(), fluxB);
        Form turnB = e.function(a -> a.get(0).times(a.get(1)).times(p), t.shaft().across(), fluxA);
        double slip = e.value("Rr") / lr;
        t.warm(e, e.value("Rs"));
        e.loses(a -> Statements.squares(a).times(1.5 * e.value("Rr")), fluxA.minus(t.alpha().times(e.value("Lm"))).times(1 / lr),
                fluxB.minus(t.beta().times(e.value("Lm"))).times(1 / lr));
        e.equation(rateA.minus(t.alpha().times(slip * e.value("Lm"))).plus(fluxA.times(slip)).minus(turnA));
        e.equation(rateB.minus(t.beta().times(slip * e.value("Lm"))).plus(fluxB.times(slip)).minus(turnB));
        e.equation(t.voltageAlpha().minus(t.alpha().times(e.value("Rs"))).minus(e.rate(t.alpha(), 0).times(leakage))
                .minus(rateA.times(share)));
        e.equation(t.voltageBeta().minus(t.beta().times(e.value("Rs"))).minus(e.rate(t.beta(), 0).times(leakage))
                .minus(rateB.times(share)));
        t.drive(e, e.function(a -> a.get(0).times(a.get(3)).minus(a.get(1).times(a.get(2))).times(1.5 * p * share), fluxA, fluxB, t.alpha(),
                t.beta()));
    }

    private static void brushless(Element e) {
        Terminals t = Terminals.of(e);
        t.warm(e, e.value("R"));
        Form angle = angle(e, t);
        double p = e.value("p");
        double k = e.value("k");
        Form speed = t.shaft().across();
        Form ac = e.function(a -> shape(a.get(0).times(p), 0).minus(shape(a.get(0).times(p), 2)).times(a.get(1)).times(k), angle, speed);
        Form bc = e.function(a -> shape(a.get(0).times(p), 1).minus(shape(a.get(0).times(p), 2)).times(a.get(1)).times(k), angle, speed);
        Form ia = t.currentA();
        Form ib = t.currentB();
        Form ic = ia.plus(ib).times(-1);
        Form da = e.rate(ia, 0);
        Form db = e.rate(ib, 0);
        Form dc = da.plus(db).times(-1);
        e.equation(t.ac().across().minus(ia.minus(ic).times(e.value("R"))).minus(da.minus(dc).times(e.value("L"))).minus(ac));
        e.equation(t.bc().across().minus(ib.minus(ic).times(e.value("R"))).minus(db.minus(dc).times(e.value("L"))).minus(bc));
        t.drive(e, e.function(a -> {
            Expr x = a.get(0).times(p);
            return shape(x, 0).minus(shape(x, 2)).times(a.get(1)).plus(shape(x, 1).minus(shape(x, 2)).times(a.get(2))).times(k);
        }, angle, ia, ib));
    }

    /** A trapezoid between −1 and 1, with ramps of 60°, behind by some times 120°. */
    private static Expr shape(Expr angle, int thirds) {
        Expr turns = angle.times(1 / (2 * Math.PI)).minus(Expr.of(angle.type(), thirds / 3.0 - 0.25));
        Expr share = turns.minus(turns.call(Intrinsic.FLOOR));
        // A triangle from −3 through 0 to 3 and back, cut at ±1.
        Expr triangle = Expr.of(angle.type(), 3).minus(share.minus(Expr.of(angle.type(), 0.5)).call(Intrinsic.ABS).times(12));
        return triangle.clamp(Expr.of(angle.type(), -1), Expr.of(angle.type(), 1));
    }
}
