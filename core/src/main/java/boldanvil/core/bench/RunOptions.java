package boldanvil.core.bench;

import boldanvil.core.simulate.Change;
import java.nio.file.Path;
import java.util.List;

/**
 * How a rig is run.
 *
 * @param endNanos virtual time at which it ends; {@link Long#MAX_VALUE} for when it is stopped
 * @param speed virtual seconds per wall second; {@link Double#POSITIVE_INFINITY} for as fast as it can
 * @param changes changes planned beforehand
 * @param buildFolder where generated files and images go
 */
public record RunOptions(long endNanos, double speed, List<Change> changes, Path buildFolder) {
    public RunOptions {
        changes = List.copyOf(changes);
    }
}
