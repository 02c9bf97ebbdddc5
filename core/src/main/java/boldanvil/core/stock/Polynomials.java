package boldanvil.core.stock;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** Polynomials and factors as people write them, for pictures of transfer functions. */
final class Polynomials {
    private Polynomials() {}

    /** A polynomial in falling powers, by the names of its coefficients where they are short. */
    static String descending(Values v, String parameter, String variable) {
        List<String> terms = terms(v, parameter);
        var s = new StringBuilder();
        for (int i = 0; i < terms.size(); i++) {
            add(s, terms.get(i), power(variable, terms.size() - 1 - i));
        }
        return s.isEmpty() ? "0" : s.toString();
    }

    /** A polynomial in rising powers of the delay operator. */
    static String delays(Values v, String parameter) {
        List<String> terms = terms(v, parameter);
        var s = new StringBuilder();
        for (int i = 0; i < terms.size(); i++) {
            add(s, terms.get(i), i == 0 ? "" : "z" + raised(-i));
        }
        return s.isEmpty() ? "0" : s.toString();
    }

    private static void add(StringBuilder s, String coefficient, String power) {
        boolean negative = coefficient.startsWith("−");
        String size = negative ? coefficient.substring(1) : coefficient;
        if (size.equals("0")) {
            return;
        }
        s.append(s.isEmpty() ? negative ? "−" : "" : negative ? " − " : " + ");
        s.append(power.isEmpty() ? size : size.equals("1") ? power : size + " " + power);
    }

    private static List<String> terms(Values v, String parameter) {
        double[] values = v.list(parameter);
        String[] texts = v.text(parameter).replaceAll("^\\s*\\[|\\]\\s*$", "").split(",");
        List<String> terms = new ArrayList<>();
        for (int i = 0; i < values.length; i++) {
            terms.add(coefficient(texts.length == values.length ? texts[i] : "", values[i]));
        }
        return values.length == 0 ? List.of("…") : terms;
    }

    /** A short name as it is, anything else as its value. */
    static String coefficient(String text, double value) {
        String t = text.strip();
        return t.matches("[A-Za-z_][A-Za-z0-9_]{0,7}") ? t.replace('_', '\u2009') : Double.isNaN(value) ? "…" : number(value);
    }

    private static String number(double v) {
        if (v == Math.rint(v) && Math.abs(v) < 1e5) {
            return Long.toString((long) v).replace('-', '−');
        }
        String s = String.format(Locale.ROOT, "%.3g", v);
        return (s.contains("e") ? s : s.contains(".") ? s.replaceAll("0+$", "").replaceAll("\\.$", "") : s).replace('-', '−');
    }

    private static String power(String variable, int n) {
        return n == 0 ? "" : n == 1 ? variable : variable + raised(n);
    }

    static String raised(int n) {
        var s = new StringBuilder();
        for (char c : Integer.toString(n).toCharArray()) {
            s.append(c == '-' ? '⁻' : "⁰¹²³⁴⁵⁶⁷⁸⁹".charAt(c - '0'));
        }
        return s.toString();
    }

    static String roots(double[] roots) {
        var s = new StringBuilder();
        for (double r : roots) {
            s.append(r == 0 ? "s" : "(s " + (r < 0 ? "+ " : "− ") + number(Math.abs(r)) + ")");
        }
        return s.toString();
    }

    static String pairs(double[] parts) {
        var s = new StringBuilder();
        for (int i = 0; i + 1 < parts.length; i += 2) {
            s.append("(s² ").append(parts[i] <= 0 ? "+ " : "− ").append(number(2 * Math.abs(parts[i]))).append(" s + ")
                    .append(number(parts[i] * parts[i] + parts[i + 1] * parts[i + 1])).append(')');
        }
        return s.toString();
    }
}
