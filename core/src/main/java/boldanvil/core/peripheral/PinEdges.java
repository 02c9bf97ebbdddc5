package boldanvil.core.peripheral;

import java.util.ArrayList;
import java.util.List;

/**
 * The edges a PWM channel's registers make at its pins, in counts of the timer's clock, before its divider.
 *
 * @param prescaler divider in front of the counter
 * @param period counts of a period, of half a period when centre aligned
 * @param compare counts the high side is on, in the same measure
 * @param dead counts of the timer's clock by which each output is switched on late
 */
public record PinEdges(long prescaler, long period, boolean centre, long compare, long dead) {
    /** A change of level: {@code low} is the complement's pin. */
    public record Edge(long at, boolean low, boolean rising) {}

    /** Length of a period in counts of the clock. */
    public long length() {
        return prescaler * period * (centre ? 2 : 1);
    }

    private long on() {
        return prescaler * compare * (centre ? 2 : 1);
    }

    /**
     * Every edge of some periods, in the order of time. Edge aligned, the high side is on from the beginning of the period; centre aligned,
     * half its time before and half after the beginning.
     */
    public List<Edge> edges(int periods) {
        List<Edge> all = new ArrayList<>();
        long on = on();
        long start = centre ? -on / 2 : 0;
        for (int i = 0; i < periods && on > 0 && on < length(); i++) {
            long rise = start + i * length();
            long fall = rise + on;
            if (on > dead) {
                all.add(new Edge(rise + dead, false, true));
                all.add(new Edge(fall, false, false));
            }
            if (length() - on > dead) {
                all.add(new Edge(fall + dead, true, true));
                all.add(new Edge(rise + length(), true, false));
            }
        }
        all.sort(java.util.Comparator.comparingLong(Edge::at));
        return all;
    }

    /** Clock counts from one rising edge of a side to the next, as a capture timer stamps them; 0 where it stands still. */
    public long capturedPeriod(boolean low) {
        var rising = edges(2).stream().filter(e -> e.low() == low && e.rising()).toList();
        return rising.size() < 2 ? 0 : rising.get(1).at() - rising.get(0).at();
    }

    /** Clock counts from a rising edge of a side to the falling one after it. */
    public long capturedHigh(boolean low) {
        var edges = edges(2).stream().filter(e -> e.low() == low).toList();
        for (int i = 0; i + 1 < edges.size(); i++) {
            if (edges.get(i).rising() && !edges.get(i + 1).rising()) {
                return edges.get(i + 1).at() - edges.get(i).at();
            }
        }
        return low == (compare == 0) ? length() : 0;
    }

    /** Clock counts from a falling edge of the high side to the next rising edge of the low side; 0 where there are none. */
    public long capturedDead() {
        var edges = edges(3);
        for (int i = 0; i < edges.size(); i++) {
            if (!edges.get(i).low() && !edges.get(i).rising()) {
                for (int j = i; j < edges.size(); j++) {
                    if (edges.get(j).low() && edges.get(j).rising()) {
                        return edges.get(j).at() - edges.get(i).at();
                    }
                }
            }
        }
        return 0;
    }
}
