package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.real;

import boldanvil.core.diagram.Side;
import boldanvil.core.network.Domain;
import boldanvil.core.network.Element;
import boldanvil.core.network.Element.Branch;
import boldanvil.core.network.Element.Own;
import boldanvil.core.network.Element.Switching;
import boldanvil.core.network.Form;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Intrinsic;
import java.util.List;

/** Valves, pumps and cylinders. Pressures are above that of the air around. */
final class Hydraulics {
    private static final Domain F = Domain.FLUID;
    private static final Face TWO = Statements.two(F);
    private static final Parameter AREA = real("area", "10 mm²", "m²", "Area of the opening.").atLeast(1e-15);
    private static final Parameter DISCHARGE = real("discharge", "0.62", "1", "Discharge coefficient.").atLeast(1e-6);
    private static final Parameter DENSITY = real("density", "1000 kg/m³", "kg/m³", "Density.").atLeast(1e-6);
    private static final Parameter LAMINAR = real("laminar below", "10 Pa", "Pa",
            "Pressure difference below which the flow is laminar.").atLeast(1e-9);

    private static final Parameter CLOSED = real("R closed", "1e15 Pa·s/m³", "Pa·s/m³", "Resistance of the leakage while closed.")
            .atLeast(1e-3);

    static final BlockType VOLUME = BlockType.named("fluid volume", "Fluid volume", Family.FLUID).picture(Symbols::volume)
            .help("flow = V / K · dp/dt: a closed volume of a fluid that can be compressed a little.")
            .with(real("V", "1 l", "m³", "Volume.").atLeast(1e-15), real("K", "1.4e9 Pa", "Pa", "Bulk modulus.").atLeast(1e-3),
                    real("p0", "0 Pa", "Pa", "Pressure at the start."))
            .face(Statements.one(F)).summary("{V}").element(e -> {
                Branch x = e.branch("a", "");
                e.equation(x.through().minus(e.rate(x.across(), e.value("p0")).times(e.value("V") / e.value("K"))));
            });

    static final BlockType ORIFICE = BlockType.named("orifice", "Orifice", Family.FLUID).picture(Symbols::orifice)
            .help("flow = discharge · area · √(2 / density · pressure difference), with its sign; proportional to the difference where "
                    + "that is small.")
            .with(AREA, DISCHARGE, DENSITY, LAMINAR).face(TWO).summary("{area}").element(e -> {
                Branch x = e.branch("a", "b");
                double k = coefficient(e);
                double small = e.value("laminar below");
                e.equation(x.through().minus(e.function(a -> root(a.getFirst(), small).times(k), x.across())));
            });

    static final BlockType THROTTLE = BlockType.named("throttle valve", "Throttle valve", Family.FLUID).picture(Symbols::throttle)
            .help("An orifice that a signal opens: the area is 'opening' times the whole one.")
            .with(AREA, DISCHARGE, DENSITY, LAMINAR, real("leakage", "0", "1", "Opening while closed.").atLeast(0).atMost(1))
            .face(TWO.in("opening", Accept.REAL)).summary("{area}").element(e -> {
                Branch x = e.branch("a", "b");
                double k = coefficient(e);
                double small = e.value("laminar below");
                double leakage = e.value("leakage");
                e.equation(x.through().minus(e.function(a -> root(a.get(1), small).times(Statements.share(a.get(0), leakage)).times(k),
                        e.input("opening"), x.across())));
            });

    static final BlockType CHECK = BlockType.named("check valve", "Check valve", Family.FLUID).picture(Symbols::check)
            .help("Opens from a to b when the pressure difference is above the opening pressure: difference = opening pressure + R · flow; "
                    + "it is tight otherwise but for the leakage.")
            .with(real("opening pressure", "0.2 bar", "Pa", "Pressure difference at which it opens.").atLeast(0),
                    real("R", "1e8 Pa·s/m³", "Pa·s/m³", "Resistance while open.").atLeast(1e-6),
                    CLOSED)
            .face(TWO).summary("{opening pressure}").element(e -> opening(e, "opening pressure"));

