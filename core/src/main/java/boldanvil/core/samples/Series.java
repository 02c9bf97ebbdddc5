package boldanvil.core.samples;

import java.util.Arrays;

/**
 * The samples of one tap.
 *
 * @param name full address, such as {@code controller.position}
 * @param unit SI unit; empty for a pure number
 * @param times instants in seconds, rising
 * @param values as many values, SI
 */
public record Series(String name, String unit, double[] times, double[] values) {
    public Series {
        if (times.length != values.length) {
            throw new IllegalArgumentException(name + ": " + times.length + " instants, " + values.length + " values");
        }
    }

    public int size() {
        return times.length;
    }

    /** The same samples, later by some seconds. */
    public Series shifted(double seconds) {
        return seconds == 0 ? this : new Series(name, unit, Arrays.stream(times).map(t -> t + seconds).toArray(), values);
    }

    /** The value at an instant: on the straight line between the samples around it; NaN outside. */
    public double at(double time) {
        int i = Arrays.binarySearch(times, time);
        if (i >= 0) {
            return values[i];
        }
        int right = -i - 1;
        if (right == 0 || right == times.length) {
            return Double.NaN;
        }
        double share = (time - times[right - 1]) / (times[right] - times[right - 1]);
        return values[right - 1] + share * (values[right] - values[right - 1]);
    }

    @Override
    public boolean equals(Object o) {
        return o instanceof Series s && s.name.equals(name) && s.unit.equals(unit) && Arrays.equals(s.times, times)
                && Arrays.equals(s.values, values);
    }

    @Override
    public int hashCode() {
        return name.hashCode() * 31 + Arrays.hashCode(values);
    }
}
