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
import java.util.stream.IntStream;

/**
 * Writes how a network goes from step to step. Diodes are settled first: of those that contradict their voltage or current, the one that
 * does so most changes, until none does. Then a step is tried; where a diode contradicts at its end, a shorter one, down to the shortest
 * there is, and behind it the diodes are settled anew.
 */
final class NetworkSteps {
    /** Parts a step may be divided into; what is left then goes by without looking at the diodes. */
    private static final int MOST_PARTS = 96;

    private final Network network;
    private final Emitter e;
    private final String prefix;
    private final List<Expr> values;
    private final List<Expr> gates;
    private final List<Slot> kept;
    private final List<Phase> phases;
    private final int[] diodes;

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
     * @param inputs values of the inputs
     * @param gates what is at the gate of each switch; null where it has none
     * @param kept whether each diode conducts; null for other switches
     */
    NetworkSteps(Network network, Emitter e, String prefix, List<Expr> states, List<Expr> inputs, List<Expr> gates, List<Slot> kept,
            List<Phase> phases) {
        this.network = network;
        this.e = e;
        this.prefix = prefix;
        this.gates = gates;
        this.kept = kept;
        this.phases = phases;
        values = new ArrayList<>(states);
        values.addAll(inputs);
        values.add(Expr.of(e.real(), 1));
        diodes = IntStream.range(0, kept.size()).filter(i -> kept.get(i) != null).toArray();
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
        for (int i = 0; i < kept.size(); i++) {
            Expr on = kept.get(i) != null ? Expr.read(kept.get(i)) : gates.get(i) != null ? gates.get(i) : pulsed(i);
            Expr bit = whole(1 << i).when(on, whole(0));
            sum = sum == null ? bit : sum.plus(bit);
        }
        return sum == null ? whole(0) : sum;
    }

    private Expr pulsed(int i) {
        Phase at = phases.get(network.switches().get(i).carrier());
        Expr phase = Expr.read(at.phase());
        return phase.compare(Op.GE, edge(i, true)).and(phase.lt(edge(i, false)));
    }

    /** The share of the period at which a pulsed switch goes on, or off. */
    private Expr edge(int i, boolean on) {
        var s = network.switches().get(i);
        double share = on ? s.pulse().from() : s.pulse().to();
        double factor = on ? s.pulse().fromDuty() : s.pulse().toDuty();
        Expr duty = Expr.read(phases.get(s.carrier()).duty()).as(Type.FLOAT64);
        return factor == 0 ? Expr.of(share) : duty.times(factor).plus(Expr.of(share));
    }

