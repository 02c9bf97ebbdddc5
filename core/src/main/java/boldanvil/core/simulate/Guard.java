package boldanvil.core.simulate;

/**
 * A limit that ends a run. It is looked at each time its tap has a new value, where the rig runs.
 *
 * @param tap full address
 * @param least value below which it counts, SI; minus infinity for none
 * @param most value above which it counts, SI; infinity for none
 * @param rate magnitude of the change in SI units a second above which it counts; infinity for none
 * @param seconds how long without a break it must count
 */
public record Guard(String tap, double least, double most, double rate, double seconds) {
    public Guard {
        if (Double.isNaN(least) || Double.isNaN(most) || !(least < most) || !(rate > 0) || !(seconds >= 0)) {
            throw new IllegalArgumentException("The limits of " + tap + " allow no value.");
        }
    }

    /** What is wrong with a value; empty when nothing is. */
    String breach(double value, double change) {
        if (value > most || Double.isNaN(value)) {
            return "was " + value + ", above its limit " + most;
        }
        if (value < least) {
            return "was " + value + ", below its limit " + least;
        }
        return Math.abs(change) > rate ? "changed by " + change + " per second, more than its limit " + rate : "";
    }
}
