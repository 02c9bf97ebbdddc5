package boldanvil.app.model;

import boldanvil.core.compare.ProjectDiff;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.replay.Replay;
import boldanvil.core.replay.Why;
import boldanvil.core.user.Log;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
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
    private PastRun run;
    private String message = "";
    private double progress = 1;
    private double instant;
    private SheetRef sheet;
    private String path = "";
    private Map<String, Replay.Value> values = Map.of();
    private long asked;
    private Asked about;
    private final Deque<Why> reasons = new ArrayDeque<>();

    /** The output whose value is asked about. */
    private record Asked(SheetRef sheet, String path, String block, String port) {}

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

    /**
     * Begins to show a run at an instant; it is repeated in the background first.
     *
     * @param now the project whose sheets are shown
     */
    public void begin(PastRun ended, double at, Project now) {
        run = ended;
        replay = null;
        about = null;
        reasons.clear();
        progress = 0;
        values = Map.of();
        instant = Math.clamp(at, 0, ended.end());
        message = "Repeating the run …";
        long mine = ++asked;
        changed();
        worker.execute(() -> {
            try {
                Project then = ended.project().get();
                var fresh = ended.repeat(then, share -> window.execute(() -> progressed(mine, share)));
                boolean edited = then != now && !ProjectDiff.of(then, now).isEmpty();
                window.execute(() -> ready(mine, fresh, edited));
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

    private void ready(long mine, Replay fresh, boolean edited) {
        if (mine != asked) {
            return;
        }
        replay = fresh;
        progress = 1;
        explain();
        var differences = fresh.differences();
        if (differences.isEmpty()) {
            message = "Agrees with the record bit for bit.";
        } else {
            var d = differences.getFirst();
            message = (fresh.isMeasured() ? "Computed by the model; the device differs from " : "Differs from the record from ")
                    + Figures.text(d.seconds(), 6, "s") + " on: " + d.tap() + (differences.size() > 1 ? " and " + (differences.size() - 1)
                    + " more" : "") + ".";
        }
        if (edited) {
            message += " The project was edited since; values are those of the wires as they were.";
        }
        if (!run.title().isEmpty()) {
            message = run.title() + ": " + message;
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
        about = null;
        reasons.clear();
        changed();
    }

    /** The instant that is shown, in seconds. */
    public double instant() {
        return instant;
    }

    /** The last instant there is. */
    public double last() {
        return run == null ? 0 : run.end();
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
            explain();
        }
    }

    /** Explains the value of an output on the sheet that is shown, at this instant and at others that are gone to. */
    public void ask(String block, String port) {
        about = new Asked(sheet, path, block, port);
        explain();
    }

    private void explain() {
        Asked mine = about;
        Replay with = replay;
        double t = instant;
        if (mine != null && with != null) {
            worker.execute(() -> {
                if (t == instant) {
                    explained(with, mine, with.why(mine.sheet(), mine.path(), mine.block(), mine.port(), t), true);
                }
            });
        }
    }

    private void explained(Replay with, Asked mine, Optional<Why> found, boolean fresh) {
        window.execute(() -> {
            if (replay == with && about == mine) {
                if (fresh) {
                    reasons.clear();
                }
                found.ifPresent(reasons::push);
                changed();
            }
        });
    }

    /** Why the value that was asked about is what it is; empty while nothing was asked, or it is not known yet. */
    public Optional<Why> why() {
        return Optional.ofNullable(reasons.peek());
    }

    /**
     * Explains where a value came from that was kept from an earlier tick, and shows that instant.
     *
     * @param kept path of the step with the value
     * @param none is run where it has its value since the start
     */
    public void back(String kept, Runnable none) {
        Replay with = replay;
        Asked mine = about;
        why().ifPresent(why -> worker.execute(() -> {
            var earlier = why.back(kept);
            window.execute(() -> {
                if (earlier.isEmpty()) {
                    none.run();
                } else if (replay == with && about == mine) {
                    instant = earlier.get().seconds();
                    show(sheet, path);
                }
            });
            earlier.ifPresent(_ -> explained(with, mine, earlier, false));
        }));
    }

    /** Goes back to the explanation before the last {@link #back}. */
    public void forward() {
        if (reasons.size() > 1) {
            reasons.pop();
            instant = reasons.peek().seconds();
            show(sheet, path);
        }
    }

    /** Whether there is an explanation to go back to. */
    public boolean canGoForward() {
        return reasons.size() > 1;
    }

    /** Explains nothing any more. */
    public void forgetWhy() {
        about = null;
        reasons.clear();
        changed();
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
