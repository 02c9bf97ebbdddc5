package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.real;

import boldanvil.core.diagram.Side;
import boldanvil.core.maths.MathFunctions;
import boldanvil.core.network.Domain;
import boldanvil.core.network.Element;
import boldanvil.core.network.Element.Branch;
import boldanvil.core.network.Element.Own;
import boldanvil.core.network.Element.Switching;
import boldanvil.core.network.Form;
import boldanvil.core.program.Expr;
import java.util.List;

/** Mechanical elements that stick, play, hit or turn unevenly. */
final class FrictionAndPlay {
    private static final Domain R = Domain.ROTATIONAL;
    private static final Domain T = Domain.TRANSLATIONAL;
    /** What moves slower against the sense of its sliding stands, rad/s or m/s. */
    private static final double STANDSTILL = 1e-6;
    /** Time constant with which a rest of speed dies out at standstill, s. */
    private static final double DYING = 1e-5;

    static final BlockType ROTATIONAL_FRICTION = BlockType.named("rotational friction", "Rotational friction", Family.MECHANICAL)
            .picture(Symbols::friction)
            .help("Stands until the torque is above 'static'; then torque = (sliding + (static − sliding) exp(−(w / Stribeck speed)²)) "
                    + "sign w + viscous w.")
            .with(real("sliding", "0.01 N·m", "N·m", "Torque while it slides.").atLeast(0),
                    real("static", "0.012 N·m", "N·m", "Torque at which it breaks away.").atLeast(0),
                    real("Stribeck speed", "1 rad/s", "rad/s", "Speed over which the torque falls.").atLeast(1e-9),
                    real("viscous", "0 N·m·s/rad", "N·m·s/rad", "Viscous friction.").atLeast(0))
            .face(Statements.two(R)).summary("{sliding}").element(e -> friction(e, e.branch("a", "b")));

    static final BlockType FRICTION = BlockType.named("line friction", "Line friction", Family.MECHANICAL).picture(Symbols::friction)
            .help("Stands until the force is above 'static'; then force = (sliding + (static − sliding) exp(−(v / Stribeck speed)²)) "
                    + "sign v + viscous v.")
            .with(real("sliding", "10 N", "N", "Force while it slides.").atLeast(0),
                    real("static", "12 N", "N", "Force at which it breaks away.").atLeast(0),
                    real("Stribeck speed", "0.01 m/s", "m/s", "Speed over which the force falls.").atLeast(1e-9),
                    real("viscous", "0 N·s/m", "N·s/m", "Viscous friction.").atLeast(0))
            .face(Statements.two(T)).summary("{sliding}").element(e -> friction(e, e.branch("a", "b")));

    static final BlockType ROTATIONAL_BACKLASH = BlockType.named("rotational backlash", "Rotational backlash", Family.MECHANICAL)
            .picture(Symbols::play)
            .help("No torque while the angle of a over b is within half of the play; beyond, torque = c · (angle beyond) + d · speed.")
            .with(real("play", "0.02 rad", "rad", "The whole play.").atLeast(0),
                    real("c", "100 N·m/rad", "N·m/rad", "Stiffness of the contact.").atLeast(1e-12),
                    real("d", "0.01 N·m·s/rad", "N·m·s/rad", "Damping of the contact.").atLeast(0),
                    real("angle0", "0 rad", "rad", "Angle of a over b at the start."))
            .face(Statements.two(R)).summary("{play}").element(e -> play(e, e.branch("a", "b"), e.value("angle0"), 0, e.value("play") / 2));

    static final BlockType BACKLASH = BlockType.named("line backlash", "Line backlash", Family.MECHANICAL).picture(Symbols::play)
            .help("No force while the distance of a over b is within half of the play; beyond, force = c · (distance beyond) + d · speed.")
            .with(real("play", "0.2 mm", "m", "The whole play.").atLeast(0),
                    real("c", "1e6 N/m", "N/m", "Stiffness of the contact.").atLeast(1e-12),
                    real("d", "100 N·s/m", "N·s/m", "Damping of the contact.").atLeast(0),
                    real("x0", "0 m", "m", "Distance of a over b at the start."))
            .face(Statements.two(T)).summary("{play}").element(e -> play(e, e.branch("a", "b"), e.value("x0"), 0, e.value("play") / 2));

