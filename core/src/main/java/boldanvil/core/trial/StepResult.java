package boldanvil.core.trial;

import java.util.List;

/**
 * What came of a step.
 *
 * @param trial name of the file the step is written in
 * @param line in that file
 * @param text with the values of the row it was run with
 * @param requirements those it shows
 * @param from simulated seconds at which it began; NaN before
 * @param to when it was decided; NaN before
 * @param words what was seen, for people
 * @param signals names of signals it looked at
 */
public record StepResult(String trial, int line, String text, List<String> requirements, State state, double from, double to, String words,
        List<String> signals) {
    /** What became of a step. */
    public enum State {
        /** It comes later. */
        WAITING("waiting"),
        RUNNING("running"),
        /** It did what it was to do; it expects nothing. */
        DONE("done"),
        PASSED("passed"),
        FAILED("failed"),
        /** The trial ended before. */
        NOT_REACHED("not reached"),
        /** Nobody was there to answer. */
        UNANSWERED("unanswered");

        private final String label;

        State(String label) {
            this.label = label;
        }

        /** Its name for people. */
        public String label() {
            return label;
        }
    }

    public StepResult {
        requirements = List.copyOf(requirements);
        signals = List.copyOf(signals);
    }
}
