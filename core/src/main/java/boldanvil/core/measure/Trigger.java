package boldanvil.core.measure;

import boldanvil.core.samples.Series;
import java.util.List;
import java.util.OptionalDouble;

/**
 * What a chart waits for.
 *
 * @param level of the signal, in its unit
 * @param hysteresis how far the signal must have been on the other side, in its unit
 * @param least shortest pulse, seconds; for {@link Kind#PULSE}
 * @param most longest pulse, seconds; for {@link Kind#PULSE}
 */
public record Trigger(Kind kind, double level, double hysteresis, double least, double most) {
    /** Kinds of conditions. */
    public enum Kind {
        RISING("rises through"), FALLING("falls through"), EITHER("crosses"), ABOVE("is above"), BELOW("is below"), PULSE("is above for"),
                CHANGE("changes");

        private final String label;

        Kind(String label) {
            this.label = label;
        }

        /** The words for it, behind the name of a signal. */
        public String label() {
            return label;
        }
    }

    public static Trigger edge(Kind kind, double level, double hysteresis) {
        return new Trigger(kind, level, hysteresis, 0, Double.POSITIVE_INFINITY);
    }

    /**
     * The first instant at which the condition is met.
     *
     * @param s the signal; a trigger sees no more of it
     * @param after only instants behind this one count
     */
    public OptionalDouble first(Series s, double after) {
        return switch (kind) {
            case RISING -> edge(Edge.find(s, level, hysteresis), after, true, false);
            case FALLING -> edge(Edge.find(s, level, hysteresis), after, false, true);
            case EITHER -> edge(Edge.find(s, level, hysteresis), after, true, true);
            case ABOVE -> sample(s, after, 1);
            case BELOW -> sample(s, after, -1);
            case CHANGE -> change(s, after);
            case PULSE -> pulse(Edge.find(s, level, hysteresis), after);
        };
    }

    private static OptionalDouble edge(List<Edge> edges, double after, boolean rising, boolean falling) {
        return edges.stream().filter(e -> e.seconds() > after && (e.rising() ? rising : falling)).mapToDouble(Edge::seconds).findFirst();
    }

    private OptionalDouble sample(Series s, double after, int side) {
        for (int i = 0; i < s.size(); i++) {
            if (s.times()[i] > after && side * (s.values()[i] - level) > 0) {
                return OptionalDouble.of(s.times()[i]);
            }
        }
        return OptionalDouble.empty();
    }

    private static OptionalDouble change(Series s, double after) {
        for (int i = 1; i < s.size(); i++) {
            if (s.times()[i] > after && s.values()[i] != s.values()[i - 1]) {
                return OptionalDouble.of(s.times()[i]);
            }
        }
        return OptionalDouble.empty();
    }

    /** The end of the first pulse that is neither too short nor too long. */
    private OptionalDouble pulse(List<Edge> edges, double after) {
        for (int i = 1; i < edges.size(); i++) {
            double width = edges.get(i).seconds() - edges.get(i - 1).seconds();
            if (edges.get(i - 1).rising() && edges.get(i).seconds() > after && width >= least && width <= most) {
                return OptionalDouble.of(edges.get(i).seconds());
            }
        }
        return OptionalDouble.empty();
    }
}
