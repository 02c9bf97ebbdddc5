package boldanvil.core.tags;

import boldanvil.core.diagram.TagTable;
import boldanvil.core.link.TagType;
import boldanvil.core.quantity.Unit;
import boldanvil.core.quantity.Units;

/**
 * How what a PLC holds becomes a signal in SI: the signal is the held value times the factor plus the offset.
 *
 * @param factor in SI, not 0
 * @param offset in SI
 */
public record Scale(double factor, double offset) {
    /** Signal and held value are the same. */
    public static final Scale NONE = new Scale(1, 0);

    /** The scale of a tag whose unit is known. */
    static Scale of(TagTable.Line l) {
        Unit u = Units.orOne(l.unit());
        if (u.isPlain() && u.factor() == 1 && !l.isScaled()) {
            return NONE;
        }
        double zero = u.toSi(l.offset());
        return new Scale(u.toSi(l.offset() + l.factor()) - zero, zero);
    }

    /** The signal for a held value. */
    public double signal(double held) {
        return held * factor + offset;
    }

    /**
     * What the PLC is to hold for a signal: rounded to the nearest whole number for an integer, and as near as its type has it.
     *
     * @return a {@link Boolean}, a {@link Double}, or a whole number
     */
    public Object held(double signal, TagType type) {
        if (type == TagType.BOOL) {
            return signal != 0;
        }
        double v = this.equals(NONE) ? signal : (signal - offset) / factor;
        return type.isWhole() ? type.nearest(v) : (Object) v;
    }
}
