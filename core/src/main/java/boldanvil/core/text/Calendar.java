package boldanvil.core.text;

import boldanvil.core.program.Expr;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.Locale;
import org.antlr.v4.runtime.ParserRuleContext;

/** Dates and times of day: their literals, and what their sums and differences are (IEC 61131-3:2013, tables 9 and 35). */
final class Calendar {
    private static final double DAY = 86_400;

    private Calendar() {}

    /** A literal such as {@code DT#2026-12-01-08:30:00}. */
    static Symbol.Typed literal(ParserRuleContext at, String text) {
        String name = text.substring(0, text.indexOf('#')).toUpperCase(Locale.ROOT);
        String rest = text.substring(text.indexOf('#') + 1);
        TextType type = name.equals("D") || name.equals("LD") ? TextType.DATE : TextType.named(name);
        try {
            double seconds = switch (type) {
                case DATE -> day(rest);
                case TOD -> time(rest);
                default -> {
                    int time = rest.lastIndexOf('-');
                    yield day(rest.substring(0, time)) + time(rest.substring(time + 1));
                }
            };
            return new Symbol.Typed(Expr.of(seconds), type);
        } catch (DateTimeException | NumberFormatException e) {
            throw Compilation.stop(at, "'" + text + "' is not a date or time that exists.", "Correct it.");
        }
    }

    private static double day(String text) {
        String[] parts = text.split("-");
        return LocalDate.of(Integer.parseInt(parts[0]), Integer.parseInt(parts[1]), Integer.parseInt(parts[2])).toEpochDay() * DAY;
    }

    private static double time(String text) {
        String[] parts = text.split(":");
        int hours = Integer.parseInt(parts[0]);
        int minutes = Integer.parseInt(parts[1]);
        double seconds = Double.parseDouble(parts[2]);
        if (hours > 23 || minutes > 59 || seconds >= 60) {
            throw new DateTimeException(text);
        }
        return hours * 3_600 + minutes * 60 + seconds;
    }

    /** The type of what an operator gives; null where it cannot combine the two. */
    static TextType result(String op, TextType x, TextType y) {
        boolean compares = op.equals("=") || op.startsWith("<") || op.startsWith(">");
        if (x == y) {
            return compares ? TextType.BOOL : op.equals("-") ? TextType.TIME : null;
        }
        boolean moved = y == TextType.TIME && (x == TextType.TOD || x == TextType.DT);
        return moved && (op.equals("+") || op.equals("-")) ? x : null;
    }

    /** A date or time as another one: the day of an instant, or its time of day; null where there is no such conversion. */
    static Expr converted(Expr seconds, TextType from, TextType to) {
        Expr day = seconds.over(Expr.of(DAY)).call(Expr.Intrinsic.FLOOR).times(DAY);
        if (from == TextType.DT && to == TextType.DATE) {
            return day;
        }
        if (from == TextType.DT && to == TextType.TOD) {
            return seconds.minus(day);
        }
        return from == TextType.DATE && to == TextType.DT ? seconds : null;
    }
}
