package boldanvil.core.measure;

import boldanvil.core.quantity.Unit;
import boldanvil.core.samples.Series;

/**
 * What a signal is like over a span of time. Between samples it is taken to run straight, so mean and RMS are integrals over time and
 * do not depend on how its samples lie.
 *
 * @param seconds length of the span
 * @param mean mean over time, in the signal's unit
 * @param rms root of the mean square over time
 * @param least least value
 * @param greatest greatest value
 * @param frequency whole periods a second, 1/s; NaN where there is no whole period
 * @param duty share of the whole periods that lies above the middle between least and greatest; NaN where there is none
 */
public record Measurement(double seconds, double mean, double rms, double least, double greatest, double frequency, double duty) {
    /**
     * The same of a signal measured in SI, in a unit; an RMS value has no meaning on a scale with a zero of its own, and stays a difference
     * from it.
     */
    public Measurement in(Unit unit) {
        return new Measurement(seconds, unit.fromSi(mean), unit.isPlain() ? unit.fromSi(rms) : Double.NaN, unit.fromSi(least),
                unit.fromSi(greatest), frequency, duty);
    }

    /** Share of the peak-to-peak value by which a signal must cross its middle before that counts. */
    private static final double HYSTERESIS = 0.1;

    /** Nothing was there to measure. */
    public static final Measurement NONE = new Measurement(0, Double.NaN, Double.NaN, Double.NaN, Double.NaN, Double.NaN, Double.NaN);

    /** From the lowest to the highest value. */
    public double peakToPeak() {
        return greatest - least;
    }

    /** RMS of what remains without the mean. */
    public double rippleRms() {
        return Math.sqrt(Math.max(0, rms * rms - mean * mean));
    }

    /** Measures all samples of a series; values that are no numbers are passed over. */
    public static Measurement of(Series s) {
        double[] t = s.times();
        double[] v = s.values();
        double least = Double.NaN;
        double greatest = Double.NaN;
        double area = 0;
        double square = 0;
        double seconds = 0;
        double plain = 0;
        int n = 0;
        for (int i = 0; i < t.length; i++) {
            if (Double.isNaN(v[i])) {
                continue;
            }
            least = !(least <= v[i]) ? v[i] : least;
            greatest = !(greatest >= v[i]) ? v[i] : greatest;
            plain += v[i];
            n++;
            if (i > 0 && !Double.isNaN(v[i - 1])) {
                double dt = t[i] - t[i - 1];
                seconds += dt;
                area += dt * (v[i] + v[i - 1]) / 2;
                square += dt * (v[i] * v[i] + v[i] * v[i - 1] + v[i - 1] * v[i - 1]) / 3;
            }
        }
        if (n == 0) {
            return NONE;
        }
        double mean = seconds > 0 ? area / seconds : plain / n;
        double rms = seconds > 0 ? Math.sqrt(square / seconds) : Math.abs(mean);
        var edges = greatest > least ? Edge.find(s, (least + greatest) / 2, HYSTERESIS * (greatest - least)) : java.util.List.<Edge>of();
        var periods = periods(edges);
        return new Measurement(seconds, mean, rms, least, greatest, periods[0], periods[1]);
    }

    /** Frequency and duty cycle from the first rising edge to the last. */
    private static double[] periods(java.util.List<Edge> edges) {
        double first = Double.NaN;
        double last = Double.NaN;
        double high = 0;
        double highUntilLast = 0;
        double up = Double.NaN;
        int rising = 0;
        for (Edge e : edges) {
            if (e.rising()) {
                first = Double.isNaN(first) ? e.seconds() : first;
                last = e.seconds();
                up = e.seconds();
                highUntilLast = high;
                rising++;
            } else if (!Double.isNaN(up)) {
                high += e.seconds() - up;
            }
        }
        return rising < 2 ? new double[] {Double.NaN, Double.NaN} : new double[] {(rising - 1) / (last - first),
                highUntilLast / (last - first)};
    }

    /**
     * The mean over a period that ends at each sample, such as the mean of a current over a switching period.
     *
     * @param period in seconds, above 0
     * @return from the first sample on that has a whole period before it
     */
    public static Series meanOver(Series s, double period) {
        if (!(period > 0)) {
            throw new IllegalArgumentException("a period of " + period + " s");
        }
        int n = s.size();
        double[] t = s.times();
        double[] area = new double[n];
        for (int i = 1; i < n; i++) {
            area[i] = area[i - 1] + (t[i] - t[i - 1]) * (s.values()[i] + s.values()[i - 1]) / 2;
        }
        int first = 0;
        while (first < n && t[first] - t[0] < period * (1 - 1e-9)) {
            first++;
        }
        double[] times = java.util.Arrays.copyOfRange(t, first, n);
        double[] values = new double[n - first];
        int left = 0;
        for (int i = first; i < n; i++) {
            double from = Math.max(t[0], t[i] - period);
            while (left + 1 < n && t[left + 1] <= from) {
                left++;
            }
            // The area up to a point between two samples.
            double dt = from - t[left];
            double slope = left + 1 < n ? (s.values()[left + 1] - s.values()[left]) / (t[left + 1] - t[left]) : 0;
            double before = area[left] + dt * (s.values()[left] + slope * dt / 2);
            values[i - first] = (area[i] - before) / (t[i] - from);
        }
        return new Series(s.name(), s.unit(), times, values);
    }
}
