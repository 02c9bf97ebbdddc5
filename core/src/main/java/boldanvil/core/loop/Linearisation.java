package boldanvil.core.loop;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.diagram.Wire;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.linear.StateSpace;
import boldanvil.core.loop.DualMachine.Dual;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.lower.Names;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Tap;
import boldanvil.core.program.Type;
import boldanvil.core.simulate.Change;
import boldanvil.core.simulate.Conductor;
import boldanvil.core.simulate.Intervention;
import boldanvil.core.simulate.SteadyState;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;
import org.ejml.simple.SimpleMatrix;
import org.hipparchus.util.ArithmeticUtils;

/**
 * Opens a loop at a wire and makes it linear. A sum is put into the wire; the rig runs to its operating point; then one period of all its
 * sample times runs with derivatives by what is added to the wire and by every state that matters, through the IR itself. So several
 * rates, latches between tasks, computation delays, solvers and limits are as they are in the program.
 */
public final class Linearisation {
    /** Name of the tunable whose value is added to the wire. */
    public static final String ADDED = "zz added to the loop";
    /** Name of the tap of what comes back in the wire. */
    public static final String BACK = "zz back from the loop";
    private static final String SUM = "zz loop sum";
    private static final String SEEN = "zz seen ";
    /** Ticks of a period, at most. */
    private static final double MOST_TICKS = 200_000;
    /** Periods that run at least: blocks do other things at their first sample, such as a derivative. */
    private static final int FIRST = 2;
    /** Samples of the wire in a period, at most. */
    private static final int MOST_SAMPLES = 256;
    /** States, at most. */
    private static final int MOST_STATES = 400;

    /**
     * Where the loop is.
     *
     * @param seconds how long the rig runs before, from its start
     * @param changes of tunables on the way
     */
    public record OperatingPoint(double seconds, List<Change> changes) {
        public OperatingPoint {
            changes = List.copyOf(changes);
        }

        /** The start of the rig, but for the first two periods, or the state it settles in where it asks for that. */
        public static final OperatingPoint START = new OperatingPoint(0, List.of());
    }

    /** A number that is kept from period to period. */
    private record State(String part, Slot slot, int element) {
        String name() {
            return part + "/" + slot.name() + (slot.isArray() ? "[" + element + "]" : "");
        }
    }

    /** A part as it runs with derivatives. */
    private record Member(String part, Program program, long everyTicks) {
        boolean isDue(long tick) {
            return tick % everyTicks == 0;
        }
    }

    private final Cut cut;
    private final Place place;
    private final LoweredSystem system;
    private final List<Member> ring = new ArrayList<>();
    private final Member opened;
    private final List<Seen> seen = new ArrayList<>();
    private final Slot added;
    private final Tap back;
    private final long ticks;
    private final long sampleTicks;
    /** Ticks from the beginning of a period of all sample times to that of the one that is run. */
    private final long offset;
    private final Predicate<String> rounds;
    private final Map<String, DualMachine> start = new LinkedHashMap<>();
    private final double seconds;

    /** An output of a plant. */
    private record Seen(String part, Slot slot) {}

    /** The state after a period, what came back on the way, and outputs as they were at the first sample. */
    private record Period(Map<String, DualMachine> end, List<Dual> back, List<Dual> seen) {
        /** A state at the end. */
        Dual of(State s) {
            var m = end.get(s.part());
            int n = s.slot().length();
            return m.get(s.slot(), n == 1 ? 0 : (s.element() + m.moved(s.slot())) % n);
        }
    }

