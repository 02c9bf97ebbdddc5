package boldanvil.core.quantity;

import java.util.Optional;
import javax.measure.Unit;

/** What kind of quantity a signal carries, such as a length or a current; angles count as numbers. */
public final class Dimension {
    /** A second. */
    public static final Dimension TIME = new Dimension(tech.units.indriya.unit.Units.SECOND);

    private final Unit<?> unit;

    private Dimension(Unit<?> unit) {
        this.unit = unit;
    }

    /** The dimension of a unit; empty for an empty text or one that is no unit. */
    public static Optional<Dimension> of(String unitText) {
        return unitText.isBlank() ? Optional.empty() : Units.find(unitText).map(u -> new Dimension(u.getSystemUnit()));
    }

    /** The dimension of a number with its unit, {@code 0.5 mm}; empty for anything else. */
    public static Optional<Dimension> ofQuantity(String text) {
        String unit = text.strip().replaceFirst("^[-+]?[0-9]+(\\.[0-9]+)?([eE][-+]?[0-9]+)?", "");
        return unit.equals(text.strip()) ? Optional.empty() : of(unit);
    }

    public Dimension times(Dimension other) {
        return new Dimension(unit.multiply(other.unit).getSystemUnit());
    }

    public Dimension over(Dimension other) {
        return new Dimension(unit.divide(other.unit).getSystemUnit());
    }

    /** Whether values of both can be added. */
    public boolean fits(Dimension other) {
        return unit.getDimension().equals(other.unit.getDimension());
    }

    /** The SI unit as people write it. */
    public String label() {
        String s = unit.toString();
        return s.isEmpty() || s.equals("one") ? "a pure number" : s;
    }
}
