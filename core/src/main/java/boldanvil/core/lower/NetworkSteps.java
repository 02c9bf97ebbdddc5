package boldanvil.core.lower;

import boldanvil.core.network.Element;
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
import java.util.stream.IntStream;

/**
 * Writes how a network goes from step to step. Its switches are settled first: of those that contradict their own quantities, the one that
 * does so most changes, until none does. Then a step is tried; where a switch contradicts at its end, a shorter one, down to the shortest
 * there is, and behind it the switches are settled anew.
 */
final class NetworkSteps {
    /** Parts a step may be divided into; what is left then goes by without looking at the switches. */
    private static final int MOST_PARTS = 96;
    /** Most steps of Newton's method: from the solution a step before, and from anywhere. */
    private static final int FEW_ROUNDS = 8;
    private static final int MANY_ROUNDS = 50;

    private final Network network;
    private final Emitter e;
    private final String prefix;
    private final Memory memory;
    private final List<Expr> values;
    private final List<Expr> gates;
    /** Numbers of the switches that follow from their own quantities. */
    private final int[] own;

    /**
     * What a network remembers beside its states.
     *
     * @param kept whether each switch is on by itself; null for those that only a signal switches
     * @param directions the sense in which each directed switch is on, 1 or −1; null for others
     * @param functions value of each function
     */
    record Memory(List<Slot> kept, List<Slot> directions, List<Phase> phases, List<Slot> functions) {}

    /**
     * Where in its period a carrier is.
     *
     * @param phase 0 to 1
     * @param duty as it was taken at the beginning of the period
     * @param started whether a duty was taken at all
     */
    record Phase(Slot phase, Slot duty, Slot started) {}

    /**
     * @param prefix for names of local values
     * @param states values of the states
     * @param signals values of the inputs that are signals, null for others
     * @param gates what is at the gate of each switch; null where it has none
     */
    NetworkSteps(Network network, Emitter e, String prefix, List<Expr> states, List<Expr> signals, List<Expr> gates, Memory memory) {
        this.network = network;
        this.e = e;
        this.prefix = prefix;
        this.memory = memory;
        this.gates = gates;
        own = IntStream.range(0, memory.kept().size()).filter(i -> memory.kept().get(i) != null).toArray();
        values = new ArrayList<>(states);
        for (int i = 0; i < signals.size(); i++) {
            int alone = network.inputs().get(i).alone();
            values.add(alone < 0 ? signals.get(i) : memory.directions().get(alone) != null ? Expr.read(memory.directions().get(alone))
                    : Expr.of(e.real(), 1).when(kept(alone).and(gate(alone).not()), zero()));
        }
        memory.functions().forEach(f -> values.add(Expr.read(f)));
        values.add(Expr.of(e.real(), 1));
    }

    /** Value of an input. */
    Expr input(int number) {
        return values.get(network.states().size() + number);
    }

    private Expr zero() {
        return Expr.of(e.real(), 0);
    }

    private Expr kept(int i) {
        return Expr.read(memory.kept().get(i));
    }

    /** What is at the gate of a switch that has one. */
    private Expr gate(int i) {
        return gates.get(i) != null ? gates.get(i) : pulsed(i);
    }

    private boolean isGated(int i) {
        return network.switches().get(i).isGated();
    }

    /** Whether a switch is on. */
    private Expr on(int i) {
        if (memory.kept().get(i) == null) {
            return gate(i);
        }
        return !isGated(i) ? kept(i) : switch (network.switches().get(i).how().rule()) {
            case EITHER -> kept(i).or(gate(i));
            case BOTH -> kept(i).and(gate(i));
            case LATCHED -> kept(i);
        };
    }

    private static Expr whole(int v) {
        return Expr.of(Type.INT32, v);
    }

    private Stmt set(Slot s, Expr v) {
        return new Stmt.Assign(s, v, e.origin());
    }

