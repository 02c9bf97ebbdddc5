package boldanvil.core.lower;

import boldanvil.core.network.Network;
import boldanvil.core.network.Steps;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Table;
import boldanvil.core.program.Type;
import boldanvil.core.stock.Emitter;
import java.util.ArrayList;
import java.util.List;
import java.util.function.IntFunction;
import java.util.stream.IntStream;

/**
 * Writes how a network goes from step to step. A step is tried; where a switch contradicts at its end, a shorter one, down to the shortest
 * there is, and behind it the switches are settled anew. At the edges of pulsed switches a step is divided at their instants.
 */
final class NetworkSteps {
    /** Parts a step may be divided into; what is left then goes by without looking at the switches. */
    private static final int MOST_PARTS = 96;
    /** Most steps of Newton's method, from the solution a step before. */
    private static final int FEW_ROUNDS = 8;
    /** Share of the shortest length by which a step goes beyond where a switch contradicts, so that it does. */
    private static final double BEHIND = 1e-3;
    /** Units of a step that count as nothing. */
    private static final double NOTHING = 1e-6;

    private final Network network;
    private final Emitter e;
    private final NetworkSwitches switches;
    private final NetworkSwitches.Memory memory;
    private final List<Expr> values;
    /** Units that a step of the length under trial has, as far as steps are divided. */
    private final Slot units;
    /** Share of it that is taken: 1 but for what is left before an edge. */
    private final Slot share;

    NetworkSteps(Network network, Emitter e, NetworkSwitches switches) {
        this.network = network;
        this.e = e;
        this.switches = switches;
        memory = switches.memory;
        values = switches.values;
        units = e.local("step_units", Type.FLOAT64);
        share = e.local("step_share", Type.FLOAT64);
    }

    private static Expr whole(int v) {
        return NetworkSwitches.whole(v);
    }

    private Expr zero() {
        return switches.zero();
    }

    private Stmt set(Slot s, Expr v) {
        return switches.set(s, v);
    }

    private Stmt when(Expr condition, List<Stmt> yes, List<Stmt> no) {
        return switches.when(condition, yes, no);
    }

    /**
     * Goes on by some equal steps.
     *
     * @param seconds length of one
     */
    List<Stmt> advance(List<Slot> states, double seconds, int count) {
        Steps steps = Steps.of(network, seconds);
        Slot position = memory.position();
        Slot level = e.local("step_level", Type.INT32);
        List<Slot> next = new ArrayList<>();
        for (int i = 0; i < states.size(); i++) {
            next.add(e.local("next_" + (i + 1), e.real()));
        }
        List<Slot> after = new ArrayList<>();
        for (int f = 0; f < network.functions().size(); f++) {
            after.add(e.local("after_" + (f + 1), e.real()));
        }
        boolean divided = steps.base() > 1 && (switches.own.length > 0 || !memory.phases().isEmpty());
        List<Stmt> attempt = attempt(steps, position, level, next, after, divided);
        List<Stmt> accept = new ArrayList<>();
        for (int i = 0; i < states.size(); i++) {
            accept.add(set(states.get(i), Expr.read(next.get(i))));
        }
        Slot perUnit = e.local("per_unit", e.real());
        if (divided && !after.isEmpty()) {
            accept.add(set(perUnit, Expr.of(1).over(length()).as(e.real())));
        }
        for (int f = 0; f < after.size(); f++) {
            Expr change = Expr.read(after.get(f)).minus(Expr.read(memory.functions().get(f)));
            accept.add(set(memory.rates().get(f), divided ? change.times(Expr.read(perUnit)) : change));
            accept.add(set(memory.functions().get(f), Expr.read(after.get(f))));
        }
        if (memory.fresh() != null) {
            accept.add(set(memory.fresh(), Expr.of(false)));
        }
        List<Stmt> body = new ArrayList<>(begin());
        body.addAll(switches.notice());
        List<Stmt> one = new ArrayList<>();
        if (!divided) {
            body.add(set(level, whole(0)));
            one.addAll(switches.settleWhereOpen());
            one.addAll(attempt);
            one.addAll(accept);
            one.addAll(move(Expr.of(seconds)));
            one.addAll(nextEdges());
            if (switches.own.length > 0 || !memory.phases().isEmpty()) {
                one.add(switches.open());
            }
        } else {
            divide(one, attempt, accept, next, after, steps, level, seconds);
        }
        if (count == 1) {
            body.addAll(one);
        } else {
            body.add(new Stmt.Repeat(e.counter("substep"), count, one, e.origin()));
        }
        return body;
    }

