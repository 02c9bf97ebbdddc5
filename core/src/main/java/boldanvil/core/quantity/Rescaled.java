package boldanvil.core.quantity;

import java.math.BigDecimal;
import java.math.MathContext;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** The text of a value with another amount: a number is replaced and keeps its unit, a formula is multiplied. */
public final class Rescaled {
    private static final Pattern NUMBER = Pattern.compile("([-+]?[0-9.]+(?:[eE][-+]?[0-9]+)?)(\\s*[^-+*/^()0-9]*|\\s+\\S.*)");
    private static final Pattern MULTIPLIED = Pattern.compile("([0-9.]+(?:[eE][-+]?[0-9]+)?)\\*\\((.*)\\)");
    /** Digits for people. */
    public static final int SHORT = 6;
    /** Digits that lose nothing. */
    public static final int EXACT = 17;

    private Rescaled() {}

    /**
     * @param now what the text comes to, SI
     * @param target what it is to come to, SI
     * @param digits of the number that is written
     */
    public static String text(String text, double now, double target, int digits) {
        double factor = target / now;
        if (now == 0 || !Double.isFinite(factor)) {
            return number(target, digits);
        }
        Matcher m = NUMBER.matcher(text.strip());
        if (m.matches()) {
            return number(Double.parseDouble(m.group(1)) * factor, digits) + m.group(2);
        }
        // A factor that was put before earlier is changed, not put before again.
        Matcher before = MULTIPLIED.matcher(text.strip());
        if (before.matches() && isWhole(before.group(2))) {
            double all = Double.parseDouble(before.group(1)) * factor;
            return Math.abs(all - 1) < 1e-6 ? before.group(2) : number(all, digits) + "*(" + before.group(2) + ")";
        }
        return number(factor, digits) + "*(" + text.strip() + ")";
    }

    /** Whether the parentheses within a text close within it. */
    private static boolean isWhole(String inner) {
        int depth = 0;
        for (char c : inner.toCharArray()) {
            depth += c == '(' ? 1 : c == ')' ? -1 : 0;
            if (depth < 0) {
                return false;
            }
        }
        return depth == 0;
    }

    /** A number with so many significant digits, as it is read again; infinite ones as inf. */
    public static String number(double v, int digits) {
        if (Double.isInfinite(v)) {
            return v > 0 ? "inf" : "-inf";
        }
        return new BigDecimal(v, new MathContext(digits)).stripTrailingZeros().toString().replace("E+", "e").replace("E", "e");
    }
}
