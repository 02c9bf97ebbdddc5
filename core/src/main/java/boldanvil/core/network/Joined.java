package boldanvil.core.network;

import java.util.HashMap;
import java.util.Map;

/**
 * Which things belong together because they were joined, directly or through others (a disjoint-set forest).
 *
 * @param <T> with equals and hashCode
 */
public final class Joined<T> {
    private final Map<T, T> next = new HashMap<>();

    /** Joins two things and all that belongs to them. */
    public void join(T a, T b) {
        T from = root(a);
        T to = root(b);
        if (!from.equals(to)) {
            next.put(from, to);
        }
    }

    /** The one that stands for all that belongs together with a thing; itself where it was never joined. */
    public T root(T thing) {
        T at = thing;
        for (T up = next.get(at); up != null; up = next.get(at)) {
            at = up;
        }
        return at;
    }
}
