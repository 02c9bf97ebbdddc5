package boldanvil.core.bench;

import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * How a run fares.
 *
 * @param parts how long steps take, part by part
 * @param overruns how often the machine fell behind the wall clock, or a device missed a step
 * @param lostRows rows of measured values that did not arrive; they are missing in the run
 * @param rowsPerSecond rows of measured values that arrive
 * @param drift by how much simulated time is ahead of the wall clock since the start, in seconds; below 0 when behind
 */
public record Health(List<Part> parts, long overruns, long lostRows, double rowsPerSecond, double drift) {
    public static final Health NONE = new Health(List.of(), 0, 0, 0, 0);

    /**
     * How quick the link to a PLC is, in seconds of the wall clock.
     *
     * @param mean from a new input to what the scan made of it; of a real PLC until it confirms what was written
     * @param usual what 99 of 100 of these times do not exceed
     * @param longest the longest of these times
     * @param age how old the values of a real PLC have been at most; 0 for a stand-in, which is asked in each scan
     */
    public record Link(double mean, double usual, double longest, double age) {}

    /**
     * How quickly a target answers, in seconds of simulated time: from the first edge within a step to the outputs that follow from it.
     *
     * @param usual what 99 of 100 of these times do not exceed
     * @param counts how many took how long, in the classes of {@code ExecutionTimes}
     * @param budget the longest time allowed; 0 for no limit
     * @param overruns how often a step of the part had not ended as the next one was due
     */
    public record Latency(double mean, double usual, double longest, long[] counts, double budget, long overruns) {}

    /**
     * A part.
     *
     * @param where on a device, or how else
     * @param step its base sample time, in seconds
     * @param mean mean time of a step, in seconds: on a stand-in what the board's cycle table says, elsewhere measured on this machine
     * @param longest longest time of a step, in seconds
     * @param counts how many steps took how long, in the classes of {@code ExecutionTimes}
     * @param tasks load of each task, 0 to 1 and beyond, where it is known
     * @param link of a part on a PLC; empty for others
     * @param latency of a part on a real-time target; empty for others
     */
    public record Part(String name, String where, double step, double mean, double longest, long[] counts, Map<String, Double> tasks,
            Optional<Link> link, Optional<Latency> latency) {
        /** Share of its sample time that a step takes in the mean. */
        public double load() {
            return step > 0 ? mean / step : 0;
        }
    }
}
