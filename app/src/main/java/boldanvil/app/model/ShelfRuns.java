package boldanvil.app.model;

import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.diagram.Project;
import boldanvil.core.evidence.TrialRecord;
import boldanvil.core.evidence.TrialRunner;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.runs.Recording;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.user.Log;
import java.nio.file.Path;
import java.util.function.Consumer;

/** Runs that go straight onto the shelf. */
final class ShelfRuns {
    private ShelfRuns() {}

    /**
     * Runs a rig from beginning to end and records it. Takes as long as that takes.
     *
     * @param name of the run
     * @param shelf folder of the runs
     * @return id of the run
     * @throws boldanvil.core.finding.FindingException when the rig cannot be run, or the run cannot be written
     */
    static String record(Project project, String rig, String name, RunOptions options, Path shelf) throws InterruptedException {
        try (var run = RigStarter.prepare(project, rig, options, Progress.NONE)) {
            var recording = begin(project, run, name, shelf);
            run.start();
            run.awaitEnd();
            return finish(recording, run);
        }
    }

    /**
     * Runs a trial and records what the rig did. Where that cannot be written the trial is run all the same.
     *
     * @param watch gets the run before it starts
     * @param shelf folder of the runs; null where they are not kept
     */
    static Recorded record(Project project, String trial, String rig, TrialRunner.Options options, Progress progress,
            Consumer<LiveRun> watch, Path shelf) {
        var held = new Object() {
            private LiveRun run;
            private Recording recording;
        };
        TrialRecord record = TrialRunner.run(project, trial, rig, options, progress, run -> {
            held.run = run;
            if (shelf != null && !run.store().columns().isEmpty()) {
                try {
                    held.recording = begin(project, run, "trial " + trial, shelf);
                } catch (FindingException e) {
                    Log.ignored(ShelfRuns.class, e, "The run of a trial is not kept, because it cannot be written.");
                }
            }
            watch.accept(run);
        });
        return new Recorded(record, held.recording == null ? "" : finish(held.recording, held.run));
    }

    /** What came of a trial, and the id of its run; empty where nothing was run. */
    record Recorded(TrialRecord record, String run) {}

    private static Recording begin(Project project, LiveRun run, String name, Path shelf) {
        return new RunShelf(shelf).begin(RunRecorder.note(run).named(name), run.store(), ProjectWriter.files(project));
    }

    private static String finish(Recording recording, LiveRun run) {
        return recording.finish(run.interventions(), run.findings().stream().map(Finding::toString).toList()).id();
    }
}