    static final BlockType RELIEF = BlockType.named("relief valve", "Relief valve", Family.FLUID).picture(Symbols::relief)
            .help("Opens from a to b when the pressure difference is above the set pressure: difference = set pressure + R · flow; it is "
                    + "tight otherwise but for the leakage.")
            .with(real("set pressure", "100 bar", "Pa", "Pressure difference at which it opens.").atLeast(0),
                    real("R", "1e9 Pa·s/m³", "Pa·s/m³", "Resistance while open.").atLeast(1e-6),
                    CLOSED)
            .face(TWO).summary("{set pressure}").element(e -> opening(e, "set pressure"));

    static final BlockType DIRECTIONAL = BlockType.named("directional valve", "Directional valve", Family.FLUID)
            .picture(Symbols::directional)
            .help("Four ports, three positions, proportional. For u from the overlap up to 1 it opens P to A and B to T, for u down to −1 "
            + "P to "
                    + "B and A to T, each as an orifice. Between −overlap and overlap it is closed but for the leakage.")
            .with(AREA, DISCHARGE, DENSITY.startingAt("860 kg/m³"), LAMINAR.startingAt("1000 Pa"),
                    real("overlap", "0.02", "1", "Share of the stroke that opens nothing.").atLeast(0).atMost(0.9),
                    real("leakage", "1e-4", "1", "Opening while closed.").atLeast(0).atMost(1))
            .face(Face.NONE.contact("P", Side.BOTTOM, F).contact("T", Side.BOTTOM, F).contact("A", Side.TOP, F).contact("B", Side.TOP, F)
                    .in("u", Accept.REAL)).signal("u", "1").summary("{area}").element(e -> {
                        path(e, "P", "A", 1);
                        path(e, "B", "T", 1);
                        path(e, "P", "B", -1);
                        path(e, "A", "T", -1);
                    });

    static final BlockType PUMP = BlockType.named("pump", "Pump", Family.FLUID).picture(Symbols::pump)
            .help("flow from a to b = D w − pressure rise / leakage, torque = D · pressure rise; D is the displacement per radian.")
            .with(real("D", "1.6 cm³/rad", "m³/rad", "Displacement.").atLeast(1e-15),
                    real("leakage", "1e12 Pa·s/m³", "Pa·s/m³", "Resistance of the leakage.").atLeast(1e-3))
            .face(Face.NONE.contact("a", Side.BOTTOM, F).contact("b", Side.TOP, F).contact("shaft", Side.LEFT, Domain.ROTATIONAL))
            .summary("{D}").element(e -> {
                Branch x = e.branch("a", "b");
                Branch shaft = e.branch("shaft", "");
                double d = e.value("D");
                e.equation(x.through().minus(shaft.across().times(d)).minus(x.across().times(1 / e.value("leakage"))));
                e.equation(shaft.through().plus(x.across().times(d)));
            });

    static final BlockType CYLINDER = BlockType.named("cylinder", "Cylinder", Family.FLUID).picture(Symbols::cylinder)
            .help("Double acting. Chambers: dp/dt = K / volume · (flow ∓ area · v), volume = dead volume + area · way. Rod: force = pA "
            + "area A "
                    + "− pB area B − seal friction. Connect a Mass to the rod, and a Line stop for the ends of its stroke.")
            .with(real("area A", "20 cm²", "m²", "Area of the piston.").atLeast(1e-12),
                    real("area B", "12 cm²", "m²", "Area of the piston on the side of the rod.").atLeast(1e-12),
                    real("stroke", "0.6 m", "m", "Way from one end to the other.").atLeast(1e-6),
                    real("dead volume", "50 cm³", "m³", "Volume of each chamber at its end.").atLeast(1e-12),
                    real("K", "1.4e9 Pa", "Pa", "Bulk modulus.").atLeast(1e-3), real("x0", "0.3 m", "m", "Position at the start."),
                    real("pA0", "0 Pa", "Pa", "Pressure in chamber A at the start."), real("pB0", "0 Pa", "Pa", "Pressure in chamber B."),
                    real("sliding", "60 N", "N", "Friction of the seals while it slides.").atLeast(0),
                    real("static", "90 N", "N", "Friction of the seals at which it breaks away.").atLeast(0),
                    real("Stribeck speed", "0.01 m/s", "m/s", "Speed over which the friction falls.").atLeast(1e-9),
                    real("viscous", "200 N·s/m", "N·s/m", "Viscous friction.").atLeast(0))
            .face(Face.NONE.contact("A", Side.BOTTOM, F).contact("B", Side.BOTTOM, F).contact("rod", Side.RIGHT, Domain.TRANSLATIONAL)
                    .out("x")).summary("{area A}").element(Hydraulics::cylinder);

