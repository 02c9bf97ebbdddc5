package boldanvil.app.model;

import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.Values;
import boldanvil.core.diagram.BenchLayout;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.review.Review;
import boldanvil.core.runs.Mark;
import boldanvil.core.simulate.Stimulus;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentLinkedDeque;
import java.util.concurrent.ConcurrentSkipListMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Consumer;
import java.util.function.Supplier;
import java.util.stream.Collectors;

/** Values of the running rig: changed one by one, planned and applied together, driven by stimuli, and read back. */
final class LiveValues implements AutoCloseable {
    private final ExecutorService tuning = Executors.newSingleThreadExecutor(r -> Thread.ofPlatform().daemon().name("tuning").unstarted(r));
    private final Supplier<LiveRun> live;
    private final RunRecorder recorder;
    private final Runnable changed;
    private final Consumer<List<Finding>> report;
    private final Map<String, Double> planned = new ConcurrentSkipListMap<>();
    private final Deque<Map<String, Double>> undoable = new ConcurrentLinkedDeque<>();
    private volatile List<Values.Row> values = List.of();

    /**
     * @param live the run while it is live, else null
     * @param changed called when something to be shown has changed
     * @param report takes what was refused, and why
     */
    LiveValues(Supplier<LiveRun> live, RunRecorder recorder, Runnable changed, Consumer<List<Finding>> report) {
        this.live = live;
        this.recorder = recorder;
        this.changed = changed;
        this.report = report;
    }

    /** Forgets what was planned and applied; another run begins. */
    void clear() {
        planned.clear();
        undoable.clear();
        values = List.of();
    }

    /** Does something after what was asked for before. */
    void later(Runnable action) {
        tuning.execute(action);
    }

    private void guarded(Runnable action) {
        try {
            action.run();
        } catch (FindingException e) {
            report.accept(e.findings());
        }
    }

    /** Changes a tunable where it runs. */
    void set(String address, double value) {
        LiveRun r = live.get();
        if (r != null) {
            tuning.execute(() -> guarded(() -> {
                r.set(address, value);
                recorder.mark(new Mark(r.seconds(), Mark.Kind.CHANGE, address + " = " + Figures.text(value)));
            }));
        }
    }

    /** Values that are to be applied together. */
    Map<String, Double> planned() {
        return Map.copyOf(planned);
    }

    /** Puts a value into the set that is to be applied; NaN takes it out. */
    void plan(String address, double value) {
        if (Double.isNaN(value)) {
            planned.remove(address);
        } else {
            planned.put(address, value);
        }
        changed.run();
    }

    /** Empties the set. */
    void discardPlan() {
        planned.clear();
        changed.run();
    }

    /** Applies the set between two steps of each part, and remembers what was there before. */
    void applyPlan() {
        apply(planned());
    }

    /** Applies values at once, between two steps of each part; they can be taken back by {@link #undoValues}. */
    void apply(Map<String, Double> next) {
        LiveRun r = live.get();
        if (r == null || next.isEmpty()) {
            return;
        }
        tuning.execute(() -> guarded(() -> {
            Map<String, Double> before = new LinkedHashMap<>();
            next.keySet().forEach(address -> before.put(address, r.get(address)));
            r.set(next);
            undoable.push(before);
            next.forEach(planned::remove);
            recorder.mark(new Mark(r.seconds(), Mark.Kind.CHANGE, next.entrySet().stream()
                    .map(e -> e.getKey() + " = " + Figures.text(e.getValue()))
                    .collect(Collectors.joining(", "))));
            changed.run();
        }));
    }

    /** Whether a set that was applied can be taken back. */
    boolean canUndoValues() {
        return !undoable.isEmpty();
    }

    /** Takes back the last set that was applied. */
    void undoValues() {
        LiveRun r = live.get();
        if (r != null) {
            tuning.execute(() -> guarded(() -> {
                var before = undoable.poll();
                if (before != null) {
                    r.set(before);
                    recorder.mark(new Mark(r.seconds(), Mark.Kind.CHANGE, "restored: " + String.join(", ", before.keySet())));
                    changed.run();
                }
            }));
        }
    }

    /** Drives a tunable from now on. */
    void drive(String address, Stimulus stimulus) {
        LiveRun r = live.get();
        if (r != null) {
            tuning.execute(() -> guarded(() -> {
                r.drive(address, stimulus);
                recorder.mark(new Mark(r.seconds(), Mark.Kind.CHANGE, stimulus.shape().label() + " on " + address));
                changed.run();
            }));
        }
    }

    /** Ends driving a tunable. */
    void release(String address) {
        LiveRun r = live.get();
        if (r != null) {
            tuning.execute(() -> guarded(() -> r.release(address)));
        }
    }

    /** Watches other limits from now on. */
    void guard(List<BenchLayout.Limit> limits) {
        LiveRun r = live.get();
        if (r != null) {
            tuning.execute(() -> guarded(() -> r.guard(RigStarter.guards(limits))));
        }
    }

    /** Asks for all tunables again; listeners are called when they are there. */
    void refreshValues(Review now) {
        LiveRun r = live.get();
        if (r == null) {
            return;
        }
        tuning.execute(() -> guarded(() -> {
            if (recorder.observe(r)) {
                changed.run();
            }
            var fresh = Values.compare(now, r);
            if (!fresh.equals(values)) {
                values = fresh;
                changed.run();
            }
        }));
    }

    /** Tunables as last asked for. */
    List<Values.Row> values() {
        return values;
    }

    @Override
    public void close() {
        tuning.shutdownNow();
    }
}
