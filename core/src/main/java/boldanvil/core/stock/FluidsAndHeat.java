package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.real;

import boldanvil.core.network.Domain;
import boldanvil.core.network.Element.Branch;
import boldanvil.core.network.Form;
import java.util.List;

/** Elements of fluid networks, with pressures above that of the air around, and of thermal networks, with temperatures in kelvin. */
final class FluidsAndHeat {
    private static final Domain F = Domain.FLUID;
    private static final Domain H = Domain.THERMAL;

    static final BlockType OPEN_AIR = BlockType.named("open air", "Open air", Family.FLUID).picture(Symbols::frame)
            .help("Its contact has the pressure of the air around, 0 Pa.").face(Statements.one(F)).summary("0 Pa")
            .element(e -> e.reference("a"));

    static final BlockType TANK = BlockType.named("tank", "Tank", Family.FLUID).picture(Symbols::tank)
            .help("flow = area · d(level)/dt, pressure at the floor = density · 9.80665 m/s² · level.")
            .with(real("area", "1 m²", "m²", "Area of the surface.").atLeast(1e-12),
                    real("density", "1000 kg/m³", "kg/m³", "Density.").atLeast(1e-6),
                    real("level0", "0 m", "m", "Level at the start."))
            .face(Statements.one(F).out("level")).summary("{area}").element(e -> {
                Branch x = e.branch("a", "");
                double weight = e.value("density") * 9.80665;
                Form level = x.across().times(1 / weight);
                e.equation(x.through().minus(e.rate(level, e.value("level0")).times(e.value("area"))));
                e.output("level", level);
            });

    static final BlockType LAMINAR = BlockType.named("laminar resistance", "Laminar resistance", Family.FLUID).picture(Symbols::resistor)
            .help("pressure difference = R · flow (Hagen–Poiseuille).")
            .with(real("R", "1e6 Pa·s/m³", "Pa·s/m³", "Resistance.").atLeast(0)).face(Statements.two(F)).summary("{R}")
            .element(Statements::resisting);

    static final BlockType PIPE = BlockType.named("pipe", "Pipe", Family.FLUID).picture(Symbols::pipe)
            .help("pressure difference = density · length / area · d(flow)/dt + R · flow.")
            .with(real("length", "10 m", "m", "Length.").atLeast(1e-9), real("area", "0.01 m²", "m²", "Area of the bore.").atLeast(1e-12),
                    real("density", "1000 kg/m³", "kg/m³", "Density.").atLeast(1e-6),
                    real("R", "0 Pa·s/m³", "Pa·s/m³", "Laminar resistance.").atLeast(0))
            .face(Statements.two(F)).summary("{length}").element(e -> {
                Branch x = e.branch("a", "b");
                double mass = e.value("density") * e.value("length") / e.value("area");
                e.equation(x.across().minus(e.rate(x.through(), 0).times(mass)).minus(x.through().times(e.value("R"))));
            });

    static final BlockType PUMP = BlockType.named("flow source", "Flow source", Family.FLUID).picture(Symbols::drive)
            .help("The flow Q + u leaves contact a, from the open air.")
            .with(real("Q", "0 m³/s", "m³/s", "The flow, to which a signal at u is added."))
            .face(Statements.one(F).optional("u", Accept.REAL)).signal("u", "m³/s").summary("{Q}").element(e -> Statements.driving(e, "Q"));

    static final BlockType PRESSURE = BlockType.named("pressure source", "Pressure source", Family.FLUID).picture(Symbols::drive)
            .help("The pressure of contact a is p + u.")
            .with(real("p", "0 Pa", "Pa", "The pressure, to which a signal at u is added."))
            .face(Statements.one(F).optional("u", Accept.REAL)).signal("u", "Pa").summary("{p}").element(e -> Statements.holding(e, "p"));

    static final BlockType GAUGE = BlockType.named("pressure gauge", "Pressure gauge", Family.FLUID).picture(Symbols::sensor)
            .help("p is the pressure of contact a.").face(Statements.one(F).out("p")).summary("→ p")
            .element(e -> e.output("p", Statements.idle(e).across()));

    static final BlockType FLOW_METER = BlockType.named("flow meter", "Flow meter", Family.FLUID).picture(Symbols::sensor)
            .help("q is the flow from contact a to contact b, without loss of pressure.").face(Statements.two(F).out("q"))
            .summary("→ q")
            .element(e -> Statements.metering(e, "q"));

    static final BlockType CAPACITY = BlockType.named("heat capacity", "Heat capacity", Family.THERMAL).picture(Symbols::mass)
            .help("heat flow = C dT/dt.")
            .with(real("C", "100 J/K", "J/K", "Heat capacity.").atLeast(1e-15), real("T0", "293.15 K", "K", "Temperature at the start."))
            .face(Statements.one(H)).summary("{C}").element(e -> {
                Branch x = e.branch("a", "");
                e.equation(x.through().minus(e.rate(x.across(), e.value("T0")).times(e.value("C"))));
            });

    static final BlockType RESISTANCE = BlockType.named("thermal resistance", "Thermal resistance", Family.THERMAL)
            .picture(Symbols::resistor)
            .help("temperature difference = R · heat flow.").with(real("R", "1 K/W", "K/W", "Resistance.").atLeast(0))
            .face(Statements.two(H)).summary("{R}").element(Statements::resisting);

    static final BlockType CONVECTION = BlockType.named("convection", "Convection", Family.THERMAL).picture(Symbols::convection)
            .help("heat flow = h · area · temperature difference.")
            .with(real("h", "10 W/(m²·K)", "W/(m²·K)", "Heat transfer coefficient.").atLeast(1e-9),
                    real("area", "0.01 m²", "m²", "Area of the surface.").atLeast(1e-12))
            .face(Statements.two(H)).summary("{h}").element(e -> {
                Branch x = e.branch("a", "b");
                e.equation(x.through().minus(x.across().times(e.value("h") * e.value("area"))));
            });

    static final BlockType AMBIENT = BlockType.named("ambient", "Ambient temperature", Family.THERMAL).picture(Symbols::frame)
            .help("The temperature of contact a is T + u.")
            .with(real("T", "293.15 K", "K", "The temperature, to which a signal at u is added."))
            .face(Statements.one(H).optional("u", Accept.REAL)).signal("u", "K").summary("{T}").element(e -> Statements.holding(e, "T"));

    static final BlockType HEAT = BlockType.named("heat source", "Heat source", Family.THERMAL).picture(Symbols::drive)
            .help("The heat flow P + u leaves contact a.").with(real("P", "0 W", "W", "The heat flow, to which a signal at u is added."))
            .face(Statements.one(H).optional("u", Accept.REAL)).signal("u", "W").summary("{P}").element(e -> Statements.driving(e, "P"));

    static final BlockType THERMOMETER = BlockType.named("thermometer", "Thermometer", Family.THERMAL).picture(Symbols::sensor)
            .help("T is the temperature of contact a, in kelvin.").face(Statements.one(H).out("T")).summary("→ T")
            .element(e -> e.output("T", Statements.idle(e).across()));

    static final List<BlockType> TYPES = List.of(OPEN_AIR, TANK, LAMINAR, PIPE, PUMP, PRESSURE, GAUGE, FLOW_METER, AMBIENT, CAPACITY,
            RESISTANCE, CONVECTION, HEAT, THERMOMETER);

    private FluidsAndHeat() {}
}
