package boldanvil.core.iec;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.maths.MathFunctions;
import boldanvil.core.output.CodeText;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Function;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Type;
import java.util.IdentityHashMap;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/** Expressions as Structured Text. What an operator of the IR does and the language leaves open is written out. */
final class StExpressions {
    /** Functions of the standard that are the same as one of the IR. */
    private static final Map<Function, String> STANDARD = new IdentityHashMap<>(Map.of(MathFunctions.SINE, "SIN", MathFunctions.COSINE,
            "COS",
            MathFunctions.SINE32, "SIN", MathFunctions.COSINE32, "COS", MathFunctions.EXPONENTIAL, "EXP", MathFunctions.LOGARITHM, "LN",
            MathFunctions.ARC_TANGENT, "ATAN", MathFunctions.ANGLE, "ATAN2", MathFunctions.POWER, "EXPT"));

    private final StNames names;
    private final Set<String> helpers;
    private Map<Slot, String> arguments = Map.of();
    private String place = "";

    /** @param helpers gets the names of the functions that the text has to bring along */
    StExpressions(StNames names, Set<String> helpers) {
        this.names = names;
        this.helpers = helpers;
    }

    /** Where the next expressions come from, for findings. */
    void at(String path) {
        place = path;
    }

    /** Within a shared function block: what its parameters are called. */
    void arguments(Map<Slot, String> texts) {
        arguments = texts;
    }

    /** Whether a function of the IR is one of the standard. */
    static boolean isStandard(Function f) {
        return STANDARD.containsKey(f);
    }

    static String type(Type t) {
        return switch (t) {
            case BOOL -> "BOOL";
            case INT8 -> "SINT";
            case UINT8 -> "USINT";
            case INT16 -> "INT";
            case UINT16 -> "UINT";
            case INT32 -> "DINT";
            case UINT32 -> "UDINT";
            case FLOAT32 -> "REAL";
            case FLOAT64 -> "LREAL";
            case INT64 -> "LINT";
            case UINT64 -> "ULINT";
        };
    }

    private static String bits(Type t) {
        return switch (t.bytes()) {
            case 1 -> "BYTE";
            case 2 -> "WORD";
            case 4 -> "DWORD";
            default -> "LWORD";
        };
    }

    String slot(Slot s) {
        String argument = arguments.get(s);
        return argument != null ? argument : names.of(s);
    }

    /** A constant where its type follows from what is around it. */
    static String plain(Type t, double v) {
        return switch (t) {
            case BOOL -> v != 0 ? "TRUE" : "FALSE";
            case FLOAT32, FLOAT64 -> real(t, v);
            default -> Long.toString((long) v);
        };
    }

    /** A constant with its type. */
    static String literal(Type t, double v) {
        boolean usual = t == Type.BOOL || t == Type.INT32 || t == Type.FLOAT64 || !Double.isFinite(v);
        return usual ? plain(t, v) : type(t) + "#" + plain(t, v);
    }

    private static String real(Type t, double v) {
        if (Double.isNaN(v)) {
            return "(0.0 * (1.0E308 * 10.0))";
        }
        if (Double.isInfinite(v)) {
            return v > 0 ? "(1.0E308 * 10.0)" : "(-1.0E308 * 10.0)";
        }
        String shortest = Float.toString((float) v);
        return t == Type.FLOAT32 && (float) Double.parseDouble(shortest) == (float) v ? shortest : Double.toString(v);
    }

    /** An operand: a constant beside another operand takes its type. */
    private String operand(Expr e, Expr beside) {
        if (e instanceof Expr.Literal l && !(beside instanceof Expr.Literal)) {
            String text = plain(l.type(), l.value());
            return text.startsWith("-") ? "(" + text + ")" : text;
        }
        return text(e);
    }

    /** The text without its outermost brackets. */
    String bare(Expr e) {
        if (e instanceof Expr.Literal l) {
            return plain(l.type(), l.value());
        }
        String s = text(e);
        return e instanceof Expr.Binary ? CodeText.bare(s) : s;
    }

    String text(Expr e) {
        return switch (e) {
            case Expr.Literal l -> literal(l.type(), l.value());
            case Expr.Read r -> slot(r.slot());
            case Expr.Binary b -> binary(b);
            case Expr.Not n -> "NOT " + text(n.a());
            case Expr.Select s -> "SEL(" + bare(s.condition()) + ", " + argument(s.no()) + ", " + argument(s.yes()) + ")";
            case Expr.Convert c -> convert(c.a(), c.type());
            case Expr.Call c -> call(c);
            case Expr.Wrap w -> wrap(w);
            case Expr.Bits b -> bits(b);
            case Expr.Apply a -> (isStandard(a.function()) ? STANDARD.get(a.function()) : names.of("function", a.function().name())) + "("
                    + a.arguments().stream().map(this::argument).collect(Collectors.joining(", ")) + ")";
            case Expr.Element t -> names.of("table", t.table().name()) + "[" + index(t.index(), t.table().size(), t.within()) + "]";
            case Expr.At a -> element(a.array(), a.index());
        };
    }

    /** An argument of a function, whose type nothing else gives. */
    private String argument(Expr e) {
        return e instanceof Expr.Binary ? bare(e) : text(e);
    }

    String element(Slot array, Expr index) {
        return slot(array) + "[" + index(index, array.length(), false) + "]";
    }

    private String index(Expr index, int length, boolean within) {
        if (index instanceof Expr.Literal l) {
            return Integer.toString(Math.clamp((int) l.value(), 0, length - 1));
        }
        return within ? bare(index) : "LIMIT(0, " + argument(index) + ", " + (length - 1) + ")";
    }

