package boldanvil.core.quantity;

import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import javax.measure.MetricPrefix;
import javax.measure.Unit;
import javax.measure.format.MeasurementParseException;
import tech.units.indriya.AbstractUnit;
import tech.units.indriya.format.SimpleUnitFormat;

/**
 * Units of measurement by the symbols engineers write. A thin face over JSR 385: it adds spellings that a keyboard has
 * ({@code ohm}, {@code us}, {@code rpm}) and reads a unit as a factor to SI.
 */
public final class Units {
    private static final Map<String, Optional<Unit<?>>> KNOWN = new ConcurrentHashMap<>();
    private static final SimpleUnitFormat FORMAT = format();

    private Units() {}

    private static SimpleUnitFormat format() {
        var f = SimpleUnitFormat.getNewInstance();
        var ohm = tech.units.indriya.unit.Units.OHM;
        var second = tech.units.indriya.unit.Units.SECOND;
        var radian = tech.units.indriya.unit.Units.RADIAN;
        f.alias(ohm, "ohm");
        f.alias(MetricPrefix.MILLI(ohm), "mohm");
        f.alias(MetricPrefix.KILO(ohm), "kohm");
        f.alias(MetricPrefix.MICRO(second), "us");
        f.alias(MetricPrefix.MICRO(tech.units.indriya.unit.Units.HENRY), "uH");
        f.alias(MetricPrefix.MICRO(tech.units.indriya.unit.Units.FARAD), "uF");
        f.label(radian.multiply(2 * Math.PI).divide(second.multiply(60)), "rpm");
        f.label(radian.multiply(Math.PI / 180), "deg");
        return f;
    }

    /** Whether the text names a unit, {@code mm} or {@code N·m/A} for example. */
    public static boolean isUnit(String text) {
        return find(text).isPresent();
    }

    /**
     * How many SI units one of {@code text} is: 0.001 for {@code mm}.
     *
     * @throws IllegalArgumentException when the text is no unit, or one with a zero point of its own (°C)
     */
    public static double toSi(String text) {
        var unit = find(text).orElseThrow(() -> new IllegalArgumentException("'" + text + "' is not a unit."));
        var converter = systemConverter(unit);
        if (converter.convert(0.0) != 0) {
            throw new IllegalArgumentException("'" + text + "' has a zero point of its own; use K.");
        }
        return converter.convert(1.0);
    }

    private static javax.measure.UnitConverter systemConverter(Unit<?> unit) {
        return ((AbstractUnit<?>) unit).getSystemConverter();
    }

    static Optional<Unit<?>> find(String text) {
        return KNOWN.computeIfAbsent(text.strip(), Units::parse);
    }

    private static Optional<Unit<?>> parse(String text) {
        if (text.isEmpty() || text.equals("1")) {
            return Optional.of(AbstractUnit.ONE);
        }
        if (text.length() > 60) {
            return Optional.empty();
        }
        if (text.startsWith("1/")) {
            return parse(text.substring(2)).map(Unit::inverse);
        }
        try {
            return Optional.of(FORMAT.parse(text.replace("Ω", "ohm").replace("μ", "µ")));
        } catch (MeasurementParseException | IllegalArgumentException | UnsupportedOperationException e) {
            return Optional.empty();
        }
    }
}
