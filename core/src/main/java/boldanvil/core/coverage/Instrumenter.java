package boldanvil.core.coverage;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Adds to the discrete tasks of a program what notes how much of it runs. Decisions are the conditions of statements, of choices within
 * expressions (limits, switches) and truth values that are computed. What only raises a fault is not a decision of the sheet. A continuous
 * part is left as it is.
 */
public final class Instrumenter {
    /** A decision with more conditions counts as one condition. */
    private static final int MOST_CONDITIONS = 10;
    /** Larger tables are data, not a map of operating points. */
    private static final int MOST_ENTRIES = 4096;
    private static final String NAME = "coverage_hits";

    private final List<Point> points = new ArrayList<>();
    private final Map<Object, Point> known = new HashMap<>();
    /** Values that are used in several places have a slot of the part. */
    private final Map<Slot, Expr> shared = new HashMap<>();
    private final Slot hits;
    private int size;

    /**
     * A program that notes what it does.
     *
     * @param hits an array, in which an element that is not 0 was hit
     */
    public record Instrumented(Program program, Slot hits, List<Point> points) {
        public Instrumented {
            points = List.copyOf(points);
        }

        /** Nothing was run yet. */
        public Coverage none() {
            return new Coverage(points, new boolean[hits.length()]);
        }

        /** @param values of the array of hits */
        public Coverage of(double[] values) {
            boolean[] hit = new boolean[values.length];
            for (int i = 0; i < hit.length; i++) {
                hit[i] = values[i] != 0;
            }
            return new Coverage(points, hit);
        }
    }

    private Instrumenter(Slot hits) {
        this.hits = hits;
    }

    /** The same program with notes. */
    public static Instrumented of(Program p) {
        // The array's length is known when all points are, and expressions need the array: so it is done twice.
        var counting = new Instrumenter(array(2));
        counting.procedures(p);
        var writing = new Instrumenter(array(Math.max(2, counting.size)));
        List<Procedure> procedures = writing.procedures(p);
        List<Slot> slots = new ArrayList<>(p.slots());
        slots.add(writing.hits);
        return new Instrumented(new Program(p.name(), p.title(), p.tickNanos(), slots, procedures, p.functions(), p.tables(), p.tasks(),
                p.dynamics(), p.ports(), p.taps(), p.tunables(), p.fault(), p.standIns()), writing.hits, writing.points);
    }

    private static Slot array(int length) {
        return Slot.array(NAME, Slot.Role.STATE, Type.UINT8, new double[length], "");
    }

    private List<Procedure> procedures(Program p) {
        Set<String> mine = new HashSet<>();
        reach(p, Program.STEP, mine);
        p.procedures().forEach(x -> share(x.body()));
        return p.procedures().stream().map(x -> mine.contains(x.name()) ? new Procedure(x.name(), x.purpose(), body(x.body())) : x)
                .toList();
    }

    private void share(List<Stmt> body) {
        for (Stmt s : body) {
            if (s instanceof Stmt.Assign a && a.target().role() == Slot.Role.LOCAL && !a.target().path().contains("/")) {
                shared.putIfAbsent(a.target(), a.value());
            }
            s.bodies().forEach(this::share);
        }
    }

    private static void reach(Program p, String procedure, Set<String> reached) {
        if (reached.add(procedure)) {
            p.procedures().stream().filter(x -> x.name().equals(procedure)).forEach(x -> invoked(p, x.body(), reached));
        }
    }

    private static void invoked(Program p, List<Stmt> body, Set<String> reached) {
        for (Stmt s : body) {
            if (s instanceof Stmt.Invoke i) {
                reach(p, i.procedure(), reached);
            }
            s.bodies().forEach(b -> invoked(p, b, reached));
        }
    }

    private List<Stmt> body(List<Stmt> in) {
        List<Stmt> out = new ArrayList<>();
        for (Stmt s : in) {
            switch (s) {
                case Stmt.Assign a -> {
                    if (a.target().type() == Type.BOOL && isComputed(a.value()) && !shared.containsKey(a.target())) {
                        decided(a.value(), a.origin(), out);
                    }
                    inside(a.value(), a.origin(), out);
                    out.add(a);
                }
                case Stmt.Store t -> {
                    inside(t.index(), t.origin(), out);
                    inside(t.value(), t.origin(), out);
                    out.add(t);
                }
                case Stmt.If i -> {
                    if (!onlyRaises(i.yes()) || !onlyRaises(i.no())) {
                        decided(i.condition(), i.origin(), out);
                    }
                    inside(i.condition(), i.origin(), out);
                    out.add(new Stmt.If(i.condition(), body(i.yes()), body(i.no()), i.origin()));
                }
                case Stmt.While w -> {
                    decided(w.condition(), w.origin(), out);
                    inside(w.condition(), w.origin(), out);
                    List<Stmt> again = new ArrayList<>(body(w.body()));
                    decided(w.condition(), w.origin(), again);
                    out.add(new Stmt.While(w.condition(), w.limit(), again, w.origin()));
                }
                case Stmt.Repeat r -> out.add(new Stmt.Repeat(r.counter(), r.count(), body(r.body()), r.origin()));
                case Stmt.Group g -> out.add(new Stmt.Group(g.title(), body(g.body()), g.origin()));
                case Stmt.Written w -> out.add(w.with(e -> e, slot -> slot, body(w.body())));
                case Stmt.Break _, Stmt.Raise _, Stmt.Invoke _ -> out.add(s);
            }
        }
        return out;
    }

