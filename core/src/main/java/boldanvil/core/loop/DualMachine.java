package boldanvil.core.loop;

import boldanvil.core.instance.Instance;
import boldanvil.core.maths.Derivative;
import boldanvil.core.program.Arithmetic;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Function;
import boldanvil.core.program.Program;
import boldanvil.core.program.Rewriter;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.util.Collections;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;

/**
 * Runs the procedures of a program with the derivatives of all values by some seeds carried along (forward differentiation; Griewank and
 * Walther, Evaluating Derivatives, 2008). Conditions are taken as they stand. Known mathematical functions have their derivatives; others,
 * loops and solvers are differentiated as they run. An integer carries the derivative of what was rounded to it.
 */
final class DualMachine {
    /**
     * A value.
     *
     * @param by its derivatives, which are not changed any more; null where all are zero
     */
    record Dual(double value, double[] by) {
        static final Dual ZERO = new Dual(0, null);

        static Dual of(double value) {
            return new Dual(value, null);
        }

        boolean isTrue() {
            return value != 0;
        }
    }

    private final Map<String, List<Stmt>> procedures = new HashMap<>();
    private final Map<Slot, Dual[]> memory = new IdentityHashMap<>();
    private final Predicate<String> rounds;
    /** Slots that were read before they were set; null where that is not noted. */
    private Set<Slot> early;
    private Set<Slot> written;
    /** Where elements of arrays were stored; noted with {@link #early}. */
    private Map<Slot, Stores> stores;
    private String path = "";

    /** Stores to an array, one after the other. */
    private static final class Stores {
        private int first = -1;
        private int last;
        private boolean inTurn = true;

        void at(int index, int length) {
            inTurn &= first < 0 || index == (last + 1) % length;
            first = first < 0 ? index : first;
            last = index;
        }

        /** By how many elements the next turn begins later than this one did. */
        int moved(int length) {
            return inTurn && first >= 0 ? Math.floorMod(last + 1 - first, length) : 0;
        }
    }

    /**
     * @param now in the state to begin with; its slots are read now
     * @param rounds paths of blocks that round on purpose; what they round counts as unchanged
     */
    DualMachine(Program program, Instance now, Predicate<String> rounds) {
        this.rounds = rounds;
        program.procedures().forEach(p -> procedures.put(p.name(), p.body()));
        for (Slot s : program.slots()) {
            double[] values = s.isArray() ? now.elements(s) : new double[] {now.get(s)};
            Dual[] duals = new Dual[values.length];
            for (int i = 0; i < duals.length; i++) {
                duals[i] = Dual.of(values[i]);
            }
            memory.put(s, duals);
        }
    }

    private DualMachine(DualMachine other) {
        rounds = other.rounds;
        procedures.putAll(other.procedures);
        other.memory.forEach((slot, values) -> memory.put(slot, values.clone()));
    }

    /** Another machine in the same state, which notes which slots are read before they are set. */
    DualMachine watched() {
        var copy = new DualMachine(this);
        copy.early = Collections.newSetFromMap(new IdentityHashMap<>());
        copy.stores = new IdentityHashMap<>();
        copy.written = Collections.newSetFromMap(new IdentityHashMap<>());
        return copy;
    }

    /** Slots whose value at the beginning mattered. */
    Set<Slot> early() {
        return early;
    }

    /**
     * By how many elements the values of an array have moved on. Arrays that keep the past are written round and round: what an element
     * was at the beginning of a period, one further on is at its end.
     */
    int moved(Slot s) {
        Stores all = stores.get(s);
        return all == null ? 0 : all.moved(s.length());
    }

    Dual get(Slot s) {
        return get(s, 0);
    }

    Dual get(Slot s, int element) {
        if (early != null && !written.contains(s)) {
            early.add(s);
        }
        return duals(s)[element];
    }

    void set(Slot s, Dual v) {
        set(s, 0, v);
    }

    void set(Slot s, int element, Dual v) {
        // One element of an array does not set it all.
        if (written != null && !s.isArray()) {
            written.add(s);
        }
        duals(s)[element] = v;
    }

    private Dual[] duals(Slot s) {
        Dual[] known = memory.get(s);
        if (known == null) {
            known = new Dual[s.length()];
            java.util.Arrays.fill(known, Dual.ZERO);
            memory.put(s, known);
        }
        return known;
    }

    /** Runs a procedure, if the program has it. */
    void run(String procedure) {
        run(procedures.getOrDefault(procedure, List.of()));
    }

    /** Whether the body was left by a break. */
    private boolean run(List<Stmt> body) {
        for (Stmt s : body) {
            path = s.origin().path();
            switch (s) {
                case Stmt.Assign a -> set(a.target(), converted(a.target().type(), value(a.value())));
                case Stmt.Store t -> {
                    int at = index(t.array(), t.index());
                    if (stores != null) {
                        stores.computeIfAbsent(t.array(), _ -> new Stores()).at(at, t.array().length());
                    }
                    set(t.array(), at, value(t.value()));
                }
                case Stmt.If i -> {
                    if (run(value(i.condition()).isTrue() ? i.yes() : i.no())) {
                        return true;
                    }
                }
                case Stmt.Repeat r -> {
                    boolean left = false;
                    for (int k = 0; k < r.count() && !left; k++) {
                        set(r.counter(), Dual.of(k));
                        left = run(r.body());
                    }
                }
                case Stmt.While w -> {
                    for (int k = 0; k < w.limit() && value(w.condition()).isTrue(); k++) {
                        if (run(w.body())) {
                            break;
                        }
                    }
                }
                case Stmt.Group g -> run(g.body());
                case Stmt.Written w -> run(w.body());
                case Stmt.Break _ -> {
                    return true;
                }
                case Stmt.Raise _ -> { }
                case Stmt.Invoke i -> run(i.procedure());
            }
        }
        return false;
    }

