package boldanvil.app.model;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Executor;
import java.util.function.Supplier;

/**
 * The newest result of some work in the background, for a view that shows it. All methods are called on the window's thread.
 *
 * @param <R> what comes out
 */
public final class Latest<R> {
    private final LatestWork work;
    private final List<Runnable> listeners = new ArrayList<>();
    private R result;

    /**
     * @param name of the thread
     * @param window runs what must happen on the window's thread
     */
    public Latest(String name, Executor window) {
        work = new LatestWork(name, window, () -> List.copyOf(listeners).forEach(Runnable::run));
    }

    public void onChange(Runnable listener) {
        listeners.add(listener);
    }

    /** Works out another result; until it is there, the one before stays. */
    void start(String doing, Supplier<R> what) {
        work.start(doing, what, r -> result = r);
    }

    /** Ends what is being worked out; the result before stays. */
    public void cancel() {
        work.cancel();
    }

    /** Forgets the result. */
    public void clear() {
        result = null;
        work.cancel();
    }

    public Optional<R> result() {
        return Optional.ofNullable(result);
    }

    /** What is being done, or why it cannot be done; empty for neither. */
    public String message() {
        return work.message();
    }

    public boolean isBusy() {
        return work.isBusy();
    }
}