    private Stmt when(Expr condition, List<Stmt> yes, List<Stmt> no) {
        return new Stmt.If(condition, yes, no, e.origin());
    }

    /** The switches that are on, as a number with one bit for each. */
    private Expr number() {
        Expr sum = null;
        for (int i = 0; i < memory.kept().size(); i++) {
            Expr bit = whole(1 << i).when(on(i), whole(0));
            sum = sum == null ? bit : sum.plus(bit);
        }
        return sum == null ? whole(0) : sum;
    }

    private Expr pulsed(int i) {
        Phase at = memory.phases().get(network.switches().get(i).carrier());
        Expr phase = Expr.read(at.phase());
        Expr between = phase.compare(Op.GE, edge(i, true)).and(phase.lt(edge(i, false)));
        return network.switches().get(i).how().pulse().outside() ? between.not() : between;
    }

    /** The share of the period at which a pulsed switch goes on, or off. */
    private Expr edge(int i, boolean on) {
        var s = network.switches().get(i);
        double share = on ? s.how().pulse().from() : s.how().pulse().to();
        double factor = on ? s.how().pulse().fromDuty() : s.how().pulse().toDuty();
        Expr duty = Expr.read(memory.phases().get(s.carrier()).duty()).as(Type.FLOAT64);
        return factor == 0 ? Expr.of(share) : duty.times(factor).plus(Expr.of(share));
    }

    /** By how much a switch contradicts: positive where it is off and should be on, or is on and should be off. */
    private Expr against(int i, Expr position, List<Expr> at) {
        Element.Switching s = network.switches().get(i).how();
        Expr row = own(i, position, at);
        Slot direction = memory.directions().get(i);
        Expr above = (direction != null ? row.call(Intrinsic.ABS) : row).minus(Expr.of(e.real(), s.own().above()));
        Expr below = Expr.of(e.real(), s.own().staysAbove()).minus(direction != null ? row.times(Expr.read(direction)) : row);
        if (!isGated(i)) {
            return below.when(kept(i), above);
        }
        return switch (s.rule()) {
            case EITHER -> zero().when(gate(i), below.when(kept(i), above));
            case BOTH -> zero().when(gate(i).not(), below.when(kept(i), above));
            case LATCHED -> below.when(kept(i), above.when(gate(i), zero()));
        };
    }

    /** What a switch itself follows from. */
    private Expr own(int i, Expr position, List<Expr> at) {
        return row(network.positions().stream().map(p -> p.conducts()[i]).toList(), position, at);
    }

    private Expr row(List<double[]> rows, Expr position, List<Expr> at) {
        return row(e, prefix, rows, position, at);
    }

    /**
     * A quantity of a network.
     *
     * @param rows its factors for each position of the switches
     * @param position may be null where they are the same in all
     * @param at states, inputs and one
     */
    static Expr row(Emitter e, String prefix, List<double[]> rows, Expr position, List<Expr> at) {
        Expr sum = null;
        for (int c = 0; c < at.size(); c++) {
            int column = c;
            double[] all = rows.stream().mapToDouble(r -> r[column]).toArray();
            if (java.util.Arrays.stream(all).anyMatch(v -> v != 0)) {
                Expr factor = choice(e, prefix, all, position);
                Expr term = c == at.size() - 1 ? factor : at.get(c).times(factor);
                sum = sum == null ? term : sum.plus(term);
            }
        }
        return sum == null ? Expr.of(e.real(), 0) : sum;
    }

    /** The number for the position of the switches; null where it is zero in all. */
    static Expr choice(Emitter e, String prefix, double[] all, Expr position) {
        if (java.util.Arrays.stream(all).allMatch(v -> v == all[0])) {
            return all[0] == 0 ? null : Expr.of(e.real(), all[0]);
        }
        return new Expr.Element(e.table(prefix + "factor", e.real(), all), position);
    }

