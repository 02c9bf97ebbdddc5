package boldanvil.core.simulate;

/** Acts on a rig while it runs, tick by tick, on the thread that runs it. */
public interface Director {
    /**
     * Before a tick: what it changes takes effect in it.
     *
     * @param nanos simulated time of the tick
     */
    void before(long nanos);

    /**
     * All parts have computed the tick; signals are as they are recorded in it.
     *
     * @param nanos its simulated time
     * @return whether the run goes on
     */
    boolean after(long nanos);
}
