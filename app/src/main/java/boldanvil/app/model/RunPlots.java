package boldanvil.app.model;

import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.report.Plot;
import boldanvil.core.samples.Samples;
import java.util.ArrayList;
import java.util.List;

/** Charts of runs as they are written to files. */
public final class RunPlots {
    /** Trace colours of the day, as the window has them. */
    private static final String[] COLOURS = {"#0B6AA2", "#C2570C", "#00795B", "#A84A86", "#7A6A00", "#3D4852"};
    private static final double[][] DASHES = {{}, {7, 4}, {2, 3}, {10, 3}};
    private static final int BINS = 1_200;

    /** A run and the seconds by which it is shown later. */
    public record Shown(String name, Samples samples, double shift) {}

    private RunPlots() {}

    /** The panes of some charts over a span of time. */
    public static Plot of(String title, List<Chart> charts, List<Shown> runs, double from, double to) {
        List<Plot.Pane> panes = new ArrayList<>();
        for (Chart c : charts) {
            List<Plot.Curve> curves = new ArrayList<>();
            double low = Double.POSITIVE_INFINITY;
            double high = Double.NEGATIVE_INFINITY;
            var unit = ChartUnit.of(c, false);
            for (int r = 0; r < runs.size(); r++) {
                for (int k = 0; k < c.taps().size(); k++) {
                    int column = runs.get(r).samples().indexOf(c.taps().get(k));
                    if (column >= 0) {
                        var curve = curve(runs.get(r), column, from, to, unit, COLOURS[k % COLOURS.length],
                                DASHES[Math.min(r, DASHES.length - 1)],
                                Figures.shortName(c.taps().get(k)) + (runs.size() > 1 ? ", " + runs.get(r).name() : ""));
                        curves.add(curve);
                        for (double v : curve.y()) {
                            low = v < low ? v : low;
                            high = v > high ? v : high;
                        }
                    }
                }
            }
            boolean any = low <= high;
            double room = any ? Math.max((high - low) * 0.07, Math.max(1e-9, Math.abs(high) * 0.02)) : 0;
            panes.add(new Plot.Pane(c.title() + (c.unit().isEmpty() ? "" : " [" + c.unit() + "]"), any ? low - room : 0, any ? high + room
                    : 1, curves));
        }
        return new Plot(title, "time [s]", from, to, panes);
    }

    /** Every sample where there are few, else the extremes of narrow parts. */
    private static Plot.Curve curve(Shown run, int column, double from, double to, ChartUnit unit, String colour, double[] dashes,
            String name) {
        double a = from - run.shift();
        double b = to - run.shift();
        double[] x;
        double[] y;
        if (run.samples().count(column, a, b) <= 2L * BINS) {
            var s = run.samples().series(column, a, b);
            x = s.times().clone();
            y = s.values().clone();
        } else {
            double[][] e = run.samples().envelope(column, a, b, BINS);
            x = new double[2 * BINS];
            y = new double[2 * BINS];
            for (int i = 0; i < BINS; i++) {
                boolean up = i % 2 == 0;
                x[2 * i] = a + (i + 0.25) * (b - a) / BINS;
                x[2 * i + 1] = a + (i + 0.75) * (b - a) / BINS;
                y[2 * i] = e[up ? 0 : 1][i];
                y[2 * i + 1] = e[up ? 1 : 0][i];
            }
        }
        for (int i = 0; i < x.length; i++) {
            x[i] += run.shift();
            y[i] = unit.at(y[i]);
        }
        return new Plot.Curve(name, colour, dashes, x, y);
    }
}
