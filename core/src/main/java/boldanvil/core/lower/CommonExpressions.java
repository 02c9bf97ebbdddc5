package boldanvil.core.lower;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Rewriter;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.BiFunction;
import java.util.function.Consumer;

/**
 * Computes nothing twice within one procedure: an expression whose value a signal already holds reads that signal, and one that
 * will be needed again is kept in a signal of its own. By value numbering (Muchnick, Advanced Compiler Design and Implementation, 1997,
 * section 12.4); no result changes by a bit.
 */
final class CommonExpressions {
    /** Operations saved from which on a repeated expression is worth a signal. */
    private static final int WORTH = 2;

    private final BiFunction<String, Expr, Slot> newSignal;

    /** @param newSignal makes a signal for an expression */
    CommonExpressions(BiFunction<String, Expr, Slot> newSignal) {
        this.newSignal = newSignal;
    }

    List<Procedure> remove(List<Procedure> procedures) {
        return procedures.stream().map(p -> new Procedure(p.name(), p.purpose(), body(p.body()))).toList();
    }

    private List<Stmt> body(List<Stmt> body) {
        var counting = new Numbering(body.size());
        count(body, counting);
        var pass = new Pass(counting.counts, body.size());
        return pass.rewrite(body);
    }

    /** An operation on numbered operands. */
    private record Key(Object operation, Object detail, int a, int b, int c, List<Integer> more) {}

    private record Bounds(double low, double high) {}

    /** Gives the same number to expressions of the same value. Numbering the same statements again gives the same numbers. */
    private static final class Numbering {
        final Map<Key, Integer> numbers;
        final Map<Slot, Integer> values;
        final Map<Integer, Integer> counts;
        /** Bounds of values that are held between constants; they may be no number none the less. */
        final Map<Integer, Bounds> bounds = new HashMap<>();
        /** Numbers of the expressions of the present statement. */
        Map<Expr, Integer> known = new IdentityHashMap<>();
        int next;

        /** @param statements about how many are to be numbered */
        Numbering(int statements) {
            numbers = HashMap.newHashMap(4 * statements);
            values = new IdentityHashMap<>(2 * statements);
            counts = HashMap.newHashMap(4 * statements);
        }

        void nextStatement() {
            if (known.size() > 16) {
                // Emptying it takes as long as it once was large.
                known = new IdentityHashMap<>();
            } else if (!known.isEmpty()) {
                known.clear();
            }
        }

        int of(Slot s) {
            return values.computeIfAbsent(s, _ -> next++);
        }

        void changed(Slot s) {
            values.put(s, next++);
        }

        int of(Expr e) {
            if (e instanceof Expr.Read r) {
                return of(r.slot());
            }
            Integer number = known.get(e);
            if (number == null) {
                number = e instanceof Expr.Select s ? held(s) : number(e);
                known.put(e, number);
            }
            return number;
        }

        private int number(Expr e) {
            return numbers.computeIfAbsent(key(e), _ -> next++);
        }

        /** A value that is held between bounds which it cannot pass anyway is itself. */
        private int held(Expr.Select s) {
            if (s.yes() instanceof Expr.Literal low && s.no() instanceof Expr.Select upper && upper.yes() instanceof Expr.Literal high) {
                Expr inner = upper.no();
                int within = of(inner);
                if (compares(s.condition(), Expr.Op.LT, within, low) && compares(upper.condition(), Expr.Op.GT, within, high)) {
                    Bounds known = bounds.get(within);
                    if (known != null && known.low() >= low.value() && known.high() <= high.value()) {
                        return within;
                    }
                    int number = number(s);
                    bounds.put(number, new Bounds(low.value(), high.value()));
                    return number;
                }
            }
            return number(s);
        }

        private boolean compares(Expr e, Expr.Op op, int value, Expr.Literal bound) {
            return e instanceof Expr.Binary b && b.op() == op && b.b() instanceof Expr.Literal l && l.value() == bound.value()
                    && of(b.a()) == value;
        }

