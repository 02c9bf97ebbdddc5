package boldanvil.core.evidence;

import boldanvil.core.bench.Progress;
import boldanvil.core.bench.Sweep;
import boldanvil.core.diagram.Project;
import boldanvil.core.escape.Escape;
import boldanvil.core.trial.Verdict;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/**
 * Runs a trial with many values: with which of them does it pass? The same points give the same verdicts, whatever the number of threads.
 */
public final class TrialStudy {
    /**
     * One run.
     *
     * @param point SI values by name
     * @param failures what went wrong, a line for each
     */
    public record Outcome(Map<String, Double> point, Verdict verdict, List<String> failures) {}

    private TrialStudy() {}

    /**
     * Runs all points.
     *
     * @param points SI values of project variables and tunables for each run
     * @return outcomes in the order of the points; fewer when it was cancelled
     */
    public static List<Outcome> run(Project project, String trial, String rig, TrialRunner.Options options,
            List<Map<String, Double>> points, int threads, Sweep.Listener listener) {
        return Sweep.each(points, threads, listener, p -> one(project, trial, rig, options, p));
    }

    private static Outcome one(Project project, String trial, String rig, TrialRunner.Options options, Map<String, Double> point) {
        var varied = Sweep.varied(project, point);
        var r = TrialRunner.run(varied.project(), trial, rig, options.with(varied.changes()), Progress.NONE, _ -> { });
        return new Outcome(point, r.verdict(), r.failures());
    }

    /** Outcomes as CSV lines: the point, the verdict, and the first failure. */
    public static List<String> csv(List<Outcome> outcomes) {
        List<String> lines = new ArrayList<>();
        for (Outcome o : outcomes) {
            if (lines.isEmpty()) {
                List<String> head = new ArrayList<>(o.point().keySet().stream().map(Escape::csvText).toList());
                head.addAll(List.of("verdict", "first failure"));
                lines.add(String.join(",", head));
            }
            List<String> cells = new ArrayList<>();
            o.point().values().forEach(v -> cells.add(Double.toString(v)));
            cells.add(o.verdict().label());
            cells.add(o.failures().isEmpty() ? "" : Escape.csvText(o.failures().getFirst()));
            lines.add(String.join(",", cells));
        }
        return lines;
    }
}
