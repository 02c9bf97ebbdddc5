package boldanvil.core.farm;

import java.util.List;
import java.util.Map;
import org.apache.ignite.Ignite;
import org.apache.ignite.Ignition;

/** Waits for runs of studies and does them. */
public final class Worker implements AutoCloseable {
    /** The port on which a worker is found unless told otherwise. */
    public static final int PORT = 47500;

    private final Ignite ignite;

    private Worker(Ignite ignite) {
        this.ignite = ignite;
    }

    /**
     * Starts a worker.
     *
     * @param listen address of this machine on which others reach it
     * @param port on which it is found; messages use the port that is 100 higher
     * @param join other workers, as {@code host:port}; those that are connected work together
     * @param slots runs at the same time
     * @throws boldanvil.core.finding.FindingException when a port is in use, or the others have another key
     */
    public static Worker start(FarmKey key, String listen, int port, List<String> join, int slots) {
        return new Worker(Node.start(key, listen, port, join, Map.of(Node.SLOTS, slots, Node.NAME, listen + ":" + port)));
    }

    /** Whether it has not been stopped; one that lost the others for long stops by itself. */
    public boolean isAlive() {
        return Ignition.allGrids().contains(ignite);
    }

    @Override
    public void close() {
        Ignition.stop(ignite.name(), true);
    }
}
