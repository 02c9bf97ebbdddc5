package boldanvil.core.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Type;
import boldanvil.core.text.StructuredTextParser.LiteralContext;
import boldanvil.core.text.Symbol.Typed;
import java.math.BigInteger;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Constants as they are written (IEC 61131-3:2013, tables 5 to 9). */
final class Literals {
    private static final Pattern DURATION_PART = Pattern.compile("([0-9_]+(?:\\.[0-9_]+)?)(ms|us|ns|d|h|m|s)");

    private Literals() {}

    /** @param hint what a number takes on where nothing else decides, or null */
    static Typed of(LiteralContext l, TextType hint, Types types) {
        String text = l.getText().replace("_", "").toLowerCase(Locale.ROOT);
        if (l.TRUE() != null || l.FALSE() != null) {
            return new Typed(Expr.of(l.TRUE() != null), TextType.BOOL);
        }
        if (l.DURATION() != null) {
            return new Typed(Expr.of(seconds(text)), TextType.TIME);
        }
        if (l.CALENDAR() != null) {
            return Calendar.literal(l, l.CALENDAR().getText());
        }
        if (l.CHARACTERS() != null) {
            throw Compilation.stop(l, "A text is used where a number is needed.", "Write a number, or convert the text.");
        }
        if (l.NAMED() != null) {
            return types.named(l, l.NAMED().getText());
        }
        if (l.TYPED() != null) {
            return typed(l, text, types);
        }
        if (l.REAL() != null) {
            TextType t = hint != null && hint.isReal() ? hint : TextType.LREAL;
            return new Typed(Expr.of(t.type(), Double.parseDouble(text)), t, true);
        }
        if (hint != null && hint.type().isWide()) {
            return wide(l, text, hint, true);
        }
        double v = whole(l, text);
        TextType t = hint != null && hint.isNumber() && Expressions.fits(v, hint) ? hint : v > Integer.MAX_VALUE ? TextType.UDINT
                : TextType.DINT;
        return new Typed(Expr.of(t.type(), v), t, true);
    }

    private static double whole(LiteralContext l, String text) {
        try {
            int sharp = text.indexOf('#');
            long v = sharp < 0 ? Long.parseLong(text) : Long.parseLong(text.substring(sharp + 1),
                    Integer.parseInt(text.substring(0, sharp)));
            if (v <= 0xFFFF_FFFFL) {
                return v;
            }
        } catch (NumberFormatException _) {
            // Told below, together with what is too large.
        }
        throw Compilation.stop(l, "'" + l.getText() + "' is not a 32-bit number.", "Check its digits.");
    }

    /** An integer of 64 bits; one that no double holds is put together from its halves. */
    private static Typed wide(LiteralContext l, String text, TextType t, boolean plain) {
        var v = integer(text);
        boolean fits = v != null && v.signum() >= 0 && v.bitLength() <= (t == TextType.LINT ? 63 : 64)
                || v != null && t == TextType.LINT && v.signum() < 0 && v.bitLength() <= 63;
        if (!fits) {
            throw Compilation.stop(l, "The number does not fit into " + t + ".", "Check its digits.");
        }
        long bits = v.longValue();
        Type type = t.type();
        double rounded = bits == -1 && v.signum() > 0 ? Type.MOST_UINT64 : v.doubleValue();
        if (type.bits(rounded) == bits) {
            return new Typed(Expr.of(type, rounded), t, plain);
        }
        Expr high = Expr.of(Type.UINT32, bits >>> 32).wrap(type);
        Expr low = Expr.of(Type.UINT32, bits & 0xFFFF_FFFFL).wrap(type);
        return new Typed(new Expr.Binary(Expr.Op.BOR, new Expr.Binary(Expr.Op.SHL, high, Expr.of(type, 32)), low), t);
    }

    private static BigInteger integer(String text) {
        try {
            int sharp = text.indexOf('#');
            return sharp < 0 ? new BigInteger(text) : new BigInteger(text.substring(sharp + 1), Integer.parseInt(text.substring(0, sharp)));
        } catch (NumberFormatException _) {
            return null;
        }
    }

    private static Typed typed(LiteralContext l, String text, Types types) {
        String name = text.substring(0, text.indexOf('#'));
        String rest = text.substring(text.indexOf('#') + 1);
        TextType t = TextType.named(name);
        if (t == null || t.isTime()) {
            throw Compilation.stop(l, "There is no type '" + name.toUpperCase(Locale.ROOT) + "' for literals.",
                    "Use INT#, REAL# and the like.");
        }
        types.compilation().require(t, l);
        if (t.type().isWide() && !rest.contains(".")) {
            return wide(l, rest, t, false);
        }
        double v = rest.equals("true") ? 1 : rest.equals("false") ? 0 : rest.contains("#") ? whole(l, rest) : Double.parseDouble(rest);
        if (t == TextType.BOOL ? v != 0 && v != 1 : !Expressions.fits(v, t)) {
            throw Compilation.stop(l, "The number does not fit into " + t + ".", "Choose a smaller number, or a wider type.");
        }
        return new Typed(Expr.of(t.type(), v), t);
    }

    static double seconds(String text) {
        Matcher m = DURATION_PART.matcher(text);
        double sum = 0;
        while (m.find()) {
            double value = Double.parseDouble(m.group(1));
            // Divisions, since 1/1000 has no exact form but most of its multiples are rounded well.
            sum += switch (m.group(2)) {
                case "d" -> value * 86_400;
                case "h" -> value * 3_600;
                case "m" -> value * 60;
                case "s" -> value;
                case "ms" -> value / 1e3;
                case "us" -> value / 1e6;
                default -> value / 1e9;
            };
        }
        double exact = Math.rint(sum * Expressions.NANOS) / Expressions.NANOS;
        return text.contains("#-") ? -exact : exact;
    }
}
