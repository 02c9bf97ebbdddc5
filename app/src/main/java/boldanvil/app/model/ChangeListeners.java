package boldanvil.app.model;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Executor;
import java.util.concurrent.atomic.AtomicBoolean;

/** Who is called on the window's thread when something has changed on another, not more often than the window can take it. */
final class ChangeListeners {
    private final Executor window;
    private final List<Runnable> listeners = new ArrayList<>();
    private final AtomicBoolean reported = new AtomicBoolean();

    ChangeListeners(Executor window) {
        this.window = window;
    }

    void add(Runnable listener) {
        listeners.add(listener);
    }

    /** Something has changed; on any thread. */
    void changed() {
        if (reported.compareAndSet(false, true)) {
            window.execute(() -> {
                reported.set(false);
                List.copyOf(listeners).forEach(Runnable::run);
            });
        }
    }
}
