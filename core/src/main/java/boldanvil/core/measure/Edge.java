package boldanvil.core.measure;

import boldanvil.core.samples.Series;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalDouble;

/**
 * A signal that crosses a level.
 *
 * @param seconds when, on the straight line between two samples
 */
public record Edge(double seconds, boolean rising) {
    /**
     * All edges of a signal.
     *
     * @param level what is crossed, in the signal's unit
     * @param hysteresis how far beyond the level, on both sides, a signal must go before the next edge counts
     */
    public static List<Edge> find(Series s, double level, double hysteresis) {
        List<Edge> edges = new ArrayList<>();
        int state = 0;
        double crossing = Double.NaN;
        for (int i = 0; i < s.size(); i++) {
            double v = s.values()[i];
            if (i > 0) {
                double before = s.values()[i - 1];
                if (before < level && v >= level || before > level && v <= level || before == level && v != level
                        && Double.isNaN(crossing)) {
                    double share = v == before ? 0 : (level - before) / (v - before);
                    crossing = s.times()[i - 1] + share * (s.times()[i] - s.times()[i - 1]);
                }
            }
            int now = v > level + hysteresis || hysteresis == 0 && v == level && state < 0 ? 1 : v < level - hysteresis ? -1 : state;
            if (now != state) {
                if (state != 0) {
                    edges.add(new Edge(Double.isNaN(crossing) ? s.times()[i] : crossing, now > 0));
                }
                state = now;
                crossing = Double.NaN;
            }
        }
        return edges;
    }

    /** Edges of a line that is 0 or 1, at the samples where it has its new value. */
    static List<Edge> ofLine(Series s) {
        List<Edge> edges = new ArrayList<>();
        for (int i = 1; i < s.size(); i++) {
            boolean now = s.values()[i] > 0.5;
            if (now != s.values()[i - 1] > 0.5) {
                edges.add(new Edge(s.times()[i], now));
            }
        }
        return edges;
    }

    /** The edge across a signal's middle that is nearest to an instant. */
    public static OptionalDouble nearest(Series s, double seconds) {
        var m = Measurement.of(s);
        return find(s, (m.least() + m.greatest()) / 2, 0.1 * m.peakToPeak()).stream().mapToDouble(Edge::seconds)
                .boxed().min(java.util.Comparator.comparingDouble(t -> Math.abs(t - seconds))).map(OptionalDouble::of)
                .orElse(OptionalDouble.empty());
    }
}