    /** By how much a diode contradicts: positive where it blocks and should conduct, or conducts and should block. */
    private Expr against(int i, Expr position, List<Expr> at) {
        List<double[]> rows = network.positions().stream().map(p -> p.conducts()[i]).toList();
        Expr above = row(rows, position, at);
        return above.negated().when(Expr.read(kept.get(i)), above);
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
                boolean same = java.util.Arrays.stream(all).allMatch(v -> v == all[0]);
                Expr factor = same ? Expr.of(e.real(), all[0]) : new Expr.Element(e.table(prefix + "factor", e.real(), all), position);
                Expr term = c == at.size() - 1 ? factor : at.get(c).times(factor);
                sum = sum == null ? term : sum.plus(term);
            }
        }
        return sum == null ? Expr.of(e.real(), 0) : sum;
    }

    /** Lets diodes change until none contradicts; afterwards the position is in the slot. */
    List<Stmt> settle(Slot position) {
        List<Stmt> body = new ArrayList<>();
        body.add(set(position, number()));
        if (diodes.length == 0) {
            return body;
        }
        Expr zero = Expr.of(e.real(), 0);
        Slot worst = e.local(prefix + "worst", e.real());
        List<Slot> by = new ArrayList<>();
        List<Stmt> round = new ArrayList<>();
        for (int i : diodes) {
            by.add(e.local(prefix + "against_" + (i + 1), e.real()));
            round.add(set(by.getLast(), against(i, Expr.read(position), values)));
        }
        Expr most = Expr.read(by.getFirst());
        for (Slot b : by.subList(1, by.size())) {
            most = most.max(Expr.read(b));
        }
        round.add(set(worst, most));
        round.add(when(Expr.read(worst).gt(zero), List.of(), List.of(new Stmt.Break(e.origin()))));
        for (int d = 0; d < diodes.length; d++) {
            Slot on = kept.get(diodes[d]);
            round.add(when(Expr.read(by.get(d)).compare(Op.GE, Expr.read(worst)), List.of(set(on, Expr.read(on).not())), List.of()));
        }
        round.add(set(position, number()));
        body.add(new Stmt.Repeat(e.counter(prefix + "round"), 4 * diodes.length + 2, round, e.origin()));
        return body;
    }

    /** Goes one step on. */
    List<Stmt> advance(List<Slot> states, double seconds) {
        Steps steps = Steps.of(network, seconds);
        Table factors = e.table("steps", e.real(), steps.factors());
        int columns = values.size();
        Slot position = e.local("step_position", Type.INT32);
        Slot level = e.local("step_level", Type.INT32);
        Slot left = e.local("step_left", Type.INT32);
        Slot base = e.local("step_base", Type.INT32);
        List<Slot> next = new ArrayList<>();
        for (int i = 0; i < states.size(); i++) {
            next.add(e.local("next_" + (i + 1), e.real()));
        }
        List<Stmt> attempt = new ArrayList<>();
        attempt.add(set(base, Expr.read(position).times(whole(steps.levels())).plus(Expr.read(level)).times(whole(steps.size()))));
        for (int i = 0; i < states.size(); i++) {
            Expr sum = null;
            for (int c = 0; c < columns; c++) {
                int at = i * columns + c;
                if (steps.isUsed(at)) {
                    Expr factor = new Expr.Element(factors, Expr.read(base).plus(whole(at)));
                    Expr term = c == columns - 1 ? factor : values.get(c).times(factor);
                    sum = sum == null ? term : sum.plus(term);
                }
            }
            attempt.add(set(next.get(i), sum == null ? Expr.of(e.real(), 0) : sum));
        }
        List<Stmt> accept = new ArrayList<>();
        for (int i = 0; i < states.size(); i++) {
            accept.add(set(states.get(i), Expr.read(next.get(i))));
        }
        List<Stmt> body = new ArrayList<>(begin());
        body.addAll(settle(position));
        body.add(set(level, whole(0)));
        if (diodes.length == 0 && phases.isEmpty() || steps.levels() == 1) {
            body.addAll(attempt);
            body.addAll(accept);
            body.addAll(move(Expr.of(seconds)));
            return body;
        }
        divide(body, attempt, accept, next, steps.levels(), position, level, left, seconds);
        return body;
    }

    /** Takes the first duty. */
    private List<Stmt> begin() {
        List<Stmt> all = new ArrayList<>();
        for (int c = 0; c < phases.size(); c++) {
            Phase p = phases.get(c);
            all.add(when(Expr.read(p.started()), List.of(), List.of(set(p.duty(), duty(c)), set(p.started(), Expr.of(true)))));
        }
        return all;
    }

    private Expr duty(int carrier) {
        Expr zero = Expr.of(e.real(), 0);
        return e.in("duty" + carrier).clamp(zero, Expr.of(e.real(), 1));
    }

    /** All carriers go on; at the end of its period each begins anew, with the duty of then. */
    private List<Stmt> move(Expr seconds) {
        List<Stmt> all = new ArrayList<>();
        for (int c = 0; c < phases.size(); c++) {
            Phase p = phases.get(c);
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
        for (int c = 0; c < phases.size(); c++) {
            Expr phase = Expr.read(phases.get(c).phase());
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

    private void divide(List<Stmt> body, List<Stmt> attempt, List<Stmt> accept, List<Slot> next, int levels, Slot position, Slot level,
            Slot left, double seconds) {
        int finest = levels - 1;
        double shortest = seconds / (1 << finest);
        Table lengths = e.table("lengths", Type.INT32, IntStream.range(0, levels).mapToDouble(l -> 1 << finest - l).toArray());
        Expr length = new Expr.Element(lengths, Expr.read(level));
        Slot against = e.local("step_against", Type.BOOL);
        Slot until = e.local("step_until", Type.INT32);
        List<Expr> ends = new ArrayList<>();
        next.forEach(n -> ends.add(Expr.read(n)));
        ends.addAll(values.subList(next.size(), values.size()));
        Expr any = Expr.of(false);
        for (int i : diodes) {
            any = any.or(against(i, Expr.read(position), ends).gt(Expr.of(e.real(), 0)));
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
        Expr edge = phases.isEmpty() ? Expr.read(against) : Expr.read(against).or(length.compare(Op.GE, Expr.read(until)));
        taken.add(when(edge, changed, List.of(when(Expr.read(level).gt(whole(0)), List.of(set(level, Expr.read(level).minus(whole(1)))),
                List.of()))));
        List<Stmt> part = new ArrayList<>();
        part.add(when(Expr.read(left).compare(Op.LE, whole(0)), List.of(new Stmt.Break(e.origin())), List.of()));
        if (!phases.isEmpty()) {
            part.addAll(untilEdge(until, shortest));
        }
        part.add(fit("fit", phases.isEmpty() ? beyond : beyond.or(length.gt(Expr.read(until))), level, finest));
        part.addAll(attempt);
        part.add(set(against, any));
        part.add(when(Expr.read(against).and(Expr.read(level).lt(whole(finest))),
                List.of(set(level, Expr.read(level).plus(whole(1)))), taken));
        body.add(set(left, whole(1 << finest)));
        body.add(new Stmt.Repeat(e.counter("part"), MOST_PARTS, part, e.origin()));
        // Where it switched too often: to the end of the step as the switches stand.
        body.add(new Stmt.Repeat(e.counter("rest"), levels, List.of(when(Expr.read(left).gt(whole(0)), rest, List.of())), e.origin()));
    }

    /** Takes shorter lengths until one fits. */
    private Stmt fit(String counter, Expr tooLong, Slot level, int finest) {
        return new Stmt.Repeat(e.counter(counter), finest + 1, List.of(when(tooLong.and(Expr.read(level).lt(whole(finest))),
                List.of(set(level, Expr.read(level).plus(whole(1)))), List.of(new Stmt.Break(e.origin())))), e.origin());
    }
}
