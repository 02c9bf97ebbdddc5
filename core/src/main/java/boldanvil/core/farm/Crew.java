package boldanvil.core.farm;

import boldanvil.core.finding.FindingException;
import boldanvil.core.study.LocalRuns;
import boldanvil.core.study.PointRun;
import boldanvil.core.study.StudyListener;
import java.io.Serializable;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;

/** Who does the runs of a study: threads of this process, or workers. */
public final class Crew implements AutoCloseable {
    /** Seconds to wait for a worker when none is left, unless something else is said. */
    public static final double USUAL_PATIENCE = 60;
    /** The address that only this machine can reach. */
    public static final String LOOPBACK = "127.0.0.1";

    /**
     * Where runs are to be done.
     *
     * @param threads runs at the same time on this machine, where it does them
     * @param workers some of the workers as {@code host:port}; empty for this machine
     * @param key file of the workers; null without workers
     * @param listen address of this machine on which workers reach it
     * @param patience seconds to wait for a worker when none is left
     */
    public record Where(int threads, List<String> workers, Path key, String listen, double patience) {
        public Where {
            workers = List.copyOf(workers);
        }

        /** All cores of this machine. */
        public static Where here() {
            return new Where(Runtime.getRuntime().availableProcessors(), List.of(), null, LOOPBACK, USUAL_PATIENCE);
        }
    }

    private final Where where;
    private final Farm farm;

    private Crew(Where where, Farm farm) {
        this.where = where;
        this.farm = farm;
    }

    /** @throws FindingException when workers are named that cannot be joined */
    public static Crew open(Where where) {
        if (where.workers().isEmpty()) {
            return new Crew(where, null);
        }
        if (where.key() == null) {
            throw FindingException.of("key", "Workers need a key.", "Name the key file with which they were started.");
        }
        if (where.listen().equals(LOOPBACK) && where.workers().stream().anyMatch(w -> !w.startsWith("127.")
                && !w.startsWith("localhost:"))) {
            throw FindingException.of("listen", "Workers on other machines cannot reach 127.0.0.1 of this one.",
                    "Name the address of this machine in their network.");
        }
        return new Crew(where, Farm.join(FarmKey.read(where.key()), where.listen(), where.workers()));
    }

    /**
     * Runs all points.
     *
     * @param work what workers run
     * @param here the same on this machine
     * @param mostHere most runs at the same time here
     * @param sink gets the results in the order of the points; fewer when the study was cancelled
     * @throws FindingException when they cannot be run
     */
    public <T extends Serializable> void each(Work work, PointRun<T> here, int mostHere, List<Map<String, Double>> points,
            StudyListener listener, Class<T> type, Consumer<? super T> sink) {
        if (farm == null) {
            LocalRuns.each(points, Math.clamp(where.threads(), 1, mostHere), listener, here, sink);
        } else {
            farm.each(work, points, where.patience(), listener, type, sink);
        }
    }

    @Override
    public void close() {
        if (farm != null) {
            farm.close();
        }
    }
}
