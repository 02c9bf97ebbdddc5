package boldanvil.core.bench;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.diagram.Variable;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.quantity.Variables;
import boldanvil.core.review.Review;
import boldanvil.core.samples.Series;
import boldanvil.core.simulate.Change;
import boldanvil.core.study.LocalRuns;
import boldanvil.core.study.PointRun;
import boldanvil.core.study.RunTable;
import boldanvil.core.study.StudyListener;
import java.io.Serializable;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.atomic.AtomicReference;
import java.util.stream.DoubleStream;
import java.util.stream.Stream;

/**
 * Runs a rig of models over many values of project variables and tunables, on several cores. The same points give the same results,
 * whatever the number of threads.
 */
public final class Sweep {
    private static final int MOST_POINTS = 1_000_000;

    /**
     * What is varied.
     *
     * @param name a project variable, or the address of a tunable
     * @param values the values of a grid, or the two ends of a range that is sampled, SI
     */
    public record Axis(String name, List<Double> values) {
        public Axis {
            values = List.copyOf(values);
        }

        /**
         * The axis a text states: a list {@code [1, 2, 5]}, or from, to and number of values as {@code 1 : 5 : 9}.
         *
         * @param variables what the expressions may use
         * @throws FindingException at {@code name}
         */
        public static Axis of(String name, String text, Map<String, Quantity> variables) {
            String cure = "Write a list, [1, 2, 5], or from : to : number, 1 : 5 : 9.";
            List<Double> all = new ArrayList<>();
            String[] ends = text.split(":");
            try {
                if (ends.length == 1) {
                    for (double v : Formula.evaluateList(text, variables)) {
                        all.add(v);
                    }
                } else {
                    double from = Formula.evaluate(ends[0], variables);
                    double to = Formula.evaluate(ends[1], variables);
                    double n = ends.length < 3 ? 2 : Formula.evaluate(ends[2], variables);
                    if (n != Math.rint(n) || n < 1 || n > MOST_POINTS || ends.length > 3) {
                        throw FindingException.of(name, "'" + text.strip() + "' has no number of values from 1 to " + MOST_POINTS + ".",
                                cure);
                    }
                    for (int i = 0; i < n; i++) {
                        all.add(n == 1 ? from : from + i * (to - from) / (n - 1));
                    }
                }
            } catch (FormulaException e) {
                throw FindingException.of(name, "'" + text.strip() + "': " + e.getMessage(), cure);
            }
            if (all.isEmpty()) {
                throw FindingException.of(name, "It has no value.", cure);
            }
            return new Axis(name, all);
        }
    }

    /** What one tap did in one run. */
    public record Course(String tap, String unit, double last, double least, double greatest, double rms) implements Serializable {
        public double value(Measure m) {
            return switch (m) {
                case LAST -> last;
                case MINIMUM -> least;
                case MAXIMUM -> greatest;
                case RMS -> rms;
            };
        }
    }

    /** A number that sums up a course. */
    public enum Measure {
        LAST("last"), MINIMUM("minimum"), MAXIMUM("maximum"), RMS("RMS");

        private final String label;

        Measure(String label) {
            this.label = label;
        }

        public String label() {
            return label;
        }

        @Override
        public String toString() {
            return label;
        }
    }

    /**
     * One run.
     *
     * @param point value of each axis
     * @param findings faults, or why it could not run
     */
    public record Outcome(Map<String, Double> point, List<Course> courses, List<Finding> findings) implements Serializable {}

    private Sweep() {}

    /** What can be varied, with its unit for people: project variables, then tunables by their addresses. */
    public static Map<String, String> units(Review review) {
        Map<String, String> units = new LinkedHashMap<>();
        var values = Variables.resolve(review.project().variableTexts()).values();
        review.project().variables().forEach(v -> {
            var q = values.get(v.name());
            units.put(v.name(), q == null || q.isBare() ? "" : q.dimension().unit());
        });
        review.system().parts().forEach((id, part) -> part.program().ifPresent(
                p -> p.tunables().forEach(t -> units.put(id + "." + t.name(), t.slot().unit()))));
        return units;
    }