    private Linearisation(Project project, Rig rig, Cut cut, List<Cut> outputs, OperatingPoint point, boolean rounding) {
        this.cut = cut;
        place = Place.sheet(cut.path(), cut.label(project));
        Project as = project.as(rig);
        Project summed = summed(as, cut);
        for (int i = 0; i < outputs.size(); i++) {
            Cut o = outputs.get(i);
            String name = SEEN + (i + 1);
            summed = summed.change(o.sheet(), sheet -> sheet.tapped(o.block(), o.port(), name));
        }
        Project whole = summed;
        var lowered = LoweredSystem.of(whole);
        if (lowered.hasErrors()) {
            // What is wrong with the project itself is reported without the sum.
            LoweredSystem.of(as).orThrow();
        }
        system = lowered.orThrow();
        rounds = rounding ? RoundingBlocks.of(whole) : _ -> false;
        String part = cut.part();
        Set<String> inRing = ring(part);
        outputs.forEach(o -> between(part, o.part(), inRing));
        system.parts().keySet().stream().filter(inRing::contains).forEach(id -> {
            var program = system.program(id).orElseThrow();
            ring.add(new Member(id, program, program.tickNanos() / system.tickNanos()));
        });
        opened = ring.stream().filter(m -> m.part().equals(part)).findFirst().orElseThrow();
        added = opened.program().tunable(Names.addressInPart(cut.path() + "/" + ADDED)).orElseThrow().slot();
        back = opened.program().tap(Names.addressInPart(cut.path() + "/" + BACK)).orElseThrow(() -> FindingException.of(place,
                "The wire carries a vector.", "Open the loop where a single value goes, such as behind an Element of a vector."));
        for (int i = 0; i < outputs.size(); i++) {
            Cut o = outputs.get(i);
            Tap tap = system.program(o.part()).orElseThrow().tap(Names.addressInPart(o.path() + "/" + SEEN + (i + 1)))
                    .orElseThrow(() -> FindingException.of(Place.sheet(o.path(), o.label(project)), "The output is a vector.",
                            "Choose outputs with a single value."));
            seen.add(new Seen(o.part(), tap.slot()));
        }
        long all = period();
        sampleTicks = opened.everyTicks() * (back.continuous() ? 1 : back.periodTicks());
        // A plant is seen between two releases of slower tasks, which have no part in it.
        boolean between = !outputs.isEmpty() && all != sampleTicks;
        ticks = between ? sampleTicks : all;
        offset = between ? sampleTicks : 0;
        if (all > MOST_TICKS || ticks / sampleTicks > MOST_SAMPLES) {
            throw FindingException.of(place, "All sample times together repeat after " + all * system.tickNanos() * 1e-9
                    + " s only, which are "
                    + all + " steps and " + all / sampleTicks + " samples of the wire.",
                            "Choose sample times that are multiples of each "
                    + "other, or open the loop at a wire of a slower task.");
        }
        seconds = operate(rig, point, as.variableTexts(), all);
    }

    /**
     * Opens a loop.
     *
     * @throws FindingException when the project has errors, nothing goes around, or the sample times do not fit
     */
    public static OpenLoop open(Project project, Rig rig, Cut cut, OperatingPoint point) {
        return new Linearisation(project, rig, cut, List.of(), point, true).solve();
    }

    /**
     * The plant from a wire to some outputs: what the wire does by itself, whatever drives it on the sheet. It is sampled as the wire is;
     * slower tasks have no part in it.
     *
     * @param outputs as the controller sees them when it computes the wire
     * @throws FindingException as for {@link #open}, and when the wire does not reach an output
     */
    public static Plant plant(Project project, Rig rig, Cut cut, List<Cut> outputs, OperatingPoint point) {
        return new Linearisation(project, rig, cut, outputs, point, true).plant(outputs.stream().map(o -> o.label(project)).toList());
    }

    /** As {@link #open}, but what is rounded counts as constant, as a difference sees it. */
    static OpenLoop openBetweenLevels(Project project, Rig rig, Cut cut, OperatingPoint point) {
        return new Linearisation(project, rig, cut, List.of(), point, false).solve();
    }

    /** Adds the parts on the ways from one part to another. */
    private void between(String from, String to, Set<String> parts) {
        Set<String> on = reached(from, true);
        on.retainAll(reached(to, false));
        if (on.contains(to)) {
            parts.addAll(on);
        }
        parts.add(to);
    }

