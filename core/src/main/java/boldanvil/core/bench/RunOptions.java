package boldanvil.core.bench;

import boldanvil.core.control.DeviceFault;
import boldanvil.core.simulate.Change;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;

/**
 * How a rig is run.
 *
 * @param endNanos simulated time at which it ends; {@link Long#MAX_VALUE} for when it is stopped
 * @param speed virtual seconds per wall second; {@link Double#POSITIVE_INFINITY} for as fast as it can
 * @param changes changes planned beforehand
 * @param buildFolder where generated files and images go
 * @param faults what stand-ins are to play while images are put on them, by part
 * @param coverage whether models note how much of them runs
 */
public record RunOptions(long endNanos, double speed, List<Change> changes, Path buildFolder, Map<String, DeviceFault> faults,
        boolean coverage) {
    /** Samples of a tap kept of a run without an end: more than three minutes at 10 kHz. */
    private static final int OPEN_END_SAMPLES = 2_000_000;

    public RunOptions {
        changes = List.copyOf(changes);
        faults = Map.copyOf(faults);
    }

    public RunOptions(long endNanos, double speed, List<Change> changes, Path buildFolder, Map<String, DeviceFault> faults) {
        this(endNanos, speed, changes, buildFolder, faults, false);
    }

    public RunOptions(long endNanos, double speed, List<Change> changes, Path buildFolder) {
        this(endNanos, speed, changes, buildFolder, Map.of());
    }

    /** The same run, with or without notes of how much of the models runs. */
    public RunOptions withCoverage(boolean on) {
        return new RunOptions(endNanos, speed, changes, buildFolder, faults, on);
    }

    /** How many samples of a tap are kept: all, where the run has an end. */
    int sampleLimit() {
        return endNanos == Long.MAX_VALUE ? OPEN_END_SAMPLES : Integer.MAX_VALUE;
    }
}