    /** Units that are taken. */
    private Expr length() {
        return Expr.read(units).times(Expr.read(share));
    }

    /** Computes states and functions behind a step of a length. */
    private List<Stmt> attempt(Steps steps, Slot position, Slot level, List<Slot> next, List<Slot> after, boolean divided) {
        Slot step = e.local("step_number", Type.INT32);
        Slot base = e.local("step_base", Type.INT32);
        List<Stmt> all = new ArrayList<>();
        all.add(set(step, Expr.read(position).times(whole(steps.levels())).plus(Expr.read(level))));
        all.add(set(base, Expr.read(step).times(whole(steps.size()))));
        // Without states there are only carriers, and functions.
        Table factors = next.isEmpty() ? null : e.table("steps", e.real(), steps.factors());
        int columns = values.size();
        int stride = columns + after.size();
        IntFunction<Expr> factor = at -> steps.place(at) < 0 ? null
                : new Expr.Element(factors, Expr.read(base).plus(whole(steps.place(at))), true);
        for (int i = 0; i < next.size(); i++) {
            List<Expr> terms = new ArrayList<>();
            for (int c = 0; c < columns; c++) {
                Expr by = factor.apply(i * stride + c);
                if (by != null) {
                    terms.add(c == columns - 1 ? by : values.get(c).times(by));
                }
            }
            all.add(set(next.get(i), NetworkSwitches.sum(terms, zero())));
        }
        if (after.isEmpty()) {
            return all;
        }
        for (int f = 0; f < after.size(); f++) {
            // A good guess: as it went on in the step before, which may have been shorter.
            Expr rate = Expr.read(memory.rates().get(f));
            all.add(set(after.get(f), Expr.read(memory.functions().get(f))
                    .plus(divided ? rate.times(Expr.read(units).as(e.real())) : rate)));
        }
        Slot coupled = e.local("step_coupling", Type.INT32);
        all.add(set(coupled, Expr.read(step).times(whole(steps.couplingSize()))));
        Table couplings = e.table("couplings", e.real(), steps.couplings());
        NetworkFunctions.Coupling coupling = (a, f) -> {
            int at = a * after.size() + f;
            return steps.isCoupled(at) ? new Expr.Element(couplings, Expr.read(coupled).plus(whole(at)), true) : null;
        };
        all.addAll(new NetworkFunctions(network, e, "after_", after, coupling)
                .solve(switches.without(ends(next, after)), Expr.read(position),
                FEW_ROUNDS, 1e-3));
        for (int i = 0; i < next.size(); i++) {
            List<Expr> terms = new ArrayList<>(List.of(Expr.read(next.get(i))));
            for (int f = 0; f < after.size(); f++) {
                Expr by = factor.apply(i * stride + columns + f);
                if (by != null) {
                    terms.add(Expr.read(after.get(f)).times(by));
                }
                Expr before = factor.apply(i * stride + network.firstFunction() + f);
                if (before != null && memory.fresh() != null && network.functions().get(f).isPower()) {
                    // Behind a change of switches the value at the end counts from the beginning on.
                    Expr change = Expr.read(after.get(f)).minus(values.get(network.firstFunction() + f));
                    terms.add(change.times(before).when(Expr.read(memory.fresh()), zero()));
                }
            }
            all.add(set(next.get(i), NetworkSwitches.sum(terms, zero())));
        }
        return all;
    }

    /** States, inputs, functions and one behind a step. */
    private List<Expr> ends(List<Slot> next, List<Slot> after) {
        List<Expr> all = new ArrayList<>(values);
        for (int i = 0; i < next.size(); i++) {
            all.set(i, Expr.read(next.get(i)));
        }
        for (int f = 0; f < after.size(); f++) {
            all.set(network.firstFunction() + f, Expr.read(after.get(f)));
        }
        return all;
    }

    /** Takes the first duty. */
    private List<Stmt> begin() {
        List<Stmt> all = new ArrayList<>();
        for (int c = 0; c < memory.phases().size(); c++) {
            NetworkSwitches.Phase p = memory.phases().get(c);
            all.add(when(Expr.read(p.started()), List.of(), List.of(set(p.duty(), duty(c)), set(p.started(), Expr.of(true)), nextEdge(c))));
        }
        return all;
    }

    private Expr duty(int carrier) {
        return e.in("duty" + carrier).clamp(Expr.of(e.real(), -1), Expr.of(e.real(), 1));
    }

