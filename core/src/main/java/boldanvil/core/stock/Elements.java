package boldanvil.core.stock;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Side;
import boldanvil.core.network.Domain;
import boldanvil.core.network.Element;
import boldanvil.core.quantity.Dimension;
import java.util.List;
import java.util.Map;

/** What all elements of networks have alike: names and kinds of the quantities they give as signals. */
public final class Elements {
    /** Whether an element gives the quantities of its contacts. */
    public static final String MEASURES = "measure";
    /** What {@link #MEASURES} is when it does. */
    public static final String CONTACTS = "contacts";

    /** What {@link #MEASURES} is when it gives the energy it takes in. */
    public static final String ENERGY = "energy";
    private static final String BOTH = CONTACTS + " and " + ENERGY;

    static final Parameter MEASURE =
            Parameter.choice(MEASURES, "Whether it has outputs with the potential of each contact and the flow into it, and one with the "
            + "energy it has taken in since the start, through all contacts together.",
            "nothing", CONTACTS, ENERGY, BOTH);

    /** Whether an element has a contact at which it gives off what it loses. */
    static final Parameter HEATING = Parameter.choice("heat contact", "Whether it has a contact at which it gives off what it loses as "
            + "heat. Connect that contact to a Heat capacity, a Thermal resistance or an Ambient.", "no", "yes");

    private static final Map<String, String> UNITS = Map.ofEntries(Map.entry("i", "A"), Map.entry("w", "rad/s"), Map.entry("angle", "rad"),
            Map.entry("heading", "rad"), Map.entry("x", "m"), Map.entry("y", "m"), Map.entry("level", "m"), Map.entry("torque", "N·m"),
            Map.entry("p", "Pa"), Map.entry("q", "m³/s"), Map.entry("T", "K"), Map.entry("charge", "1"), Map.entry("flux", "Wb"),
            Map.entry("passed", "C"));

    private Elements() {}

    /** @param signals unit of each signal it takes */
    static void units(UnitFlow f, Family family, Iterable<Face.Contact> contacts, Map<String, String> signals) {
        signals.forEach((input, unit) -> f.must(input, unit.equals("1") ? Dimension.NONE : Dimension.of(unit).orElse(null)));
        UNITS.forEach((port, unit) -> f.out(port, Dimension.of(unit).orElse(null)));
        f.out("v", Dimension.of(family == Family.ELECTRICAL ? "V" : "m/s").orElse(null));
        contactUnits(f, contacts);
    }

    /** The kinds of the quantities of contacts. */
    static void contactUnits(UnitFlow f, Iterable<Face.Contact> contacts) {
        f.out(ENERGY, Dimension.of("J").orElse(null));
        contacts.forEach(c -> {
            f.out(potential(c), Dimension.of(c.domain().acrossUnit()).orElse(null));
            f.out(flow(c), Dimension.of(c.domain().throughUnit()).orElse(null));
        });
    }

    /** @param s null for a face with all contacts there can be */
    static Face warming(Face f, Settings s, Side side) {
        return s == null || s.text(HEATING.name()).equals("yes") ? f.contact(Element.HEAT, side, Domain.THERMAL) : f;
    }

    static Face measured(Face f, Settings s) {
        Face all = f;
        if (s.text(MEASURES).startsWith(CONTACTS)) {
            for (Face.Contact c : f.contacts()) {
                all = all.out(potential(c)).out(flow(c));
            }
        }
        return s.text(MEASURES).endsWith(ENERGY) ? all.out(ENERGY) : all;
    }

    /** A block that gives the quantities of its contacts, or the energy, beside what it gives already. */
    public static Block measuring(Block b, String what) {
        String now = b.settings().getOrDefault(MEASURES, "");
        return b.with(MEASURES, now.isEmpty() || now.equals("nothing") || now.equals(what) ? what : BOTH);
    }

    /** The output with the potential of a contact, such as {@code a voltage}. */
    public static String potential(Face.Contact c) {
        return c.name() + " " + c.domain().across();
    }

    /** The output with the flow into a contact, such as {@code a current}. */
    public static String flow(Face.Contact c) {
        return c.name() + " " + c.domain().through();
    }

    /** The contacts of a block that is an element; none of others. */
    public static List<Face.Contact> contacts(Block b) {
        return Stock.find(b.type()).filter(t -> t.role() == BlockType.Role.ELEMENT)
                .map(t -> t.face(new Settings(t, b.settings())).contacts()).orElse(List.of());
    }
}
