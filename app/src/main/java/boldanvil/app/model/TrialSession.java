package boldanvil.app.model;

import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.Progress;
import boldanvil.core.coverage.Coverage;
import boldanvil.core.diagram.Project;
import boldanvil.core.evidence.CoverageReport;
import boldanvil.core.evidence.TrialRecord;
import boldanvil.core.evidence.TrialRunner;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.trial.Playing;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Executor;

/** Runs trials beside the window, one after the other. Listeners are called on the window's thread. */
public final class TrialSession {
    /** A trial and the rig it runs on. */
    public record Job(String trial, String rig) {}

    private final ChangeListeners listeners;
    private final Map<Job, TrialRecord> records = new LinkedHashMap<>();
    private final Map<Job, String> runs = new LinkedHashMap<>();
    /** Of all records together; sheets ask for it at each painting. */
    private volatile Map<String, Coverage> coverage = Map.of();
    private volatile List<Finding> findings = List.of();
    private volatile LiveRun live;
    private volatile Job current;
    private volatile boolean running;
    private volatile boolean cancelled;
    private volatile boolean paused;
    private volatile String step = "";

    public TrialSession(Executor window) {
        listeners = new ChangeListeners(window);
    }

    public void onChange(Runnable listener) {
        listeners.add(listener);
    }

    /**
     * Runs trials of a project.
     *
     * @param buildFolder where generated files and images go
     * @param shelf folder of the runs; null where they are not kept
     * @param covering whether to note how much of the models runs
     */
    public void start(Project project, List<Job> jobs, Path buildFolder, Path shelf, boolean covering) {
        if (running) {
            return;
        }
        running = true;
        cancelled = false;
        paused = false;
        findings = List.of();
        var options = new TrialRunner.Options(buildFolder, Map.of(), true, false).withCoverage(covering);
        Thread.ofPlatform().daemon().name("trials").start(() -> {
            try {
                for (Job j : jobs) {
                    if (!cancelled) {
                        current = j;
                        listeners.changed();
                        var r = ShelfRuns.record(project, j.trial(), j.rig(), options, new Steps(), run -> live = run, shelf);
                        live = null;
                        if (!cancelled) {
                            synchronized (records) {
                                records.put(j, r.record());
                                runs.put(j, r.run());
                                coverage = CoverageReport.merged(List.copyOf(records.values()));
                            }
                        }
                    }
                }
            } catch (FindingException e) {
                findings = e.findings();
            } catch (RuntimeException e) {
                findings = List.of(Finding.error(Place.trial(current.trial(), 0), "The trial failed in an unexpected way: " + e + ".",
                        "Please report it."));
            } finally {
                live = null;
                current = null;
                running = false;
                step = "";
                listeners.changed();
            }
        });
    }

    private final class Steps implements Progress {
        @Override
        public void step(String name) {
            step = name;
            listeners.changed();
        }

        @Override
        public void share(double done) {
            // The steps of a trial say how far it is.
        }

        @Override
        public void log(String line) {
            // The Build page shows what a compiler says.
        }

        @Override
        public boolean cancelled() {
            return cancelled;
        }
    }

    /** Ends the trial under way, and does not begin the others. */
    public void cancel() {
        cancelled = true;
        LiveRun run = live;
        if (run != null) {
            Thread.ofPlatform().daemon().name("trial stop").start(run::stop);
        }
    }

    public void pause(boolean hold) {
        LiveRun run = live;
        if (run != null) {
            paused = hold;
            run.pause(hold);
            listeners.changed();
        }
    }

    /** Lets a paused trial go on for some simulated time. */
    public void step(long nanos) {
        LiveRun run = live;
        if (run != null && paused) {
            run.step(nanos);
        }
    }

    /** Answers the question that waits. */
    public void answer(boolean yes) {
        LiveRun run = live;
        if (run != null) {
            run.answer(yes);
        }
    }

    /** Forgets everything; for when another project is opened. */
    public void forget() {
        cancel();
        synchronized (records) {
            records.clear();
            runs.clear();
            coverage = Map.of();
        }
        findings = List.of();
        listeners.changed();
    }

    public boolean isRunning() {
        return running;
    }

    public boolean isPaused() {
        return paused && live != null;
    }

    /** What is under way; empty where nothing is. */
    public Optional<Job> current() {
        return Optional.ofNullable(current);
    }

    /** What is being done before the trial itself runs. */
    public String preparing() {
        return live == null ? step : "";
    }

    /** Simulated time reached. */
    public double seconds() {
        LiveRun run = live;
        return run == null ? 0 : run.seconds();
    }

    /** How far the trial under way is. */
    public Playing.Progress progress() {
        LiveRun run = live;
        return run == null ? Playing.Progress.NONE : run.trial();
    }

    /** The last record of a trial on a rig. */
    public Optional<TrialRecord> record(Job j) {
        synchronized (records) {
            return Optional.ofNullable(records.get(j));
        }
    }

    /** How much of the parts the trials ran together, by part. */
    public Map<String, Coverage> coverage() {
        return coverage;
    }

    /** Id of the run of that record on the shelf; empty where the rig could not be run. */
    public Optional<String> run(Job j) {
        synchronized (records) {
            return Optional.ofNullable(runs.get(j)).filter(id -> !id.isEmpty());
        }
    }

    /** The last record of each trial and rig. */
    public List<TrialRecord> records() {
        synchronized (records) {
            return List.copyOf(records.values());
        }
    }

    /** Why trials could not be run. */
    public List<Finding> findings() {
        return findings;
    }
}
