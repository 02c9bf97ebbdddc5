package boldanvil.core.study;

import boldanvil.core.finding.FindingException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Consumer;

/** Does the runs of a study in this process, on several threads. */
public final class LocalRuns {
    private LocalRuns() {}

    /**
     * Runs all points.
     *
     * @param sink gets the results in the order of the points, as they come, so that they need not all be kept; fewer when the study was
     *     cancelled
     * @throws FindingException when {@code one} throws it; no further run begins then
     */
    public static <T> void each(List<Map<String, Double>> points, int threads, StudyListener listener, PointRun<T> one,
            Consumer<? super T> sink) {
        var order = new InOrder<T>(sink);
        var next = new AtomicInteger();
        var failed = new AtomicBoolean();
        Callable<Void> worker = () -> {
            try {
                while (!failed.get() && !listener.cancelled()) {
                    int i = next.getAndIncrement();
                    if (i >= points.size()) {
                        return null;
                    }
                    order.put(i, one.of(points.get(i)));
                    listener.done(order.size(), points.size());
                }
                return null;
            } catch (InterruptedException | RuntimeException e) {
                failed.set(true);
                throw e;
            }
        };
        try (var pool = Executors.newFixedThreadPool(threads)) {
            List<Future<Void>> all = new ArrayList<>();
            for (int i = 0; i < threads; i++) {
                all.add(pool.submit(worker));
            }
            for (var f : all) {
                f.get();
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (ExecutionException e) {
            throw e.getCause() instanceof FindingException f ? f : new IllegalStateException(e.getCause());
        }
    }
}