    /** Computes the functions as the states stand. */
    private List<Stmt> functions(Slot position) {
        if (memory.functions().isEmpty()) {
            return List.of();
        }
        return new NetworkFunctions(network, e, prefix, memory.functions(), NetworkFunctions.direct(network, e, prefix,
                Expr.read(position))).solve(without(values), Expr.read(position), MANY_ROUNDS);
    }

    /** The same values with nothing for the functions. */
    private List<Expr> without(List<Expr> at) {
        List<Expr> all = new ArrayList<>(at);
        for (int f = 0; f < network.functions().size(); f++) {
            all.set(network.firstFunction() + f, zero());
        }
        return all;
    }

    /** Lets switches change until none contradicts; afterwards the position is in the slot, and the functions are computed. */
    List<Stmt> settle(Slot position) {
        List<Stmt> body = new ArrayList<>();
        body.add(set(position, number()));
        if (own.length == 0) {
            body.addAll(functions(position));
            return body;
        }
        Slot worst = e.local(prefix + "worst", e.real());
        List<Slot> by = new ArrayList<>();
        List<Stmt> round = new ArrayList<>(functions(position));
        for (int i : own) {
            by.add(e.local(prefix + "against_" + (i + 1), e.real()));
            round.add(set(by.getLast(), against(i, Expr.read(position), values)));
        }
        Expr most = Expr.read(by.getFirst());
        for (Slot b : by.subList(1, by.size())) {
            most = most.max(Expr.read(b));
        }
        round.add(set(worst, most));
        round.add(when(Expr.read(worst).gt(zero()), List.of(), List.of(new Stmt.Break(e.origin()))));
        for (int d = 0; d < own.length; d++) {
            Slot on = memory.kept().get(own[d]);
            List<Stmt> change = new ArrayList<>();
            Slot direction = memory.directions().get(own[d]);
            if (direction != null) {
                Expr sense = Expr.of(e.real(), -1).when(own(own[d], Expr.read(position), values).lt(zero()), Expr.of(e.real(), 1));
                change.add(when(Expr.read(on), List.of(), List.of(set(direction, sense))));
            }
            change.add(set(on, Expr.read(on).not()));
            round.add(when(Expr.read(by.get(d)).compare(Op.GE, Expr.read(worst)), change, List.of()));
        }
        round.add(set(position, number()));
        body.add(new Stmt.Repeat(e.counter(prefix + "round"), 4 * own.length + 2, round, e.origin()));
        return body;
    }

    /**
     * Goes on by some equal steps.
     *
     * @param seconds length of one
     */
    List<Stmt> advance(List<Slot> states, double seconds, int count) {
        Steps steps = Steps.of(network, seconds);
        Slot position = e.local("step_position", Type.INT32);
        Slot level = e.local("step_level", Type.INT32);
        List<Slot> next = new ArrayList<>();
        for (int i = 0; i < states.size(); i++) {
            next.add(e.local("next_" + (i + 1), e.real()));
        }
        List<Slot> after = new ArrayList<>();
        for (int f = 0; f < network.functions().size(); f++) {
            after.add(e.local("after_" + (f + 1), e.real()));
        }
        List<Stmt> attempt = attempt(steps, position, level, next, after);
        List<Stmt> accept = new ArrayList<>();
        for (int i = 0; i < states.size(); i++) {
            accept.add(set(states.get(i), Expr.read(next.get(i))));
        }
        for (int f = 0; f < after.size(); f++) {
            accept.add(set(memory.functions().get(f), Expr.read(after.get(f))));
        }
        List<Stmt> body = new ArrayList<>(begin());
        body.addAll(settle(position));
        body.add(set(level, whole(0)));
        List<Stmt> one = new ArrayList<>();
        if (own.length == 0 && memory.phases().isEmpty() || steps.levels() == 1) {
            one.addAll(attempt);
            one.addAll(accept);
            one.addAll(move(Expr.of(seconds)));
            if (own.length > 0 || !memory.phases().isEmpty()) {
                one.addAll(settle(position));
            }
        } else {
            divide(one, attempt, accept, next, after, steps.levels(), position, level, seconds);
        }
        if (count == 1) {
            body.addAll(one);
        } else {
            body.add(new Stmt.Repeat(e.counter("substep"), count, one, e.origin()));
        }
        return body;
    }

