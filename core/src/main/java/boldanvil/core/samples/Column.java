package boldanvil.core.samples;

import boldanvil.core.hdf5.NumberType;

/**
 * What a column of samples is.
 *
 * @param name full address of the tap
 * @param unit the unit its values are shown in, which are SI numbers all the same; empty for a pure number
 * @param storage how its values are kept in files
 */
public record Column(String name, String unit, NumberType storage) {
    public Column(String name, String unit) {
        this(name, unit, NumberType.FLOAT64);
    }

    /** A column from a heading such as {@code speed [rpm]}; without brackets at the end, of a pure number. */
    public static Column ofHeading(String heading) {
        String text = heading.strip();
        int open = text.endsWith("]") ? text.indexOf('[') : -1;
        return open < 0 ? new Column(text, "") : new Column(text.substring(0, open).strip(), text.substring(open + 1, text.length() - 1));
    }
}
