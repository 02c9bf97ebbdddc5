package boldanvil.core.asbuilt;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.Place;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.linear.TimeResponse;
import boldanvil.core.loop.Cut;
import boldanvil.core.loop.Linearisation;
import boldanvil.core.loop.Linearisation.OperatingPoint;
import boldanvil.core.loop.OpenLoop;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.lower.Names;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.peripheral.BoardTerminals;
import boldanvil.core.program.Slot;
import boldanvil.core.review.Review;
import boldanvil.core.simulate.Conductor;
import boldanvil.core.simulate.Intervention;
import boldanvil.core.simulate.SteadyState;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * The sheet as it runs, with all its limits, against the linear prediction: a step is added to the wire at the operating point, and what
 * comes back is compared, less what would have come back without it.
 */
public final class LoopCheck {
    /** Share of the response from which a difference counts. */
    private static final double APART = 0.05;
    private static final int MOST_TICKS = 20_000_000;

    /**
     * A limit that acted because of the step.
     *
     * @param path diagram path of the block
     * @param upper whether it was the upper one
     * @param value of the limit, SI
     * @param from seconds after the step
     * @param to seconds after the step
     * @param times how many times it acted up to then
     * @param growth by how much the block's integral changed meanwhile; NaN where it has none
     */
    public record Limit(String path, boolean upper, double value, double from, double to, int times, double growth) {}

    /**
     * What came back.
     *
     * @param t seconds after the step
     * @param y the change because of the step, with the other sign, as {@link OpenLoop#step} gives it
     */
    public record Course(double[] t, double[] y, List<Limit> limits) {
        /** The change at an instant, held from tick to tick. */
        double at(double seconds) {
            int i = Arrays.binarySearch(t, seconds + 1e-9);
            return y[Math.max(0, i >= 0 ? i : -i - 2)];
        }

        /** How far it goes beyond where it ends, as a share of that. */
        public double overshoot() {
            double end = y[y.length - 1];
            double most = Arrays.stream(y).map(v -> v * Math.signum(end)).max().orElse(0);
            return end == 0 ? 0 : Math.max(0, most / Math.abs(end) - 1);
        }
    }

    /**
     * The three courses.
     *
     * @param sheet as it is simulated, ideal terminals
     * @param built with converters, timers and delays; empty where no part is patched to a board
     * @param largest difference of sheet and prediction, as a share of the largest predicted value
     * @param parts when they are first apart by more than one twentieth, seconds after the step; NaN for never
     * @param words what happened, for people
     */
    public record Result(double size, TimeResponse linear, Course sheet, Optional<Course> built, double largest, double parts,
            List<String> words) {
        /** By how much the sheet differs, at the instants of the prediction. */
        public double[] difference() {
            double[] all = new double[linear.t().length];
            for (int i = 0; i < all.length; i++) {
                all[i] = sheet.at(linear.t()[i]) - linear.y()[i];
            }
            return all;
        }
    }

    private LoopCheck() {}

    /**
     * Checks a loop.
     *
     * @param loop as it was linearised at that point
     * @param size of the step, SI
     * @param seconds how long
     */
    public static Result of(Project project, Rig rig, Cut cut, OperatingPoint point, OpenLoop loop, double size, double seconds) {
        TimeResponse unit = loop.step(1, seconds);
        TimeResponse linear = new TimeResponse(unit.t(), Arrays.stream(unit.y()).map(v -> v * size).toArray());
        Rig ideal = rig.withTerminals(Rig.Terminals.IDEAL);
        Course sheet = course(project.as(rig), ideal, cut, point, loop.seconds(), size, seconds);
        var built = AsBuilt.of(project, rig);
        Optional<Course> board = built.ways().isEmpty() && built.converters().isEmpty() ? Optional.empty()
                : Optional.of(course(built.project(), rig.withTerminals(Rig.Terminals.BOARD), cut, point, loop.seconds(), size, seconds));
        double reach = Arrays.stream(linear.y()).map(Math::abs).max().orElse(0);
        double largest = 0;
        double parts = Double.NaN;
        for (int i = 0; i < linear.t().length; i++) {
            double away = Math.abs(sheet.at(linear.t()[i]) - linear.y()[i]) / Math.max(reach, 1e-300);
            largest = Math.max(largest, away);
            parts = Double.isNaN(parts) && away > APART ? linear.t()[i] : parts;
        }
        return new Result(size, linear, sheet, board, largest, parts, words(linear, sheet, board, largest, parts));
    }

