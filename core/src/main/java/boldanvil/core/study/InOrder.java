package boldanvil.core.study;

import java.util.HashMap;
import java.util.Map;
import java.util.function.Consumer;

/**
 * Hands on results in the order of their points, each once, as soon as those before it are there. Any thread may put results in.
 *
 * @param <T> what comes of a run
 */
public final class InOrder<T> {
    private final Consumer<? super T> next;
    private final Map<Integer, T> early = new HashMap<>();
    private int handedOn;

    public InOrder(Consumer<? super T> next) {
        this.next = next;
    }

    /**
     * Takes a result; one that is there already changes nothing.
     *
     * @param index of its point, from 0
     * @return whether it was new
     */
    public synchronized boolean put(int index, T result) {
        if (index < handedOn || early.putIfAbsent(index, result) != null) {
            return false;
        }
        for (T r = early.remove(handedOn); r != null; r = early.remove(handedOn)) {
            handedOn++;
            next.accept(r);
        }
        return true;
    }

    /** How many results have been handed on. */
    public synchronized int handedOn() {
        return handedOn;
    }

    /** How many results are there, handed on or waiting for those before them. */
    public synchronized int size() {
        return handedOn + early.size();
    }
}
