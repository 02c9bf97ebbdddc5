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
            case Stmt.Store t -> new Stmt.Store(map.apply(t.array()), slots(t.index(), map), slots(t.value(), map), t.origin());
            case Stmt.While w -> new Stmt.While(slots(w.condition(), map), w.limit(), slots(w.body(), map), w.origin());
            case Stmt.Group g -> new Stmt.Group(g.title(), slots(g.body(), map), g.origin());
            case Stmt.Written w -> w.with(e -> slots(e, map), map, slots(w.body(), map));
            case Stmt.Break _, Stmt.Raise _, Stmt.Invoke _ -> s;
        };
    }

    private static Expr slots(Expr e, UnaryOperator<Slot> map) {
        return switch (e) {
            case Expr.Read r -> {
                Slot s = map.apply(r.slot());
                yield s == r.slot() ? e : new Expr.Read(s);
            }
            case Expr.At a -> new Expr.At(map.apply(a.array()), slots(a.index(), map));
            default -> children(e, c -> slots(c, map));
        };
    }

    /** The same expression with other operands, folded where that settles it; itself where none differs. */
    public static Expr children(Expr e, UnaryOperator<Expr> map) {
        return switch (e) {
            case Expr.Literal _, Expr.Read _ -> e;
            case Expr.Binary b -> {
                Expr x = map.apply(b.a());
                Expr y = map.apply(b.b());
                yield x == b.a() && y == b.b() ? e : Folding.binary(b.op(), x, y);
            }
            case Expr.Select s -> {
                Expr c = map.apply(s.condition());
                Expr yes = map.apply(s.yes());
                Expr no = map.apply(s.no());
                yield c == s.condition() && yes == s.yes() && no == s.no() ? e : yes.when(c, no);
            }
            case Expr.Apply a -> new Expr.Apply(a.function(), a.arguments().stream().map(map).toList());
            case Expr.Bits b -> new Expr.Bits(b.form(), b.children().stream().map(map).toList());
            default -> {
                Expr old = e.children().getFirst();
                Expr a = map.apply(old);
                yield a == old ? e : switch (e) {
                    case Expr.Not _ -> new Expr.Not(a);
                    case Expr.Convert c -> a.as(c.type());
                    case Expr.Call c -> new Expr.Call(c.intrinsic(), a);
                    case Expr.Element t -> new Expr.Element(t.table(), a, t.within());
                    case Expr.Wrap w -> new Expr.Wrap(w.type(), a);
                    case Expr.At t -> new Expr.At(t.array(), a);
                    default -> throw new IllegalStateException();
                };
            }
        };
    }

    /** Visits every expression, parents before children. */
    public static void expressions(List<Stmt> body, Consumer<Expr> visitor) {
        for (Stmt s : body) {
            if (s instanceof Stmt.Assign a) {
                visit(a.value(), visitor);
            } else {
                s.expressions().forEach(e -> visit(e, visitor));
                s.bodies().forEach(b -> expressions(b, visitor));
            }
        }
    }

    /** Visits every slot a statement reads or writes, its counters included. */
    public static void usedSlots(Stmt s, Consumer<Slot> visitor) {
        ownSlots(s, visitor);
        s.bodies().forEach(b -> b.forEach(t -> usedSlots(t, visitor)));
    }

    /** Visits every slot a statement itself reads or writes; those of the bodies nested in it are left out. */
    public static void ownSlots(Stmt s, Consumer<Slot> visitor) {
        switch (s) {
            case Stmt.Assign a -> visitor.accept(a.target());
            case Stmt.Store t -> visitor.accept(t.array());
            case Stmt.Repeat r -> visitor.accept(r.counter());
            default -> { }
        }
        s.expressions().forEach(e -> readSlots(e, visitor));
    }

    /** Visits every slot an expression reads. */
    public static void readSlots(Expr top, Consumer<Slot> visitor) {
        visit(top, e -> {
            if (e instanceof Expr.Read r) {
                visitor.accept(r.slot());
            } else if (e instanceof Expr.At a) {
                visitor.accept(a.array());
            }
        });
    }

    /** Visits an expression and all within it. */
    public static void visit(Expr e, Consumer<Expr> visitor) {
        visitor.accept(e);
        // Most are of these kinds; they are spared a list of their operands.
        switch (e) {
            case Expr.Literal _, Expr.Read _ -> { }
            case Expr.Binary b -> {
                visit(b.a(), visitor);
                visit(b.b(), visitor);
            }
            case Expr.Select s -> {
                visit(s.condition(), visitor);
                visit(s.yes(), visitor);
                visit(s.no(), visitor);
            }
            default -> e.children().forEach(c -> visit(c, visitor));
        }
    }
}
