package boldanvil.core.evidence;

import boldanvil.core.bench.Progress;
import boldanvil.core.bench.Sweep;
import boldanvil.core.diagram.Project;
import boldanvil.core.escape.Escape;
import boldanvil.core.trial.Verdict;
import boldanvil.core.study.PointRun;
import java.io.Serializable;
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
     * @param courses what the signals did that the trial looked at
     */
    public record Outcome(Map<String, Double> point, Verdict verdict, List<String> failures, List<Sweep.Course> courses)
            implements Serializable {
        public boolean isPassed() {
            return verdict == Verdict.PASSED;
        }
    }

    private TrialStudy() {}

    /** What is done for each point. */
    public static PointRun<Outcome> runs(Project project, String trial, String rig, TrialRunner.Options options) {
        return point -> {
            var varied = Sweep.varied(project, point);
            var r = TrialRunner.run(varied.project(), trial, rig, options.with(varied.changes()), Progress.NONE, _ -> { });
            return new Outcome(point, r.verdict(), r.failures(), r.courses().values().stream().map(Sweep::course).toList());
        };
    }

    /** The head over the lines of all outcomes: the point, the verdict, and the first failure. */
    public static String csvHead(Outcome first) {
        List<String> head = new ArrayList<>(first.point().keySet().stream().map(Escape::csvText).toList());
        head.addAll(List.of("verdict", "first failure"));
        return String.join(",", head);
    }

    /** One outcome as a line. */
    public static String csvLine(Outcome o) {
        List<String> cells = new ArrayList<>();
        o.point().values().forEach(v -> cells.add(Double.toString(v)));
        cells.add(o.verdict().label());
        cells.add(o.failures().isEmpty() ? "" : Escape.csvText(o.failures().getFirst()));
        return String.join(",", cells);
    }
}
