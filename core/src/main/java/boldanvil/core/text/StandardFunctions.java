package boldanvil.core.text;

import boldanvil.core.maths.MathFunctions;
import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Fault;
import boldanvil.core.program.Type;
import boldanvil.core.text.StructuredTextParser.ExpressionContext;
import boldanvil.core.text.Symbol.Typed;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.antlr.v4.runtime.ParserRuleContext;

/** The functions of IEC 61131-3:2013, section 6.6.2.5, for the types there are. */
final class StandardFunctions {
    private static final Pattern CONVERSION = Pattern.compile("(?:([A-Z]+)_)?TO_([A-Z]+)");
    /** {@code WORD_BCD_TO_UINT} or {@code BCD_TO_UINT}, {@code UINT_TO_BCD_WORD} or {@code UINT_TO_BCD}. */
    private static final Pattern FROM_BCD = Pattern.compile("(?:([A-Z]+)_)?BCD_TO_([A-Z]+)");
    private static final Pattern TO_BCD = Pattern.compile("([A-Z]+)_TO_BCD(?:_([A-Z]+))?");
    private static final Set<String> OF_ONE = Set.of("ABS", "SQRT", "LN", "LOG", "EXP", "SIN", "COS", "TAN", "ASIN", "ACOS", "ATAN",
            "TRUNC", "MOVE");
    private static final Set<String> OTHERS = Set.of("ATAN2", "EXPT", "MIN", "MAX", "LIMIT", "SEL", "MUX", "SHL", "SHR", "ROL", "ROR",
            "ADD", "SUB",
            "MUL", "DIV", "GT", "GE", "EQ", "LE", "LT", "NE", "ADD_TIME", "SUB_TIME", "MUL_TIME", "DIV_TIME", "CONCAT_DATE_TOD");

    private final Expressions expressions;
    private final BodyCompiler body;

    StandardFunctions(Expressions expressions, BodyCompiler body) {
        this.expressions = expressions;
        this.body = body;
    }

    /** Their names, without conversions. */
    static Set<String> names() {
        Set<String> all = new TreeSet<>(OF_ONE);
        all.addAll(OTHERS);
        all.addAll(Strings.names());
        return all;
    }

    static boolean isKnown(String name) {
        String upper = name.toUpperCase(Locale.ROOT);
        return OF_ONE.contains(upper) || OTHERS.contains(upper) || Strings.isKnown(upper)
                || isConversion(upper) || isFromBcd(upper) || isToBcd(upper);
    }

    private static boolean isConversion(String name) {
        Matcher m = CONVERSION.matcher(name);
        return m.matches() && (m.group(1) == null || TextType.named(m.group(1)) != null) && TextType.named(m.group(2)) != null;
    }

    private static boolean isFromBcd(String name) {
        Matcher m = FROM_BCD.matcher(name);
        return m.matches() && (m.group(1) == null || isBits(m.group(1))) && isUnsigned(m.group(2));
    }

    private static boolean isToBcd(String name) {
        Matcher m = TO_BCD.matcher(name);
        return m.matches() && isUnsigned(m.group(1)) && (m.group(2) == null || isBits(m.group(2)));
    }

    private static boolean isBits(String type) {
        TextType t = TextType.named(type);
        return t != null && t.isBits() && !t.type().isWide();
    }

    private static boolean isUnsigned(String type) {
        TextType t = TextType.named(type);
        return t != null && t.isInteger() && !t.isBits() && !t.type().isWide();
    }

    /** The names of a function's inputs (IEC 61131-3:2013, tables 28 to 33). */
    static String inputName(String function, int i) {
        return switch (function) {
            case "LIMIT" -> List.of("MN", "IN", "MX").get(Math.min(i, 2));
            case "SEL" -> i == 0 ? "G" : "IN" + (i - 1);
            case "MUX" -> i == 0 ? "K" : "IN" + (i - 1);
            case "SHL", "SHR", "ROL", "ROR" -> i == 0 ? "IN" : "N";
            case "ATAN2" -> i == 0 ? "Y" : "X";
            default -> isOfOne(function) ? "IN" : "IN" + (i + 1);
        };
    }

    private static boolean isOfOne(String function) {
        return OF_ONE.contains(function) || isConversion(function) || isFromBcd(function) || isToBcd(function);
    }