    static final List<BlockType> TYPES = List.of(VOLUME, ORIFICE, THROTTLE, CHECK, RELIEF, DIRECTIONAL, PUMP, CYLINDER);

    private Hydraulics() {}

    /** Flow over the root of the pressure difference (Torricelli, with the discharge coefficient). */
    private static double coefficient(Element e) {
        return e.value("discharge") * e.value("area") * Math.sqrt(2 / e.value("density"));
    }

    /** The root of a pressure difference with its sign; in proportion to it where it is small. */
    private static Expr root(Expr p, double small) {
        return p.over(p.times(p).plus(Expr.of(p.type(), small * small)).call(Intrinsic.SQRT).call(Intrinsic.SQRT));
    }

    private static void opening(Element e, String pressure) {
        Branch x = e.branch("a", "b");
        Form above = x.across().minus(Form.of(e.value(pressure)));
        e.equation(Switching.by(Own.of(above)), above.minus(x.through().times(e.value("R"))),
                Statements.resistance(x, e.value("R closed")));
    }

    /** One of the four ways through a directional valve. */
    private static void path(Element e, String from, String to, int sense) {
        Branch x = e.branch(from, to);
        double k = coefficient(e);
        double small = e.value("laminar below");
        double overlap = e.value("overlap");
        double leakage = e.value("leakage");
        e.equation(x.through().minus(e.function(a -> {
            Expr opened = a.get(0).times(sense).minus(Expr.of(a.get(0).type(), overlap)).times(1 / (1 - overlap));
            return root(a.get(1), small).times(Statements.share(opened, leakage)).times(k);
        }, e.input("u"), x.across())));
    }

    private static void cylinder(Element e) {
        Branch a = e.branch("A", "");
        Branch b = e.branch("B", "");
        Branch rod = e.branch("rod", "");
        Form x = e.unknown();
        e.equation(e.rate(x, e.value("x0")).minus(rod.across()));
        e.output("x", x);
        double stroke = e.value("stroke");
        chamber(e, a, x, e.value("area A"), 0, e.value("pA0"), rod.across());
        chamber(e, b, x, -e.value("area B"), stroke, e.value("pB0"), rod.across());
        e.equation(rod.through().plus(a.across().times(e.value("area A"))).minus(b.across().times(e.value("area B"))));
        FrictionAndPlay.friction(e, e.branch("rod", ""));
    }

    /** @param area negative where the volume shrinks as the rod moves out */
    private static void chamber(Element e, Branch port, Form x, double area, double end, double initial, Form speed) {
        double bulk = e.value("K");
        double dead = e.value("dead volume");
        Form rise = e.function(z -> {
            Expr way = z.get(1).minus(Expr.of(z.get(1).type(), end)).times(area).max(Expr.of(z.get(1).type(), 0));
            return z.get(0).times(bulk).over(way.plus(Expr.of(way.type(), dead)));
        }, port.through().minus(speed.times(area)), x);
        e.equation(e.rate(port.across(), initial).minus(rise));
    }
}
