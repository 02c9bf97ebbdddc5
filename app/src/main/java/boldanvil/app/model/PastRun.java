package boldanvil.app.model;

import boldanvil.core.bench.LiveRun;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.replay.Replay;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.samples.Samples;
import boldanvil.core.simulate.Intervention;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.List;
import java.util.function.DoubleConsumer;
import java.util.function.Function;
import java.util.function.Supplier;

/**
 * A run whose past instants can be shown.
 *
 * @param title for people; empty for the last run
 * @param end its last instant, in seconds
 * @param project gives the project as it was; may take a while
 */
public record PastRun(String title, double end, Supplier<Project> project, String rig, List<Intervention> interventions,
        Supplier<Samples> samples, boolean closes) {
    /** The run of a rig that was started in this window. */
    public static PastRun of(LiveRun run) {
        return new PastRun("", run.store().end(), () -> run.review().project(), run.rig().name(), run.interventions(), run::store, false);
    }

    /** A run on the shelf. */
    public static PastRun of(RunShelf.Entry entry) {
        var note = entry.note();
        return new PastRun(note.title() + " " + note.startedAt(), note.seconds(),
                () -> project(entry), note.rig(), note.interventions(), entry::open, true);
    }

    private static Project project(RunShelf.Entry entry) {
        Path folder = entry.folder().resolve("project");
        if (!Files.isDirectory(folder)) {
            throw FindingException.of(entry.folder().toString(), "The run has no project, so its wires cannot be computed.",
                    "Choose a run that was recorded with this program.");
        }
        return ProjectReader.read(folder);
    }

    /** What it is called in the notes of variables. */
    String name() {
        return title.isEmpty() ? "the run of " + LocalDate.now() : title;
    }

    /** Reads its samples; they are closed afterwards where they are in a file. */
    public <T> T read(Function<Samples, T> what) {
        Samples recorded = samples.get();
        try {
            return what.apply(recorded);
        } finally {
            if (closes) {
                recorded.close();
            }
        }
    }

    /**
     * Repeats the run; on a thread that may wait.
     *
     * @param progress gets shares from 0 to 1
     * @throws FindingException when its files cannot be read, or the project has errors
     */
    Replay repeat(Project as, DoubleConsumer progress) throws InterruptedException {
        Rig chosen = as.rig(rig).orElseThrow(() -> FindingException.of(Place.rig(rig), "The project of the run has no rig '" + rig + "'.",
                "Choose a run of another rig."));
        Samples recorded = samples.get();
        try {
            var replay = new Replay(as, chosen, interventions, recorded);
            replay.prepare(progress);
            return replay;
        } finally {
            if (closes) {
                recorded.close();
            }
        }
    }
}