    /** Computes states and functions behind a step of a length. */
    private List<Stmt> attempt(Steps steps, Slot position, Slot level, List<Slot> next, List<Slot> after) {
        Slot step = e.local("step_number", Type.INT32);
        Slot base = e.local("step_base", Type.INT32);
        List<Stmt> all = new ArrayList<>();
        all.add(set(step, Expr.read(position).times(whole(steps.levels())).plus(Expr.read(level))));
        all.add(set(base, Expr.read(step).times(whole(steps.size()))));
        Table factors = e.table("steps", e.real(), steps.factors());
        int columns = values.size();
        int stride = columns + after.size();
        for (int i = 0; i < next.size(); i++) {
            Expr sum = null;
            for (int c = 0; c < columns; c++) {
                int at = i * stride + c;
                if (steps.isUsed(at)) {
                    Expr factor = new Expr.Element(factors, Expr.read(base).plus(whole(at)));
                    Expr term = c == columns - 1 ? factor : values.get(c).times(factor);
                    sum = sum == null ? term : sum.plus(term);
                }
            }
            all.add(set(next.get(i), sum == null ? zero() : sum));
        }
        if (after.isEmpty()) {
            return all;
        }
        for (int f = 0; f < after.size(); f++) {
            all.add(set(after.get(f), Expr.read(memory.functions().get(f))));
        }
        Slot coupled = e.local("step_coupling", Type.INT32);
        all.add(set(coupled, Expr.read(step).times(whole(steps.couplingSize()))));
        Table couplings = e.table("couplings", e.real(), steps.couplings());
        NetworkFunctions.Coupling coupling = (a, f) -> {
            int at = a * after.size() + f;
            return steps.isCoupled(at) ? new Expr.Element(couplings, Expr.read(coupled).plus(whole(at))) : null;
        };
        all.addAll(new NetworkFunctions(network, e, "after_", after, coupling).solve(without(ends(next, after)), Expr.read(position),
                FEW_ROUNDS));
        for (int i = 0; i < next.size(); i++) {
            Expr sum = Expr.read(next.get(i));
            for (int f = 0; f < after.size(); f++) {
                int at = i * stride + columns + f;
                if (steps.isUsed(at)) {
                    sum = sum.plus(Expr.read(after.get(f)).times(new Expr.Element(factors, Expr.read(base).plus(whole(at)))));
                }
            }
            all.add(set(next.get(i), sum));
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
            Phase p = memory.phases().get(c);
            all.add(when(Expr.read(p.started()), List.of(), List.of(set(p.duty(), duty(c)), set(p.started(), Expr.of(true)))));
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
            Phase p = memory.phases().get(c);
            double period = network.carriers().get(c).period();
            all.add(set(p.phase(), Expr.read(p.phase()).plus(seconds.times(1 / period))));
            all.add(when(Expr.read(p.phase()).compare(Op.GE, Expr.of(1 - 1e-9)),
                    List.of(set(p.phase(), Expr.read(p.phase()).minus(Expr.of(1)).max(Expr.of(0))), set(p.duty(), duty(c))), List.of()));
        }
        return all;
    }

