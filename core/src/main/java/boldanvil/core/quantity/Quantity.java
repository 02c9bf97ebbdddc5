package boldanvil.core.quantity;

/**
 * A value with its kind.
 *
 * @param value in SI
 * @param dimension its kind; null for a bare number, which takes the kind that is wanted where it is used
 */
public record Quantity(double value, Dimension dimension) {
    /** A bare number. */
    public static Quantity bare(double value) {
        return new Quantity(value, null);
    }

    /** Whether no unit was given. */
    public boolean isBare() {
        return dimension == null;
    }

    /** Whether the value may stand where a unit is wanted. */
    public boolean fits(String unit) {
        var wanted = Units.find(unit);
        return dimension == null || unit.isBlank() || wanted.isEmpty() || dimension.fits(wanted.get().dimension());
    }

    /**
     * The value in SI where a unit is wanted: a bare number is in that unit, anything else must be of its kind.
     *
     * @param unit a unit, or a text that is none, which takes anything
     * @throws FormulaException when the kind does not fit
     */
    public double in(String unit) {
        var wanted = Units.find(unit);
        if (unit.isBlank() || wanted.isEmpty()) {
            return value;
        }
        if (dimension == null) {
            return wanted.get().toSi(value);
        }
        if (!dimension.fits(wanted.get().dimension())) {
            throw new FormulaException("It is " + dimension.label() + ", but " + wanted.get().dimension().label() + " is needed.", 0);
        }
        return value;
    }
}
