package boldanvil.core.farm;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.study.PointRun;
import boldanvil.core.user.Log;
import java.io.Serializable;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.apache.ignite.Ignite;

/** What a worker has at hand to run. */
final class Bench {
    private static final String KEY = "boldanvil.bench";
    /** So many works are kept ready; one that was left behind is given anew. */
    private static final int MOST = 8;

    private final Map<String, PointRun<? extends Serializable>> works = new LinkedHashMap<>();

    Bench() {}

    static Bench of(Ignite ignite) {
        return (Bench) ignite.cluster().nodeLocalMap().computeIfAbsent(KEY, _ -> new Bench());
    }

    Answer open(String hash, byte[] packed) {
        try {
            if (!(Parcel.unpack(packed) instanceof Work work) || !work.hash().equals(hash)) {
                return refused(hash, "What arrived is not what was sent: its hash is another one.", "Run the study again.");
            }
            var runs = work.runs();
            synchronized (works) {
                works.put(hash, runs);
                if (works.size() > MOST) {
                    works.remove(works.keySet().iterator().next());
                }
            }
            return new Answer(hash, null, List.of());
        } catch (FindingException e) {
            return new Answer(hash, null, e.findings());
        } catch (IllegalArgumentException e) {
            Log.failed(Bench.class, e);
            return refused(hash, "The worker has another build of this program.", "Start the worker with the same build.");
        }
    }

    Answer run(String hash, Map<String, Double> point) {
        PointRun<? extends Serializable> runs;
        synchronized (works) {
            runs = works.get(hash);
        }
        if (runs == null) {
            return refused(hash, "The worker does not have this study.", "Run the study again.");
        }
        try {
            return new Answer(hash, runs.of(point), List.of());
        } catch (FindingException e) {
            return new Answer(hash, null, e.findings());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return refused(hash, "The run was interrupted.", "Run the study again.");
        } catch (RuntimeException e) {
            Log.failed(Bench.class, e);
            return refused(hash, "The run failed in an unexpected way: " + e + ".", "Please report it.");
        }
    }

    private static Answer refused(String hash, String cause, String cure) {
        return new Answer(hash, null, List.of(Finding.error("worker", cause, cure)));
    }
}