    /** Shortest lengths until the next edge of any pulsed switch. */
    private List<Stmt> untilEdge(Slot until, double shortest) {
        List<Stmt> all = new ArrayList<>();
        Slot share = e.local("edge", Type.FLOAT64);
        all.add(set(until, whole(Integer.MAX_VALUE)));
        for (int c = 0; c < memory.phases().size(); c++) {
            Expr phase = Expr.read(memory.phases().get(c).phase());
            all.add(set(share, Expr.of(1)));
            for (int i = 0; i < network.switches().size(); i++) {
                if (network.switches().get(i).carrier() == c) {
                    for (boolean on : new boolean[] {true, false}) {
                        Expr edge = edge(i, on);
                        all.add(set(share, edge.when(edge.gt(phase).and(edge.lt(Expr.read(share))), Expr.read(share))));
                    }
                }
            }
            double lengths = network.carriers().get(c).period() / shortest;
            Expr parts = Expr.read(share).minus(phase).times(lengths).minus(Expr.of(1e-6)).call(Intrinsic.CEIL).max(Expr.of(1))
                    .min(Expr.of(1e9)).as(Type.INT32);
            all.add(set(until, Expr.read(until).min(parts)));
        }
        return all;
    }

    private void divide(List<Stmt> body, List<Stmt> attempt, List<Stmt> accept, List<Slot> next, List<Slot> after, int levels,
            Slot position, Slot level, double seconds) {
        Slot left = e.local("step_left", Type.INT32);
        int finest = levels - 1;
        double shortest = seconds / (1 << finest);
        Table lengths = e.table("lengths", Type.INT32, IntStream.range(0, levels).mapToDouble(l -> 1 << finest - l).toArray());
        Expr length = new Expr.Element(lengths, Expr.read(level));
        Slot against = e.local("step_against", Type.BOOL);
        Slot until = e.local("step_until", Type.INT32);
        List<Expr> ends = ends(next, after);
        Expr any = Expr.of(false);
        for (int i : own) {
            any = any.or(against(i, Expr.read(position), ends).gt(zero()));
        }
        Expr beyond = length.gt(Expr.read(left));
        List<Stmt> taken = new ArrayList<>(accept);
        taken.add(set(left, Expr.read(left).minus(length)));
        taken.addAll(move(length.as(Type.FLOAT64).times(shortest)));
        List<Stmt> rest = new ArrayList<>(List.of(set(level, whole(0)), fit("fit_rest", beyond, level, finest)));
        rest.addAll(attempt);
        rest.addAll(taken);
        List<Stmt> changed = new ArrayList<>(settle(position));
        changed.add(set(level, whole(0)));
        Expr edge = memory.phases().isEmpty() ? Expr.read(against) : Expr.read(against).or(length.compare(Op.GE, Expr.read(until)));
        taken.add(when(edge, changed, List.of(when(Expr.read(level).gt(whole(0)), List.of(set(level, Expr.read(level).minus(whole(1)))),
                List.of()))));
        List<Stmt> part = new ArrayList<>();
        part.add(when(Expr.read(left).compare(Op.LE, whole(0)), List.of(new Stmt.Break(e.origin())), List.of()));
        if (!memory.phases().isEmpty()) {
            part.addAll(untilEdge(until, shortest));
        }
        part.add(fit("fit", memory.phases().isEmpty() ? beyond : beyond.or(length.gt(Expr.read(until))), level, finest));
        part.addAll(attempt);
        part.add(set(against, any));
        part.add(when(Expr.read(against).and(Expr.read(level).lt(whole(finest))),
                List.of(set(level, Expr.read(level).plus(whole(1)))), taken));
        body.add(set(left, whole(1 << finest)));
        body.add(new Stmt.Repeat(e.counter("part"), MOST_PARTS, part, e.origin()));
        // Where it switched too often: to the end of the step as the switches stand.
        rest.addAll(settle(position));
        body.add(new Stmt.Repeat(e.counter("rest"), levels, List.of(when(Expr.read(left).gt(whole(0)), rest, List.of())), e.origin()));
    }

    /** Takes shorter lengths until one fits. */
    private Stmt fit(String counter, Expr tooLong, Slot level, int finest) {
        return new Stmt.Repeat(e.counter(counter), finest + 1, List.of(when(tooLong.and(Expr.read(level).lt(whole(finest))),
                List.of(set(level, Expr.read(level).plus(whole(1)))), List.of(new Stmt.Break(e.origin())))), e.origin());
    }
}
