package boldanvil.core.loop;

import java.math.BigDecimal;
import java.math.MathContext;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** The text of a gain with another value: a number is replaced and keeps its unit, a formula is multiplied. */
final class GainText {
    private static final Pattern NUMBER = Pattern.compile("([-+]?[0-9.]+(?:[eE][-+]?[0-9]+)?)(\\s*[^-+*/^()0-9]*|\\s+\\S.*)");
    private static final Pattern MULTIPLIED = Pattern.compile("([0-9.]+(?:[eE][-+]?[0-9]+)?)\\*\\((.*)\\)");
    private static final int DIGITS = 6;

    private GainText() {}

    static String of(String text, double now, double target) {
        double factor = target / now;
        if (now == 0 || !Double.isFinite(factor)) {
            return number(target);
        }
        Matcher m = NUMBER.matcher(text.strip());
        if (m.matches()) {
            return number(Double.parseDouble(m.group(1)) * factor) + m.group(2);
        }
        // A factor that was put before earlier is changed, not put before again.
        Matcher before = MULTIPLIED.matcher(text.strip());
        if (before.matches() && isWhole(before.group(2))) {
            double all = Double.parseDouble(before.group(1)) * factor;
            return Math.abs(all - 1) < 1e-6 ? before.group(2) : number(all) + "*(" + before.group(2) + ")";
        }
        return number(factor) + "*(" + text.strip() + ")";
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

    private static String number(double v) {
        return new BigDecimal(v, new MathContext(DIGITS)).stripTrailingZeros().toString().replace("E+", "e").replace("E", "e");
    }
}
