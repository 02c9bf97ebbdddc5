package boldanvil.core.sheet;

import boldanvil.core.stock.Family;

/** The colours of the application by what they are for, each by day and by night. */
public enum Ink {
    PAPER("#F4F1EA", "#1D2023"), CARD("#FCFAF5", "#262A2E"), INK("#20252A", "#E6E1D6"), FAINT("#6C7178", "#9AA0A6"),
    RULE("#D8D2C4", "#3A4046"), EMBER("#B5451B", "#E07A3F"), STEEL("#2B5872", "#7FB2CF"), MOSS("#2F7A4C", "#79B98F"),
    AMBER("#A96F12", "#D9A550"), MADDER("#A12A30", "#E0787D"), COPPER("#9A5B33", "#C98A5E"), SOURCE("#8C7A44", "#B7A77C"),
    CALCULATION("#5A6F82", "#8FA3B5"), LOGIC("#7A5A8A", "#B79AC4"), LIMIT("#99594B", "#C99A8F"), DRIVE("#946B1E", "#D0B06A"),
    LANGUAGE("#5B7A45", "#9DB58A"), TERMINAL("#2C776A", "#79B9A8");

    private final String day;
    private final String night;

    Ink(String day, String night) {
        this.day = day;
        this.night = night;
    }

    /** Such as {@code #F4F1EA}. */
    public String hex(boolean atNight) {
        return atNight ? night : day;
    }

    /** The band of a family. The family is also written in details and stock; colour is not all there is. */
    public static Ink of(Family f) {
        return switch (f) {
            case SOURCE -> SOURCE;
            case CALCULATION -> CALCULATION;
            case LOGIC -> LOGIC;
            case LIMIT -> LIMIT;
            case TIME -> STEEL;
            case PHYSICAL, ELECTRICAL, MECHANICAL, FLUID, THERMAL, SENSOR -> COPPER;
            case DRIVE -> DRIVE;
            case LANGUAGE -> LANGUAGE;
            case TERMINAL -> TERMINAL;
            case STRUCTURE -> FAINT;
        };
    }
}