    /** All carriers go on; at the end of its period each begins anew, with the duty of then. */
    private List<Stmt> move(Expr seconds) {
        List<Stmt> all = new ArrayList<>();
        for (int c = 0; c < memory.phases().size(); c++) {
            NetworkSwitches.Phase p = memory.phases().get(c);
            double period = network.carriers().get(c).period();
            all.add(set(p.phase(), Expr.read(p.phase()).plus(seconds.times(1 / period))));
            all.add(when(Expr.read(p.phase()).compare(Op.GE, Expr.of(1 - 1e-9)),
                    List.of(set(p.phase(), Expr.read(p.phase()).minus(Expr.of(1)).max(Expr.of(0))), set(p.duty(), duty(c))), List.of()));
        }
        return all;
    }

    /** Finds the next edge of the switches of a carrier. */
    private Stmt nextEdge(int c) {
        NetworkSwitches.Phase p = memory.phases().get(c);
        Expr next = Expr.of(1);
        for (int i = 0; i < network.switches().size(); i++) {
            if (network.switches().get(i).carrier() == c) {
                for (boolean on : new boolean[] {true, false}) {
                    Expr edge = switches.edge(i, on);
                    next = edge.when(edge.gt(Expr.read(p.phase())).and(edge.lt(next)), next);
                }
            }
        }
        return set(p.edge(), next);
    }

    private List<Stmt> nextEdges() {
        return IntStream.range(0, memory.phases().size()).mapToObj(this::nextEdge).toList();
    }

    /** Units until the next edge of any carrier, or the end of the step. */
    private Expr untilEdge(Expr left, double unit) {
        Expr least = left;
        for (int c = 0; c < memory.phases().size(); c++) {
            NetworkSwitches.Phase p = memory.phases().get(c);
            Expr rest = Expr.read(p.edge()).minus(Expr.read(p.phase())).times(network.carriers().get(c).period() / unit);
            least = least.min(rest.max(Expr.of(0)));
        }
        return least;
    }

    /**
     * Goes on in parts: up to the next edge or to where a switch contradicts. The longest length that fits is tried; where a switch
     * contradicts behind it, one of half the length. What is left before an edge is taken as a share of the change over a length.
     */
    private void divide(List<Stmt> body, List<Stmt> attempt, List<Stmt> accept, List<Slot> next, List<Slot> after, Steps steps, Slot level,
            double seconds) {
        int whole = steps.base() * steps.base();
        int last = steps.levels() - 1;
        double unit = seconds / whole;
        Slot left = e.local("step_left", Type.FLOAT64);
        Slot target = e.local("step_target", Type.FLOAT64);
        Slot longest = e.local("step_longest", Type.INT32);
        Slot against = e.local("step_against", Type.BOOL);
        Table lengths = e.table("units", Type.FLOAT64, IntStream.range(0, last + 1).mapToDouble(steps::units).toArray());
        Table half = e.table("half", Type.INT32, IntStream.range(0, last + 1).mapToDouble(l -> steps.level(steps.units(l) / 2)).toArray());
        Table twice = e.table("twice", Type.INT32, IntStream.range(0, last + 1).mapToDouble(l -> steps.level(2 * steps.units(l)))
                .toArray());
        Expr length = length();
        List<Stmt> attempted = new ArrayList<>(choose(steps, target, level, lengths));
        attempted.addAll(attempt);
        attempted.add(when(Expr.read(share).lt(Expr.of(1)), shared(next, after, Expr.read(share)), List.of()));
        List<Stmt> taken = new ArrayList<>(accept);
        taken.add(set(left, Expr.read(left).minus(length)));
        taken.addAll(move(length.times(unit)));
        List<Stmt> changed = new ArrayList<>(nextEdges());
        changed.add(switches.open());
        changed.add(set(longest, whole(0)));
        Expr any = Expr.of(false);
        for (int i : switches.own) {
            any = any.or(switches.against(i, Expr.read(memory.position()), ends(next, after)).gt(zero()));
        }
        Slot number = e.counter("part");
        // Where it switches too often: to the end of the step as the switches stand.
        Expr patient = Expr.read(number).lt(whole(MOST_PARTS));
        List<Stmt> part = new ArrayList<>();
        part.add(when(Expr.read(left).compare(Op.LE, Expr.of(NOTHING)), List.of(new Stmt.Break(e.origin())), List.of()));
        part.addAll(switches.settleWhereOpen());
        if (memory.fresh() != null) {
            // What remains of an interrupted current is gone within the shortest length.
            part.add(when(Expr.read(memory.fresh()), List.of(set(longest, whole(last))), List.of()));
        }
        part.add(set(target, untilEdge(Expr.read(left), unit).when(patient, Expr.read(left))));
        part.add(set(level, Expr.read(longest)));
        part.addAll(attempted);
        part.add(set(against, any));
        part.add(when(Expr.read(against).and(Expr.read(level).eq(whole(last))), cut(next, after), List.of()));
        Slot atEdge = e.local("step_edge", Type.BOOL);
        List<Stmt> good = new ArrayList<>();
        if (!memory.phases().isEmpty()) {
            good.add(set(atEdge, untilEdge(Expr.of(Double.MAX_VALUE), unit).minus(length).compare(Op.LE, Expr.of(NOTHING))));
        }
        good.addAll(taken);
        good.add(when(memory.phases().isEmpty() ? Expr.read(against) : Expr.read(against).or(Expr.read(atEdge)), changed,
                List.of(set(longest, new Expr.Element(twice, Expr.read(longest), true)))));
        part.add(when(Expr.read(against).and(Expr.read(level).lt(whole(last))).and(patient),
                List.of(set(longest, new Expr.Element(half, Expr.read(level), true))), good));
        body.add(set(left, Expr.of(whole)));
        body.add(set(longest, whole(0)));
        body.add(new Stmt.Repeat(number, MOST_PARTS + 4, part, e.origin()));
    }

