package boldanvil.core.tags;

import boldanvil.core.diagram.TagTable.Line;
import boldanvil.core.link.TagType;
import boldanvil.core.program.Type;
import boldanvil.core.quantity.Units;
import java.util.Locale;
import java.util.stream.Stream;

/**
 * What happens to a value between a signal of a part and its tag.
 *
 * @param text in words; empty where both have the same value
 * @param cause why they cannot be bound; empty where they can
 * @param cure what to do then
 */
public record Conversion(String text, String cause, String cure) {
    /** The conversion between a signal and a tag. */
    public static Conversion of(Signal signal, Line tag) {
        var type = TagType.named(tag.type()).orElse(null);
        if (type == null) {
            return refused("'" + tag.type() + "' is not a type of a tag.", "Choose a type such as BOOL, INT or REAL.");
        }
        Type carried = signal.slot().type();
        if (type == TagType.STRING) {
            return refused("A text cannot be a signal.", "Bind a tag that is a number or a BOOL.");
        }
        if (type == TagType.BOOL && carried != Type.BOOL) {
            return refused("The signal is a number, the tag is a BOOL.",
                    "Bind a tag that is a number, or compare the signal on the sheet.");
        }
        if (!tag.unit().isEmpty() && !Units.isUnit(tag.unit())) {
            return refused("'" + tag.unit() + "' is not a unit.", "Correct the unit of the tag.");
        }
        if (tag.factor() == 0 || !Double.isFinite(tag.factor()) || !Double.isFinite(tag.offset())) {
            return refused("The factor of the tag is 0 or not finite.", "Write how much of the unit one step of the tag is.");
        }
        String unit = signal.slot().unit();
        if (!tag.unit().isEmpty() && !unit.isEmpty() && !Units.orOne(unit).dimension().equals(Units.orOne(tag.unit()).dimension())) {
            return refused("The signal is in " + unit + ", the tag in " + tag.unit() + ".", "Bind another tag, or correct its unit.");
        }
        if (carried == Type.BOOL) {
            return new Conversion(type == TagType.BOOL ? "" : "FALSE is 0, TRUE is 1", "", "");
        }
        return new Conversion(numbers(carried, type, tag, unit), "", "");
    }

    private static Conversion refused(String cause, String cure) {
        return new Conversion("", cause, cure);
    }

    public boolean isPossible() {
        return cause.isEmpty();
    }

    private static String numbers(Type signal, TagType type, Line tag, String portUnit) {
        var scale = Scale.of(tag);
        String unit = tag.unit().isEmpty() ? portUnit : tag.unit();
        String shown = unit.isEmpty() ? "" : " " + unit;
        var carried = type.type();
        if (carried.isPresent() && carried.get().isInteger()) {
            if (scale.equals(Scale.NONE) && signal.isInteger() && signal.least() >= carried.get().least()
                    && signal.greatest() <= carried.get().greatest()) {
                return "";
            }
            double a = Units.fromSi(unit, scale.signal(carried.get().least()));
            double b = Units.fromSi(unit, scale.signal(carried.get().greatest()));
            return "steps of " + figure(Math.abs(tag.factor())) + shown + ", " + figure(Math.min(a, b)) + " … " + figure(Math.max(a, b))
                    + shown;
        }
        String scaled = !tag.isScaled() ? "" : "× " + figure(tag.factor()) + (tag.offset() == 0 ? ""
                : (tag.offset() < 0 ? " − " : " + ") + figure(Math.abs(tag.offset()))) + shown;
        String other = tag.isScaled() || tag.unit().isEmpty() || tag.unit().equals(portUnit) ? "" : "in " + tag.unit();
        String rounded = type == TagType.REAL && signal == Type.FLOAT64 ? "rounded to 32 bits" : "";
        return String.join(", ", Stream.of(scaled, other, rounded).filter(s -> !s.isEmpty()).toList());
    }

    private static String figure(double v) {
        String text = String.format(Locale.ROOT, "%.5g", v);
        return (text.contains(".") && !text.contains("e") ? text.replaceAll("0+$", "").replaceAll("\\.$", "") : text).replace('-', '−');
    }
}
