package boldanvil.core.evidence;

import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.quantity.Variables;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import boldanvil.core.simulate.Change;
import boldanvil.core.trial.Playing;
import boldanvil.core.trial.StepResult;
import boldanvil.core.trial.StepResult.State;
import boldanvil.core.trial.Trial;
import boldanvil.core.trial.TrialPlan;
import boldanvil.core.trial.TrialSet;
import boldanvil.core.trial.Verdict;
import java.nio.file.Path;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;

/** Runs trials of a project on its rigs. */
public final class TrialRunner {
    /**
     * How trials are run.
     *
     * @param buildFolder where generated files and images go
     * @param answers to questions, given beforehand
     * @param attended whether somebody answers other questions
     * @param realTime whether to keep step with the wall clock
     * @param changes what is set before the first step
     * @param coverage whether models note how much of them runs
     */
    public record Options(Path buildFolder, Map<String, Boolean> answers, boolean attended, boolean realTime, List<Change> changes,
            boolean coverage) {
        public Options {
            answers = Map.copyOf(answers);
            changes = List.copyOf(changes);
        }

        public Options(Path buildFolder, Map<String, Boolean> answers, boolean attended, boolean realTime) {
            this(buildFolder, answers, attended, realTime, List.of());
        }

        public Options(Path buildFolder, Map<String, Boolean> answers, boolean attended, boolean realTime, List<Change> changes) {
            this(buildFolder, answers, attended, realTime, changes, false);
        }

        /** The same, with or without notes of how much of the models runs. */
        public Options withCoverage(boolean on) {
            return new Options(buildFolder, answers, attended, realTime, changes, on);
        }

        /** The same with other changes before the first step. */
        Options with(List<Change> others) {
            return new Options(buildFolder, answers, attended, realTime, others, coverage);
        }
    }

    private TrialRunner() {}

    /**
     * What is wrong with a trial on a rig, without running it.
     *
     * @throws FindingException when there is no such trial or rig
     */
    public static List<Finding> check(Project project, String trial, String rig) {
        return plan(project, trial, project.rig(rig).orElseThrow(() -> noRig(rig, project))).findings();
    }

    private static FindingException noRig(String rig, Project project) {
        return FindingException.of(Place.rig(rig), "There is no rig '" + rig + "'.",
                "Rigs are: " + String.join(", ", project.rigs().stream().map(Rig::name).toList()) + ".");
    }

    private static TrialPlan plan(Project project, String trial, Rig rig) {
        Project as = project.as(rig);
        return TrialPlan.of(new TrialSet(project.trials()), trial, Variables.resolve(as.variableTexts()).values(), LoweredSystem.of(as),
                Map.of());
    }

    /**
     * Runs a trial on a rig. What goes wrong becomes part of the record.
     *
     * @param watch gets the run before it starts, to show it or to end it
     * @throws FindingException when there is no such trial or rig
     */
    public static TrialRecord run(Project project, String trial, String rigName, Options options, Progress progress,
            Consumer<LiveRun> watch) {
        Rig rig = project.rig(rigName).orElseThrow(() -> noRig(rigName, project));
        TrialPlan plan = plan(project, trial, rig);
        String started = Instant.now().truncatedTo(ChronoUnit.SECONDS).toString();
        boolean exact = !options.realTime() && rig.places().values().stream().allMatch(p -> p.mode() != Rig.Mode.PLC || p.isStandIn());
        long begin = System.nanoTime();
        if (!plan.findings().isEmpty()) {
            return failed(plan.trial(), rigName, plan.findings(), started, exact, Made.of(project, Map.of()));
        }
        var run = new RunOptions(plan.limitNanos(), options.realTime() ? 1 : Double.POSITIVE_INFINITY, options.changes(),
                options.buildFolder()).withCoverage(options.coverage());
        try (LiveRun live = RigStarter.prepare(project, rigName, run, progress)) {
            live.play(new Playing.Order(trial, options.answers(), options.attended()));
            watch.accept(live);
            live.start();
            live.awaitEnd();
            List<StepResult> steps = live.trial().steps();
            var findings = live.findings();
            boolean broken = live.state() == LiveRun.State.LOST || findings.stream().anyMatch(Finding::isError);
            return new TrialRecord(plan.trial(), rigName, broken && !isFailed(steps) ? Verdict.ERROR : Verdict.of(steps), steps, findings,
                    live.seconds(), (System.nanoTime() - begin) / 1e9, started, exact, courses(live, steps),
                            Made.of(project, live.images()), live.coverage());
        } catch (FindingException e) {
            return failed(plan.trial(), rigName, e.findings(), started, exact, Made.of(project, Map.of()));
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return failed(plan.trial(), rigName, List.of(Finding.error(Place.trial(trial, 0), "The trial was interrupted.",
                    "Run it again.")),
                    started, exact, Map.of());
        }
    }

    private static boolean isFailed(List<StepResult> steps) {
        return steps.stream().anyMatch(s -> s.state() == State.FAILED);
    }

    private static TrialRecord failed(Trial trial, String rig, List<Finding> findings, String started, boolean exact,
            Map<String, String> made) {
        return new TrialRecord(trial, rig, Verdict.ERROR, List.of(), findings, 0, 0, started, exact, Map.of(), made, Map.of());
    }

    /** What was recorded of the signals that were looked at. */
    private static Map<String, Series> courses(LiveRun live, List<StepResult> steps) {
        Samples samples = live.store();
        Map<String, Series> courses = new LinkedHashMap<>();
        for (StepResult s : steps) {
            for (String signal : s.signals()) {
                for (int i = 0; i < samples.columns().size() && !courses.containsKey(signal); i++) {
                    if (samples.columns().get(i).name().equals(signal)) {
                        courses.put(signal, samples.series(i));
                    }
                }
            }
        }
        return courses;
    }
}
