package boldanvil.core.c;

import boldanvil.core.output.CodeText;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Fault;
import boldanvil.core.program.FaultPlaces;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Type;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/** Expressions as C. Notes which helper functions they need. */
final class CExpressions {
    private final Set<String> helpers;
    private final FaultPlaces places;
    private String fault = "&c->state.fault";
    private int place;
    private Map<Slot, String> arguments = Map.of();

    CExpressions(Set<String> helpers, FaultPlaces places) {
        this.helpers = helpers;
        this.places = places;
    }

    /** Where the following expressions find the fault slot: in the context, or given to a function as an argument. */
    void inFunction(boolean within) {
        fault = within ? "fault" : "&c->state.fault";
    }

    /** The diagram place of the following expressions. */
    void at(String path) {
        place = places.numberOf(path);
    }

    String raise(int bit) {
        helpers.add("ba_raise");
        return "ba_raise(" + fault + ", " + Fault.kind(bit) + "U, " + place + ")";
    }

    static String type(Type t) {
        return switch (t) {
            case BOOL -> "bool";
            case FLOAT32 -> "float";
            case FLOAT64 -> "double";
            default -> t.label() + "_t";
        };
    }

    /** Within a shared function: how its arguments are reached. */
    void arguments(Map<Slot, String> texts) {
        arguments = texts;
    }

    String slot(Slot s) {
        String argument = arguments.get(s);
        return argument != null ? argument : s.inMemory() ? "c->" + member(s) : CNames.of(s);
    }

    static String literal(Type t, double v) {
        return switch (t) {
            case BOOL -> v != 0 ? "true" : "false";
            case UINT8, UINT16, UINT32 -> (long) v + "U";
            case INT8, INT16, INT32 -> v == Integer.MIN_VALUE ? "INT32_MIN" : v < 0 ? "(" + (int) v + ")" : Integer.toString((int) v);
            case INT64 -> "INT64_C(" + (long) v + ")";
            case UINT64 -> "UINT64_C(" + Long.toUnsignedString(t.bits(v)) + ")";
            case FLOAT32 -> floating("", v, Float.toString((float) v) + "F");
            case FLOAT64 -> floating("(double)", v, Double.toString(v));
        };
    }

    /** Where a slot lies in the context struct. */
    static String member(Slot s) {
        return Layout.Group.of(s).field() + "." + (s.member() == null ? CNames.of(s)
                : CNames.of(s.member().struct()) + "." + CNames.of(s.member().name()));
    }

    /** NAN and INFINITY are of type float. */
    private static String floating(String cast, double v, String finite) {
        if (Double.isNaN(v)) {
            return cast + "NAN";
        }
        if (Double.isInfinite(v)) {
            return v > 0 ? cast + "INFINITY" : "(-" + cast + "INFINITY)";
        }
        return v < 0 || 1 / v < 0 ? "(" + finite + ")" : finite;
    }

    String text(Expr e) {
        return switch (e) {
            case Expr.Literal l -> literal(l.type(), l.value());
            case Expr.Read r -> slot(r.slot());
            case Expr.Binary b -> binary(b);
            case Expr.Not n -> "!" + text(n.a());
            case Expr.Select s -> select(s);
            case Expr.Convert c -> convert(c);
            case Expr.Call c -> call(c);
            case Expr.Wrap w -> "(" + type(w.type()) + ")" + (w.type().isSigned() ? "(uint32_t)" : "") + text(w.a());
            case Expr.Bits b -> bits(b);
            case Expr.Apply a -> apply(a);
            case Expr.Element t -> CNames.of(t.table().name()) + "["
                    + (t.within() ? bare(t.index()) : index(t.index(), t.table().size())) + "]";
            case Expr.At a -> element(a.array(), a.index());
        };
    }

    String element(Slot array, Expr index) {
        return slot(array) + "[" + index(index, array.length()) + "]";
    }

    private String index(Expr index, int length) {
        if (index instanceof Expr.Literal l) {
            return Integer.toString(Math.clamp((int) l.value(), 0, length - 1));
        }
        helpers.add("ba_index");
        return "ba_index(" + bare(index) + ", " + length + ")";
    }

    private String apply(Expr.Apply a) {
        String first = a.function().canFault() ? fault + ", " : "";
        return CNames.of(a.function().name()) + "(" + first + a.arguments().stream().map(this::bare)
                .collect(Collectors.joining(", ")) + ")";
    }

    private String bits(Expr.Bits b) {
        String name = "ba_" + b.form().name().toLowerCase(java.util.Locale.ROOT);
        helpers.add(name);
        return name + "(" + b.children().stream().map(this::bare).collect(Collectors.joining(", ")) + ")";
    }

    /** The text without its outermost brackets. */
    String bare(Expr e) {
        String s = text(e);
        return e instanceof Expr.Binary ? CodeText.bare(s) : s;
    }

