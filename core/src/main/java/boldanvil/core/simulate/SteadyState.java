package boldanvil.core.simulate;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.instance.Instance;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Type;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Variables;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import org.ejml.simple.SimpleMatrix;

/**
 * Finds the state of a rig that repeats after a period, without waiting for it: shooting by Newton's method with differences as derivatives
 * (Aprille and Trick, Proc. IEEE 60, 1972). The period includes everything, plant and controllers, switches and samplers. What hardly
 * changes within a period, such as the charge of a battery, stays where it was after the periods run in the beginning. With the longest
 * sample time as period the result is the operating point of a rig that switches nothing.
 */
public final class SteadyState {
    /** Periods that run before the search, so that switches and limits are where they belong. */
    private static final int FIRST = 20;
    /** Relative change over a period that counts as none, of double and of single precision. */
    private static final double[] SAME = {1e-7, 1e-4};
    /** By how many times as much a state may change where no further step helps. */
    private static final double GOOD = 100;
    /** Share by which a value is changed to see what follows, of double and of single precision. */
    private static final double[] NUDGE = {1e-4, 1e-3};
    /** Amount of a value that is zero all the time. */
    private static final double SMALL = 1e-3;
    /** States with more than the inverse in periods as time constant are held. */
    private static final double SLOW = 1e-5;
    /** Share of a step that is tried at least. */
    private static final double SHORTEST = 0.05;
    /** A step that leaves more than this share has its derivatives made anew. */
    private static final double POOR = 0.1;
    /** Periods after which what changes evenly must not have moved anything else. */
    private static final double LATER = 1000;
    /** Share by which it may have been moved. */
    private static final double UNDER_WAY = 1e-3;
    /** Ticks of one period, and about those of all, at most. */
    private static final double MOST_TICKS = 2e7;

    private final LoweredSystem system;
    private final Map<String, Instance> instances;
    private final int ticks;
    private final List<Value> clocks = new ArrayList<>();
    private List<Value> values = new ArrayList<>();
    private Map<String, double[]> carried = new LinkedHashMap<>();
    /** Amount of each value. */
    private double[] scale;

    /** A number that is kept from tick to tick. */
    private record Value(String part, Instance instance, Slot slot) {
        String name() {
            return part + "." + slot.name();
        }

        double of(double[] doubleAndSingle) {
            return doubleAndSingle[slot.type() == Type.FLOAT64 ? 0 : 1];
        }
    }

    /**
     * What was found; the instances are in that state.
     *
     * @param rounds steps of Newton's method
     * @param states how many numbers the state has
     * @param held what still changes, slower than the search can see
     */
    public record Found(int rounds, int states, List<String> held) {}

    /** How a state a period later depends on the state, less the state itself, in amounts; without what hardly changes. */
    private static final class Slopes {
        /** Numbers of the values that are not held. */
        private final int[] free;
        private final SimpleMatrix inverse;

        Slopes(SimpleMatrix m) {
            int n = m.getNumRows();
            // What is left of the slope of a value when all others follow it: as much as it changes by itself within a period.
            SimpleMatrix whole = m.minus(SimpleMatrix.identity(n).scale(SLOW * 1e-4)).invert();
            free = IntStream.range(0, n).filter(i -> !(Math.abs(1 / whole.get(i, i)) < SLOW)).toArray();
            var left = new SimpleMatrix(free.length, free.length);
            for (int i = 0; i < free.length; i++) {
                for (int j = 0; j < free.length; j++) {
                    left.set(i, j, m.get(free[i], free[j]));
                }
            }
            inverse = free.length == 0 ? left : left.pseudoInverse();
        }

        /** The step that lets a change vanish. */
        double[] step(double[] change) {
            double[] step = new double[change.length];
            for (int i = 0; i < free.length; i++) {
                for (int j = 0; j < free.length; j++) {
                    step[free[i]] -= inverse.get(i, j) * change[free[j]];
                }
            }
            return step;
        }
    }

    private SteadyState(LoweredSystem system, Map<String, Instance> instances, int ticks) {
        this.system = system;
        this.instances = instances;
        this.ticks = ticks;
        instances.forEach((part, i) -> system.program(part).orElseThrow().slots().forEach(s -> {
            boolean timed = s.name().equals(Program.TIME) || s.name().equals(Program.TICKS);
            if (timed) {
                clocks.add(new Value(part, i, s));
            } else if (s.type().isFloat() && !s.isArray() && s.role() != Slot.Role.LOCAL && s.role() != Slot.Role.TUNABLE) {
                values.add(new Value(part, i, s));
            }
        }));
    }