    static final BlockType ROTATIONAL_STOP = BlockType.named("rotational stop", "Rotational stop", Family.MECHANICAL).picture(Symbols::stop)
            .help("Contact a turns freely between two angles; beyond, the frame pushes back: torque = c · (angle beyond) + d · speed.")
            .with(real("low", "-1 rad", "rad", "Lower angle."), real("high", "1 rad", "rad", "Upper angle."),
                    real("c", "1000 N·m/rad", "N·m/rad", "Stiffness of the stops.").atLeast(1e-12),
                    real("d", "1 N·m·s/rad", "N·m·s/rad", "Damping of the stops.").atLeast(0),
                    real("angle0", "0 rad", "rad", "Angle at the start."))
            .face(Statements.one(R).out("angle")).summary("{low} to {high}").element(e -> e.output("angle", stop(e, e.value("angle0"))));

    static final BlockType STOP = BlockType.named("line stop", "Line stop", Family.MECHANICAL).picture(Symbols::stop)
            .help("Contact a moves freely between two positions; beyond, the fixed point pushes back: force = c · (distance beyond) + d · "
            + "speed.")
            .with(real("low", "0 m", "m", "Lower position."), real("high", "1 m", "m", "Upper position."),
                    real("c", "1e6 N/m", "N/m", "Stiffness of the stops.").atLeast(1e-12),
                    real("d", "1000 N·s/m", "N·s/m", "Damping of the stops.").atLeast(0),
                    real("x0", "0.5 m", "m", "Position at the start."))
            .face(Statements.one(T).out("x")).summary("{low} to {high}").element(e -> e.output("x", stop(e, e.value("x0"))));

    static final BlockType WORM = BlockType.named("worm gear", "Worm gear", Family.MECHANICAL).picture(Symbols::worm)
            .help("wa = n wb. Friction at the worm stands against any torque of the worm below 'static', so that a load of less than n "
            + "times "
                    + "that cannot turn it.")
            .with(real("n", "40", "1", "Turns of a for one turn of b."),
                    real("sliding", "0.02 N·m", "N·m", "Friction at the worm while it turns.").atLeast(0),
                    real("static", "0.03 N·m", "N·m", "Friction at the worm at which it breaks away.").atLeast(0),
                    real("Stribeck speed", "1 rad/s", "rad/s", "Speed over which the friction falls.").atLeast(1e-9),
                    real("viscous", "0 N·m·s/rad", "N·m·s/rad", "Viscous friction at the worm.").atLeast(0))
            .face(Statements.two(R)).summary("{n} : 1").element(e -> {
                friction(e, e.branch("a", ""));
                Mechanics.geared(e, "n");
            });

    static final BlockType BELT = BlockType.named("belt", "Belt", Family.MECHANICAL).picture(Symbols::belt)
            .help("An elastic belt over two pulleys: force = c · stretch + d · d(stretch)/dt, d(stretch)/dt = ra wa − rb wb, torque = r · "
            + "force.")
            .with(real("ra", "20 mm", "m", "Radius of the pulley at a.").atLeast(1e-9),
            real("rb", "40 mm", "m", "Radius of the pulley at b.")
                            .atLeast(1e-9), real("c", "1e5 N/m", "N/m", "Stiffness.").atLeast(0),
                    real("d", "10 N·s/m", "N·s/m", "Damping.").atLeast(0))
            .face(Statements.two(R)).summary("{ra} : {rb}").element(e -> {
                Branch a = e.branch("a", "");
                Branch b = e.branch("b", "");
                Form stretch = e.unknown();
                Form rate = e.rate(stretch, 0);
                e.equation(rate.minus(a.across().times(e.value("ra"))).plus(b.across().times(e.value("rb"))));
                Form force = stretch.times(e.value("c")).plus(rate.times(e.value("d")));
                e.equation(a.through().minus(force.times(e.value("ra"))));
                e.equation(b.through().plus(force.times(e.value("rb"))));
            });

    static final BlockType ECCENTRIC = BlockType.named("eccentric load", "Eccentric load", Family.MECHANICAL).picture(Symbols::eccentric)
            .help("A mass on an arm: torque = m r² dw/dt + m g r sin(angle); at the angle 0 it hangs down.")
            .with(real("m", "0.5 kg", "kg", "Mass.").atLeast(1e-12), real("r", "0.1 m", "m", "Length of the arm.").atLeast(1e-12),
                    real("angle0", "0 rad", "rad", "Angle at the start."))
            .face(Statements.one(R).out("angle")).summary("{m}, {r}").element(e -> {
                Branch x = e.branch("a", "");
                double m = e.value("m");
                double r = e.value("r");
                Form angle = e.unknown();
                e.equation(e.rate(angle, e.value("angle0")).minus(x.across()));
                Form weight = e.function(a -> MathFunctions.apply(MathFunctions.SINE, a.getFirst()).times(m * 9.80665 * r), angle);
                e.equation(x.through().minus(e.rate(x.across(), 0).times(m * r * r)).minus(weight));
                e.output("angle", angle);
            });

