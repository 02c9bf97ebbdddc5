package boldanvil.app.model;

import boldanvil.core.bench.Progress;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;

/** The steps of preparing a rig and what they printed. */
public final class StepLog implements Progress {
    /** A step with its outcome so far. */
    public record Step(String name, boolean done, boolean failed) {}

    private final Runnable changed;
    private final List<Step> steps = new CopyOnWriteArrayList<>();
    private final List<String> lines = new CopyOnWriteArrayList<>();
    private volatile double share;
    private volatile boolean cancelled;

    /** @param changed called after each change, on the thread that made it */
    StepLog(Runnable changed) {
        this.changed = changed;
    }

    /** Forgets everything, for the next start. */
    void clear() {
        cancelled = false;
        steps.clear();
        lines.clear();
    }

    /** Ends the present step. */
    void finish(boolean failed) {
        if (!steps.isEmpty() && !steps.getLast().done()) {
            steps.set(steps.size() - 1, new Step(steps.getLast().name(), true, failed));
        }
    }

    void cancel() {
        cancelled = true;
    }

    List<Step> steps() {
        return List.copyOf(steps);
    }

    List<String> lines() {
        return List.copyOf(lines);
    }

    /** The share of the present step that is done, 0 to 1. */
    double share() {
        return share;
    }

    @Override
    public void step(String name) {
        finish(false);
        steps.add(new Step(name, false, false));
        share = 0;
        lines.add("— " + name);
        changed.run();
    }

    @Override
    public void share(double done) {
        share = done;
        changed.run();
    }

    @Override
    public void log(String line) {
        lines.add(line);
        changed.run();
    }

    @Override
    public boolean cancelled() {
        return cancelled;
    }
}
