package boldanvil.core.simulate;

/** Is called when the signals of one part are fresh. Called on the thread that runs the conductor. */
public interface Observer {
    /** The continuous part has been sampled. */
    void sampled(long nanos);

    /**
     * The due tasks have run.
     *
     * @param partTick number of the part's own tick, from 0
     */
    void stepped(long nanos, long partTick);
}
