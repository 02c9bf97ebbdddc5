package boldanvil.app.model;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.user.Log;
import java.util.concurrent.Executor;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.function.Consumer;
import java.util.function.Supplier;

/**
 * Works things out in the background, one after the other; only the result of the newest request arrives. What cannot be done becomes the
 * message. All methods are called on the window's thread.
 */
public final class LatestWork {
    private final Executor window;
    private final Runnable changed;
    private final ExecutorService worker;
    private Future<?> current;
    private String message = "";
    private boolean busy;
    private long asked;

    /**
     * @param name of the thread
     * @param window runs what must happen on the window's thread
     * @param changed is run there when message, state or result changed
     */
    public LatestWork(String name, Executor window, Runnable changed) {
        this.window = window;
        this.changed = changed;
        worker = Executors.newSingleThreadExecutor(r -> Thread.ofPlatform().daemon().name(name).unstarted(r));
    }

    /**
     * Works something out.
     *
     * @param doing what is shown meanwhile
     * @param done gets the result, on the window's thread
     */
    public <T> void start(String doing, Supplier<T> what, Consumer<T> done) {
        long mine = ++asked;
        busy = true;
        message = doing;
        changed.run();
        current = worker.submit(() -> {
            Runnable end;
            try {
                T result = what.get();
                end = () -> {
                    message = "";
                    done.accept(result);
                };
            } catch (FindingException e) {
                end = () -> message = e.findings().getFirst().toString();
            } catch (NoSolutionException e) {
                end = () -> message = e.getMessage() + " " + e.cure();
            } catch (FormulaException e) {
                end = () -> message = "A value cannot be computed: " + e.getMessage();
            } catch (RuntimeException e) {
                Log.ignored(LatestWork.class, e, "It cannot be computed.");
                end = () -> message = "This cannot be computed: " + Finding.reason(e) + ".";
            }
            Runnable shown = end;
            window.execute(() -> {
                if (mine == asked) {
                    busy = false;
                    shown.run();
                    changed.run();
                }
            });
        });
    }

    /** Something short on the same thread, whose end the caller looks after. */
    void execute(Runnable what) {
        worker.execute(what);
    }

    /** Whatever is being worked out does not arrive any more. */
    public void cancel() {
        asked++;
        if (current != null) {
            current.cancel(true);
        }
        busy = false;
        message = "";
        changed.run();
    }

    /** What is being done, or why it cannot be done; empty for neither. */
    public String message() {
        return message;
    }

    public boolean isBusy() {
        return busy;
    }
}
