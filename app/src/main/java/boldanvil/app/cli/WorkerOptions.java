package boldanvil.app.cli;

import boldanvil.core.farm.Crew;
import boldanvil.core.farm.Work;
import boldanvil.core.study.PointRun;
import boldanvil.core.study.StudyListener;
import java.io.PrintWriter;
import java.io.Serializable;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import picocli.CommandLine.Option;

/** Where the runs of a study are done: here, or by workers. */
final class WorkerOptions {
    @Option(names = "--threads", description = "Runs at the same time on this machine; default all cores.")
    private int threads = Runtime.getRuntime().availableProcessors();

    @Option(names = "--workers", paramLabel = "HOST:PORT", split = ",", description = "Has workers do the runs: those at these addresses "
            + "and all that are connected with them. Start them with the command worker.")
    private List<String> workers = new ArrayList<>();

    @Option(names = "--key", paramLabel = "FILE", description = "The key file of the workers.")
    private Path key;

    @Option(names = "--listen", paramLabel = "ADDRESS", defaultValue = Crew.LOOPBACK,
            description = "Address of this machine on which workers reach it. Default: workers on this machine only.")
    private String listen;

    @Option(names = "--patience", paramLabel = "TIME", defaultValue = "60s",
            description = "How long to wait for a worker when none is left. Default ${DEFAULT-VALUE}.")
    private String patience;

    boolean isEmpty() {
        return workers.isEmpty();
    }

    /**
     * Runs all points.
     *
     * @param work what workers run
     * @param here the same on this machine
     * @param mostHere most runs at the same time here
     * @param sink gets the results in the order of the points
     * @throws boldanvil.core.finding.FindingException when they cannot be run
     */
    <T extends Serializable> void each(Work work, PointRun<T> here, int mostHere, List<Map<String, Double>> points, Class<T> type,
            PrintWriter err, Consumer<? super T> sink) {
        try (var crew = Crew.open(where())) {
            crew.each(work, here, mostHere, points, lines(err, points.size()), type, sink);
        }
    }

    /** Where the runs are to be done. */
    Crew.Where where() {
        return new Crew.Where(threads, workers, key, listen, Texts.nanos("--patience", patience) / 1e9);
    }

    /** Writes how far a study of so many runs is. */
    static StudyListener lines(PrintWriter err, int all) {
        return new Lines(err, all);
    }

    /** A line for each tenth of the runs, and for each note. */
    private static final class Lines implements StudyListener {
        private final PrintWriter err;
        private final int tenth;

        Lines(PrintWriter err, int all) {
            this.err = err;
            tenth = Math.max(1, all / 10);
        }

        @Override
        public void done(int runs, int all) {
            if (runs % tenth == 0 || runs == all) {
                note(runs + " of " + all + " runs");
            }
        }

        @Override
        public synchronized void note(String sentence) {
            err.println("· " + sentence);
            err.flush();
        }
    }
}
