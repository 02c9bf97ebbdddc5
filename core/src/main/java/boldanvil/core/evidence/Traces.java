package boldanvil.core.evidence;

import boldanvil.core.quantity.Units;
import boldanvil.core.report.Plot;
import boldanvil.core.samples.Series;
import boldanvil.core.trial.StepResult;
import boldanvil.core.trial.StepResult.State;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.DoubleStream;

/** Charts of the signals around an expectation. */
public final class Traces {
    /** Columns of a chart; a curve keeps its extremes in each. */
    private static final int COLUMNS = 360;
    private static final int MOST_PANES = 4;
    private static final double MARGIN = 0.15;

    private Traces() {}

    /** The signals an expectation looked at, from before it began until after it was decided; empty where none was recorded. */
    static Optional<Plot> around(TrialRecord r, StepResult s) {
        List<Series> all = s.signals().stream().map(r.courses()::get).filter(c -> c != null && c.size() > 1).limit(MOST_PANES).toList();
        if (all.isEmpty() || !Double.isFinite(s.from())) {
            return Optional.empty();
        }
        double[] span = span(all, s);
        double from = span[0];
        double to = span[1];
        List<Plot.Pane> panes = new ArrayList<>();
        for (Series c : all) {
            panes.add(pane(c, s, from, to));
        }
        return Optional.of(new Plot("Line " + s.line() + ": " + s.text(), "time, s", from, to, panes));
    }

    /**
     * The span to show around a step.
     *
     * @param all signals with at least two samples
     * @return first and last instant
     */
    public static double[] span(List<Series> all, StepResult s) {
        double least = all.stream().mapToDouble(c -> c.times()[1] - c.times()[0]).max().orElse(0) * 20;
        double margin = Math.max(least, MARGIN * (s.to() - s.from()));
        return new double[] {Math.max(all.getFirst().times()[0], s.from() - margin), s.to() + margin};
    }

    /**
     * Points of a curve in the unit of the signal, as many as a chart can show; it keeps its extremes.
     *
     * @return instants and values
     */
    public static double[][] points(Series c, double from, double to) {
        var x = DoubleStream.builder();
        var y = DoubleStream.builder();
        int i = first(c, from);
        while (i < c.size() && c.times()[i] <= to) {
            double end = c.times()[i] + (to - from) / COLUMNS;
            int least = i;
            int most = i;
            while (i < c.size() && c.times()[i] < end) {
                least = c.values()[i] < c.values()[least] ? i : least;
                most = c.values()[i] > c.values()[most] ? i : most;
                i++;
            }
            for (int k : least == most ? new int[] {least} : new int[] {Math.min(least, most), Math.max(least, most)}) {
                x.add(c.times()[k]);
                y.add(Units.fromSi(c.unit(), c.values()[k]));
            }
        }
        return new double[][] {x.build().toArray(), y.build().toArray()};
    }

    private static Plot.Pane pane(Series c, StepResult s, double from, double to) {
        double[][] points = points(c, from, to);
        double low = Arrays.stream(points[1]).min().orElse(Double.POSITIVE_INFINITY);
        double high = Arrays.stream(points[1]).max().orElse(Double.NEGATIVE_INFINITY);
        double room = high > low ? 0.08 * (high - low) : Math.max(1e-9, Math.abs(high) * 0.1 + 0.1);
        low = Double.isFinite(low) ? low - room : 0;
        high = Double.isFinite(high) ? high + room : 1;
        String decided = s.state() == State.FAILED ? "#A12A30" : "#2F7A4C";
        List<Plot.Curve> curves = new ArrayList<>(List.of(
                new Plot.Curve("", "#6C7178", new double[] {4, 3}, new double[] {s.from(), s.from()}, new double[] {low, high}),
                new Plot.Curve("decided", decided, new double[] {6, 3}, new double[] {s.to(), s.to()}, new double[] {low, high}),
                new Plot.Curve("", "#2B5872", new double[0], points[0], points[1])));
        return new Plot.Pane(c.name() + (c.unit().isEmpty() ? "" : ", " + c.unit()), low, high, curves);
    }

    private static int first(Series c, double from) {
        int i = Arrays.binarySearch(c.times(), from);
        return i >= 0 ? i : Math.max(0, -i - 2);
    }
}