    static final BlockType VEHICLE = BlockType.named("planar body", "Planar body", Family.MECHANICAL).picture(Symbols::planar)
            .help("A rigid body in the plane, with its own axes: force ahead = m (dvx/dt − w vy), force to the left = m (dvy/dt + w vx), "
                    + "torque = J dw/dt. x, y and heading are those of its centre seen from the ground.")
            .with(real("m", "50 kg", "kg", "Mass.").atLeast(1e-12), real("J", "5 kg·m²", "kg·m²", "Moment of inertia.").atLeast(1e-12))
            .face(Face.NONE.contact("ahead", Side.LEFT, T).contact("left", Side.LEFT, T).contact("turn", Side.LEFT, R).out("x").out("y")
                    .out("heading")).summary("{m}").element(FrictionAndPlay::planar);

    static final List<BlockType> TYPES = List.of(ROTATIONAL_FRICTION, ROTATIONAL_BACKLASH, ROTATIONAL_STOP, WORM, BELT, ECCENTRIC, FRICTION,
            BACKLASH, STOP, VEHICLE);

    private FrictionAndPlay() {}

    /** Friction with true standstill: at rest the speed does not change, and the torque is what that needs, until it is too large. */
    static void friction(Element e, Branch x) {
        double sliding = e.value("sliding");
        double more = e.value("static") - sliding;
        if (more < 0) {
            e.problem("The friction at which it breaks away is smaller than that while it slides.",
                    "Choose 'static' at or above 'sliding'.");
        }
        Form speed = x.across();
        Element.Switch moves = e.switched(Switching.by(new Own(x.through(), e.value("static"), speed, -STANDSTILL, true)));
        Form slides = x.through().minus(moves.alone().times(sliding)).minus(speed.times(e.value("viscous")));
        if (more > 0) {
            double width = e.value("Stribeck speed");
            slides = slides.minus(e.function(a -> {
                Expr y = a.get(0).times(1 / width);
                return MathFunctions.apply(MathFunctions.EXPONENTIAL, y.times(y).negated()).times(a.get(1)).times(more);
            }, speed, moves.alone()));
        }
        e.equation(moves, slides, e.rate(speed).plus(speed.times(1 / DYING)));
    }

    /** Free within a half of the play around a middle, elastic beyond. */
    private static Form play(Element e, Branch x, double initial, double middle, double half) {
        Form distance = e.unknown();
        e.equation(e.rate(distance, initial).minus(x.across()));
        Form off = distance.minus(Form.of(middle));
        Element.Switch touches = e.switched(Switching.by(new Own(off, half, off, half, true)));
        e.equation(touches, x.through().minus(off.minus(touches.alone().times(half)).times(e.value("c")))
                .minus(x.across().times(e.value("d"))),
                x.through());
        return distance;
    }

    private static Form stop(Element e, double initial) {
        double low = e.value("low");
        double high = e.value("high");
        if (!(high > low)) {
            e.problem("The upper stop is not above the lower one.", "Choose 'high' above 'low'.");
        }
        return play(e, e.branch("a", ""), initial, (low + high) / 2, Math.max(0, (high - low) / 2));
    }

    private static void planar(Element e) {
        Branch ahead = e.branch("ahead", "");
        Branch left = e.branch("left", "");
        Branch turn = e.branch("turn", "");
        double m = e.value("m");
        Form w = turn.across();
        e.equation(ahead.through().minus(e.rate(ahead.across(), 0).times(m))
                .plus(e.function(a -> a.get(0).times(a.get(1)).times(m), w, left.across())));
        e.equation(left.through().minus(e.rate(left.across(), 0).times(m))
                .minus(e.function(a -> a.get(0).times(a.get(1)).times(m), w, ahead.across())));
        e.equation(turn.through().minus(e.rate(w, 0).times(e.value("J"))));
        Form heading = e.unknown();
        e.equation(e.rate(heading, 0).minus(w));
        Form x = e.unknown();
        Form y = e.unknown();
        e.equation(e.rate(x, 0).minus(e.function(a -> MathFunctions.apply(MathFunctions.COSINE, a.get(0)).times(a.get(1))
                .minus(MathFunctions.apply(MathFunctions.SINE, a.get(0)).times(a.get(2))), heading, ahead.across(), left.across())));
        e.equation(e.rate(y, 0).minus(e.function(a -> MathFunctions.apply(MathFunctions.SINE, a.get(0)).times(a.get(1))
                .plus(MathFunctions.apply(MathFunctions.COSINE, a.get(0)).times(a.get(2))), heading, ahead.across(), left.across())));
        e.output("x", x);
        e.output("y", y);
        e.output("heading", heading);
    }
}