    /** The project with a sum in the wire: of what comes and of the tunable {@link #ADDED}. */
    public static Project summed(Project p, Cut cut) {
        return p.change(cut.sheet(), s -> {
            List<Wire> opened = s.wires().stream().filter(cut::opens).toList();
            if (opened.isEmpty()) {
                throw FindingException.of(Place.sheet(cut.path()), "No wire begins there.", "Choose an output that drives something.");
            }
            String added = s.freshId();
            var next = s.add(Block.of(added, "tunable", ADDED, 0, 0, Map.of("value", "0")));
            String sum = next.freshId();
            next = next.add(Block.of(sum, "sum", SUM, 0, 0, Map.of("signs", "++")));
            return next.tapped(cut.block(), cut.port(), BACK).redriven(opened, sum, "y").add(new Wire(cut.block(), cut.port(), sum, "u1"))
                    .add(new Wire(added, "y", sum, "u2"));
        });
    }

    /** Parts from which a way leads to this one and back. */
    private Set<String> ring(String part) {
        Set<String> after = reached(part, true);
        after.retainAll(reached(part, false));
        after.add(part);
        return after;
    }

    private Set<String> reached(String part, boolean forward) {
        Set<String> all = new HashSet<>(Set.of(part));
        boolean more = true;
        while (more) {
            more = false;
            for (var l : system.links()) {
                more |= all.contains(forward ? l.fromPart() : l.toPart()) && all.add(forward ? l.toPart() : l.fromPart());
            }
        }
        return all;
    }

    /** Ticks of the system after which all sample times of the ring repeat. */
    private long period() {
        long all = 1;
        for (Member m : ring) {
            all = multiple(all, m.everyTicks());
            for (var t : m.program().tasks()) {
                all = multiple(all, m.everyTicks() * t.periodTicks());
            }
        }
        return all;
    }

    private long multiple(long a, long b) {
        return Math.min(ArithmeticUtils.lcm(a, b), (long) 1e15);
    }

    /** Runs to the operating point, at the beginning of a period. */
    private double operate(Rig rig, OperatingPoint point, Map<String, String> variables, long all) {
        Map<String, Instance> instances = new LinkedHashMap<>();
        for (String part : system.parts().keySet()) {
            instances.put(part, JvmCompiler.compile(system.program(part).orElseThrow()).instantiate());
        }
        SteadyState.start(system, instances, rig.settled(), variables, point.changes().stream().map(Intervention::set).toList(),
                Place.rig(rig.name()));
        var conductor = new Conductor(system, instances);
        conductor.schedule(point.changes());
        long periods = (long) Math.ceil(point.seconds() * 1e9 / (system.tickNanos() * (double) all) - 1e-9);
        long wanted = Math.max(periods, FIRST) * all + offset;
        for (long t = 0; t < wanted; t++) {
            conductor.tick();
        }
        for (Member m : ring) {
            start.put(m.part(), new DualMachine(m.program(), instances.get(m.part()), rounds));
        }
        return wanted * system.tickNanos() * 1e-9;
    }

    /** Runs one period from the operating point with derivatives by the samples of the wire and some states. */
    private Period run(List<State> states) {
        int samples = (int) (ticks / sampleTicks);
        int width = samples + states.size();
        Map<String, DualMachine> now = new LinkedHashMap<>();
        start.forEach((part, m) -> now.put(part, m.watched()));
        for (int i = 0; i < states.size(); i++) {
            State s = states.get(i);
            var m = now.get(s.part());
            m.set(s.slot(), s.element(), new Dual(m.get(s.slot(), s.element()).value(), seed(samples + i, width)));
        }
        List<Dual> returned = new ArrayList<>();
        List<Dual> outputs = new ArrayList<>();
        for (long tick = 0; tick < ticks; tick++) {
            if (tick % sampleTicks == 0) {
                now.get(opened.part()).set(added, new Dual(0, seed((int) (tick / sampleTicks), width)));
            }
            for (Member m : ring) {
                if (m.isDue(tick + offset)) {
                    now.get(m.part()).run(Program.SAMPLE);
                }
            }
            move(now);
            for (Member m : ring) {
                if (m.isDue(tick + offset)) {
                    now.get(m.part()).run(Program.STEP);
                }
            }
            move(now);
            if (tick % sampleTicks == 0) {
                if (tick == 0) {
                    seen.forEach(s -> outputs.add(now.get(s.part()).get(s.slot())));
                }
                if (back.continuous()) {
                    // What the part continues with, under the newest outputs of the others.
                    now.get(opened.part()).run(Program.OUTPUTS);
                }
                returned.add(now.get(opened.part()).get(back.slot()));
            }
            for (Member m : ring) {
                if (m.isDue(tick + offset)) {
                    now.get(m.part()).run(Program.ADVANCE);
                }
            }
        }
        return new Period(now, returned, outputs);
    }

