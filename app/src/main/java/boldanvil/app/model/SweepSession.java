package boldanvil.app.model;

import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.bench.Sweep;
import boldanvil.core.evidence.TrialRunner;
import boldanvil.core.farm.Crew;
import boldanvil.core.farm.TableStudy;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.study.PointSource;
import boldanvil.core.study.RunTable;
import boldanvil.core.study.StudyListener;
import boldanvil.core.study.Way;
import boldanvil.core.transfer.StudyFile;
import java.io.IOException;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Executor;
import java.util.function.Supplier;

/** Does many runs beside the window. Listeners are called on the window's thread, not more often than it can take them. */
public final class SweepSession {
    /**
     * A study as it is asked for.
     *
     * @param source makes the points; there may be many, so not on the window's thread
     * @param goal result that a search looks for; empty for none
     */
    public record Asked(TableStudy.Order order, Way way, Supplier<PointSource> source, String goal, Crew.Where where) {}

    private final ChangeListeners listeners;
    private volatile RunTable table;
    private volatile Asked asked;
    private volatile Way way = Way.GRID;
    private volatile List<Finding> findings = List.of();
    private volatile String note = "";
    private volatile boolean running;
    private volatile boolean cancelled;
    private volatile int study;
    private volatile int done;
    private volatile int all;

    public SweepSession(Executor window) {
        listeners = new ChangeListeners(window);
    }

    public void onChange(Runnable listener) {
        listeners.add(listener);
    }

    /** Does all runs; one study at a time. */
    public void start(Asked what) {
        if (running) {
            return;
        }
        running = true;
        cancelled = false;
        int mine = ++study;
        done = 0;
        all = 0;
        note = "";
        findings = List.of();
        table = null;
        asked = what;
        way = what.way();
        listeners.changed();
        Thread.ofPlatform().daemon().name("sweep").start(() -> {
            List<Finding> wrong = List.of();
            try (var crew = Crew.open(what.where())) {
                var source = what.source().get();
                all = source.all();
                TableStudy.run(what.order(), source, what.goal(), crew, new Count(), t -> {
                    if (mine == study) {
                        table = t;
                    }
                });
            } catch (FindingException e) {
                wrong = e.findings();
            } catch (RuntimeException e) {
                wrong = List.of(Finding.error(Place.rig(what.order().rig()), "The study failed in an unexpected way: " + e + ".",
                        "Please report it."));
            }
            if (mine == study) {
                findings = cancelled && table == null ? List.of() : wrong;
            }
            running = false;
            listeners.changed();
        });
    }

    /** Begins no further run; what is done is kept. */
    public void cancel() {
        cancelled = true;
    }

    /** Forgets what was found; for when another project is opened. */
    public void forget() {
        cancel();
        // What is still under way belongs to what was open before.
        study++;
        table = null;
        asked = null;
        findings = List.of();
        listeners.changed();
    }

    /**
     * Shows runs that were saved.
     *
     * @throws FindingException when the file cannot be read
     */
    public void open(Path file) {
        var contents = StudyFile.read(file);
        if (running) {
            throw FindingException.of(file.toString(), "A study is running.", "Cancel it first.");
        }
        study++;
        asked = null;
        way = Way.named(contents.about().getOrDefault("way", ""));
        findings = List.of();
        table = contents.table();
        listeners.changed();
    }

    /**
     * Saves the runs as the ending of the file's name says.
     *
     * @throws FindingException when they cannot be written
     */
    public void save(Path file) {
        Map<String, String> about = new LinkedHashMap<>();
        about.put("way", way.name());
        Asked what = asked;
        if (what != null) {
            about.put("project", what.order().project().name());
            about.put("rig", what.order().rig());
            about.put("trial", what.order().trial());
        }
        try {
            StudyFile.write(table, about, file);
        } catch (IOException e) {
            throw FindingException.of(file.getFileName().toString(), "It cannot be written: " + e.getMessage() + ".",
                    "Choose another folder.");
        }
    }

    /** Whether single runs can be done again: they were done here, not read from a file. */
    public boolean canRepeat() {
        return asked != null && table != null;
    }

    /**
     * Does one run again and puts it on the shelf.
     *
     * @param run its row
     * @param shelf folder of the runs
     * @return id of the run
     * @throws FindingException when it cannot be run or written
     */
    public String repeat(int run, Path shelf) {
        Asked what = asked;
        var order = what.order();
        var varied = Sweep.varied(order.project(), table.point(run));
        String name = "study, run " + (run + 1);
        try {
            if (order.trial().isEmpty()) {
                return ShelfRuns.record(varied.project(), order.rig(), name, new RunOptions(order.endNanos(), Double.POSITIVE_INFINITY,
                        varied.changes(), order.buildFolder()), shelf);
            }
            var options = new TrialRunner.Options(order.buildFolder(), Map.of(), false, false, varied.changes());
            return ShelfRuns.record(varied.project(), order.trial(), order.rig(), options, Progress.NONE, _ -> { }, shelf).run();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw FindingException.of(Place.rig(order.rig()), "The run was interrupted.", "Run it again.");
        }
    }

    public boolean isRunning() {
        return running;
    }

    public boolean isCancelled() {
        return cancelled;
    }

    public int done() {
        return done;
    }

    public int all() {
        return all;
    }

    /** What was said last of where the runs are done. */
    public String note() {
        return note;
    }

    /** The runs so far; empty before the first has a result. */
    public Optional<RunTable> table() {
        return Optional.ofNullable(table);
    }

    /** How the points of these runs were chosen. */
    public Way way() {
        return way;
    }

    /** Why there was no study. */
    public List<Finding> findings() {
        return findings;
    }

    private final class Count implements StudyListener {
        @Override
        public void done(int runs, int ofAll) {
            done = Math.max(done, runs);
            listeners.changed();
        }

        @Override
        public boolean cancelled() {
            return cancelled;
        }

        @Override
        public void note(String sentence) {
            note = sentence;
            listeners.changed();
        }
    }
}