    Typed apply(ParserRuleContext at, String name, List<ExpressionContext> arguments, TextType hint) {
        if (isConversion(name)) {
            Matcher m = CONVERSION.matcher(name);
            m.matches();
            expect(at, name, arguments, 1, 1);
            return converted(at, m.group(1) == null ? null : TextType.named(m.group(1)), TextType.named(m.group(2)), arguments.getFirst());
        }
        if (isFromBcd(name)) {
            Matcher m = FROM_BCD.matcher(name);
            m.matches();
            expect(at, name, arguments, 1, 1);
            return fromBcd(at, m.group(1) == null ? null : TextType.named(m.group(1)), TextType.named(m.group(2)), arguments.getFirst());
        }
        if (isToBcd(name)) {
            Matcher m = TO_BCD.matcher(name);
            m.matches();
            expect(at, name, arguments, 1, 1);
            return toBcd(at, TextType.named(m.group(1)), m.group(2) == null ? null : TextType.named(m.group(2)), arguments.getFirst());
        }
        if (OF_ONE.contains(name)) {
            expect(at, name, arguments, 1, 1);
            return one(at, name, expressions.value(arguments.getFirst(), hint));
        }
        return switch (name) {
            case "ATAN2" -> angle(at, arguments, hint);
            case "EXPT" -> {
                expect(at, name, arguments, 2, 2);
                var x = real(at, name, expressions.value(arguments.get(0), hint));
                var y = expressions.value(arguments.get(1), x.type());
                yield new Typed(expressions.powerOf(x.expr(), y.expr().as(x.expr().type())), x.type());
            }
            case "MIN", "MAX" -> {
                expect(at, name, arguments, 2, 16);
                var all = same(at, arguments, hint);
                Expr best = all.getFirst().expr();
                for (int i = 1; i < all.size(); i++) {
                    best = body.kept("best", best);
                    var next = body.kept("next", all.get(i).expr());
                    best = name.equals("MIN") ? best.min(next) : best.max(next);
                }
                yield new Typed(best, all.getFirst().type());
            }
            case "LIMIT" -> {
                expect(at, name, arguments, 3, 3);
                var all = same(at, arguments, hint);
                var low = body.kept("low", all.get(0).expr());
                var value = body.kept("value", all.get(1).expr());
                var high = body.kept("high", all.get(2).expr());
                yield new Typed(body.kept("raised", value.max(low)).min(high), all.getFirst().type());
            }
            case "SEL" -> {
                expect(at, name, arguments, 3, 3);
                var all = same(at, arguments.subList(1, 3), hint);
                yield new Typed(all.get(1).expr().when(expressions.condition(arguments.getFirst()), all.get(0).expr()),
                        all.getFirst().type());
            }
            case "MUX" -> {
                expect(at, name, arguments, 3, 17);
                var k = expressions.to(expressions.value(arguments.getFirst(), TextType.DINT), TextType.DINT, at.getStart()).expr();
                k = body.kept("choice", k);
                var all = same(at, arguments.subList(1, arguments.size()), hint);
                Expr y = all.getLast().expr();
                for (int i = all.size() - 2; i >= 0; i--) {
                    var here = Expr.of(Type.INT32, i);
                    y = all.get(i).expr().when(i == 0 ? k.compare(Op.LE, here) : k.eq(here), y);
                }
                yield new Typed(y, all.getFirst().type());
            }
            case "SHL", "SHR", "ROL", "ROR" -> shift(at, name, arguments, hint);
            case "ADD", "MUL", "SUB", "DIV" -> {
                boolean two = name.equals("SUB") || name.equals("DIV");
                expect(at, name, arguments, 2, two ? 2 : 16);
                var all = same(at, arguments, hint);
                Expr y = all.getFirst().expr();
                for (Typed x : all.subList(1, all.size())) {
                    y = switch (name) {
                        case "ADD" -> y.plus(x.expr());
                        case "MUL" -> y.times(x.expr());
                        case "SUB" -> y.minus(x.expr());
                        default -> y.over(expressions.divisor(x.expr()));
                    };
                }
                yield new Typed(all.getFirst().type() == TextType.TIME ? Expressions.exact(y) : y, all.getFirst().type());
            }
            case "ADD_TIME", "SUB_TIME", "MUL_TIME", "DIV_TIME", "CONCAT_DATE_TOD" -> ofTimes(at, name, arguments);
            case "GT", "GE", "EQ", "LE", "LT", "NE" -> {
                expect(at, name, arguments, 2, 2);
                var all = same(at, arguments, null);
                yield new Typed(all.get(0).expr().compare(Op.valueOf(name), all.get(1).expr()), TextType.BOOL);
            }
            default -> throw Compilation.stop(at, "There is no function '" + name + "'.",
                    "Correct the name, or write the function before the "
                    + "variables of the block. A function block is called as a statement of its own.");
        };
    }

