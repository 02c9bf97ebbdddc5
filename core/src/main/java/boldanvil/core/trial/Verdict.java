package boldanvil.core.trial;

import java.util.List;

/** What a trial showed. */
public enum Verdict {
    PASSED("passed"), FAILED("failed"),
    /** It expected nothing, or a question was not answered. */
    OPEN("open"),
    /** It could not be run. */
    ERROR("error");

    private final String label;

    Verdict(String label) {
        this.label = label;
    }

    /** Its name for people. */
    public String label() {
        return label;
    }

    /** The verdict that follows from the steps. */
    public static Verdict of(List<StepResult> steps) {
        boolean expected = false;
        boolean open = false;
        for (StepResult s : steps) {
            switch (s.state()) {
                case FAILED -> {
                    return FAILED;
                }
                case PASSED -> expected = true;
                case UNANSWERED, NOT_REACHED, WAITING, RUNNING -> open = true;
                case DONE -> { }
            }
        }
        return expected && !open ? PASSED : OPEN;
    }
}