    /** Rigs of which every part is a model; the only ones that can be swept. */
    public static List<String> rigs(Project project) {
        return project.rigs().stream().filter(r -> !r.needsBench()).map(Rig::name).toList();
    }

    /** What each number of a course is, for tables of runs. */
    public static List<RunTable.Column> columns(List<Course> courses) {
        return courses.stream().flatMap(c -> Arrays.stream(Measure.values())
                .map(m -> new RunTable.Column(c.tap(), m.label(), c.unit(), false))).toList();
    }

    /** The numbers of courses, SI, in the order of {@link #columns}. */
    public static double[] values(List<Course> courses) {
        return courses.stream().flatMapToDouble(c -> Arrays.stream(Measure.values()).mapToDouble(c::value)).toArray();
    }

    private static List<RunTable.Column> columns(Outcome o) {
        return Stream.concat(o.point().keySet().stream().map(n -> new RunTable.Column(n, "", "", true)), columns(o.courses()).stream())
                .toList();
    }

    /** The head over the lines of all outcomes, made from one that has courses. */
    public static String csvHead(Outcome first) {
        return RunTable.csvHead(columns(first));
    }

    /** One outcome as a line. */
    public static String csvLine(Outcome o) {
        return RunTable.csvLine(columns(o), DoubleStream.concat(o.point().values().stream().mapToDouble(v -> v), Arrays.stream(values(
                o.courses()))).toArray());
    }

    /** Number of points of a grid, which need not be made for it. */
    public static int count(List<Axis> axes) {
        double all = axes.stream().mapToDouble(a -> a.values().size()).reduce(1, (a, b) -> a * b);
        if (all > MOST_POINTS) {
            throw tooMany(all);
        }
        return (int) all;
    }

    /** Every combination of the axes' values, the last axis fastest. */
    public static List<Map<String, Double>> grid(List<Axis> axes) {
        count(axes);
        List<Map<String, Double>> points = new ArrayList<>(List.of(Map.of()));
        for (Axis a : axes) {
            List<Map<String, Double>> longer = new ArrayList<>();
            for (var p : points) {
                for (double v : a.values()) {
                    var next = new LinkedHashMap<>(p);
                    next.put(a.name(), v);
                    longer.add(next);
                }
            }
            points = longer;
        }
        return points;
    }

    /** Random points, evenly distributed between the first and last value of each axis; the same for the same seed. */
    public static List<Map<String, Double>> sample(List<Axis> axes, int count, long seed) {
        if (count > MOST_POINTS) {
            throw tooMany(count);
        }
        var random = new Random(seed);
        List<Map<String, Double>> points = new ArrayList<>();
        for (int i = 0; i < count; i++) {
            Map<String, Double> p = new LinkedHashMap<>();
            for (Axis a : axes) {
                double low = a.values().getFirst();
                p.put(a.name(), low + random.nextDouble() * (a.values().getLast() - low));
            }
            points.add(p);
        }
        return points;
    }

    private static FindingException tooMany(double n) {
        return FindingException.of("sweep", String.format(Locale.ROOT, "%.0f", n) + " runs are more than " + MOST_POINTS + ".",
                "Use fewer values on each axis.");
    }

    /**
     * Runs all points.
     *
     * @param endNanos simulated time of each run
     * @return outcomes in the order of the points; fewer when it was cancelled
     * @throws FindingException when the rig cannot be swept at all
     */
    public static List<Outcome> run(Project project, String rigName, long endNanos, List<Map<String, Double>> points, int threads,
            StudyListener listener) {
        List<Outcome> outcomes = new ArrayList<>();
        LocalRuns.each(points, threads, listener, runs(project, rigName, endNanos), outcomes::add);
        return outcomes;
    }

