package boldanvil.core.network;

import java.util.Arrays;

/** What flows through a contact, and what drives it. */
public enum Domain {
    ELECTRICAL("electrical", "voltage", "V", "current", "A"),
    ROTATIONAL("rotational", "speed", "rad/s", "torque", "N·m"),
    TRANSLATIONAL("translational", "speed", "m/s", "force", "N"),
    FLUID("fluid", "pressure", "Pa", "flow", "m³/s"),
    THERMAL("thermal", "temperature", "K", "heat flow", "W");

    private final String label;
    private final String across;
    private final String acrossUnit;
    private final String through;
    private final String throughUnit;

    Domain(String label, String across, String acrossUnit, String through, String throughUnit) {
        this.label = label;
        this.across = across;
        this.acrossUnit = acrossUnit;
        this.through = through;
        this.throughUnit = throughUnit;
    }

    /** The domain with a name; the electrical one where there is none. */
    public static Domain labelled(String label) {
        return Arrays.stream(values()).filter(d -> d.label.equals(label)).findFirst().orElse(ELECTRICAL);
    }

    /** Its name in sentences. */
    public String label() {
        return label;
    }

    /** What is alike at all contacts of a net. */
    public String across() {
        return across;
    }

    public String acrossUnit() {
        return acrossUnit;
    }

    /** What adds up to zero in a net. */
    public String through() {
        return through;
    }

    public String throughUnit() {
        return throughUnit;
    }
}
