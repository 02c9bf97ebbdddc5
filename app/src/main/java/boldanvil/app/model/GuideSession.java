package boldanvil.app.model;

import boldanvil.core.diagram.Project;
import boldanvil.core.finding.FindingException;
import boldanvil.core.identify.Estimate;
import boldanvil.core.identify.GuidedTest;
import boldanvil.core.identify.TakenOver;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.samples.Series;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Executor;

/** Ready experiments, evaluated from runs. All methods are called on the window's thread. */
public final class GuideSession {
    /** What was found. */
    public record Result(GuidedTest test, String run, Estimate estimate, Map<String, Series> signals) {
        /** The project with some of the values in variables, whose names are given for the names of the values. */
        public Project in(Project p, Map<String, String> variables) {
            List<Estimate.Value> renamed = estimate.values().stream().filter(v -> variables.containsKey(v.name()))
                    .map(v -> new Estimate.Value(variables.get(v.name()), v.value(), v.sigma())).toList();
            return TakenOver.in(p, new Estimate(renamed, new double[0][0], estimate.rms(), estimate.fit(), estimate.white(), List.of()),
                    run);
        }
    }

    private final Latest<Result> latest;

    /** @param window runs what must happen on the window's thread */
    public GuideSession(Executor window) {
        latest = new Latest<>("ready experiment", window);
    }

    /** What was found last. */
    public Latest<Result> latest() {
        return latest;
    }

    /**
     * Evaluates a run.
     *
     * @param taps which tap each signal is
     * @param numbers SI
     */
    public void evaluate(GuidedTest test, PastRun run, Map<String, String> taps, double from, double to, Map<String, Double> numbers) {
        latest.start("Evaluating …", () -> run.read(samples -> {
            Map<String, Series> signals = new LinkedHashMap<>();
            taps.forEach((signal, tap) -> {
                int column = samples.indexOf(tap);
                if (column < 0) {
                    throw FindingException.of(tap, "The run has no tap '" + tap + "'.", "Choose another one for " + signal + ".");
                }
                Series s = samples.series(column, from, to);
                if (s.size() < 20) {
                    throw new NoSolutionException("The span has " + s.size() + " samples of '" + tap + "' only.",
                            "Choose a longer span.");
                }
                signals.put(signal, s);
            });
            return new Result(test, run.name(), test.evaluation().apply(new GuidedTest.Given(signals, numbers)), signals);
        }));
    }
}
