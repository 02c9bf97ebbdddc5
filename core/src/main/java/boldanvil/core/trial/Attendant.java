package boldanvil.core.trial;

import java.util.Map;
import java.util.Optional;
import java.util.concurrent.locks.LockSupport;

/** Answers the questions of a trial from what was prepared, or has somebody answer them. Safe for use by several threads. */
public final class Attendant implements Operator {
    private static final long PAUSE_NANOS = 5_000_000;

    private final Map<String, Boolean> prepared;
    private final boolean attended;
    private final Runnable meanwhile;
    private volatile String question;
    private volatile Boolean answer;
    private volatile boolean left;

    /**
     * @param prepared answers by question
     * @param attended whether somebody answers the others
     * @param meanwhile done again and again while an answer is waited for
     */
    public Attendant(Map<String, Boolean> prepared, boolean attended, Runnable meanwhile) {
        this.prepared = Map.copyOf(prepared);
        this.attended = attended;
        this.meanwhile = meanwhile;
    }

    @Override
    public Optional<Boolean> answer(String asked) {
        if (prepared.containsKey(asked) || !attended) {
            return Optional.ofNullable(prepared.get(asked));
        }
        answer = null;
        question = asked;
        while (answer == null && !left) {
            meanwhile.run();
            LockSupport.parkNanos(PAUSE_NANOS);
        }
        question = null;
        return Optional.ofNullable(answer);
    }

    /** The question that waits for an answer. */
    public Optional<String> question() {
        return Optional.ofNullable(question);
    }

    /** Answers the question that waits. */
    public void give(boolean yes) {
        answer = yes;
    }

    /** Nobody answers any more. */
    public void leave() {
        left = true;
    }
}