    /**
     * Brings the instances of a rig into the state in which it starts.
     *
     * @param period a formula; empty for the initial values
     * @param variables texts of the project's variables
     * @param changes what else is done; changes at the very beginning belong to the state
     * @throws FindingException as {@link #reach} does, and where the period cannot be read
     */
    public static Optional<Found> start(LoweredSystem system, Map<String, Instance> instances, String period,
            Map<String, String> variables, Collection<Intervention> changes, Place place) {
        if (period.isBlank()) {
            return Optional.empty();
        }
        double seconds;
        try {
            seconds = Formula.evaluate(period, Variables.resolve(variables).values(), "s");
        } catch (FormulaException e) {
            throw FindingException.of(place, "The period of the steady state cannot be read: " + e.getMessage(),
                    "Enter a time such as 50 us, or a formula of the project's variables.");
        }
        changes.stream().filter(c -> c.atNanos() == 0 && c.kind() == Intervention.Kind.SET).forEach(c -> {
            var to = Addresses.tunable(system, c.address());
            instances.get(to.part()).set(to.tunable().slot(), c.value());
        });
        return Optional.of(reach(system, instances, seconds, place));
    }

    /**
     * Brings instances into the periodic steady state, with their tunables as they are. Time is zero then.
     *
     * @param instances one for each part, already at its beginning; they can be saved and restored
     * @param period in seconds
     * @param place where the period was asked for
     * @throws FindingException when the period does not fit the sample times, or nothing was found
     */
    public static Found reach(LoweredSystem system, Map<String, Instance> instances, double period, Place place) {
        double count = period * 1e9 / system.tickNanos();
        String cure = "Choose a period that contains all sample times and the period of each carrier.";
        if (!(count >= 1 - 1e-6) || Math.abs(count - Math.rint(count)) > 1e-6 * Math.max(1, count)) {
            throw FindingException.of(place, String.format(Locale.ROOT, "The period %s s is not a whole number of steps of %s s.", period,
                    system.tickNanos() * 1e-9), cure);
        }
        if (count > MOST_TICKS) {
            throw FindingException.of(place, String.format(Locale.ROOT, "The period has %.3g steps, more than %.3g.", count, MOST_TICKS),
                    "Choose a shorter one.");
        }
        int ticks = (int) Math.rint(count);
        for (String part : system.parts().keySet()) {
            var program = system.program(part).orElseThrow();
            long every = program.tickNanos() / system.tickNanos();
            program.tasks().stream().filter(t -> ticks % (every * t.periodTicks()) != 0).findFirst().ifPresent(t -> {
                throw FindingException.of(place, String.format(Locale.ROOT, "The period is not a whole number of the sample time %s s of "
                        + "the part '%s'.", t.periodTicks() * program.tickSeconds(), part), cure);
            });
        }
        return new SteadyState(system, instances, ticks).search(place);
    }

    private Found search(Place place) {
        for (int k = 0; k < FIRST; k++) {
            period();
        }
        keep();
        scale();
        double[] x = read();
        x = choose(x, after(x));
        double[] end = after(x);
        int rounds = 0;
        int burst = FIRST;
        Slopes slopes = null;
        double left = Double.POSITIVE_INFINITY;
        for (double used = 0; used < MOST_TICKS; used += (double) ticks * (slopes == null ? x.length : 1)) {
            if (slopes == null) {
                slopes = slopes(x, end);
            }
            left = moving(slopes, x, end);
            boolean still = left <= 1;
            if (still && !isUnderWay(slopes, x, end)) {
                break;
            }
            rounds++;
            double[] better = step(slopes, x, end, 1);
            double[] then = after(better);
            double after = moving(slopes, better, then);
            // A step that is too long for the slopes is shortened.
            for (double share = 0.5; !still && !(after < left) && share > SHORTEST; share /= 2) {
                better = step(slopes, x, end, share);
                then = after(better);
                after = moving(slopes, better, then);
            }
            if (!still && after < left) {
                x = better;
                end = then;
                slopes = after > POOR * left ? null : slopes;
            } else {
                // Far from where it is nearly linear, or while a limit of a rate works, periods bring it nearer.
                for (int k = 0; k < burst; k++) {
                    x = end;
                    end = after(x);
                    keep();
                }
                for (int i = 0; i < x.length; i++) {
                    scale[i] = Math.max(scale[i], Math.abs(end[i]));
                }
                used += (double) burst * ticks;
                burst *= 2;
                slopes = null;
            }
        }
        if (!(left <= GOOD) || slopes == null || isUnderWay(slopes, x, end)) {
            int worst = worst(x, end);
            throw FindingException.of(place, String.format(Locale.ROOT, "No state was found that repeats after the period: '%s' still "
                    + "changes from %.6g to %.6g.", values.get(worst).name(), x[worst], end[worst]),
                    "Check the period, and whether the rig settles at all; or start from the initial values.");
        }
        List<String> held = new ArrayList<>();
        for (int i = 0; i < x.length; i++) {
            if (Math.abs(end[i] - x[i]) > GOOD * values.get(i).of(SAME) * scale[i]) {
                held.add(values.get(i).name());
            }
        }
        place(x);
        return new Found(rounds, x.length, held);
    }

