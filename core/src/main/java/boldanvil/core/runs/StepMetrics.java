package boldanvil.core.runs;

/**
 * How a signal goes from one level to another (terms as in IEC 60050-351).
 *
 * @param riseTime from 10 % to 90 % of the step, seconds; NaN when it does not get there
 * @param overshoot largest excursion beyond the end level, in the signal's unit; 0 when there is none
 * @param settlingTime from the start until the signal stays within the band, seconds; NaN when it never does
 * @param finalError end value minus end level
 */
public record StepMetrics(double riseTime, double overshoot, double settlingTime, double finalError) {
    /**
     * Measures a step.
     *
     * @param start when the step begins, seconds
     * @param from level before
     * @param to level after; different from {@code from}
     * @param band half width of the settling band around {@code to}, in the signal's unit
     */
    public static StepMetrics of(Series s, double start, double from, double to, double band) {
        if (from == to) {
            throw new IllegalArgumentException("A step needs two levels.");
        }
        double t10 = Double.NaN;
        double t90 = Double.NaN;
        double overshoot = 0;
        double outsideUntil = Double.NaN;
        double last = Double.NaN;
        for (int i = 0; i < s.size(); i++) {
            double t = s.times()[i];
            if (t < start) {
                continue;
            }
            double v = s.values()[i];
            double share = (v - from) / (to - from);
            t10 = Double.isNaN(t10) && share >= 0.1 ? t : t10;
            t90 = Double.isNaN(t90) && share >= 0.9 ? t : t90;
            overshoot = Math.max(overshoot, (share - 1) * Math.abs(to - from));
            if (Math.abs(v - to) > band) {
                outsideUntil = t;
            }
            last = v;
        }
        boolean settled = Math.abs(last - to) <= band;
        double settling = !settled ? Double.NaN : Double.isNaN(outsideUntil) ? 0 : outsideUntil - start;
        return new StepMetrics(t90 - t10, overshoot, settling, last - to);
    }
}
