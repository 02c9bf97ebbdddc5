package boldanvil.core.peripheral;

import java.util.Locale;

/** A number with its name and unit, formatted. */
public record Fact(String name, String value, String unit) {
    /** A number with its unit. */
    public static Fact of(String name, double value, String unit) {
        return new Fact(name, sig(value), unit);
    }

    /** A range with its unit; the ends in any order. */
    static Fact range(double a, double b, String unit) {
        return new Fact("range", sig(Math.min(a, b)) + " … " + sig(Math.max(a, b)), unit);
    }

    /** A number with four digits that count, or whole. */
    public static String sig(double v) {
        if (v == 0 || Math.abs(v) < 1e-9) {
            return "0";
        }
        if (Math.abs(v - Math.rint(v)) < 1e-9 * Math.abs(v) && Math.abs(v) < 1e7) {
            return String.format(Locale.ROOT, "%.0f", v);
        }
        int digits = Math.max(0, 3 - (int) Math.floor(Math.log10(Math.abs(v))));
        return String.format(Locale.ROOT, "%." + Math.min(digits, 9) + "f", v);
    }

    @Override
    public String toString() {
        return name + " " + value + (unit.isEmpty() ? "" : " " + unit);
    }
}
