package boldanvil.core.loop;

import boldanvil.core.linear.StateSpace;
import java.util.List;
import java.util.stream.IntStream;
import org.ejml.simple.SimpleMatrix;

/**
 * A plant, linear at an operating point, from one wire to some outputs; sampled as the wire is.
 *
 * @param states what each state is: part and slot; empty where the coordinates are others
 * @param outputs their names
 * @param input value of the wire at the operating point, SI
 * @param values of the outputs there, SI
 * @param seconds the instant of the operating point
 */
public record Plant(StateSpace system, List<String> states, List<String> outputs, double input, double[] values, double seconds) {
    /** Share of what is subtracted that counts as rounding. */
    private static final double ROUNDING = 1e-10;

    /** The same with another system, whose states have no names. */
    public Plant as(StateSpace other) {
        return new Plant(other, List.of(), outputs, input, values, seconds);
    }

    /** A system without the states that its outputs do not show. */
    record Cut(StateSpace system, int[] kept) {}

    /**
     * The system that is left when the wire is driven from outside.
     *
     * @param closed from what is added to the wire to what comes back in it, the first output, and to the others
     */
    static Cut cut(StateSpace closed) {
        int n = closed.states();
        int m = closed.outputs() - 1;
        // The wire is what comes back and what is added.
        SimpleMatrix back = closed.c().extractMatrix(0, 1, 0, n);
        double scale = 1 / (1 + closed.d().get(0, 0));
        SimpleMatrix b = closed.b().scale(scale);
        SimpleMatrix d = closed.d().extractMatrix(1, m + 1, 0, 1).scale(scale);
        SimpleMatrix a = less(closed.a(), b.mult(back));
        SimpleMatrix c = less(closed.c().extractMatrix(1, m + 1, 0, n), d.mult(back));
        boolean[] seen = new boolean[n];
        for (boolean more = true; more; ) {
            more = false;
            for (int j = 0; j < n; j++) {
                if (!seen[j] && shows(a, c, seen, j)) {
                    seen[j] = true;
                    more = true;
                }
            }
        }
        int[] kept = IntStream.range(0, n).filter(j -> seen[j]).toArray();
        return new Cut(new StateSpace(picked(a, kept, kept), picked(b, kept, new int[] {0}),
                picked(c, IntStream.range(0, m).toArray(), kept), d,
                closed.period()), kept);
    }

    private static boolean shows(SimpleMatrix a, SimpleMatrix c, boolean[] seen, int j) {
        return IntStream.range(0, c.getNumRows()).anyMatch(k -> c.get(k, j) != 0)
                || IntStream.range(0, seen.length).anyMatch(i -> seen[i] && i != j && a.get(i, j) != 0);
    }

    private static SimpleMatrix less(SimpleMatrix from, SimpleMatrix what) {
        SimpleMatrix rest = from.minus(what);
        for (int i = 0; i < rest.getNumElements(); i++) {
            if (Math.abs(rest.get(i)) <= ROUNDING * Math.max(Math.abs(from.get(i)), Math.abs(what.get(i)))) {
                rest.set(i, 0);
            }
        }
        return rest;
    }

    private static SimpleMatrix picked(SimpleMatrix m, int[] rows, int[] columns) {
        var p = new SimpleMatrix(rows.length, columns.length);
        for (int i = 0; i < rows.length; i++) {
            for (int j = 0; j < columns.length; j++) {
                p.set(i, j, m.get(rows[i], columns[j]));
            }
        }
        return p;
    }
}