    private static boolean onlyRaises(List<Stmt> body) {
        return body.stream().allMatch(Stmt.Raise.class::isInstance);
    }

    private static boolean isComputed(Expr e) {
        return switch (e) {
            case Expr.Literal _, Expr.Read _, Expr.At _, Expr.Select _ -> false;
            case Expr.Not n -> isComputed(n.a());
            default -> true;
        };
    }

    /** What is noted of the choices within an expression, as far as they are reached. */
    private void inside(Expr e, Origin origin, List<Stmt> out) {
        switch (e) {
            case Expr.Select s -> {
                decided(s.condition(), origin, out);
                inside(s.condition(), origin, out);
                List<Stmt> yes = new ArrayList<>();
                List<Stmt> no = new ArrayList<>();
                inside(s.yes(), origin, yes);
                inside(s.no(), origin, no);
                if (!yes.isEmpty() || !no.isEmpty()) {
                    out.add(new Stmt.If(s.condition(), yes, no, origin));
                }
            }
            case Expr.Element t when t.table().size() <= MOST_ENTRIES && t.table().size() > 1 -> {
                inside(t.index(), origin, out);
                int entries = t.table().size();
                var area = (Point.Area) known.computeIfAbsent(List.of(origin.path(), t.table()), _ -> add(new Point.Area(origin.path(),
                        t.table().name(), entries, size)));
                Expr within = t.index().clamp(Expr.of(Type.INT32, 0), Expr.of(Type.INT32, entries - 1));
                out.add(hit(within.plus(Expr.of(Type.INT32, area.from())), origin));
            }
            default -> e.children().forEach(c -> inside(c, origin, out));
        }
    }

    /** Whether it only asks whether a number is one, or compares it with infinity: no input of a sheet decides that. */
    private boolean isGuard(Expr e) {
        return switch (e) {
            case Expr.Not n -> isGuard(n.a());
            case Expr.Read r -> shared.containsKey(r.slot()) && isGuard(shared.get(r.slot()));
            case Expr.Binary b when b.op() == Expr.Op.AND || b.op() == Expr.Op.OR -> isGuard(b.a()) && isGuard(b.b());
            case Expr.Binary b -> isInfinite(b.a()) || isInfinite(b.b()) || b.a().equals(b.b())
                    || b.op() == Expr.Op.EQ && b.a() instanceof Expr.Binary m && m.op() == Expr.Op.MUL && isZero(m.b()) && isZero(b.b());
            default -> false;
        };
    }

    private static boolean isInfinite(Expr e) {
        return e instanceof Expr.Literal l && Double.isInfinite(l.value());
    }

    private static boolean isZero(Expr e) {
        return e instanceof Expr.Literal l && l.value() == 0;
    }

    /** Notes a decision of a block; the schedule of tasks is none. */
    private void decided(Expr whole, Origin origin, List<Stmt> out) {
        if (isGuard(whole) || !origin.path().contains("/")) {
            return;
        }
        List<Expr> found = new ArrayList<>();
        conditions(whole, found);
        List<Expr> conditions = found.size() > MOST_CONDITIONS ? List.of(whole) : found;
        var words = new Words(origin.path(), shared);
        var d = (Point.Decision) known.computeIfAbsent(List.of(origin.path(), whole), _ -> add(new Point.Decision(origin.path(), whole,
                conditions, words.of(whole), conditions.stream().map(words::of).toList(), size)));
        Expr index = Expr.of(Type.INT32, d.from());
        for (int i = 0; i < conditions.size(); i++) {
            index = index.plus(Expr.of(Type.INT32, 1 << i).when(conditions.get(i), Expr.of(Type.INT32, 0)));
        }
        out.add(hit(index, origin));
    }

    private static void conditions(Expr e, List<Expr> found) {
        switch (e) {
            case Expr.Not n -> conditions(n.a(), found);
            case Expr.Binary b when b.op() == Expr.Op.AND || b.op() == Expr.Op.OR -> {
                conditions(b.a(), found);
                conditions(b.b(), found);
            }
            case Expr.Literal _ -> { }
            default -> {
                if (!found.contains(e)) {
                    found.add(e);
                }
            }
        }
    }

    private Point add(Point p) {
        points.add(p);
        size += p.size();
        return p;
    }

    private Stmt hit(Expr index, Origin origin) {
        return new Stmt.Store(hits, index, Expr.of(Type.UINT8, 1), origin);
    }
}
