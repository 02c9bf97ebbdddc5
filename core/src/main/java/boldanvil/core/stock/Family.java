package boldanvil.core.stock;

/** What a block type has to do with; shown as a coloured band and a word. */
public enum Family {
    SOURCE("Sources"),
    CALCULATION("Calculation"),
    LOGIC("Logic"),
    LIMIT("Limits"),
    TIME("Sampled time"),
    PHYSICAL("Continuous"),
    ELECTRICAL("Circuits"),
    MECHANICAL("Mechanics"),
    FLUID("Fluids"),
    THERMAL("Heat"),
    SENSOR("Sensors"),
    DRIVE("Drives and converters"),
    LANGUAGE("Text and modes"),
    TERMINAL("Terminals"),
    STRUCTURE("Structure");

    private final String title;

    Family(String title) {
        this.title = title;
    }

    public String title() {
        return title;
    }
}