    /**
     * What is done for each point.
     *
     * @param endNanos simulated time of each run
     * @throws FindingException when the rig cannot be swept at all
     */
    public static PointRun<Outcome> runs(Project project, String rigName, long endNanos) {
        Rig rig = project.rig(rigName).orElseThrow(() -> FindingException.of(rigName, "There is no such rig.",
                "Choose one of the project's rigs."));
        if (rig.needsBench()) {
            throw FindingException.of(Place.rig(rigName), "A sweep runs models, but this rig has code or devices.",
                    "Choose a rig in which everything is simulated.");
        }
        // Points that differ in tunables alone have the same models.
        var last = new AtomicReference<Compiled>();
        return point -> {
            var varied = varied(project, point);
            try {
                Compiled c = last.get();
                if (c == null || !c.variables().equals(varied.project().variables())) {
                    c = new Compiled(varied.project().variables(), ModelsOfRig.of(varied.project(), rigName));
                    last.set(c);
                }
                return one(c.models(), endNanos, point, varied.changes());
            } catch (FindingException e) {
                return new Outcome(point, List.of(), e.findings());
            }
        };
    }

    private record Compiled(List<Variable> variables, ModelsOfRig models) {}

    private static Outcome one(ModelsOfRig models, long endNanos, Map<String, Double> point, List<Change> changes)
            throws InterruptedException {
        var options = new RunOptions(endNanos, Double.POSITIVE_INFINITY, changes, Path.of("build"));
        try (LiveRun run = RigStarter.start(models, options)) {
            run.start();
            run.awaitEnd();
            return new Outcome(point, run.store().snapshot().series().stream().map(Sweep::course).toList(), run.findings());
        }
    }

    /** A project with other values, and what is to be set at the beginning of its run. */
    public record Varied(Project project, List<Change> changes) {
        public Varied {
            changes = List.copyOf(changes);
        }
    }

    /**
     * The project of one run.
     *
     * @param point SI values of project variables and tunables
     * @throws FindingException when there is no such variable
     */
    public static Varied varied(Project project, Map<String, Double> point) {
        Project varied = project;
        List<Change> changes = new ArrayList<>();
        for (var e : point.entrySet()) {
            if (e.getKey().contains(".")) {
                changes.add(new Change(e.getKey(), e.getValue(), 0));
            } else {
                varied = varied.withVariables(replaced(varied.variables(), e.getKey(), e.getValue()));
            }
        }
        return new Varied(varied, changes);
    }

    private static List<Variable> replaced(List<Variable> all, String name, double value) {
        if (all.stream().noneMatch(v -> v.name().equals(name))) {
            throw FindingException.of(name, "There is no project variable of this name.", "Name a variable, or a tunable as part.tunable.");
        }
        // The value is in SI, so it is written with its SI unit: a bare number would be taken for one in the unit of whatever uses it.
        Map<String, String> texts = new LinkedHashMap<>();
        all.forEach(v -> texts.put(v.name(), v.value()));
        var q = Variables.resolve(texts).values().get(name);
        String unit = q == null || q.isBare() ? "" : " " + q.dimension().factors();
        return all.stream().map(v -> v.name().equals(name) ? new Variable(name, Double.toString(value) + unit.stripTrailing(), v.note())
                : v).toList();
    }

    /** Sums up what was recorded of a signal. */
    public static Course course(Series s) {
        double least = Double.NaN;
        double greatest = Double.NaN;
        double squares = 0;
        for (double v : s.values()) {
            least = v < least || Double.isNaN(least) ? v : least;
            greatest = v > greatest || Double.isNaN(greatest) ? v : greatest;
            squares += v * v;
        }
        int n = s.size();
        return new Course(s.name(), s.unit(), n == 0 ? Double.NaN : s.values()[n - 1], least, greatest, n == 0 ? Double.NaN
                : Math.sqrt(squares / n));
    }
}
