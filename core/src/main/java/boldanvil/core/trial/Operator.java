package boldanvil.core.trial;

import java.util.Map;
import java.util.Optional;

/** Who answers the questions of a trial. */
public interface Operator {
    /** Nobody: questions stay open. */
    Operator NONE = _ -> Optional.empty();

    /**
     * Asks a question that is answered by yes or no; may wait for the answer, and holds the rig up meanwhile.
     *
     * @return empty when nobody answers
     */
    Optional<Boolean> answer(String question);

    /** Answers that were given beforehand, by question. */
    static Operator prepared(Map<String, Boolean> answers) {
        return question -> Optional.ofNullable(answers.get(question));
    }
}
