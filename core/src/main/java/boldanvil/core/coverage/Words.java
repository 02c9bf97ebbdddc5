package boldanvil.core.coverage;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Slot;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;

/** Conditions as people read them. */
final class Words {
    private static final int MOST = 110;

    private final String path;
    private final Map<Slot, Expr> shared;

    /**
     * @param path of the block that they are said for
     * @param shared what slots stand for that have a value used in several places
     */
    Words(String path, Map<Slot, Expr> shared) {
        this.path = path;
        this.shared = shared;
    }

    String of(Expr e) {
        String text = text(e);
        return text.length() > MOST ? text.substring(0, MOST - 1) + "…" : text;
    }

    private String text(Expr e) {
        return switch (e) {
            case Expr.Literal l -> number(l);
            case Expr.Read r -> shared.containsKey(r.slot()) ? text(shared.get(r.slot())) : name(r.slot());
            case Expr.Not n -> "not " + bracketed(n.a());
            case Expr.Binary b -> bracketed(b.a()) + " " + sign(b.op()) + " " + bracketed(b.b());
            case Expr.Select s -> bracketed(s.yes()) + " if " + bracketed(s.condition()) + " else " + bracketed(s.no());
            case Expr.Convert c -> text(c.a());
            case Expr.Wrap w -> text(w.a());
            case Expr.Bits b -> "bits of " + all(b.children());
            case Expr.At a -> name(a.array()) + "[" + text(a.index()) + "]";
            case Expr.Call c -> c.intrinsic().name().toLowerCase(Locale.ROOT) + "(" + text(c.a()) + ")";
            case Expr.Apply a -> a.function().name() + "(" + all(a.arguments()) + ")";
            case Expr.Element t -> t.table().name() + "[" + text(t.index()) + "]";
        };
    }

    /** Of the block itself the name of what it keeps or computes; of another one the place, without the sheet the reader is on. */
    private String name(Slot slot) {
        String of = slot.path();
        if (of.equals(path)) {
            String block = path.substring(path.lastIndexOf('/') + 1).replaceAll("[^A-Za-z0-9]+", "_") + "_";
            int at = slot.name().toLowerCase(Locale.ROOT).lastIndexOf(block.toLowerCase(Locale.ROOT));
            return (at < 0 ? slot.name() : slot.name().substring(at + block.length())).replace('_', ' ');
        }
        String sheet = path.substring(0, path.lastIndexOf('/') + 1);
        return !of.contains("/") ? slot.name().replace('_', ' ') : of.startsWith(sheet) ? of.substring(sheet.length()) : of;
    }

    private String all(List<Expr> list) {
        return list.stream().map(this::text).collect(Collectors.joining(", "));
    }

    private String bracketed(Expr e) {
        Expr meant = e instanceof Expr.Read r && shared.containsKey(r.slot()) ? shared.get(r.slot()) : e;
        return meant instanceof Expr.Binary || meant instanceof Expr.Select ? "(" + text(meant) + ")" : text(meant);
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
