package boldanvil.core.lower;

import boldanvil.core.network.Element;
import boldanvil.core.network.Network;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import boldanvil.core.stock.Emitter;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;

/**
 * The switches of a network, and which of them are on. They are settled: of those that contradict their own quantities, the one that does
 * so most changes, until none does. Between two changes of what comes from outside they stay as they are.
 */
final class NetworkSwitches {
    /** Most steps of Newton's method from any guess. */
    private static final int MANY_ROUNDS = 50;

    private final Network network;
    private final Emitter e;
    private final String prefix;
    final Memory memory;
    final List<Expr> values;
    private final List<Expr> gates;
    /** Numbers of the switches that follow from their own quantities. */
    final int[] own;

    /**
     * What a network remembers beside its states.
     *
     * @param kept whether each switch is on by itself; null for those that only a signal switches
     * @param directions the sense in which each directed switch is on, 1 or −1; null for others
     * @param functions value of each function
     * @param rates change of each function in the step before, over its units
     * @param position of the switches; −1 where it is not known
     * @param used inputs and gates for which position and functions hold
     * @param settled the position known last; null where no change of it matters
     * @param fresh whether the switches have changed since the step before; null where that does not matter
     */
    record Memory(List<Slot> kept, List<Slot> directions, List<Phase> phases, List<Slot> functions, List<Slot> rates, Slot position,
            List<Slot> used, Slot settled, Slot fresh) {}

    /**
     * Where in its period a carrier is.
     *
     * @param phase 0 to 1
     * @param duty as it was taken at the beginning of the period
     * @param started whether a duty was taken at all
     * @param edge share of the period at which the next switch changes, or the period ends
     */
    record Phase(Slot phase, Slot duty, Slot started, Slot edge) {}

    /**
     * @param prefix for names of local values
     * @param states values of the states
     * @param signals values of the inputs that are signals, null for others
     * @param gates what is at the gate of each switch; null where it has none
     */
    NetworkSwitches(Network network, Emitter e, String prefix, List<Expr> states, List<Expr> signals, List<Expr> gates, Memory memory) {
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

    Expr zero() {
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
        return network.switches().get(i).how().isGated();
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

    static Expr whole(int v) {
        return Expr.of(Type.INT32, v);
    }

    Stmt set(Slot s, Expr v) {
        return new Stmt.Assign(s, v, e.origin());
    }

    Stmt when(Expr condition, List<Stmt> yes, List<Stmt> no) {
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
    Expr edge(int i, boolean on) {
        var s = network.switches().get(i);
        double share = on ? s.how().pulse().from() : s.how().pulse().to();
        double factor = on ? s.how().pulse().fromDuty() : s.how().pulse().toDuty();
        Expr duty = Expr.read(memory.phases().get(s.carrier()).duty()).as(Type.FLOAT64);
        return factor == 0 ? Expr.of(share) : duty.times(factor).plus(Expr.of(share));
    }

    /** By how much a switch contradicts: positive where it is off and should be on, or is on and should be off. */
    Expr against(int i, Expr position, List<Expr> at) {
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
        List<Expr> terms = new ArrayList<>();
        for (int c = 0; c < at.size(); c++) {
            int column = c;
            double[] all = rows.stream().mapToDouble(r -> r[column]).toArray();
            if (java.util.Arrays.stream(all).anyMatch(v -> v != 0)) {
                Expr factor = choice(e, prefix, all, position);
                terms.add(c == at.size() - 1 ? factor : at.get(c).times(factor));
            }
        }
        return sum(terms, Expr.of(e.real(), 0));
    }

    /** A sum in pairs, so that few additions wait for one another; as little is lost to rounding. */
    static Expr sum(List<Expr> terms, Expr zero) {
        List<Expr> left = terms;
        while (left.size() > 1) {
            List<Expr> pairs = new ArrayList<>();
            for (int i = 0; i < left.size(); i += 2) {
                pairs.add(i + 1 < left.size() ? left.get(i).plus(left.get(i + 1)) : left.get(i));
            }
            left = pairs;
        }
        return left.isEmpty() ? zero : left.getFirst();
    }

    /** The number for the position of the switches; null where it is zero in all. */
    static Expr choice(Emitter e, String prefix, double[] all, Expr position) {
        if (java.util.Arrays.stream(all).allMatch(v -> v == all[0])) {
            return all[0] == 0 ? null : Expr.of(e.real(), all[0]);
        }
        return new Expr.Element(e.table(prefix + "factor", e.real(), all), position, true);
    }

    /** What comes from outside: the signals, and what is at the gates. */
    private List<Expr> outside() {
        List<Expr> all = new ArrayList<>();
        for (int i = 0; i < network.inputs().size(); i++) {
            if (network.inputs().get(i).alone() < 0) {
                all.add(values.get(network.states().size() + i));
            }
        }
        gates.stream().filter(java.util.Objects::nonNull).forEach(all::add);
        return all;
    }

    /** Leaves the position of the switches open where something from outside has changed since they were settled. */
    List<Stmt> notice() {
        List<Expr> outside = outside();
        Expr same = Expr.of(true);
        List<Stmt> changed = new ArrayList<>(List.of(open()));
        for (int i = 0; i < outside.size(); i++) {
            Slot used = memory.used().get(i);
            same = same.and(outside.get(i).eq(Expr.read(used)));
            changed.add(set(used, outside.get(i)));
        }
        return outside.isEmpty() ? List.of() : List.of(when(same, List.of(), changed));
    }

    /** Leaves the position of the switches open. */
    Stmt open() {
        return set(memory.position(), whole(-1));
    }

    /** Settles the switches where their position is open. */
    List<Stmt> settleWhereOpen() {
        List<Stmt> settle = settle();
        if (memory.fresh() != null) {
            Expr position = Expr.read(memory.position());
            Expr changed = position.eq(Expr.read(memory.settled())).not();
            settle.add(set(memory.fresh(), Expr.read(memory.fresh()).or(changed)));
            settle.add(set(memory.settled(), position));
        }
        return List.of(when(Expr.read(memory.position()).lt(whole(0)), settle, List.of()));
    }

    /** Computes the functions as the states stand. */
    private List<Stmt> functions() {
        Expr position = Expr.read(memory.position());
        if (memory.functions().isEmpty()) {
            return List.of();
        }
        return new NetworkFunctions(network, e, prefix, memory.functions(), NetworkFunctions.direct(network, e, prefix, position))
                .solve(without(values), position, MANY_ROUNDS, e.real() == Type.FLOAT64 ? 1e-7 : 1e-4);
    }

    /** The same values with nothing for the functions. */
    List<Expr> without(List<Expr> at) {
        List<Expr> all = new ArrayList<>(at);
        for (int f = 0; f < network.functions().size(); f++) {
            all.set(network.firstFunction() + f, zero());
        }
        return all;
    }

    /** Lets switches change until none contradicts; afterwards position and functions are known. */
    List<Stmt> settle() {
        Slot position = memory.position();
        List<Stmt> body = new ArrayList<>();
        body.add(set(position, number()));
        if (own.length == 0) {
            body.addAll(functions());
            return body;
        }
        Slot worst = e.local(prefix + "worst", e.real());
        List<Slot> by = new ArrayList<>();
        List<Stmt> round = new ArrayList<>(functions());
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
}