        private Key key(Expr e) {
            return switch (e) {
                case Expr.Literal l -> new Key(l.type(), Double.doubleToRawLongBits(l.value()), 0, 0, 0, null);
                case Expr.Binary b -> new Key(b.op(), null, of(b.a()), of(b.b()), 0, null);
                case Expr.Not n -> new Key("not", null, of(n.a()), 0, 0, null);
                case Expr.Select s -> new Key("select", null, of(s.condition()), of(s.yes()), of(s.no()), null);
                case Expr.Convert c -> new Key("convert", c.type(), of(c.a()), 0, 0, null);
                case Expr.Wrap w -> new Key("wrap", w.type(), of(w.a()), 0, 0, null);
                case Expr.Call c -> new Key(c.intrinsic(), null, of(c.a()), 0, 0, null);
                case Expr.Element t -> new Key("element", t.table().name(), of(t.index()), 0, 0, null);
                case Expr.At a -> new Key("at", null, of(a.array()), of(a.index()), 0, null);
                case Expr.Apply a -> new Key("apply", a.function().name(), 0, 0, 0, a.arguments().stream().map(this::of).toList());
                case Expr.Bits b -> new Key(b.form(), null, 0, 0, 0, b.children().stream().map(this::of).toList());
                case Expr.Read _ -> throw new IllegalStateException();
            };
        }
    }

    private static int operations(Expr e) {
        int own = switch (e) {
            case Expr.Read _, Expr.Literal _ -> 0;
            case Expr.Apply _ -> 10;
            case Expr.Binary b -> b.op() == Expr.Op.DIV ? WORTH : 1;
            default -> 1;
        };
        for (Expr c : e.children()) {
            own += operations(c);
        }
        return own;
    }

    /** Counts how often each value is needed in the straight line of statements; nested bodies count for themselves. */
    private static void count(List<Stmt> body, Numbering n) {
        for (Stmt s : body) {
            if (s instanceof Stmt.Group g) {
                count(g.body(), n);
                continue;
            }
            n.nextStatement();
            for (Expr e : s.expressions()) {
                count(e, n);
            }
            effects(s, n);
        }
    }

    private static void count(Expr e, Numbering n) {
        // Within an expression seen before nothing new is counted.
        if (!e.children().isEmpty() && n.counts.merge(n.of(e), 1, Integer::sum) == 1) {
            e.children().forEach(c -> count(c, n));
        }
    }

    /** What a statement does to the values of slots. */
    private static void effects(Stmt s, Numbering n) {
        switch (s) {
            case Stmt.Assign a -> n.values.put(a.target(), n.of(a.value()));
            case Stmt.Invoke _ -> List.copyOf(n.values.keySet()).forEach(n::changed);
            default -> targets(s, n::changed, () -> List.copyOf(n.values.keySet()).forEach(n::changed));
        }
    }

    private static void targets(Stmt s, Consumer<Slot> changed, Runnable everything) {
        switch (s) {
            case Stmt.Assign a -> changed.accept(a.target());
            case Stmt.Store t -> changed.accept(t.array());
            case Stmt.Repeat r -> changed.accept(r.counter());
            case Stmt.Invoke _ -> everything.run();
            default -> { }
        }
        s.bodies().forEach(b -> b.forEach(t -> targets(t, changed, everything)));
    }

    /** Rewrites one straight line, in step with the numbering of the count. */
    private final class Pass {
        private final Map<Integer, Integer> counts;
        private final Numbering n;
        /** Signals that may hold a value; whether one still does is looked up. */
        private final Map<Integer, Slot> holders = new HashMap<>();
        private final Set<Integer> made = new java.util.HashSet<>();

        Pass(Map<Integer, Integer> counts, int statements) {
            this.counts = counts;
            n = new Numbering(statements);
        }

