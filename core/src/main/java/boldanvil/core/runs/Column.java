package boldanvil.core.runs;

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
}