    /** A rig that has run to its operating point, from where it can go on more than once. */
    private static final class Rested {
        private final LoweredSystem system;
        private final Map<String, Instance> instances = new LinkedHashMap<>();
        private final Map<String, double[]> states = new LinkedHashMap<>();
        private final List<LimitWatch.Probe> probes;
        private final OperatingPoint point;
        private final long tick;

        Rested(Project as, Rig rig, Cut cut, OperatingPoint point, double seconds) {
            this.point = point;
            var watch = LimitWatch.of(Linearisation.summed(as, cut));
            system = LoweredSystem.of(watch.project()).orThrow();
            var review = new Review(watch.project(), system, List.of());
            for (String part : system.parts().keySet()) {
                Instance i = JvmCompiler.compile(system.program(part).orElseThrow()).instantiate();
                Optional<BoardSetup> setup = rig.terminals() == Rig.Terminals.BOARD ? review.setup(rig, part) : Optional.empty();
                instances.put(part, setup.<Instance>map(s -> new BoardTerminals(i, s)).orElse(i));
            }
            SteadyState.start(system, instances, rig.settled(), as.variableTexts(), point.changes().stream().map(Intervention::set)
                    .toList(), Place.rig(rig.name()));
            probes = watch.probes(system);
            Conductor conductor = conductor();
            tick = Math.round(seconds * 1e9 / system.tickNanos());
            for (long t = 0; t < tick; t++) {
                conductor.tick();
            }
            instances.forEach((part, instance) -> states.put(part, instance.save()));
        }

        private Conductor conductor() {
            var conductor = new Conductor(system, instances);
            conductor.schedule(point.changes());
            return conductor;
        }

        private double get(String part, Slot slot) {
            return instances.get(part).get(slot);
        }

        /** What comes back from the operating point on, with so much added to the wire. */
        Recorded record(Cut cut, int ticks, double added) {
            states.forEach((part, state) -> instances.get(part).restore(state));
            Conductor conductor = conductor();
            conductor.resumeAt(tick);
            if (added != 0) {
                conductor.set(Map.of(Names.addressOf(cut.path() + "/" + Linearisation.ADDED), added));
            }
            Slot back = system.program(cut.part()).orElseThrow().tap(Names.addressInPart(cut.path() + "/" + Linearisation.BACK))
                    .orElseThrow().slot();
            double[] y = new double[ticks];
            int[][] sides = new int[ticks][probes.size()];
            double[][] integrals = new double[ticks][probes.size()];
            for (int k = 0; k < ticks; k++) {
                conductor.tick();
                y[k] = get(cut.part(), back);
                for (int i = 0; i < probes.size(); i++) {
                    var p = probes.get(i);
                    sides[k][i] = p.side(this::get);
                    integrals[k][i] = p.integral() == null ? Double.NaN : get(p.part(), p.integral());
                }
            }
            return new Recorded(y, sides, integrals);
        }
    }

    /** What came back, and where each limited value was, at each tick. */
    private record Recorded(double[] y, int[][] sides, double[][] integrals) {}

    private static Course course(Project as, Rig rig, Cut cut, OperatingPoint point, double from, double size, double seconds) {
        var rested = new Rested(as, rig, cut, point, from);
        double tick = rested.system.tickNanos() * 1e-9;
        int ticks = (int) Math.clamp(Math.ceil(seconds / tick), 1, MOST_TICKS);
        Recorded plain = rested.record(cut, ticks, 0);
        Recorded stepped = rested.record(cut, ticks, size);
        double[] t = new double[ticks];
        double[] y = new double[ticks];
        for (int k = 0; k < ticks; k++) {
            t[k] = k * tick;
            y[k] = plain.y()[k] - stepped.y()[k];
        }
        return new Course(t, y, limits(rested, plain, stepped, tick));
    }

