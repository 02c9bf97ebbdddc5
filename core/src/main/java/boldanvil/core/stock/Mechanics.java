package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.real;

import boldanvil.core.diagram.Side;
import boldanvil.core.network.Domain;
import boldanvil.core.network.Element;
import boldanvil.core.network.Element.Branch;
import java.util.List;

/** Elements that turn and elements that move on a line. A torque or a force is positive where it acts on the element at contact a. */
final class Mechanics {
    private static final Domain R = Domain.ROTATIONAL;
    private static final Domain T = Domain.TRANSLATIONAL;

    static final BlockType FRAME = BlockType.named("frame", "Frame", Family.MECHANICAL).picture(Symbols::frame)
            .help("Its contact stands still.").face(Statements.one(R)).summary("at rest").element(e -> e.reference("a"));

    static final BlockType INERTIA = BlockType.named("inertia", "Inertia", Family.MECHANICAL).picture(Symbols::inertia)
            .help("torque = J dw/dt.")
            .with(real("J", "1e-4 kg·m²", "kg·m²", "Moment of inertia.").atLeast(1e-30),
                    real("w0", "0 rad/s", "rad/s", "Speed at the start."))
            .face(Statements.two(R)).summary("{J}").element(e -> massive(e, "J", "w0"));

    static final BlockType DAMPER = BlockType.named("rotational damper", "Rotational damper", Family.MECHANICAL).picture(Symbols::damper)
            .help("torque = d (wa − wb).").with(real("d", "1e-3 N·m·s/rad", "N·m·s/rad", "Damping.").atLeast(0))
            .face(Statements.two(R)).summary("{d}").element(e -> damping(e, "d"));

    static final BlockType SPRING = BlockType.named("rotational spring", "Rotational spring", Family.MECHANICAL).picture(Symbols::spring)
            .help("torque = c times the angle of contact a over contact b.")
            .with(real("c", "100 N·m/rad", "N·m/rad", "Stiffness.").atLeast(0), real("torque0", "0 N·m", "N·m", "Torque at the start."))
            .face(Statements.two(R)).summary("{c}").element(e -> elastic(e, "c", "torque0"));

    static final BlockType TORQUE = BlockType.named("torque source", "Torque source", Family.MECHANICAL).picture(Symbols::drive)
            .help("The torque M + u drives contact a against the frame.")
            .with(real("M", "0 N·m", "N·m", "The torque, to which a signal at u is added."))
            .face(Statements.one(R).optional("u", Accept.REAL)).signal("u", "N·m").summary("{M}").element(e -> Statements.driving(e, "M"));

    static final BlockType SPEED_SOURCE = BlockType.named("speed source", "Speed source", Family.MECHANICAL).picture(Symbols::drive)
            .help("Contact a turns with the speed w + u, whatever torque that needs.")
            .with(real("w", "0 rad/s", "rad/s", "The speed, to which a signal at u is added."))
            .face(Statements.one(R).optional("u", Accept.REAL)).signal("u", "rad/s").summary("{w}")
            .element(e -> Statements.holding(e, "w"));

    static final BlockType SPEED_SENSOR = BlockType.named("speed sensor", "Speed sensor", Family.MECHANICAL).picture(Symbols::sensor)
            .help("w is the speed of contact a.").face(Statements.one(R).out("w")).summary("→ w")
            .element(e -> e.output("w", Statements.idle(e).across()));

    static final BlockType ANGLE_SENSOR = BlockType.named("angle sensor", "Angle sensor", Family.MECHANICAL).picture(Symbols::sensor)
            .help("angle is the integral of the speed of contact a.")
            .with(real("angle0", "0 rad", "rad", "Angle at the start."))
            .face(Statements.one(R).out("angle")).summary("→ angle").element(
            e -> e.output("angle", Statements.integral(e, Statements.idle(e).across(), "angle0")));

    static final BlockType GEAR = BlockType.named("gear", "Gear", Family.MECHANICAL).picture(Symbols::gear)
            .help("wa = n wb, torque of b = −n times torque of a; without losses.")
            .with(real("n", "10", "1", "Turns of a for one turn of b.")).face(Statements.two(R)).summary("{n} : 1")
            .element(e -> geared(e, "n"));

    static final BlockType RACK = BlockType.named("rack", "Rack and pinion", Family.MECHANICAL).picture(Symbols::rack)
            .help("v = r w, torque on the pinion = −r times the force on the rack; without losses.")
            .with(real("r", "25 mm", "m", "Radius of the pinion.").atLeast(1e-12))
            .face(Face.NONE.contact("pinion", Side.LEFT, R).contact("rack", Side.RIGHT, T)).summary("{r}").element(e -> {
                Branch pinion = e.branch("pinion", "");
                Branch rack = e.branch("rack", "");
                e.equation(rack.across().minus(pinion.across().times(e.value("r"))));
                e.equation(pinion.through().plus(rack.through().times(e.value("r"))));
            });

