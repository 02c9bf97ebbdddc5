package boldanvil.app.model;

import boldanvil.core.bench.Sweep;
import boldanvil.core.diagram.Project;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.study.StudyListener;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Executor;
import java.util.function.Supplier;

/** Runs a sweep beside the window. Listeners are called on the window's thread, not more often than it can take them. */
public final class SweepSession {
    private final ChangeListeners listeners;
    private volatile List<Sweep.Outcome> outcomes = List.of();
    private volatile List<Finding> findings = List.of();
    private volatile boolean running;
    private volatile boolean cancelled;
    private volatile boolean forgotten;
    private volatile int done;
    private volatile int all;

    public SweepSession(Executor window) {
        listeners = new ChangeListeners(window);
    }

    public void onChange(Runnable listener) {
        listeners.add(listener);
    }

    /**
     * Runs all points, on all cores.
     *
     * @param endNanos simulated time of each run
     * @param points makes them; there may be many, so not on the window's thread
     */
    public void start(Project project, String rig, long endNanos, Supplier<List<Map<String, Double>>> points) {
        if (running) {
            return;
        }
        running = true;
        cancelled = false;
        forgotten = false;
        done = 0;
        all = 0;
        findings = List.of();
        outcomes = List.of();
        listeners.changed();
        Thread.ofPlatform().daemon().name("sweep").start(() -> {
            List<Sweep.Outcome> found = List.of();
            List<Finding> wrong;
            try {
                var made = points.get();
                all = made.size();
                found = Sweep.run(project, rig, endNanos, made, Runtime.getRuntime().availableProcessors(), new Count());
                wrong = found.stream().flatMap(o -> o.findings().stream()).distinct().limit(20).toList();
            } catch (FindingException e) {
                wrong = e.findings();
            } catch (RuntimeException e) {
                wrong = List.of(Finding.error(Place.rig(rig), "The sweep failed in an unexpected way: " + e + ".", "Please report it."));
            }
            if (!forgotten) {
                outcomes = found;
                findings = wrong;
            }
            running = false;
            listeners.changed();
        });
    }

    /** Gives up what has not begun; what is done is kept. */
    public void cancel() {
        cancelled = true;
    }

    /** Forgets what was found; for when another project is opened. */
    public void forget() {
        cancel();
        // What is still under way belongs to what was open before.
        forgotten = true;
        outcomes = List.of();
        findings = List.of();
        listeners.changed();
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

    /** What came of the last sweep, once it has ended. */
    public List<Sweep.Outcome> outcomes() {
        return outcomes;
    }

    /** Faults of single runs, and why there was no sweep. */
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
    }
}
