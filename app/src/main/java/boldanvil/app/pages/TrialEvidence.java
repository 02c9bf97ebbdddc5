package boldanvil.app.pages;

import boldanvil.app.chart.CurveView;
import boldanvil.app.model.TrialRow;
import boldanvil.app.page.PageHost;
import boldanvil.core.evidence.TrialRecord;
import boldanvil.core.evidence.TrialReport;
import boldanvil.core.quantity.Units;
import boldanvil.core.samples.Series;
import boldanvil.core.trial.StepResult;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.IntConsumer;
import javafx.geometry.Insets;
import javafx.scene.control.Label;
import javafx.scene.control.SplitPane;
import javafx.scene.layout.StackPane;

/** What came of a trial: its steps on a time axis, and the signals around the step that is selected. */
final class TrialEvidence extends SplitPane {
    /** Points of a curve; what has more is thinned out. */
    private static final int MOST_POINTS = 2_000;

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
        List<CurveView.Curve> all = new ArrayList<>();
        List<String> names = new ArrayList<>();
        String unit = "";
        if (record.isPresent() && chosen != null) {
            for (String signal : chosen.signals()) {
                Series s = record.get().courses().get(signal);
                if (s != null && (all.isEmpty() || s.unit().equals(unit))) {
                    unit = s.unit();
                    all.add(around(s, chosen, all.size()));
                    names.add(signal);
                }
            }
        }
        hint.setVisible(all.isEmpty());
        if (all.isEmpty()) {
            curves.show(null);
            return;
        }
        List<CurveView.Mark> marks = List.of(new CurveView.Mark(chosen.from(), Double.NaN, "begun"),
                new CurveView.Mark(chosen.to(), Double.NaN, TrialReport.label(chosen.state())));
        curves.show(CurveView.Plot.of(String.join(", ", names) + (unit.isEmpty() ? "" : " [" + unit + "]"), "time, s", false, all, marks));
    }

    private static CurveView.Curve around(Series s, StepResult r, int colour) {
        double margin = Math.max(0.2 * (r.to() - r.from()), 20 * (s.size() > 1 ? s.times()[1] - s.times()[0] : 0));
        List<double[]> points = new ArrayList<>();
        for (int i = 0; i < s.size(); i++) {
            if (s.times()[i] >= r.from() - margin && s.times()[i] <= r.to() + margin) {
                points.add(new double[] {s.times()[i], Units.fromSi(s.unit(), s.values()[i])});
            }
        }
        int every = Math.max(1, points.size() / MOST_POINTS);
        int n = (points.size() + every - 1) / every;
        double[] x = new double[n];
        double[] y = new double[n];
        for (int i = 0; i < n; i++) {
            x[i] = points.get(i * every)[0];
            y[i] = points.get(i * every)[1];
        }
        return new CurveView.Curve(x, y, CurveView.Style.LINE, colour);
    }

    void paint() {
        times.paint();
        curves.paint();
    }
}
