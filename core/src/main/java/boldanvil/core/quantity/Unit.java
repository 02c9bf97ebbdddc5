package boldanvil.core.quantity;

/**
 * A unit: how a value in it becomes one in SI. A temperature scale has a zero point of its own; a level in decibels is 20 times the
 * decimal logarithm of a ratio of amplitudes.
 *
 * @param factor SI units in one of it
 * @param zero what 0 of it is in SI; 0 for all but temperature scales
 * @param level whether it is a level in decibels
 */
public record Unit(Dimension dimension, double factor, double zero, boolean level) {
    /** The unit of pure numbers. */
    public static final Unit ONE = of(Dimension.NONE, 1);
    static final Unit DECIBEL = new Unit(Dimension.NONE, 1, 0, true);

    static Unit of(Dimension d, double factor) {
        return new Unit(d, factor, 0, false);
    }

    /** A value in this unit, in SI. */
    public double toSi(double value) {
        return level ? Math.pow(10, value / 20) : value * factor + zero;
    }

    /** An SI value, in this unit. */
    public double fromSi(double value) {
        return level ? 20 * Math.log10(value) : (value - zero) / factor;
    }

    /** A difference of two SI values, in this unit. */
    public double differenceFromSi(double value) {
        return level ? 20 * Math.log10(value) : value / factor;
    }

    /** Whether values and their differences have the same numbers: neither a temperature scale nor a level. */
    public boolean isPlain() {
        return zero == 0 && !level;
    }

    Unit times(Unit other) {
        return of(dimension.times(other.dimension), factor * other.factor);
    }

    Unit over(Unit other) {
        return of(dimension.over(other.dimension), factor / other.factor);
    }

    Unit power(int n) {
        return of(dimension.power(n), Math.pow(factor, n));
    }
}
