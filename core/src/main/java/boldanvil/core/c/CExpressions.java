package boldanvil.core.c;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Type;
import java.util.Set;

/** Expressions as C. Notes which helper functions they need. */
final class CExpressions {
    private final Set<String> helpers;

    CExpressions(Set<String> helpers) {
        this.helpers = helpers;
    }

    static String type(Type t) {
        return switch (t) {
            case BOOL -> "bool";
            case UINT16 -> "uint16_t";
            case INT32 -> "int32_t";
            case FLOAT32 -> "float";
            case FLOAT64 -> "double";
        };
    }

    static String slot(Slot s) {
        return s.inMemory() ? "c->" + Layout.Group.of(s).field() + "." + s.name() : s.name();
    }

    static String literal(Type t, double v) {
        return switch (t) {
            case BOOL -> v != 0 ? "true" : "false";
            case UINT16 -> (int) v + "U";
            case INT32 -> v == Integer.MIN_VALUE ? "INT32_MIN" : v < 0 ? "(" + (int) v + ")" : Integer.toString((int) v);
            case FLOAT32 -> floating(v, Float.toString((float) v) + "F");
            case FLOAT64 -> floating(v, Double.toString(v));
        };
    }

    private static String floating(double v, String finite) {
        if (Double.isNaN(v)) {
            return "NAN";
        }
        if (Double.isInfinite(v)) {
            return v > 0 ? "INFINITY" : "(-INFINITY)";
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
            case Expr.Apply a -> a.function().name() + "(" + bare(a.a()) + ")";
            case Expr.Element t -> {
                helpers.add("ba_index");
                yield t.table().name() + "[ba_index(" + bare(t.index()) + ", " + t.table().size() + ")]";
            }
        };
    }

    /** The text without its outermost brackets. */
    String bare(Expr e) {
        String s = text(e);
        return e instanceof Expr.Binary && s.startsWith("(") && closes(s) ? s.substring(1, s.length() - 1) : s;
    }

    private static boolean closes(String s) {
        int depth = 0;
        for (int i = 0; i < s.length(); i++) {
            depth += s.charAt(i) == '(' ? 1 : s.charAt(i) == ')' ? -1 : 0;
            if (depth == 0) {
                return i == s.length() - 1;
            }
        }
        return false;
    }

    private String binary(Expr.Binary b) {
        String x = text(b.a());
        String y = text(b.b());
        Type t = b.a().type();
        if (b.op().isArithmetic() && t.isInteger()) {
            String wide = "((uint32_t)" + x + " " + sign(b.op()) + " (uint32_t)" + y + ")";
            if (b.op() == Expr.Op.DIV) {
                helpers.add("ba_divide");
                String quotient = "ba_divide(" + x + ", " + y + ", &c->state.fault)";
                return t == Type.INT32 ? quotient : "(uint16_t)" + quotient;
            }
            return "(" + type(t) + ")" + wide;
        }
        return "(" + x + " " + sign(b.op()) + " " + y + ")";
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
            case AND -> "&&";
            case OR -> "||";
        };
    }

    private String select(Expr.Select s) {
        String choice = "(" + text(s.condition()) + " ? " + text(s.yes()) + " : " + text(s.no()) + ")";
        return s.type() == Type.UINT16 ? "(uint16_t)" + choice : choice;
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
            helpers.add("ba_to_int32");
            String whole = "ba_to_int32(" + (from == Type.FLOAT32 ? "(double)" + x : x) + ", &c->state.fault)";
            return c.type() == Type.INT32 ? whole : saturate16(whole);
        }
        if (from == Type.INT32 && c.type() == Type.UINT16) {
            return saturate16(x);
        }
        return "(" + type(c.type()) + ")" + x;
    }

    private String saturate16(String x) {
        helpers.add("ba_saturate16");
        return "ba_saturate16(" + x + ")";
    }

    private String call(Expr.Call c) {
        String name = switch (c.intrinsic()) {
            case ABS -> "fabs";
            case SQRT -> "sqrt";
            case FLOOR -> "floor";
            case CEIL -> "ceil";
        };
        return name + (c.type() == Type.FLOAT32 ? "f" : "") + "(" + bare(c.a()) + ")";
    }
}
