package boldanvil.app.pages;

import boldanvil.app.chart.CurveView;
import boldanvil.app.model.TrialRow;
import boldanvil.app.page.PageHost;
import boldanvil.core.evidence.TrialRecord;
import boldanvil.core.evidence.Traces;
import boldanvil.core.samples.Series;
import boldanvil.core.trial.StepResult;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.IntConsumer;
import java.util.stream.Collectors;
import javafx.geometry.Insets;
import javafx.scene.control.Label;
import javafx.scene.control.SplitPane;
import javafx.scene.layout.StackPane;

/** What came of a trial: its steps on a time axis, and the signals around the step that is selected. */
final class TrialEvidence extends SplitPane {
    private final TrialTimes times;
    private final CurveView curves;
    private final Label hint = Forms.faint("Select a step that was run and looks at signals to see them here.");

    /** @param chosen gets the line of the bar that is pressed */
    TrialEvidence(PageHost host, IntConsumer chosen) {
        times = new TrialTimes(host::theme, chosen);
        curves = new CurveView(host::theme);
        hint.setPadding(new Insets(12));
        getItems().setAll(times, new StackPane(curves, hint));
        setDividerPositions(0.5);
    }

    /**
     * @param seconds simulated time reached, while the trial runs
     * @param record empty where the trial has not been run to its end
     */
    void show(List<TrialRow> rows, Optional<TrialRow> selected, double seconds, Optional<TrialRecord> record) {
        times.show(rows, selected.map(TrialRow::line).orElse(0), seconds);
        StepResult chosen = selected.map(TrialRow::decisive).filter(s -> Double.isFinite(s.from())).orElse(null);
        List<Series> signals = chosen == null ? List.of() : chosen.signals().stream().map(n -> record.map(TrialRecord::courses).map(
                c -> c.get(n)).orElse(null)).filter(c -> c != null && c.size() > 1).toList();
        // One chart has one unit.
        List<Series> alike = signals.stream().filter(c -> c.unit().equals(signals.getFirst().unit())).toList();
        List<CurveView.Curve> all = new ArrayList<>();
        for (Series c : alike) {
            double[] span = Traces.span(alike, chosen);
            double[][] points = Traces.points(c, span[0], span[1]);
            all.add(new CurveView.Curve(points[0], points[1], CurveView.Style.LINE, all.size()));
        }
        hint.setVisible(all.isEmpty());
        if (all.isEmpty()) {
            curves.show(null);
            return;
        }
        String unit = alike.getFirst().unit();
        List<CurveView.Mark> marks = List.of(new CurveView.Mark(chosen.from(), Double.NaN, "begun"),
                new CurveView.Mark(chosen.to(), Double.NaN, chosen.state().label()));
        curves.show(CurveView.Plot.of(alike.stream().map(Series::name).collect(Collectors.joining(", "))
                + (unit.isEmpty() ? "" : " [" + unit + "]"), "time, s", false, all, marks));
    }

    void paint() {
        times.paint();
        curves.paint();
    }
}