    private int index(Slot array, Expr index) {
        return Math.clamp((int) value(index).value(), 0, array.length() - 1);
    }

    private Dual value(Expr e) {
        return switch (e) {
            case Expr.Literal l -> Dual.of(l.value());
            case Expr.Read r -> get(r.slot());
            case Expr.At a -> get(a.array(), index(a.array(), a.index()));
            case Expr.Not n -> Dual.of(value(n.a()).isTrue() ? 0 : 1);
            case Expr.Select s -> value(value(s.condition()).isTrue() ? s.yes() : s.no());
            case Expr.Binary b -> binary(b, value(b.a()), value(b.b()));
            case Expr.Convert c -> converted(c.type(), value(c.a()));
            case Expr.Wrap w -> {
                Dual a = value(w.a());
                yield new Dual(w.type().wrap((long) a.value()), a.by());
            }
            case Expr.Bits b -> Dual.of(Arithmetic.bits(b.form(), value(b.children().getFirst()).value(),
                    b.children().size() > 1 ? value(b.children().get(1)).value() : 0));
            case Expr.Call c -> call(c, value(c.a()));
            case Expr.Apply a -> apply(a.function(), a.arguments().stream().map(this::value).toList());
            case Expr.Element t -> Dual.of(t.table().value(Math.clamp((int) value(t.index()).value(), 0, t.table().size() - 1)));
        };
    }

    private static Dual converted(Type to, Dual v) {
        return new Dual(to.convert(v.value()), to == Type.BOOL ? null : v.by());
    }

    private Dual call(Expr.Call c, Dual a) {
        double v = Arithmetic.call(c.intrinsic(), c.type(), a.value());
        return switch (c.intrinsic()) {
            case ABS -> a.value() < 0 ? new Dual(v, scaled(a.by(), -1)) : new Dual(v, a.by());
            // A root at zero has no derivative; none is the one of a signal that does not move.
            case SQRT -> new Dual(v, v == 0 ? null : scaled(a.by(), 0.5 / v));
            case FLOOR, CEIL, RINT -> new Dual(v, rounds.test(path) ? a.by() : null);
        };
    }

    private static double[] scaled(double[] by, double k) {
        if (by == null || k == 0) {
            return null;
        }
        double[] all = new double[by.length];
        for (int i = 0; i < all.length; i++) {
            all[i] = by[i] * k;
        }
        return all;
    }

    /** j · a + k · b. */
    private static double[] mixed(double[] a, double j, double[] b, double k) {
        if (a == null || j == 0) {
            return scaled(b, k);
        }
        if (b == null || k == 0) {
            return j == 1 ? a : scaled(a, j);
        }
        double[] all = new double[a.length];
        for (int i = 0; i < all.length; i++) {
            all[i] = j * a[i] + k * b[i];
        }
        return all;
    }

    private static Dual binary(Expr.Binary e, Dual a, Dual b) {
        double v = Arithmetic.binary(e.op(), e.a().type(), a.value(), b.value());
        if (a.by() == null && b.by() == null || !e.op().isArithmetic() || e.op().isBits()) {
            return Dual.of(v);
        }
        return new Dual(v, switch (e.op()) {
            case ADD -> mixed(a.by(), 1, b.by(), 1);
            case SUB -> mixed(a.by(), 1, b.by(), -1);
            case MUL -> mixed(a.by(), b.value(), b.by(), a.value());
            case DIV -> b.value() == 0 ? null : mixed(a.by(), 1 / b.value(), b.by(), -a.value() / (b.value() * b.value()));
            case REM -> a.by();
            default -> throw new IllegalArgumentException(e.op() + " of " + Op.class.getSimpleName());
        });
    }

    private Dual apply(Function f, List<Dual> x) {
        // Slots within a function begin as zero at each call.
        f.body().forEach(s -> Rewriter.usedSlots(s, memory::remove));
        for (int i = 0; i < x.size(); i++) {
            memory.put(f.parameters().get(i), new Dual[] {x.get(i)});
        }
        String caller = path;
        run(f.body());
        Dual result = value(f.result());
        path = caller;
        if (x.stream().allMatch(v -> v.by() == null)) {
            return Dual.of(result.value());
        }
        List<Expr> constants = new java.util.ArrayList<>();
        for (int i = 0; i < x.size(); i++) {
            constants.add(Expr.of(f.parameters().get(i).type(), x.get(i).value()));
        }
        var call = new Expr.Apply(f, constants);
        double[] by = null;
        for (int i = 0; i < x.size(); i++) {
            if (x.get(i).by() != null) {
                var slope = Derivative.partial(call, i);
                if (slope.isEmpty()) {
                    return result;
                }
                by = mixed(by, 1, x.get(i).by(), value(slope.get()).value());
            }
        }
        return new Dual(result.value(), by);
    }
}