    private String binary(Expr.Binary b) {
        Type t = b.a().type();
        if (b.op().isBits()) {
            return ofBits(b);
        }
        if (b.op() == Expr.Op.REM && t.isFloat()) {
            throw unable("the remainder of a division of real numbers", "Use integers for it.");
        }
        if ((b.op() == Expr.Op.DIV || b.op() == Expr.Op.REM) && t.isInteger() && b.b() instanceof Expr.Literal l && l.value() == 0) {
            // A PLC refuses to divide by the constant 0; the sheet has 0 for it.
            return literal(t, 0);
        }
        return "(" + operand(b.a(), b.b()) + " " + sign(b.op()) + " " + operand(b.b(), b.a()) + ")";
    }

    private static String sign(Expr.Op op) {
        return switch (op) {
            case ADD -> "+";
            case SUB -> "-";
            case MUL -> "*";
            case DIV -> "/";
            case REM -> "MOD";
            case LT -> "<";
            case LE -> "<=";
            case GT -> ">";
            case GE -> ">=";
            case EQ -> "=";
            case NE -> "<>";
            default -> op.name();
        };
    }

    private String ofBits(Expr.Binary b) {
        Type t = b.a().type();
        String word = bits(t);
        String into = type(t) + "_TO_" + word;
        String back = word + "_TO_" + type(t);
        String x = into + "(" + argument(b.a()) + ")";
        return switch (b.op()) {
            case SHL -> back + "(SHL(" + x + ", " + count(b.b()) + "))";
            case SHR -> {
                if (!t.isSigned()) {
                    yield back + "(SHR(" + x + ", " + count(b.b()) + "))";
                }
                helpers.add("BA_SHIFT_RIGHT");
                yield converted("BA_SHIFT_RIGHT(" + convert(b.a(), Type.INT32) + ", " + count(b.b()) + ")", Type.INT32, t);
            }
            default -> back + "(" + x + " " + b.op().name().substring(1) + " " + into + "(" + argument(b.b()) + "))";
        };
    }

    private String count(Expr by) {
        return by instanceof Expr.Literal l ? Long.toString((long) l.value()) : convert(by, Type.INT32);
    }

    private static String converted(String text, Type from, Type to) {
        return from == to ? text : type(from) + "_TO_" + type(to) + "(" + text + ")";
    }

    private String convert(Expr a, Type to) {
        Type from = a.type();
        if (from == to) {
            return argument(a);
        }
        if (to == Type.BOOL) {
            return "(" + text(a) + " <> " + plain(from, 0) + ")";
        }
        if (from.isFloat() && to.isInteger()) {
            return truncated(a, from, to);
        }
        boolean narrows = from.isInteger() && to.isInteger() && (from.least() < to.least() || from.greatest() > to.greatest());
        if (!narrows) {
            return converted(argument(a), from, to);
        }
        return converted("LIMIT(" + literal(from, Math.max(from.least(), to.least())) + ", " + argument(a) + ", "
                + literal(from, Math.min(from.greatest(), to.greatest())) + ")", from, to);
    }

    /** The language rounds; the IR cuts off. */
    private String truncated(Expr a, Type from, Type to) {
        if (a instanceof Expr.Call c && c.intrinsic() == Expr.Intrinsic.RINT) {
            return type(from) + "_TO_" + type(to) + "(" + argument(c.a()) + ")";
        }
        if (to == Type.UINT32) {
            helpers.add("BA_TRUNCATE");
            return "LREAL_TO_UDINT(BA_TRUNCATE(" + convert(a, Type.FLOAT64) + "))";
        }
        String whole = "TRUNC(" + argument(a) + ")";
        return to == Type.INT32 ? whole : "DINT_TO_" + type(to) + "(LIMIT(" + to.least() + ", " + whole + ", " + to.greatest() + "))";
    }

    private String call(Expr.Call c) {
        String x = argument(c.a());
        return switch (c.intrinsic()) {
            case ABS -> "ABS(" + x + ")";
            case SQRT -> "SQRT(" + x + ")";
            case FLOOR -> helper("BA_FLOOR", c);
            case CEIL -> helper("BA_CEILING", c);
            case RINT -> helper("BA_ROUND", c);
        };
    }

    private String helper(String name, Expr.Call c) {
        helpers.add(name);
        String call = name + "(" + convert(c.a(), Type.FLOAT64) + ")";
        return c.type() == Type.FLOAT32 ? "LREAL_TO_REAL(" + call + ")" : call;
    }

    private String wrap(Expr.Wrap w) {
        Type from = w.a().type();
        Type to = w.type();
        String x;
        if (from.bytes() < to.bytes() && from.isSigned()) {
            x = convert(w.a(), to.bytes() == 2 ? Type.INT16 : Type.INT32);
            from = to.bytes() == 2 ? Type.INT16 : Type.INT32;
        } else {
            x = argument(w.a());
        }
        if (from == to) {
            return x;
        }
        String word = bits(from);
        x = type(from) + "_TO_" + word + "(" + x + ")";
        if (from.bytes() != to.bytes()) {
            x = word + "_TO_" + bits(to) + "(" + x + ")";
        }
        return bits(to) + "_TO_" + type(to) + "(" + x + ")";
    }

    private String bits(Expr.Bits b) {
        return switch (b.form()) {
            case FLOAT32_TO_UINT32 -> "DWORD_TO_UDINT(REAL_TO_DWORD(" + argument(b.children().getFirst()) + "))";
            case UINT32_TO_FLOAT32 -> "DWORD_TO_REAL(UDINT_TO_DWORD(" + argument(b.children().getFirst()) + "))";
            default -> throw unable("the bits of a 64-bit real number", "Use float32 for values that are sent as bits.");
        };
    }

    private FindingException unable(String what, String cure) {
        return FindingException.of(Place.sheet(place), "Structured Text has nothing for " + what + ".", cure);
    }
}