        List<Stmt> rewrite(List<Stmt> body) {
            List<Stmt> out = new ArrayList<>(body.size());
            for (Stmt s : body) {
                n.nextStatement();
                switch (s) {
                    case Stmt.Assign a -> {
                        int v = n.of(a.value());
                        Expr value = improved(a.value(), out, a);
                        out.add(new Stmt.Assign(a.target(), value, a.origin()));
                        n.values.put(a.target(), v);
                        if (a.target().role() == Slot.Role.SIGNAL && !a.target().isArray()) {
                            Slot holder = holders.get(v);
                            if (holder == null || n.of(holder) != v) {
                                holders.put(v, a.target());
                            }
                        }
                    }
                    case Stmt.Group g -> out.add(new Stmt.Group(g.title(), rewrite(g.body()), g.origin()));
                    case Stmt.Store t -> {
                        out.add(new Stmt.Store(t.array(), improved(t.index(), out, s), improved(t.value(), out, s), t.origin()));
                        effects(s, n);
                    }
                    case Stmt.If i -> {
                        Expr condition = improved(i.condition(), out, s);
                        out.add(new Stmt.If(condition, body(i.yes()), body(i.no()), i.origin()));
                        effects(s, n);
                    }
                    // The condition is looked at in every round, so it stays as it is.
                    case Stmt.While w -> {
                        out.add(new Stmt.While(w.condition(), w.limit(), body(w.body()), w.origin()));
                        n.of(w.condition());
                        effects(s, n);
                    }
                    case Stmt.Repeat r -> {
                        out.add(new Stmt.Repeat(r.counter(), r.count(), body(r.body()), r.origin()));
                        effects(s, n);
                    }
                    // A language may have the text in the place of the body, so nothing of it is shared with what is around.
                    case Stmt.Written w -> {
                        out.add(w.with(this::known, o -> o, body(w.body())));
                        effects(s, n);
                    }
                    case Stmt.Break _, Stmt.Raise _, Stmt.Invoke _ -> {
                        out.add(s);
                        effects(s, n);
                    }
                }
            }
            return out;
        }

        /** The expression with what is known already read from signals. */
        private Expr improved(Expr e, List<Stmt> out, Stmt around) {
            if (e.children().isEmpty()) {
                return e instanceof Expr.Read r ? read(r) : e;
            }
            int v = n.of(e);
            Slot holder = holders.get(v);
            if (holder != null && n.of(holder) == v) {
                return Expr.read(holder);
            }
            boolean whole = around instanceof Stmt.Assign a && a.value() == e;
            int more = whole ? 0 : counts.getOrDefault(v, 0) - 1;
            boolean again = more > 0 && operations(e) * more >= WORTH && made.add(v);
            if (again && !canFault(e)) {
                Slot s = newSignal.apply("common", e);
                out.add(new Stmt.Assign(s, descend(e, out, around), around.origin()));
                n.values.put(s, v);
                holders.put(v, s);
                return Expr.read(s);
            }
            return descend(e, out, around);
        }

        /** The expression with slots that will be left when others are removed. */
        private Expr known(Expr e) {
            return e instanceof Expr.Read r ? read(r) : Rewriter.children(e, this::known);
        }

        private Expr read(Expr.Read r) {
            Slot holder = r.slot().role() == Slot.Role.SIGNAL ? holders.get(n.of(r.slot())) : null;
            return holder != null && holder != r.slot() && n.of(holder) == n.of(r.slot()) ? Expr.read(holder) : r;
        }

        private Expr descend(Expr e, List<Stmt> out, Stmt around) {
            return Rewriter.children(e, c -> improved(c, out, around));
        }
    }

    private static boolean canFault(Expr e) {
        boolean[] found = {false};
        Rewriter.visit(e, x -> found[0] |= x instanceof Expr.Binary b && b.type().isInteger()
                && (b.op() == Expr.Op.DIV || b.op() == Expr.Op.REM)
                || x instanceof Expr.Convert c && c.type().isInteger() && c.a().type().isFloat() || x instanceof Expr.Apply a
                && a.function().canFault());
        return found[0];
    }
}
