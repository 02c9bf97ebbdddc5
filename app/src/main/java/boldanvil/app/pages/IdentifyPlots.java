package boldanvil.app.pages;

import boldanvil.app.chart.CurveView;
import boldanvil.app.chart.CurveView.Curve;
import boldanvil.app.chart.CurveView.Mark;
import boldanvil.app.chart.CurveView.Plot;
import boldanvil.app.chart.CurveView.Style;
import boldanvil.app.model.Figures;
import boldanvil.app.model.IdentifySession;
import boldanvil.app.page.PageHost;
import boldanvil.core.identify.GreyBox.Prediction;
import boldanvil.core.identify.Whiteness;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import javafx.geometry.Insets;
import javafx.geometry.Pos;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;

/** How well a model fits: output and model over time, what is left, and whether that is white. */
final class IdentifyPlots extends GridPane {
    private static final double NAN = Double.NaN;
    /** Points of a curve, at most. */
    private static final int MOST = 6000;
    private static final int LAGS = 40;

    private final IdentifySession session;
    private final CurveView course;
    private final CurveView rest;
    private final CurveView white;
    private final ChoiceBox<String> output = new ChoiceBox<>();

    IdentifyPlots(PageHost host, IdentifySession session) {
        this.session = session;
        course = Plots.view(host, "identify-course");
        rest = Plots.view(host, "identify-rest");
        white = Plots.view(host, "identify-white");
        output.setId("identify-shown");
        output.valueProperty().addListener((_, _, _) -> curves());
        var line = new HBox(8, new Label("Show"), output);
        line.setAlignment(Pos.CENTER_LEFT);
        line.setPadding(new Insets(4, 10, 0, 10));
        var upper = new BorderPane(course);
        upper.setTop(line);
        add(upper, 0, 0, 2, 1);
        add(rest, 0, 1);
        add(white, 1, 1);
        Plots.divide(this, 58, 42);
    }

    void draw() {
        List<String> names = all().stream().map(this::name).toList();
        if (!names.equals(List.copyOf(output.getItems()))) {
            output.getItems().setAll(names);
            output.setValue(names.isEmpty() ? null : names.getFirst());
        }
        curves();
    }

    private List<Prediction> all() {
        List<Prediction> all = new ArrayList<>();
        session.latest().result().ifPresent(r -> {
            all.addAll(r.predictions());
            all.addAll(r.checked());
        });
        return all;
    }

    private String name(Prediction p) {
        boolean second = session.latest().result().orElseThrow().checked().contains(p);
        return p.tap() + (second ? ", second run" : "");
    }

    private void curves() {
        var chosen = all().stream().filter(p -> name(p).equals(output.getValue())).findFirst();
        if (chosen.isEmpty()) {
            return;
        }
        Prediction p = chosen.get();
        String unit = p.unit().isEmpty() ? "" : ", " + p.unit();
        double[] t = thinned(p.t());
        double[] left = p.residuals();
        course.show(Plot.of(Figures.shortName(p.tap()) + unit + ": run solid, model dashed", "Time, s", false, List.of(
                new Curve(t, thinned(p.measured()), Style.LINE, 0), new Curve(t, thinned(p.predicted()), Style.DASHED, 1)), List.of())
                .between(new double[] {t[0], t[t.length - 1]}, null));
        rest.show(Plot.of("Residuals" + unit, "Time, s", false, List.of(new Curve(t, thinned(left), Style.LINE, 2)),
                List.of(new Mark(NAN, 0, ""))).between(new double[] {t[0], t[t.length - 1]}, null));
        double[] correlation = Whiteness.correlation(left, Math.min(LAGS, left.length - 1));
        double limit = 1.96 / Math.sqrt(left.length);
        double[] lags = IntStream.range(1, correlation.length).mapToDouble(i -> i).toArray();
        double[] values = Arrays.copyOfRange(correlation, 1, correlation.length);
        double reach = Math.max(3 * limit, Arrays.stream(values).map(Math::abs).max().orElse(1) * 1.1);
        white.show(Plot.of("Correlation of residuals; white ones stay between the lines", "Lag, samples", false, List.of(
                new Curve(lags, values, Style.DOTS, 2)), List.of(new Mark(NAN, limit, ""), new Mark(NAN, -limit, "")))
                .between(new double[] {0, correlation.length}, new double[] {-reach, reach}));
    }

    private static double[] thinned(double[] all) {
        int every = (all.length + MOST - 1) / MOST;
        return every <= 1 ? all : IntStream.range(0, all.length / every).mapToDouble(i -> all[i * every]).toArray();
    }
}