    /** Runs one period from tick 0. */
    private void period() {
        clocks.forEach(c -> c.instance().set(c.slot(), 0));
        var conductor = new Conductor(system, instances);
        for (int k = 0; k < ticks; k++) {
            conductor.tick();
        }
        clocks.forEach(c -> c.instance().set(c.slot(), 0));
    }

    /** What is not a number stays as it is now in all that follows. */
    private void keep() {
        Map<String, double[]> now = new LinkedHashMap<>();
        instances.forEach((part, i) -> now.put(part, i.save()));
        carried = now;
    }

    private void place(double[] x) {
        carried.forEach((part, state) -> instances.get(part).restore(state));
        for (int i = 0; i < x.length; i++) {
            values.get(i).instance().set(values.get(i).slot(), x[i]);
        }
    }

    private double[] read() {
        return values.stream().mapToDouble(v -> v.instance().get(v.slot())).toArray();
    }

    /** The state a period later. */
    private double[] after(double[] x) {
        place(x);
        period();
        return read();
    }

    /** The greatest amount of each value in a period. */
    private void scale() {
        scale = new double[values.size()];
        clocks.forEach(c -> c.instance().set(c.slot(), 0));
        var conductor = new Conductor(system, instances);
        for (int k = 0; k < ticks; k++) {
            conductor.tick();
            for (int i = 0; i < scale.length; i++) {
                scale[i] = Math.max(scale[i], Math.abs(values.get(i).instance().get(values.get(i).slot())));
            }
        }
        for (int i = 0; i < scale.length; i++) {
            scale[i] = scale[i] == 0 ? SMALL : scale[i];
        }
        place(new double[0]);
    }

    /** Leaves those values that have an influence on the next period. */
    private double[] choose(double[] x, double[] end) {
        List<Value> chosen = new ArrayList<>();
        List<Integer> at = new ArrayList<>();
        for (int i = 0; i < x.length; i++) {
            double[] nudged = x.clone();
            nudged[i] += values.get(i).of(NUDGE) * scale[i];
            if (!Arrays.equals(after(nudged), end)) {
                chosen.add(values.get(i));
                at.add(i);
            }
        }
        values = chosen;
        scale = at.stream().mapToDouble(i -> scale[i]).toArray();
        return at.stream().mapToDouble(i -> x[i]).toArray();
    }

    private Slopes slopes(double[] x, double[] end) {
        var m = new SimpleMatrix(x.length, x.length);
        for (int j = 0; j < x.length; j++) {
            double[] nudged = x.clone();
            double by = values.get(j).of(NUDGE) * scale[j];
            nudged[j] += by;
            double[] then = after(nudged);
            for (int i = 0; i < x.length; i++) {
                m.set(i, j, (then[i] - end[i]) / by * scale[j] / scale[i] - (i == j ? 1 : 0));
            }
        }
        return new Slopes(m);
    }

    private double[] change(double[] x, double[] end) {
        return IntStream.range(0, x.length).mapToDouble(i -> (end[i] - x[i]) / scale[i]).toArray();
    }

    private double[] step(Slopes slopes, double[] x, double[] end, double share) {
        double[] step = slopes.step(change(x, end));
        return IntStream.range(0, x.length).mapToDouble(i -> x[i] + share * step[i] * scale[i]).toArray();
    }

    /** By how many times as much as allowed anything changes in a period that is not held. */
    private double moving(Slopes slopes, double[] x, double[] end) {
        double[] r = change(x, end);
        double worst = 0;
        for (int i : slopes.free) {
            double v = Math.abs(r[i]) / values.get(i).of(SAME);
            worst = v > worst || Double.isNaN(v) ? v : worst;
        }
        return worst;
    }

    /** Whether what is held changes evenly, such as a limited rate, and will move anything else before long. */
    private boolean isUnderWay(Slopes slopes, double[] x, double[] end) {
        double[] later = x.clone();
        for (int i = 0; i < x.length; i++) {
            later[i] += LATER * (end[i] - x[i]);
        }
        for (int i : slopes.free) {
            later[i] = x[i];
        }
        return Arrays.stream(slopes.step(change(later, after(later)))).anyMatch(d -> !(Math.abs(d) < UNDER_WAY));
    }

    private int worst(double[] x, double[] end) {
        double[] r = change(x, end);
        int worst = 0;
        for (int i = 0; i < x.length; i++) {
            worst = Math.abs(r[i]) > Math.abs(r[worst]) ? i : worst;
        }
        return worst;
    }
}