    /**
     * Chooses the longest length that is within the target and not longer than the one in {@code level}, and the share of it that is taken.
     * Before an edge a share of the shortest coarse length is taken; finer lengths are then for the search for a contradiction alone.
     */
    private List<Stmt> choose(Steps steps, Slot target, Slot level, Table lengths) {
        int base = steps.base();
        Expr most = Expr.read(target).plus(Expr.of(NOTHING));
        Expr coarse = whole(base).minus(most.times(1.0 / base).call(Intrinsic.FLOOR).as(Type.INT32)).max(whole(0));
        Expr fine = whole(2 * base - 1).minus(most.call(Intrinsic.FLOOR).as(Type.INT32)).min(whole(2 * base - 2));
        Expr fitting = memory.phases().isEmpty() ? coarse.when(most.compare(Op.GE, Expr.of(base)), fine) : coarse.min(whole(base - 1));
        return List.of(when(most.compare(Op.GE, Expr.of(base * base)), List.of(),
                List.of(set(level, Expr.read(level).max(fitting)))),
                set(units, new Expr.Element(lengths, Expr.read(level), true)),
                set(share, Expr.of(1).when(most.compare(Op.GE, Expr.read(units)), Expr.read(target).over(Expr.read(units)))));
    }

    /** Ends the shortest step a little behind where the first switch begins to contradict. */
    private List<Stmt> cut(List<Slot> next, List<Slot> after) {
        Slot cut = e.local("step_cut", e.real());
        Slot begin = e.local("step_before", e.real());
        Slot end = e.local("step_behind", e.real());
        Expr one = Expr.of(e.real(), 1);
        List<Stmt> all = new ArrayList<>(List.of(set(cut, one)));
        Expr position = Expr.read(memory.position());
        for (int i : switches.own) {
            all.add(set(begin, switches.against(i, position, values)));
            all.add(set(end, switches.against(i, position, ends(next, after))));
            Expr crossing = Expr.read(begin).over(Expr.read(begin).minus(Expr.read(end)));
            all.add(when(Expr.read(begin).lt(zero()).and(Expr.read(end).gt(zero())),
                    List.of(set(cut, Expr.read(cut).min(crossing.plus(Expr.of(e.real(), BEHIND))))), List.of()));
        }
        all.addAll(shared(next, after, Expr.read(cut).as(Type.FLOAT64)));
        all.add(set(share, Expr.read(share).times(Expr.read(cut).as(Type.FLOAT64))));
        return all;
    }

    /** Only a share of the change over a step. */
    private List<Stmt> shared(List<Slot> next, List<Slot> after, Expr part) {
        List<Stmt> all = new ArrayList<>();
        Expr s = part.as(e.real());
        for (int i = 0; i < next.size(); i++) {
            all.add(set(next.get(i), values.get(i).plus(Expr.read(next.get(i)).minus(values.get(i)).times(s))));
        }
        for (int f = 0; f < after.size(); f++) {
            Expr before = Expr.read(memory.functions().get(f));
            all.add(set(after.get(f), before.plus(Expr.read(after.get(f)).minus(before).times(s))));
        }
        return all;
    }
}
