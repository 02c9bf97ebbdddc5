package boldanvil.app.pages;

import boldanvil.app.chart.TraceView;
import boldanvil.app.model.RunViews;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.runs.Comparison;
import boldanvil.core.runs.RunDifferences;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.samples.Samples;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** Reads and compares the runs that are selected, and keeps their files open until others are. */
final class RunReader implements AutoCloseable {
    private final Map<String, Samples> opened = new HashMap<>();

    /** What is made of the chosen runs in the background. */
    record View(List<TraceView.Layer> layers, List<Chart> charts, Comparison comparison, List<RunDifferences.Row> origins,
            List<RunViews.Step> steps,
            List<boldanvil.core.runs.Mark> marks, double begin, double end) {}

    /** Opens and compares; to be called on one thread only. */
    View view(List<RunShelf.Entry> chosen, RunViews.Align how, boolean differences, List<Chart> charts, double allowed) {
        var ids = chosen.stream().map(RunShelf.Entry::id).toList();
        opened.keySet().stream().filter(id -> !ids.contains(id)).toList().forEach(id -> opened.remove(id).close());
        List<Samples> data = chosen.stream().map(e -> opened.computeIfAbsent(e.id(), _ -> e.open())).toList();
        List<TraceView.Layer> layers = new ArrayList<>();
        List<RunViews.Step> found = new ArrayList<>();
        double[] shifts = new double[data.size()];
        for (int i = 0; i < data.size(); i++) {
            shifts[i] = i == 0 ? 0 : RunViews.shift(data.getFirst(), data.get(i), charts, how);
            layers.add(new TraceView.Layer(chosen.get(i).note().title(), data.get(i), shifts[i]));
            found.addAll(RunViews.steps(chosen.get(i).note().title(), data.get(i), charts));
        }
        Comparison comparison = data.size() < 2 ? null : Comparison.of(data.get(0), data.get(1), Map.of("*", allowed), shifts[1]);
        List<RunDifferences.Row> origin = data.size() < 2 ? List.of() : RunDifferences.of(chosen.get(0), chosen.get(1));
        var shownCharts = charts;
        if (differences && data.size() >= 2) {
            layers.add(new TraceView.Layer("difference", RunViews.difference(data.get(0), data.get(1), charts, shifts[1])));
            shownCharts = RunViews.withDifferences(charts);
        }
        return new View(layers, shownCharts, comparison, origin, found, chosen.getFirst().marks(),
                data.stream().mapToDouble(Samples::begin).min().orElse(0),
                data.stream().mapToDouble(Samples::end).max().orElse(1));
    }

    @Override
    public void close() {
        opened.values().forEach(Samples::close);
        opened.clear();
    }
}
