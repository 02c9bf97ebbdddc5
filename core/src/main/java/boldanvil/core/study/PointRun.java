package boldanvil.core.study;

import java.util.Map;

/**
 * The run of one point. It is called by several threads at once.
 *
 * @param <T> what comes of it
 */
@FunctionalInterface
public interface PointRun<T> {
    /** @param point SI values by name */
    T of(Map<String, Double> point) throws InterruptedException;
}
