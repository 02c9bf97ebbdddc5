package boldanvil.core.evidence;

import boldanvil.core.quantity.Units;
import boldanvil.core.report.Plot;
import boldanvil.core.samples.Series;
import boldanvil.core.trial.StepResult;
import boldanvil.core.trial.StepResult.State;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Charts of the signals around an expectation. */
final class Traces {
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
        double least = all.stream().mapToDouble(c -> c.times()[1] - c.times()[0]).max().orElse(0) * 20;
        double margin = Math.max(least, MARGIN * (s.to() - s.from()));
        double from = Math.max(all.getFirst().times()[0], s.from() - margin);
        double to = s.to() + margin;
        List<Plot.Pane> panes = new ArrayList<>();
        for (Series c : all) {
            panes.add(pane(c, s, from, to));
        }
        return Optional.of(new Plot("Line " + s.line() + ": " + s.text(), "time, s", from, to, panes));
    }

    private static Plot.Pane pane(Series c, StepResult s, double from, double to) {
        List<Double> x = new ArrayList<>();
        List<Double> y = new ArrayList<>();
        double low = Double.POSITIVE_INFINITY;
        double high = Double.NEGATIVE_INFINITY;
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
                double v = Units.fromSi(c.unit(), c.values()[k]);
                x.add(c.times()[k]);
                y.add(v);
                low = Math.min(low, v);
                high = Math.max(high, v);
            }
        }
        double room = high > low ? 0.08 * (high - low) : Math.max(1e-9, Math.abs(high) * 0.1 + 0.1);
        low = Double.isFinite(low) ? low - room : 0;
        high = Double.isFinite(high) ? high + room : 1;
        String decided = s.state() == State.FAILED ? "#A12A30" : "#2F7A4C";
        List<Plot.Curve> curves = new ArrayList<>(List.of(
                new Plot.Curve("", "#6C7178", new double[] {4, 3}, new double[] {s.from(), s.from()}, new double[] {low, high}),
                new Plot.Curve("decided", decided, new double[] {6, 3}, new double[] {s.to(), s.to()}, new double[] {low, high}),
                new Plot.Curve("", "#2B5872", new double[0], array(x), array(y))));
        return new Plot.Pane(c.name() + (c.unit().isEmpty() ? "" : ", " + c.unit()), low, high, curves);
    }

    private static int first(Series c, double from) {
        int i = java.util.Arrays.binarySearch(c.times(), from);
        return i >= 0 ? i : Math.max(0, -i - 2);
    }

    private static double[] array(List<Double> all) {
        return all.stream().mapToDouble(Double::doubleValue).toArray();
    }
}
