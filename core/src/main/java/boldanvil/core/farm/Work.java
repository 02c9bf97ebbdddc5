package boldanvil.core.farm;

import boldanvil.core.bench.Sweep;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.evidence.TrialRunner;
import boldanvil.core.evidence.TrialStudy;
import boldanvil.core.files.Folders;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.files.SafeFile;
import boldanvil.core.files.TextsHash;
import boldanvil.core.study.PointRun;
import boldanvil.core.user.TemporaryFiles;
import java.io.IOException;
import java.io.Serializable;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.TreeMap;

/**
 * What is run at each point: a project on a rig, for a time or through a trial.
 *
 * @param files of the project, by name
 * @param trial its name; empty for a run of the rig alone
 * @param endNanos simulated time of a run without trial
 * @param answers to questions of the trial
 */
public record Work(Map<String, String> files, String rig, String trial, long endNanos, Map<String, Boolean> answers)
        implements Serializable {
    public Work {
        files = new TreeMap<>(files);
        answers = new TreeMap<>(answers);
    }

    /** Runs of a rig; {@link Sweep#runs} says what comes of them. */
    public static Work sweep(Project project, String rig, long endNanos) {
        return new Work(ProjectWriter.files(project), rig, "", endNanos, Map.of());
    }

    /** Runs of a trial; {@link TrialStudy#runs} says what comes of them. */
    public static Work trial(Project project, String trial, String rig, Map<String, Boolean> answers) {
        return new Work(ProjectWriter.files(project), rig, trial, 0, answers);
    }

    /** Identifies what is run: project, rig, trial and time. A worker computes it from what it got, and refuses what does not match. */
    public String hash() {
        return TextsHash.of(Map.of("project", TextsHash.of(files), "rig", rig, "trial", trial, "time", Long.toString(endNanos), "answers",
                answers.toString()));
    }

    /**
     * What is done for each point on this machine.
     *
     * @throws boldanvil.core.finding.FindingException when the project cannot be read, or its rig cannot be swept
     */
    PointRun<? extends Serializable> runs() {
        Project project = project();
        if (trial.isEmpty()) {
            return Sweep.runs(project, rig, endNanos);
        }
        try {
            var options = new TrialRunner.Options(TemporaryFiles.folder("worker"), answers, false, false);
            var runs = TrialStudy.runs(project, trial, rig, options);
            boolean isAllModels = project.rig(rig).stream().noneMatch(Rig::needsBench);
            Object one = new Object();
            return isAllModels ? runs : point -> {
                // Code and devices share the folder of the build, and stand-ins need a core each.
                synchronized (one) {
                    return runs.of(point);
                }
            };
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private Project project() {
        try {
            Path folder = TemporaryFiles.folder("work");
            try {
                for (var f : files.entrySet()) {
                    Path file = SafeFile.within(folder, f.getKey());
                    Files.createDirectories(file.getParent());
                    Files.writeString(file, f.getValue());
                }
                return ProjectReader.read(folder);
            } finally {
                Folders.delete(folder);
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