    private Typed ofTimes(ParserRuleContext at, String name, List<ExpressionContext> arguments) {
        expect(at, name, arguments, 2, 2);
        if (name.equals("CONCAT_DATE_TOD")) {
            var day = expressions.to(expressions.value(arguments.get(0), TextType.DATE), TextType.DATE, at.getStart());
            var time = expressions.to(expressions.value(arguments.get(1), TextType.TOD), TextType.TOD, at.getStart());
            return new Typed(day.expr().plus(time.expr()), TextType.DT);
        }
        Expr x = expressions.to(expressions.value(arguments.get(0), TextType.TIME), TextType.TIME, at.getStart()).expr();
        boolean sum = name.startsWith("ADD") || name.startsWith("SUB");
        var given = expressions.value(arguments.get(1), sum ? TextType.TIME : TextType.LREAL);
        Expr y = (sum ? expressions.to(given, TextType.TIME, at.getStart()) : real(at, name, given)).expr().as(Type.FLOAT64);
        return new Typed(Expressions.exact(switch (name) {
            case "ADD_TIME" -> x.plus(y);
            case "SUB_TIME" -> x.minus(y);
            case "MUL_TIME" -> x.times(y);
            default -> x.over(expressions.divisor(y));
        }), TextType.TIME);
    }

    private static void expect(ParserRuleContext at, String name, List<ExpressionContext> arguments, int least, int most) {
        if (arguments.size() < least || arguments.size() > most) {
            throw Compilation.stop(at, name + " takes " + (least == most ? "" + least : least + " to " + most) + " arguments, not "
                    + arguments.size()
                    + ".", "Write the same number.");
        }
    }

    private static Typed real(ParserRuleContext at, String name, Typed x) {
        if (x.type().isReal()) {
            return x;
        }
        if (x.plain() || x.type().widensTo(TextType.LREAL)) {
            return new Typed(x.expr().as(Type.FLOAT64), TextType.LREAL);
        }
        throw Compilation.stop(at, name + " needs a real number, not a " + x.type() + ".", "Convert it first.");
    }

    private Typed one(ParserRuleContext at, String name, Typed x) {
        if (name.equals("MOVE")) {
            return x;
        }
        if (name.equals("ABS") && (x.type().isInteger() || x.type() == TextType.TIME)) {
            var kept = body.kept("value", x.expr());
            return new Typed(kept.negated().when(kept.lt(Expr.of(kept.type(), 0)), kept), x.type());
        }
        Typed r = real(at, name, x);
        Expr u = r.expr();
        if (name.equals("TRUNC")) {
            return new Typed(u.as(Type.INT32), TextType.DINT);
        }
        String domain = name.equals("LOG") ? "log10" : name.toLowerCase(Locale.ROOT);
        if (!(MathFunctions.undefined(domain, u) instanceof Expr.Literal l && l.value() == 0)) {
            u = body.kept("value", u);
            expressions.raise(MathFunctions.undefined(domain, u), Fault.DOMAIN);
        }
        return new Typed(switch (name) {
            case "ABS" -> u.call(Intrinsic.ABS);
            case "SQRT" -> u.call(Intrinsic.SQRT);
            case "LN" -> MathFunctions.apply(MathFunctions.LOGARITHM, u);
            case "LOG" -> MathFunctions.decimalLogarithm(u);
            case "EXP" -> MathFunctions.apply(MathFunctions.EXPONENTIAL, u);
            case "SIN" -> MathFunctions.apply(MathFunctions.SINE, u);
            case "COS" -> MathFunctions.apply(MathFunctions.COSINE, u);
            case "TAN" -> MathFunctions.tangent(body.kept("angle", u));
            case "ASIN" -> MathFunctions.arcSine(body.kept("value", u));
            case "ACOS" -> MathFunctions.arcCosine(body.kept("value", u));
            default -> MathFunctions.apply(MathFunctions.ARC_TANGENT, u);
        }, r.type());
    }

    private Typed angle(ParserRuleContext at, List<ExpressionContext> arguments, TextType hint) {
        expect(at, "ATAN2", arguments, 2, 2);
        var all = same(at, arguments, hint);
        var y = real(at, "ATAN2", all.get(0));
        var x = real(at, "ATAN2", all.get(1));
        return new Typed(MathFunctions.apply(MathFunctions.ANGLE, y.expr(), x.expr()), y.type());
    }