    private String binary(Expr.Binary b) {
        String x = text(b.a());
        String y = text(b.b());
        Type t = b.a().type();
        if (b.op().isArithmetic() && t.isInteger()) {
            return integer(b, x, y);
        }
        if (b.op() == Expr.Op.REM) {
            return (t == Type.FLOAT32 ? "fmodf(" : "fmod(") + x + ", " + y + ")";
        }
        return "(" + x + " " + sign(b.op()) + " " + y + ")";
    }

    private String integer(Expr.Binary b, String x, String y) {
        Type t = b.a().type();
        String cast = "(" + type(t) + ")";
        String unsigned = t == Type.UINT32 ? "" : "(uint32_t)";
        String ux = (b.a() instanceof Expr.Literal && t.least() == 0 ? "" : unsigned) + x;
        String uy = (b.b() instanceof Expr.Literal && t.least() == 0 ? "" : unsigned) + y;
        return switch (b.op()) {
            case DIV, REM -> {
                String name = (b.op() == Expr.Op.DIV ? "ba_divide" : "ba_remainder") + (t == Type.UINT32 ? "_unsigned" : "");
                helpers.add("ba_raise");
                helpers.add(name);
                String call = name + "(" + x + ", " + y + ", " + fault + ", " + place + ")";
                yield t.bytes() == 4 ? call : cast + call;
            }
            case SHL -> {
                helpers.add("ba_shift_left");
                yield (t == Type.UINT32 ? "" : cast) + "ba_shift_left(" + ux + ", " + uy + ")";
            }
            case SHR -> {
                String name = t.isSigned() ? "ba_shift_right" : "ba_shift_right_unsigned";
                helpers.add(name);
                yield (t.bytes() == 4 ? "" : cast) + name + "(" + (t.isSigned() ? x : ux) + ", " + uy + ")";
            }
            default -> (t == Type.UINT32 ? "" : cast) + "(" + ux + " " + sign(b.op()) + " " + uy + ")";
        };
    }

    private static String sign(Expr.Op op) {
        return switch (op) {
            case ADD -> "+";
            case SUB -> "-";
            case MUL -> "*";
            case DIV -> "/";
            case LT -> "<";
            case LE -> "<=";
            case GT -> ">";
            case GE -> ">=";
            case EQ -> "==";
            case NE, XOR -> "!=";
            case BAND -> "&";
            case BOR -> "|";
            case BXOR -> "^";
            case REM, SHL, SHR -> throw new IllegalArgumentException(op + " is a call");
            case AND -> "&&";
            case OR -> "||";
        };
    }

    private String select(Expr.Select s) {
        String choice = "(" + text(s.condition()) + " ? " + text(s.yes()) + " : " + text(s.no()) + ")";
        return s.type().isInteger() && s.type().bytes() < 4 ? "(" + type(s.type()) + ")" + choice : choice;
    }

    private String convert(Expr.Convert c) {
        Type from = c.a().type();
        String x = text(c.a());
        if (from == Type.BOOL) {
            return c.type() == Type.BOOL ? x
                    : "(" + x + " ? " + literal(c.type(), 1) + " : " + literal(c.type(), 0) + ")";
        }
        if (c.type() == Type.BOOL) {
            return "(" + x + " != " + literal(from, 0) + ")";
        }
        if (from.isFloat() && c.type().isInteger()) {
            String name = c.type() == Type.UINT32 ? "ba_to_uint32" : "ba_to_int32";
            helpers.add("ba_raise");
            helpers.add(name);
            String whole = name + "(" + (from == Type.FLOAT32 ? "(double)" + x : x) + ", " + fault + ", " + place + ")";
            return c.type().bytes() == 4 ? whole : saturate(c.type(), whole);
        }
        if (c.type().isInteger() && (from.least() < c.type().least() || from.greatest() > c.type().greatest())) {
            if (from == Type.UINT32) {
                helpers.add("ba_saturate_unsigned");
                return "(" + type(c.type()) + ")ba_saturate_unsigned(" + x + ", " + c.type().greatest() + "U)";
            }
            return saturate(c.type(), x);
        }
        return "(" + type(c.type()) + ")" + x;
    }

    private String saturate(Type to, String x) {
        if (to == Type.UINT32) {
            helpers.add("ba_positive");
            return "ba_positive(" + x + ")";
        }
        helpers.add("ba_saturate");
        return (to == Type.INT32 ? "" : "(" + type(to) + ")") + "ba_saturate(" + x + ", " + literal(to.isSigned() ? to : Type.INT32,
                to.least())
                + ", " + to.greatest() + ")";
    }

    private String call(Expr.Call c) {
        String name = c.intrinsic() == Expr.Intrinsic.ABS ? "fabs" : c.intrinsic().name().toLowerCase(java.util.Locale.ROOT);
        return name + (c.type() == Type.FLOAT32 ? "f" : "") + "(" + bare(c.a()) + ")";
    }
}
