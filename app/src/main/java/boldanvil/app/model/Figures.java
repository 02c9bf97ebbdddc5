package boldanvil.app.model;

import boldanvil.core.quantity.Units;
import java.util.Locale;

/** Numbers as people read them. */
public final class Figures {
    private Figures() {}

    /** Six significant digits at most, without zeros at the end; a dash for no number. */
    public static String text(double v) {
        return text(v, 6);
    }

    /** @param digits significant digits at most */
    public static String text(double v, int digits) {
        if (Double.isNaN(v)) {
            return "–";
        }
        if (Double.isInfinite(v)) {
            return v > 0 ? "∞" : "−∞";
        }
        String s = String.format(Locale.ROOT, "%." + digits + "g", v);
        int e = s.indexOf('e');
        String mantissa = e < 0 ? s : s.substring(0, e);
        if (mantissa.indexOf('.') >= 0) {
            mantissa = mantissa.replaceAll("0+$", "").replaceAll("\\.$", "");
        }
        return mantissa.equals("-0") ? "0" : mantissa + (e < 0 ? "" : s.substring(e));
    }

    /** How many there are of something, with a plural of the regular kind: {@code 1 overrun}, {@code 2 overruns}. */
    public static String count(long n, String thing) {
        return n + " " + thing + (n == 1 ? "" : "s");
    }

    /** A time with the prefix that suits it. */
    public static String seconds(double v) {
        double a = Math.abs(v);
        if (Double.isNaN(v)) {
            return "–";
        }
        return a == 0 ? "0 s" : a < 1e-6 ? text(v * 1e9, 4) + " ns" : a < 1e-3 ? text(v * 1e6, 4) + " µs" : a < 1
                ? text(v * 1e3, 4) + " ms" : text(v, 5) + " s";
    }

    /** An SI value with its unit, as the unit says: 1500 rpm for 157.08 rad/s. */
    public static String text(double si, int digits, String unit) {
        return text(Units.fromSi(unit, si), digits) + (unit.isEmpty() ? "" : " " + unit);
    }

    /** An address as people read it: its last word. */
    public static String shortName(String address) {
        return address.substring(address.lastIndexOf('.') + 1).replace('_', ' ');
    }
}