    private static double[] seed(int at, int width) {
        double[] by = new double[width];
        by[at] = 1;
        return by;
    }

    private void move(Map<String, DualMachine> now) {
        for (var l : system.links()) {
            var from = now.get(l.fromPart());
            var to = now.get(l.toPart());
            if (from != null && to != null) {
                Dual v = from.get(l.from().slot());
                Slot in = l.to().slot();
                to.set(in, new Dual(in.type().convert(v.value()), in.type() == Type.BOOL ? null : v.by()));
            }
        }
    }

    private OpenLoop solve() {
        int samples = (int) (ticks / sampleTicks);
        List<State> states = new ArrayList<>();
        return system(states, reached(states), samples);
    }

    private Plant plant(List<String> names) {
        List<State> states = new ArrayList<>();
        Period period = reached(states);
        int n = states.size();
        int[] columns = java.util.stream.IntStream.range(0, n).toArray();
        var a = new SimpleMatrix(n, n);
        var b = new SimpleMatrix(n, 1);
        var c = new SimpleMatrix(seen.size(), n);
        var d = new SimpleMatrix(seen.size(), 1);
        for (int i = 0; i < n; i++) {
            fill(period.of(states.get(i)), b, a, i, columns, 1);
        }
        for (int k = 0; k < seen.size(); k++) {
            fill(period.seen().get(k), d, c, k, columns, 1);
        }
        var cBack = new SimpleMatrix(1, n);
        var dBack = new SimpleMatrix(1, 1);
        fill(period.back().getFirst(), dBack, cBack, 0, columns, 1);
        requireFinite(a, b, c, d, cBack, dBack);
        var all = Plant.cut(new StateSpace(a, b, cBack.concatRows(c), dBack.concatRows(d), ticks * system.tickNanos() * 1e-9));
        for (int k = 0; k < seen.size(); k++) {
            if (all.system().c().extractVector(true, k).normF() == 0 && all.system().d().get(k, 0) == 0) {
                throw FindingException.of(place, "The wire does not reach the output '" + names.get(k) + "' at this operating point.",
                        "Choose another output, or an operating point at which no limit or switch is in between.");
            }
        }
        return new Plant(all.system(), java.util.Arrays.stream(all.kept()).mapToObj(i -> states.get(i).name()).toList(), names,
                period.back().getFirst().value(), period.seen().stream().mapToDouble(Dual::value).toArray(), seconds);
    }

    /** Adds the states that what is added reaches, and runs a period with them. */
    private Period reached(List<State> states) {
        Period period = run(states);
        // Only what is read before it is set is kept from period to period.
        Map<String, Set<Slot>> kept = new LinkedHashMap<>();
        period.end().forEach((part, m) -> kept.put(part, m.early()));
        // States that what is added reaches, through others too.
        for (boolean more = true; more; ) {
            more = false;
            Set<State> known = new LinkedHashSet<>(states);
            for (Member m : ring) {
                for (Slot s : m.program().slots()) {
                    for (int i = 0; i < s.length() && s.type() != Type.BOOL && kept.get(m.part()).contains(s); i++) {
                        var state = new State(m.part(), s, i);
                        more |= moves(period.of(state)) && known.add(state);
                    }
                }
            }
            states.clear();
            states.addAll(known);
            if (states.size() > MOST_STATES) {
                throw FindingException.of(place, "The loop has more than " + MOST_STATES + " states.",
                        "Open a loop of a smaller part, or replace "
                        + "long delays and filters by shorter ones.");
            }
            period = more ? run(states) : period;
        }
        return period;
    }