    static final BlockType GROUND_FIXED = BlockType.named("fixed point", "Fixed point", Family.MECHANICAL).picture(Symbols::frame)
            .help("Its contact stands still.").face(Statements.one(T)).summary("at rest").element(e -> e.reference("a"));

    static final BlockType MASS = BlockType.named("mass", "Mass", Family.MECHANICAL).picture(Symbols::mass)
            .help("force = m dv/dt.")
            .with(real("m", "1 kg", "kg", "Mass.").atLeast(1e-30), real("v0", "0 m/s", "m/s", "Speed at the start."))
            .face(Statements.two(T)).summary("{m}").element(e -> massive(e, "m", "v0"));

    static final BlockType LINE_DAMPER = BlockType.named("damper", "Damper", Family.MECHANICAL).picture(Symbols::damper)
            .help("force = d (va − vb).").with(real("d", "10 N·s/m", "N·s/m", "Damping.").atLeast(0))
            .face(Statements.two(T)).summary("{d}").element(e -> damping(e, "d"));

    static final BlockType LINE_SPRING = BlockType.named("spring", "Spring", Family.MECHANICAL).picture(Symbols::spring)
            .help("force = c times the distance by which contact a has come nearer to contact b.")
            .with(real("c", "1000 N/m", "N/m", "Stiffness.").atLeast(0), real("force0", "0 N", "N", "Force at the start."))
            .face(Statements.two(T)).summary("{c}").element(e -> elastic(e, "c", "force0"));

    static final BlockType FORCE = BlockType.named("force source", "Force source", Family.MECHANICAL).picture(Symbols::drive)
            .help("The force F + u drives contact a against the fixed point.")
            .with(real("F", "0 N", "N", "The force, to which a signal at u is added."))
            .face(Statements.one(T).optional("u", Accept.REAL)).signal("u", "N").summary("{F}").element(e -> Statements.driving(e, "F"));

    static final BlockType LINE_SPEED_SOURCE = BlockType.named("line speed source", "Line speed source", Family.MECHANICAL)
            .picture(Symbols::drive).help("Contact a moves with the speed v + u, whatever force that needs.")
            .with(real("v", "0 m/s", "m/s", "The speed, to which a signal at u is added."))
            .face(Statements.one(T).optional("u", Accept.REAL)).signal("u", "m/s").summary("{v}").element(e -> Statements.holding(e, "v"));

    static final BlockType LINE_SPEED = BlockType.named("line speed sensor", "Line speed sensor", Family.MECHANICAL)
            .picture(Symbols::sensor)
            .help("v is the speed of contact a.").face(Statements.one(T).out("v")).summary("→ v")
            .element(e -> e.output("v", Statements.idle(e).across()));

    static final BlockType POSITION_SENSOR = BlockType.named("position sensor", "Position sensor", Family.MECHANICAL)
            .picture(Symbols::sensor)
            .help("x is the integral of the speed of contact a.").with(real("x0", "0 m", "m", "Position at the start."))
            .face(Statements.one(T).out("x")).summary("→ x").element(e -> e.output("x",
            Statements.integral(e, Statements.idle(e).across(), "x0")));

    static final List<BlockType> TYPES = List.of(FRAME, INERTIA, DAMPER, SPRING, TORQUE, SPEED_SOURCE, GEAR, RACK, SPEED_SENSOR,
            ANGLE_SENSOR,
            GROUND_FIXED, MASS, LINE_DAMPER, LINE_SPRING, FORCE, LINE_SPEED_SOURCE, LINE_SPEED, POSITION_SENSOR);

    private Mechanics() {}

    /** Stores by its potential against the reference; both contacts are one. */
    private static void massive(Element e, String parameter, String initial) {
        Branch x = e.branch("a", "");
        Branch rigid = e.branch("a", "b");
        e.equation(rigid.across());
        e.equation(x.through().minus(e.rate(x.across(), e.value(initial)).times(e.value(parameter))));
    }

    private static void damping(Element e, String parameter) {
        Branch x = e.branch("a", "b");
        e.equation(x.through().minus(x.across().times(e.value(parameter))));
    }

    private static void elastic(Element e, String parameter, String initial) {
        Branch x = e.branch("a", "b");
        e.equation(e.rate(x.through(), e.value(initial)).minus(x.across().times(e.value(parameter))));
    }

    /** A gear without losses between a and b. */
    static void geared(Element e, String ratio) {
        Branch a = e.branch("a", "");
        Branch b = e.branch("b", "");
        e.equation(a.across().minus(b.across().times(e.value(ratio))));
        e.equation(b.through().plus(a.through().times(e.value(ratio))));
    }
}
