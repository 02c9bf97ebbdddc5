package boldanvil.core.trial;

import boldanvil.core.simulate.Conductor;
import boldanvil.core.simulate.Director;
import boldanvil.core.trial.Act.Look;
import boldanvil.core.trial.StepResult.State;
import java.util.ArrayList;
import java.util.List;

/**
 * Plays a trial on a rig. A step that changes something takes effect in the tick it begins in; conditions are looked at when all parts have
 * computed the tick. Steps that need no time follow each other in the same tick, up to the next change.
 */
public final class Performance implements Director, Act.Stage {
    private record Later(long nanos, String address) {}

    private final TrialPlan plan;
    private final Conductor conductor;
    private final Operator operator;
    private final StepResult[] results;
    private final List<Integer> background = new ArrayList<>();
    private final List<Later> later = new ArrayList<>();
    private int current;
    private boolean begun;
    private boolean over;

    /** @param plan without errors, resolved against the instances of the conductor; it is used up */
    public Performance(TrialPlan plan, Conductor conductor, Operator operator) {
        this.plan = plan.orThrow();
        this.conductor = conductor;
        this.operator = operator;
        results = plan.steps().stream().map(s -> new StepResult(s.trial(), s.at().number(), s.text(), s.at().requirements(),
                State.WAITING, Double.NaN, Double.NaN, "", s.act().signals())).toArray(StepResult[]::new);
    }

    @Override
    public Conductor conductor() {
        return conductor;
    }

    @Override
    public Signals signals() {
        return plan.signals();
    }

    @Override
    public Operator operator() {
        return operator;
    }

    @Override
    public void clearAt(long nanos, String address) {
        later.add(new Later(nanos, address));
    }

    @Override
    public void before(long nanos) {
        plan.signals().now(nanos);
        later.removeIf(l -> {
            if (l.nanos() <= nanos) {
                conductor.clear(l.address());
            }
            return l.nanos() <= nanos;
        });
        proceed(nanos, true);
    }

    @Override
    public boolean after(long nanos) {
        plan.signals().now(nanos);
        background.removeIf(i -> {
            Look seen = plan.steps().get(i).act().look(nanos, this);
            if (seen != null) {
                decided(i, nanos, seen);
            }
            return seen != null;
        });
        proceed(nanos, false);
        if (!over && nanos + conductor.tickNanos() >= plan.limitNanos()) {
            end(nanos, "The trial was not over within its limit of " + plan.trial().limit() + ".");
        }
        return !over;
    }

    /** Goes on as far as it can at this instant. */
    private void proceed(long nanos, boolean before) {
        while (!over && current < results.length) {
            Act act = plan.steps().get(current).act();
            if (!begun) {
                if (act.changes() && !before || act.isInBackground() && before) {
                    return;
                }
                begun = true;
                act.begin(nanos, this);
                note(current, State.RUNNING, nanos, false, "");
                if (act.isInBackground()) {
                    background.add(current);
                    Look seen = act.look(nanos, this);
                    if (seen != null) {
                        decided(current, nanos, seen);
                        background.remove((Integer) current);
                    }
                    next();
                    continue;
                }
            }
            Look seen = before && !act.changes() ? null : act.look(nanos, this);
            if (seen == null) {
                return;
            }
            decided(current, nanos, seen);
            if (seen.state() == State.FAILED && act.isDecisive()) {
                end(nanos, "");
                return;
            }
            next();
        }
        if (!over && !before) {
            end(nanos, "");
        }
    }

    private void next() {
        current++;
        begun = false;
    }

    private void decided(int step, long nanos, Look seen) {
        note(step, seen.state(), nanos, true, seen.words());
    }

    private synchronized void note(int step, State state, long nanos, boolean decided, String words) {
        StepResult r = results[step];
        results[step] = new StepResult(r.trial(), r.line(), r.text(), r.requirements(), state, decided ? r.from() : nanos / 1e9,
                decided ? nanos / 1e9 : Double.NaN, words, r.signals());
    }

    /** @param why the step that is under way fails; empty where none is */
    private void end(long nanos, String why) {
        for (int i : background) {
            decided(i, nanos, plan.steps().get(i).act().atEnd());
        }
        background.clear();
        for (int i = 0; i < results.length; i++) {
            if (results[i].state() == State.RUNNING) {
                decided(i, nanos, why.isEmpty() ? plan.steps().get(i).act().atEnd() : Look.failed(why));
            } else if (results[i].state() == State.WAITING) {
                note(i, State.NOT_REACHED, nanos, true, why);
            }
        }
        over = true;
    }

    /** The run ended before the trial did. */
    public void aborted(double seconds, String why) {
        if (!over) {
            end(Math.round(seconds * 1e9), why);
        }
    }

    /** What came of each step so far. Safe for use by several threads. */
    public synchronized List<StepResult> results() {
        return List.of(results);
    }
}