    private static boolean moves(Dual v) {
        if (v.by() != null) {
            for (double d : v.by()) {
                if (d != 0) {
                    return true;
                }
            }
        }
        return false;
    }

    private OpenLoop system(List<State> all, Period period, int samples) {
        List<State> states = seen(all, period, samples);
        int n = states.size();
        int[] columns = states.stream().mapToInt(all::indexOf).toArray();
        var a = new SimpleMatrix(n, n);
        var b = new SimpleMatrix(n, samples);
        var c = new SimpleMatrix(samples, n);
        var d = new SimpleMatrix(samples, samples);
        for (int i = 0; i < n; i++) {
            State s = states.get(i);
            fill(period.of(s), b, a, i, columns, samples);
        }
        for (int k = 0; k < samples; k++) {
            fill(period.back().get(k), d, c, k, columns, samples);
        }
        requireFinite(a, b, c, d);
        if (c.normF() == 0 && d.normF() == 0) {
            throw FindingException.of(place,
                    "Nothing that is added to the wire comes back: there is no loop through it at this operating point, "
                    + "or a limit or switch holds it.", "Choose a wire within a loop, or another operating point.");
        }
        // From s = y + added to y, in place of from added to y.
        SimpleMatrix inverse = SimpleMatrix.identity(samples).plus(d);
        if (Math.abs(inverse.determinant()) < 1e-12) {
            throw FindingException.of(place, "The loop is algebraic and has no solution when it is opened here.",
                    "Open it at another wire.");
        }
        inverse = inverse.invert();
        var open = new StateSpace(a.minus(b.mult(inverse).mult(c)), b.mult(inverse), inverse.mult(c).scale(-1), inverse.mult(d).scale(-1),
                ticks * system.tickNanos() * 1e-9);
        List<String> frozen = system.parts().keySet().stream().filter(p -> ring.stream().noneMatch(m -> m.part().equals(p))).toList();
        return new OpenLoop(open, samples, states.stream().map(State::name).toList(), period.back().getFirst().value(), seconds, frozen);
    }

    private void requireFinite(SimpleMatrix... all) {
        for (SimpleMatrix m : all) {
            if (m.hasUncountable()) {
                throw FindingException.of(place, "A derivative is not finite at the operating point.",
                        "Choose an operating point away from divisions by zero and roots of zero.");
            }
        }
    }

    private static void fill(Dual v, SimpleMatrix byInputs, SimpleMatrix byStates, int row, int[] columns, int samples) {
        if (v.by() == null) {
            return;
        }
        for (int k = 0; k < samples; k++) {
            byInputs.set(row, k, v.by()[k]);
        }
        for (int j = 0; j < columns.length; j++) {
            byStates.set(row, j, v.by()[samples + columns[j]]);
        }
    }

    /** The states that what comes back depends on, through others too. */
    private static List<State> seen(List<State> all, Period period, int samples) {
        boolean[] seen = new boolean[all.size()];
        period.back().forEach(v -> mark(v, seen, samples));
        for (int before = -1, now = count(seen); now != before; ) {
            before = now;
            for (int i = 0; i < seen.length; i++) {
                if (seen[i]) {
                    State s = all.get(i);
                    mark(period.of(s), seen, samples);
                }
            }
            now = count(seen);
        }
        List<State> kept = new ArrayList<>();
        for (int i = 0; i < seen.length; i++) {
            if (seen[i]) {
                kept.add(all.get(i));
            }
        }
        return kept;
    }

    private static int count(boolean[] seen) {
        int n = 0;
        for (boolean b : seen) {
            n += b ? 1 : 0;
        }
        return n;
    }

    private static void mark(Dual v, boolean[] seen, int samples) {
        for (int j = 0; v.by() != null && j < seen.length; j++) {
            seen[j] |= v.by()[samples + j] != 0;
        }
    }
}