    /** When a limit acted that did not act without the step. */
    private static List<Limit> limits(Rested rested, Recorded plain, Recorded stepped, double tick) {
        List<Limit> all = new ArrayList<>();
        for (int i = 0; i < rested.probes.size(); i++) {
            int first = -1;
            int last = -1;
            int times = 0;
            int side = 0;
            boolean on = false;
            int ended = -1;
            for (int k = 0; k < stepped.sides().length; k++) {
                boolean acts = stepped.sides()[k][i] != 0 && plain.sides()[k][i] != stepped.sides()[k][i];
                if (acts) {
                    times += on ? 0 : 1;
                    side = first < 0 ? stepped.sides()[k][i] : side;
                    first = first < 0 ? k : first;
                    last = k;
                } else if (on && ended < 0) {
                    ended = k;
                }
                on = acts;
            }
            if (first >= 0) {
                var p = rested.probes.get(i);
                int end = ended < 0 ? last : ended - 1;
                double growth = stepped.integrals()[end][i] - stepped.integrals()[Math.max(0, first - 1)][i];
                all.add(new Limit(p.path(), side > 0, p.limit(side, rested::get), first * tick,
                        (ended < 0 ? last + 1 : ended) * tick, times, growth));
            }
        }
        all.sort(java.util.Comparator.comparingDouble(Limit::from));
        return all;
    }

    private static List<String> words(TimeResponse linear, Course sheet, Optional<Course> built, double largest, double parts) {
        List<String> all = new ArrayList<>();
        if (Double.isNaN(parts)) {
            all.add(String.format(Locale.ROOT, "The sheet follows the linear prediction within %.2g %% of the response.", 100 * largest));
        } else {
            all.add(String.format(Locale.ROOT,
                    "The sheet leaves the linear prediction %s after the step, by up to %.3g %% of the response.",
                    seconds(parts), 100 * largest));
            all.add(sheet.limits().isEmpty() ? "No limit acts: what follows from the step is not linear by itself. Take a smaller step."
                    : "What acts there:");
        }
        sheet.limits().forEach(l -> all.add(limit(l)));
        var predicted = new Course(linear.t(), linear.y(), List.of());
        if (Math.abs(sheet.overshoot() - predicted.overshoot()) > 0.02) {
            all.add(String.format(Locale.ROOT, "Overshoot %.3g %% instead of %.3g %%.", 100 * sheet.overshoot(),
                    100 * predicted.overshoot()));
        }
        built.ifPresent(b -> {
            double tail = ripple(b) / Math.max(Arrays.stream(linear.y()).map(Math::abs).max().orElse(0), 1e-300);
            all.add(String.format(Locale.ROOT, "As built the overshoot is %.3g %%; at the end it moves by ± %.2g %% of the response.",
                    100 * b.overshoot(), 50 * tail));
        });
        return List.copyOf(all);
    }

    /** From the lowest to the highest value in the last tenth. */
    private static double ripple(Course c) {
        var last = Arrays.stream(c.y(), c.y().length - Math.max(1, c.y().length / 10), c.y().length).summaryStatistics();
        return last.getMax() - last.getMin();
    }

    private static String limit(Limit l) {
        String wound = Double.isNaN(l.growth()) || Math.abs(l.growth()) < 0.01 * Math.abs(l.value()) ? "" : String.format(Locale.ROOT,
                " Its integral changed by %.4g meanwhile.", l.growth());
        return String.format(Locale.ROOT, "'%s' is at its %s limit %.4g from %s to %s%s.%s", l.path()
                .substring(l.path().lastIndexOf('/') + 1),
                l.upper() ? "upper" : "lower", l.value(), seconds(l.from()), seconds(l.to()), l.times() > 1 ? ", and "
                        + (l.times() - 1) + " more times" : "", wound);
    }

    private static String seconds(double v) {
        return v == 0 ? "0 s" : v < 1e-3 ? String.format(Locale.ROOT, "%.3g µs", v * 1e6) : v < 1 ? String.format(Locale.ROOT,
                "%.3g ms", v * 1e3) : String.format(Locale.ROOT, "%.3g s", v);
    }
}
