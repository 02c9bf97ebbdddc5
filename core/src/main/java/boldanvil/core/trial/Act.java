package boldanvil.core.trial;

import boldanvil.core.simulate.Conductor;
import boldanvil.core.trial.StepResult.State;
import java.util.List;

/** A step resolved against a rig, at work. It is used for one run. */
abstract class Act {
    /** What a step has at hand. */
    interface Stage {
        Conductor conductor();

        Signals signals();

        Operator operator();

        /** Has a fault taken away later. */
        void clearAt(long nanos, String address);
    }

    /** What a look at the rig gave: how the step ended, and what was seen. */
    record Look(State state, String words) {
        static final Look DONE = new Look(State.DONE, "");

        static Look passed(String words) {
            return new Look(State.PASSED, words);
        }

        static Look failed(String words) {
            return new Look(State.FAILED, words);
        }
    }

    /** Names of the signals it looks at. */
    List<String> signals() {
        return List.of();
    }

    /** Whether it changes the rig, so that it begins before a tick; others begin in the tick in which the step before has ended. */
    boolean changes() {
        return false;
    }

    /** Whether the next step begins at once, while this one goes on. */
    boolean isInBackground() {
        return false;
    }

    /** Whether a failure ends the trial, since what follows would make no sense. */
    boolean isDecisive() {
        return false;
    }

    /** @param now simulated time */
    void begin(long now, Stage stage) {}

    /** Looks at the rig after a tick; null while it goes on. */
    abstract Look look(long now, Stage stage);

    /** What holds where the trial ends while it goes on. */
    Look atEnd() {
        return Look.failed("The trial ended before.");
    }
}
