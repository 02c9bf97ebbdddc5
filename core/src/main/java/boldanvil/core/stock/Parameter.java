package boldanvil.core.stock;

import java.util.List;
import java.util.Map;

/**
 * A parameter of a block type.
 *
 * @param kind how its text is read
 * @param initial default text
 * @param unit unit shown beside the field, and that of a number without one; values are SI. {@code {unit}} stands for the block's own
 *     parameter of that name, {@code 1} for a pure number; empty where any unit will do
 * @param choices texts to choose from, for {@link Kind#CHOICE}
 * @param formerChoices names that choices had in files of former versions, with the present ones
 * @param minimum least value allowed, SI
 * @param maximum greatest value allowed, SI
 * @param live whether it can change while running
 * @param help one sentence
 */
public record Parameter(String name, Kind kind, String initial, String unit, List<String> choices, Map<String, String> formerChoices,
        double minimum, double maximum, Live live, String help) {
    /** Whether a parameter can change while running. */
    public enum Live {
        NEVER,
        /** Where the block says so. */
        OFFERED,
        ALWAYS
    }

    /** How a parameter's text is read. */
    public enum Kind {
        /** An expression for one number. */
        REAL,
        /** One number, or a list with one for each element of a vector. */
        REALS,
        /** An expression for a list of numbers. */
        LIST,
        /** One of the choices. */
        CHOICE,
        /** Taken as it is. */
        TEXT,
        /** A text of several lines in a language. */
        SOURCE
    }

    public static Parameter real(String name, String initial, String unit, String help) {
        return new Parameter(name, Kind.REAL, initial, unit, List.of(), Map.of(), Double.NEGATIVE_INFINITY,
                Double.POSITIVE_INFINITY, Live.NEVER, help);
    }

    public static Parameter reals(String name, String initial, String unit, String help) {
        return new Parameter(name, Kind.REALS, initial, unit, List.of(), Map.of(), Double.NEGATIVE_INFINITY,
                Double.POSITIVE_INFINITY, Live.NEVER, help);
    }

    public static Parameter list(String name, String initial, String unit, String help) {
        return new Parameter(name, Kind.LIST, initial, unit, List.of(), Map.of(), Double.NEGATIVE_INFINITY,
                Double.POSITIVE_INFINITY, Live.NEVER, help);
    }

    public static Parameter choice(String name, String help, String... choices) {
        return new Parameter(name, Kind.CHOICE, choices[0], "", List.of(choices), Map.of(), 0, 0, Live.NEVER, help);
    }

    public static Parameter text(String name, String initial, String help) {
        return new Parameter(name, Kind.TEXT, initial, "", List.of(), Map.of(), 0, 0, Live.NEVER, help);
    }

    public static Parameter source(String name, String initial, String help) {
        return new Parameter(name, Kind.SOURCE, initial, "", List.of(), Map.of(), 0, 0, Live.NEVER, help);
    }

    /** Whether its text is one or more numbers. */
    public boolean isNumeric() {
        return kind == Kind.REAL || kind == Kind.REALS || kind == Kind.LIST;
    }

    /** The unit for a block with these settings. */
    public String unit(Settings s) {
        if (!unit.contains("{unit}")) {
            return unit;
        }
        String own = s.text("unit").strip();
        return own.isEmpty() ? "" : unit.replace("{unit}", own);
    }

    /** Whether its unit follows from the block's own parameter unit. */
    public boolean isInOwnUnit() {
        return unit.contains("{unit}");
    }

    /** The unit as it is shown beside a field; empty for a pure number. */
    public String shownUnit(Settings s) {
        String u = unit(s);
        return u.equals("1") ? "" : u;
    }

    Parameter offered() {
        return new Parameter(name, kind, initial, unit, choices, formerChoices, minimum, maximum, Live.OFFERED, help);
    }

    Parameter always() {
        return new Parameter(name, kind, initial, unit, choices, formerChoices, minimum, maximum, Live.ALWAYS, help);
    }

    /** @param names what a choice was called in files of former versions, with what it is called now */
    Parameter formerly(Map<String, String> names) {
        return new Parameter(name, kind, initial, unit, choices, names, minimum, maximum, live, help);
    }

    Parameter startingAt(String text) {
        return new Parameter(name, kind, text, unit, choices, formerChoices, minimum, maximum, live, help);
    }

    Parameter atLeast(double least) {
        return new Parameter(name, kind, initial, unit, choices, formerChoices, least, maximum, live, help);
    }

    Parameter atMost(double greatest) {
        return new Parameter(name, kind, initial, unit, choices, formerChoices, minimum, greatest, live, help);
    }
}
