package boldanvil.core.measure;

import boldanvil.core.samples.Series;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What digital lines say. A line is a series that is above one half while high. */
public final class Lines {
    private Lines() {}

    /**
     * A pulse-width modulated line over its whole periods.
     *
     * @param hertz mean frequency
     * @param duty mean duty cycle, 0 to 1
     * @param periods how many there were
     */
    public record Pwm(double hertz, double duty, int periods) {}

    /** Frequency and duty cycle; empty when there is no whole period. */
    public static Optional<Pwm> pwm(Series line) {
        var edges = Edge.ofLine(line);
        double first = Double.NaN;
        double last = Double.NaN;
        double high = 0;
        double until = 0;
        int rising = 0;
        for (Edge e : edges) {
            if (e.rising()) {
                first = Double.isNaN(first) ? e.seconds() : first;
                last = e.seconds();
                until = high;
                rising++;
            } else if (rising > 0) {
                high += e.seconds() - last;
            }
        }
        return rising < 2 ? Optional.empty() : Optional.of(new Pwm((rising - 1) / (last - first), until / (last - first), rising - 1));
    }

    /**
     * Dead time of two lines of a leg: the shortest time between one going low and the other going high; negative when both are ever
     * high at once; NaN where no side ever follows the other.
     */
    public static double deadTime(Series upper, Series lower) {
        return Math.min(gap(upper, lower), gap(lower, upper));
    }

    private static double gap(Series falls, Series rises) {
        var ups = Edge.ofLine(rises).stream().filter(Edge::rising).mapToDouble(Edge::seconds).toArray();
        var downs = Edge.ofLine(falls).stream().filter(e -> !e.rising()).mapToDouble(Edge::seconds).toArray();
        double least = Double.NaN;
        for (double up : ups) {
            // The fall of the other line that is nearest to this rise.
            double best = Double.NaN;
            for (double down : downs) {
                best = Double.isNaN(best) || Math.abs(up - down) < Math.abs(best) ? up - down : best;
            }
            least = !(least <= best) ? best : least;
        }
        return least;
    }

    /**
     * What an incremental encoder counted.
     *
     * @param count counts at four to a line, at each edge
     * @param errors edges at which both lines changed at once, so that the direction is not known
     * @param indices counts at which the index line rose
     */
    public record Encoder(Series count, int errors, List<Long> indices) {}

    /** Decodes two lines in quadrature; A before B counts up. */
    public static Encoder encoder(Series a, Series b, Optional<Series> index) {
        List<Double> times = new ArrayList<>();
        List<Double> counts = new ArrayList<>();
        List<Long> indices = new ArrayList<>();
        long count = 0;
        int errors = 0;
        boolean lastA = a.size() > 0 && a.values()[0] > 0.5;
        boolean lastB = b.size() > 0 && b.values()[0] > 0.5;
        boolean lastIndex = index.filter(s -> s.size() > 0).map(s -> s.values()[0] > 0.5).orElse(false);
        int n = Math.min(a.size(), b.size());
        for (int i = 1; i < n; i++) {
            boolean nowA = a.values()[i] > 0.5;
            boolean nowB = b.values()[i] > 0.5;
            if (nowA != lastA && nowB != lastB) {
                errors++;
            } else if (nowA != lastA) {
                count += nowA != nowB ? 1 : -1;
            } else if (nowB != lastB) {
                count += nowA == nowB ? 1 : -1;
            }
            if (nowA != lastA || nowB != lastB) {
                times.add(a.times()[i]);
                counts.add((double) count);
            }
            boolean nowIndex = index.isPresent() && i < index.get().size() && index.get().values()[i] > 0.5;
            if (nowIndex && !lastIndex) {
                indices.add(count);
            }
            lastA = nowA;
            lastB = nowB;
            lastIndex = nowIndex;
        }
        return new Encoder(new Series(a.name(), "", array(times), array(counts)), errors, indices);
    }

    private static double[] array(List<Double> l) {
        return l.stream().mapToDouble(Double::doubleValue).toArray();
    }

    /**
     * A byte on a serial line.
     *
     * @param start instant of its start bit
     * @param framed whether its stop bit was there
     * @param parity whether its parity was right; true where there is none
     */
    public record Character(double start, int value, boolean framed, boolean parity) {}

    /** Parity bits of a serial line. */
    public enum Parity { NONE, EVEN, ODD }

    /**
     * Reads a serial line that is high while idle (start bit low, least bit first, stop bit high).
     *
     * @param baud bits a second
     * @param bits data bits, 5 to 9
     */
    public static List<Character> uart(Series line, double baud, int bits, Parity parity) {
        List<Character> read = new ArrayList<>();
        double bit = 1 / baud;
        var edges = Edge.ofLine(line);
        double free = Double.NEGATIVE_INFINITY;
        double end = line.size() == 0 ? 0 : line.times()[line.size() - 1];
        for (Edge e : edges) {
            int width = bits + (parity == Parity.NONE ? 0 : 1);
            if (e.rising() || e.seconds() < free || e.seconds() + (width + 1.5) * bit > end) {
                continue;
            }
            int value = 0;
            int ones = 0;
            for (int i = 0; i < width; i++) {
                boolean high = high(line, e.seconds() + (1.5 + i) * bit);
                ones += high ? 1 : 0;
                value |= high && i < bits ? 1 << i : 0;
            }
            boolean right = parity == Parity.NONE || ones % 2 == (parity == Parity.EVEN ? 0 : 1);
            read.add(new Character(e.seconds(), value, high(line, e.seconds() + (1.5 + width) * bit), right));
            free = e.seconds() + (1.5 + width) * bit;
        }
        return read;
    }

    private static boolean high(Series s, double seconds) {
        int i = java.util.Arrays.binarySearch(s.times(), seconds);
        return s.values()[i >= 0 ? i : Math.max(0, -i - 2)] > 0.5;
    }
}
