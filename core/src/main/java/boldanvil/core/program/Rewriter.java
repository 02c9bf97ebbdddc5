package boldanvil.core.program;

import java.util.List;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;

/** Walks and rewrites statements and expressions. */
public final class Rewriter {
    private Rewriter() {}

    /** The same statements with other slots. */
    public static List<Stmt> slots(List<Stmt> body, UnaryOperator<Slot> map) {
        return body.stream().map(s -> slots(s, map)).toList();
    }

    private static Stmt slots(Stmt s, UnaryOperator<Slot> map) {
        return switch (s) {
            case Stmt.Assign a -> new Stmt.Assign(map.apply(a.target()), slots(a.value(), map), a.origin());
            case Stmt.If i -> new Stmt.If(slots(i.condition(), map), slots(i.yes(), map), slots(i.no(), map), i.origin());
            case Stmt.Repeat r -> new Stmt.Repeat(map.apply(r.counter()), r.count(), slots(r.body(), map), r.origin());
            case Stmt.Invoke i -> i;
        };
    }

    private static Expr slots(Expr e, UnaryOperator<Slot> map) {
        return switch (e) {
            case Expr.Literal l -> l;
            case Expr.Read r -> new Expr.Read(map.apply(r.slot()));
            case Expr.Binary b -> new Expr.Binary(b.op(), slots(b.a(), map), slots(b.b(), map));
            case Expr.Not n -> new Expr.Not(slots(n.a(), map));
            case Expr.Select s -> new Expr.Select(slots(s.condition(), map), slots(s.yes(), map), slots(s.no(), map));
            case Expr.Convert c -> new Expr.Convert(c.type(), slots(c.a(), map));
            case Expr.Call c -> new Expr.Call(c.intrinsic(), slots(c.a(), map));
            case Expr.Apply a -> new Expr.Apply(a.function(), slots(a.a(), map));
            case Expr.Element t -> new Expr.Element(t.table(), slots(t.index(), map));
        };
    }

    /** Visits every expression, parents before children. */
    public static void expressions(List<Stmt> body, Consumer<Expr> visitor) {
        for (Stmt s : body) {
            switch (s) {
                case Stmt.Assign a -> visit(a.value(), visitor);
                case Stmt.If i -> {
                    visit(i.condition(), visitor);
                    expressions(i.yes(), visitor);
                    expressions(i.no(), visitor);
                }
                case Stmt.Repeat r -> expressions(r.body(), visitor);
                case Stmt.Invoke _ -> { }
            }
        }
    }

    /** Visits every slot a statement reads or writes, its counters included. */
    public static void usedSlots(Stmt s, Consumer<Slot> visitor) {
        switch (s) {
            case Stmt.Assign a -> visitor.accept(a.target());
            case Stmt.If i -> {
                i.yes().forEach(t -> usedSlots(t, visitor));
                i.no().forEach(t -> usedSlots(t, visitor));
            }
            case Stmt.Repeat r -> {
                visitor.accept(r.counter());
                r.body().forEach(t -> usedSlots(t, visitor));
            }
            case Stmt.Invoke _ -> { }
        }
        Consumer<Expr> reads = e -> {
            if (e instanceof Expr.Read r) {
                visitor.accept(r.slot());
            }
        };
        switch (s) {
            case Stmt.Assign a -> visit(a.value(), reads);
            case Stmt.If i -> visit(i.condition(), reads);
            default -> { }
        }
    }

    private static void visit(Expr e, Consumer<Expr> visitor) {
        visitor.accept(e);
        e.children().forEach(c -> visit(c, visitor));
    }
}
