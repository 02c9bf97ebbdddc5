package boldanvil.app.model;

import boldanvil.core.bench.LiveRun;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.replay.Replay;
import boldanvil.core.user.Log;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Executor;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Consumer;

/** The past instant at which sheets show their values. All methods are called on the window's thread; runs are repeated on another. */
public final class TimeTravel {
    /** A stretch of a wire: times and values. */
    public record Stretch(double[] times, double[] values) {}

    private final Executor window;
    private final ExecutorService worker = Executors.newSingleThreadExecutor(
            r -> Thread.ofPlatform().daemon().name("replay").unstarted(r));
    private final List<Runnable> listeners = new ArrayList<>();
    private Replay replay;
    private LiveRun run;
    private String message = "";
    private double progress = 1;
    private double instant;
    private SheetRef sheet;
    private String path = "";
    private Map<String, Replay.Value> values = Map.of();
    private long asked;

    /** @param window runs what must happen on the window's thread */
    public TimeTravel(Executor window) {
        this.window = window;
    }

    /** Called whenever what is shown has changed. */
    public void onChange(Runnable listener) {
        listeners.add(listener);
    }

    private void changed() {
        List.copyOf(listeners).forEach(Runnable::run);
    }

    /** Whether sheets show a past instant. */
    public boolean isOn() {
        return run != null;
    }

    /** Begins to show a run at its end; it is repeated in the background first. */
    public void begin(LiveRun ended) {
        begin(ended, ended.store().end());
    }

    /** Begins to show a run at an instant; it is repeated in the background first. */
    public void begin(LiveRun ended, double at) {
        run = ended;
        replay = null;
        progress = 0;
        values = Map.of();
        instant = Math.clamp(at, 0, ended.store().end());
        message = "Repeating the run …";
        long mine = ++asked;
        changed();
        worker.execute(() -> {
            try {
                var fresh = new Replay(ended.review().project(), ended.rig(), ended.changes(), ended.store());
                fresh.prepare(share -> window.execute(() -> progressed(mine, share)));
                window.execute(() -> ready(mine, fresh));
            } catch (FindingException e) {
                window.execute(() -> failed(mine, e.findings().getFirst().toString()));
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            } catch (RuntimeException e) {
                Log.ignored(TimeTravel.class, e, "A run cannot be repeated.");
                window.execute(() -> failed(mine, "The run cannot be repeated: " + Finding.reason(e) + "."));
            }
        });
    }

    private void progressed(long mine, double share) {
        if (mine == asked && share - progress > 0.02) {
            progress = share;
            changed();
        }
    }

    private void ready(long mine, Replay fresh) {
        if (mine != asked) {
            return;
        }
        replay = fresh;
        progress = 1;
        var differences = fresh.differences();
        if (differences.isEmpty()) {
            message = "Agrees with the record bit for bit.";
        } else {
            var d = differences.getFirst();
            message = (fresh.isMeasured() ? "Computed by the model; the device differs from " : "Differs from the record from ")
                    + Figures.text(d.seconds(), 6, "s") + " on: " + d.tap() + (differences.size() > 1 ? " and " + (differences.size() - 1)
                    + " more" : "") + ".";
        }
        show(sheet, path);
    }

    private void failed(long mine, String text) {
        if (mine == asked) {
            message = text;
            progress = 1;
            changed();
        }
    }

    /** Ends it; sheets show what is now. */
    public void end() {
        asked++;
        run = null;
        replay = null;
        values = Map.of();
        changed();
    }

    /** The instant that is shown, in seconds. */
    public double instant() {
        return instant;
    }

    /** The last instant there is. */
    public double last() {
        return run == null ? 0 : run.store().end();
    }

    /** From 0 to 1 while the run is repeated. */
    public double progress() {
        return progress;
    }

    /** What is to be known about the values. */
    public String message() {
        return message;
    }

    /** Goes to an instant. */
    public void goTo(double seconds) {
        if (run != null) {
            instant = Math.clamp(seconds, 0, last());
            show(sheet, path);
        }
    }

    /** Shows a sheet; null for the system sheet. */
    public void show(SheetRef ref, String at) {
        sheet = ref;
        path = at;
        Replay mine = replay;
        if (mine == null || ref == null) {
            values = Map.of();
            changed();
            return;
        }
        double t = instant;
        worker.execute(() -> {
            // Only the newest instant is of interest.
            if (t == instant) {
                var found = mine.values(ref, at, t);
                window.execute(() -> {
                    if (replay == mine && t == instant && at.equals(path)) {
                        values = found;
                        changed();
                    }
                });
            }
        });
        changed();
    }

    /** The value at an output on the sheet that is shown; empty while it is not known. */
    public Optional<Replay.Value> value(String block, String port) {
        return Optional.ofNullable(values.get(block + "." + port));
    }

    /** Computes the last stretch of a wire. */
    public void stretch(String block, String port, double seconds, Consumer<Stretch> take) {
        Replay mine = replay;
        SheetRef ref = sheet;
        String at = path;
        double t = instant;
        if (mine != null && ref != null) {
            worker.execute(() -> {
                double[][] s = mine.stretch(ref, at, block, port, t, seconds);
                window.execute(() -> take.accept(new Stretch(s[0], s[1])));
            });
        }
    }

    /** Ends its thread. */
    public void close() {
        worker.shutdownNow();
    }
}
