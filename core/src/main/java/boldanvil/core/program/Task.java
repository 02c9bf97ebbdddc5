package boldanvil.core.program;

/**
 * A discrete task.
 *
 * @param name an identifier such as {@code task_100us}
 * @param periodTicks how many base ticks lie between releases
 */
public record Task(String name, int periodTicks) {
    /** Procedure that makes this task's results visible to faster tasks. */
    public String publish() {
        return name + "_publish";
    }

    /** Procedure that takes over values from faster tasks. */
    public String latch() {
        return name + "_latch";
    }

    /** Procedure that computes outputs and then new states. */
    public String run() {
        return name + "_run";
    }
}