    /** All arguments in the type they have in common. */
    private List<Typed> same(ParserRuleContext at, List<ExpressionContext> arguments, TextType hint) {
        List<Typed> values = new ArrayList<>();
        Typed common = null;
        for (ExpressionContext e : arguments) {
            var v = expressions.value(e, common != null && !common.plain() ? common.type() : hint);
            values.add(v);
            if (common == null) {
                common = v;
            } else {
                TextType t = expressions.common(at, common, v);
                common = new Typed(expressions.to(common, t, at.getStart()).expr(), t, common.plain() && v.plain());
            }
        }
        TextType t = common.type();
        return values.stream().map(v -> expressions.to(v, t, at.getStart())).toList();
    }

    private Typed shift(ParserRuleContext at, String name, List<ExpressionContext> arguments, TextType hint) {
        expect(at, name, arguments, 2, 2);
        var u = expressions.value(arguments.get(0), hint);
        if (!u.type().isInteger()) {
            throw Compilation.stop(at, name + " needs an integer, not a " + u.type() + ".", "Convert it first.");
        }
        Type t = u.type().type();
        var by = expressions.to(expressions.value(arguments.get(1), TextType.DINT), TextType.DINT, at.getStart()).expr();
        if (name.startsWith("SH")) {
            var n = body.kept("by", by).clamp(Expr.of(Type.INT32, 0), Expr.of(Type.INT32, Math.max(32, 8 * t.bytes()))).wrap(t);
            if (name.equals("SHR") && t.isSigned()) {
                // A shift fills with zeros, whatever the sign (IEC 61131-3, table 30).
                Type bare = t.unsigned();
                return new Typed(new Expr.Binary(Op.SHR, u.expr().wrap(bare), n.wrap(bare)).wrap(t), u.type());
            }
            return new Typed(new Expr.Binary(name.equals("SHL") ? Op.SHL : Op.SHR, u.expr(), n), u.type());
        }
        int bits = 8 * t.bytes();
        Type bare = t.unsigned();
        var value = body.kept("turned", u.expr().wrap(bare));
        var n = body.kept("by", new Expr.Binary(Op.BAND, by, Expr.of(Type.INT32, bits - 1)));
        var other = Expr.of(Type.INT32, bits).minus(n);
        boolean left = name.equals("ROL");
        var first = new Expr.Binary(left ? Op.SHL : Op.SHR, value, n.wrap(bare));
        var second = new Expr.Binary(left ? Op.SHR : Op.SHL, value, other.wrap(bare));
        return new Typed(new Expr.Binary(Op.BOR, first, second).wrap(t), u.type());
    }

    /** From real to integer to the nearest, halves to the even one (IEC 60559); what does not fit is held at the end of the range. */
    private Typed converted(ParserRuleContext at, TextType from, TextType to, ExpressionContext argument) {
        expressions.compilation().require(to, at);
        var v = expressions.value(argument, from);
        if (from != null) {
            v = expressions.to(v, from, at.getStart());
        }
        Expr e = v.expr();
        if (v.type() == to) {
            return new Typed(e, to);
        }
        if (v.type().isCalendar() || to.isCalendar()) {
            Expr date = Calendar.converted(body.kept("instant", e), v.type(), to);
            if (date == null) {
                throw Compilation.stop(at, "A " + v.type() + " cannot become a " + to + ".", "Use DT_TO_DATE, DT_TO_TOD or DATE_TO_DT.");
            }
            return new Typed(date, to);
        }
        if (v.type().isBits() || to.isBits()) {
            return bits(at, v, to);
        }
        if (v.type().type().isFloat() && to.type().isInteger()) {
            // TIME counts in milliseconds when it becomes a whole number.
            e = (v.type() == TextType.TIME ? e.times(1000) : e).call(Intrinsic.RINT);
        } else if (to == TextType.TIME && v.type().isInteger()) {
            return new Typed(e.as(Type.FLOAT64).over(Expr.of(1e3)), to);
        }
        return new Typed(e.as(to.type()), to);
    }

