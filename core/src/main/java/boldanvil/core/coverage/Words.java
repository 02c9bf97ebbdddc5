package boldanvil.core.coverage;

import boldanvil.core.program.Expr;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;

/** Conditions as people read them. */
final class Words {
    private static final int MOST = 110;

    private Words() {}

    /** @param path of the block that it is said for */
    static String of(Expr e, String path) {
        String text = text(e, path);
        return text.length() > MOST ? text.substring(0, MOST - 1) + "…" : text;
    }

    private static String text(Expr e, String path) {
        return switch (e) {
            case Expr.Literal l -> number(l);
            case Expr.Read r -> Point.name(r.slot(), path);
            case Expr.Not n -> "not " + bracketed(n.a(), path);
            case Expr.Binary b -> bracketed(b.a(), path) + " " + sign(b.op()) + " " + bracketed(b.b(), path);
            case Expr.Select s -> bracketed(s.yes(), path) + " if " + bracketed(s.condition(), path) + " else " + bracketed(s.no(), path);
            case Expr.Convert c -> text(c.a(), path);
            case Expr.Wrap w -> text(w.a(), path);
            case Expr.Bits b -> "bits of " + all(b.children(), path);
            case Expr.At a -> Point.name(a.array(), path) + "[" + text(a.index(), path) + "]";
            case Expr.Call c -> c.intrinsic().name().toLowerCase(Locale.ROOT) + "(" + text(c.a(), path) + ")";
            case Expr.Apply a -> a.function().name() + "(" + all(a.arguments(), path) + ")";
            case Expr.Element t -> t.table().name() + "[" + text(t.index(), path) + "]";
        };
    }

    private static String all(List<Expr> list, String path) {
        return list.stream().map(x -> text(x, path)).collect(Collectors.joining(", "));
    }

    private static String bracketed(Expr e, String path) {
        return e instanceof Expr.Binary || e instanceof Expr.Select ? "(" + text(e, path) + ")" : text(e, path);
    }

    private static String number(Expr.Literal l) {
        if (l.type() == boldanvil.core.program.Type.BOOL) {
            return l.value() != 0 ? "true" : "false";
        }
        return l.value() == Math.rint(l.value()) && Math.abs(l.value()) < 1e15 ? Long.toString((long) l.value())
                : Float.toString((float) l.value());
    }

    private static String sign(Expr.Op op) {
        return switch (op) {
            case ADD -> "+";
            case SUB -> "−";
            case MUL -> "·";
            case DIV -> "/";
            case LT -> "<";
            case LE -> "≤";
            case GT -> ">";
            case GE -> "≥";
            case EQ -> "=";
            case NE -> "≠";
            default -> op.name().toLowerCase(Locale.ROOT);
        };
    }
}