    /**
     * To or from a string of bits: the bits are taken over from the right, what is missing on the left is filled with zeros, and a REAL is
     * its bit pattern (IEC 61131-3:2013, tables 24 and 26).
     */
    private Typed bits(ParserRuleContext at, Typed v, TextType to) {
        Expr e = v.expr();
        TextType from = v.type();
        if (from == TextType.BOOL) {
            return new Typed(e.as(to.type()), to);
        }
        if (to == TextType.BOOL) {
            return new Typed(new Expr.Binary(Op.BAND, e, Expr.of(e.type(), 1)).compare(Op.NE, Expr.of(e.type(), 0)), to);
        }
        if (from == TextType.REAL && to == TextType.DWORD) {
            return new Typed(new Expr.Bits(Expr.Form.FLOAT32_TO_UINT32, List.of(e)), to);
        }
        if (from == TextType.DWORD && to == TextType.REAL) {
            return new Typed(new Expr.Bits(Expr.Form.UINT32_TO_FLOAT32, List.of(e)), to);
        }
        if (from == TextType.LREAL && to == TextType.LWORD) {
            Expr kept = body.kept("number", e);
            Expr high = new Expr.Bits(Expr.Form.HIGH_OF_FLOAT64, List.of(kept)).wrap(Type.UINT64);
            Expr low = new Expr.Bits(Expr.Form.LOW_OF_FLOAT64, List.of(kept)).wrap(Type.UINT64);
            return new Typed(new Expr.Binary(Op.BOR, new Expr.Binary(Op.SHL, high, Expr.of(Type.UINT64, 32)), low), to);
        }
        if (from == TextType.LWORD && to == TextType.LREAL) {
            Expr kept = body.kept("bits", e);
            return new Typed(new Expr.Bits(Expr.Form.HALVES_TO_FLOAT64, List.of(new Expr.Binary(Op.SHR, kept, Expr.of(Type.UINT64, 32))
                    .wrap(Type.UINT32), kept.wrap(Type.UINT32))), to);
        }
        if (!from.isInteger() || !to.isInteger()) {
            if (to.isBits()) {
                expressions.warning(at, "A " + from + " has no bits that a " + to
                        + " can copy; its value is rounded to a whole number instead.",
                        "Convert it to an integer type first.");
            }
            return new Typed((from.type().isFloat() && to.isInteger() ? e.call(Intrinsic.RINT) : e).as(to.type()), to);
        }
        return new Typed(e.wrap(e.type().unsigned()).wrap(to.type()), to);
    }

    private Typed fromBcd(ParserRuleContext at, TextType from, TextType to, ExpressionContext argument) {
        var v = expressions.value(argument, from == null ? TextType.WORD : from);
        v = from == null ? v : expressions.to(v, from, at.getStart());
        if (!v.type().isInteger()) {
            throw Compilation.stop(at, "Decimal digits are read from bits, not from a " + v.type() + ".",
                    "Convert it to BYTE, WORD or DWORD first.");
        }
        Type word = v.expr().type().unsigned();
        Expr bits = body.kept("digits", v.expr().wrap(word).wrap(Type.UINT32));
        Expr sum = null;
        Expr wrong = Expr.of(false);
        for (int i = 0; i < 2 * word.bytes(); i++) {
            var digit = body.kept("digit", new Expr.Binary(Op.BAND, i == 0 ? bits
                    : new Expr.Binary(Op.SHR, bits, Expr.of(Type.UINT32, 4 * i)), Expr.of(Type.UINT32, 15)));
            wrong = wrong.or(digit.gt(Expr.of(Type.UINT32, 9)));
            var term = i == 0 ? digit : digit.times(Expr.of(Type.UINT32, Math.pow(10, i)));
            sum = sum == null ? term : sum.plus(term);
        }
        expressions.raise(wrong, Fault.DOMAIN);
        return new Typed(sum.as(to.type()), to);
    }

    private Typed toBcd(ParserRuleContext at, TextType from, TextType to, ExpressionContext argument) {
        var v = expressions.to(expressions.value(argument, from), from, at.getStart());
        TextType result = to != null ? to : switch (from.type().bytes()) {
            case 1 -> TextType.BYTE;
            case 2 -> TextType.WORD;
            default -> TextType.DWORD;
        };
        int count = 2 * result.type().bytes();
        double most = Math.pow(10, count) - 1;
        Expr given = body.kept("given", v.expr().as(Type.FLOAT64));
        expressions.raise(given.lt(Expr.of(0.0)).or(given.gt(Expr.of(most))), Fault.DOMAIN);
        Expr n = body.kept("decimal", given.clamp(Expr.of(0.0), Expr.of(most)).as(Type.UINT32));
        Expr ten = Expr.of(Type.UINT32, 10);
        Expr sum = null;
        for (int i = 0; i < count; i++) {
            Expr shifted = i == 0 ? n : n.over(Expr.of(Type.UINT32, Math.pow(10, i)));
            Expr digit = shifted.rem(ten);
            Expr placed = i == 0 ? digit : new Expr.Binary(Op.SHL, digit, Expr.of(Type.UINT32, 4 * i));
            sum = sum == null ? placed : new Expr.Binary(Op.BOR, sum, placed);
        }
        return new Typed(sum.wrap(result.type()), result);
    }
}
