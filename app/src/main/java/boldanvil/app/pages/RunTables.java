package boldanvil.app.pages;

import boldanvil.app.model.Figures;
import boldanvil.app.model.RunViews;
import boldanvil.app.widget.Columns;
import boldanvil.core.runs.Comparison;
import boldanvil.core.runs.RunDifferences;
import java.util.Locale;
import java.util.function.Consumer;
import java.util.function.Function;
import javafx.beans.property.SimpleStringProperty;
import javafx.scene.control.Label;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;

/** The tables under the charts of the Runs page: comparison, steps and differences of two runs. */
final class RunTables {
    final TableView<Comparison.Row> comparison = new TableView<>();
    final TableView<RunViews.Step> steps = new TableView<>();
    final TableView<RunDifferences.Row> origins = new TableView<>();

    /** @param chosen takes a step that was selected */
    RunTables(Consumer<RunViews.Step> chosen) {
        comparison.setId("comparison");
        comparison.setFixedCellSize(24);
        comparison.getStyleClass().add("dense");
        column(comparison, "tap", 250, false, r -> r.name().replace('_', ' '));
        column(comparison, "unit", 60, false, Comparison.Row::unit);
        column(comparison, "largest deviation", 130, true, r -> Figures.text(r.largest(), 4));
        column(comparison, "at s", 80, true, r -> r.largest() == 0 ? "" : String.format(Locale.ROOT, "%.4f", r.largestAt()));
        column(comparison, "RMS deviation", 120, true, r -> Figures.text(r.rms(), 4));
        column(comparison, "first beyond tolerance", 170, true, r -> r.compared() == 0 ? "no common span" : r.beyond().isPresent()
                ? String.format(Locale.ROOT, "%.4f s", r.beyond().getAsDouble()) : "never");
        comparison.setPlaceholder(new Label("The comparison of two runs appears here."));
        steps.setId("steps");
        steps.setFixedCellSize(24);
        steps.getStyleClass().add("dense");
        column(steps, "run", 90, false, RunViews.Step::run);
        column(steps, "signal", 130, false, s -> Figures.shortName(s.tap()));
        column(steps, "at s", 70, true, s -> Figures.text(s.metrics().start(), 5));
        column(steps, "from", 70, true, s -> Figures.text(s.metrics().from(), 4));
        column(steps, "to", 70, true, s -> Figures.text(s.metrics().to(), 4));
        column(steps, "rise 10–90 %", "From 10 % to 90 % of the step (IEC 60050-351:2013)", 95, true,
                s -> Figures.seconds(s.metrics().riseTime()));
        column(steps, "settling 2 %", "Until the response stays within 2 % of the step around its end level (IEC 60050-351:2013)", 95,
                true, s -> Figures.seconds(s.metrics().settlingTime()));
        column(steps, "overshoot %", "Largest excursion beyond the end level, by the step (IEC 60050-351:2013)", 90, true,
                s -> Figures.text(100 * s.metrics().overshootShare(), 3));
        column(steps, "peak", 80, true, s -> Figures.text(s.metrics().peak(), 4));
        column(steps, "final error", "Mean of the last tenth of the span minus the end level", 90, true,
                s -> Figures.text(s.metrics().finalError(), 3));
        steps.setPlaceholder(new Label(
                "When a set-point steps, the step response of the other signal in its chart is measured here (IEC 60050-351)."));
        steps.getSelectionModel().selectedItemProperty().addListener((_, _, s) -> {
            if (s != null) {
                chosen.accept(s);
            }
        });
        origins.setId("origins");
        origins.setFixedCellSize(24);
        origins.getStyleClass().add("dense");
        column(origins, "difference", 380, false, RunDifferences.Row::what);
        column(origins, "first run", 220, false, RunDifferences.Row::first);
        column(origins, "second run", 220, false, RunDifferences.Row::second);
        origins.setPlaceholder(new Label("For two runs, the differences in project, build and rig appear here."));
    }

    private static <T> void column(TableView<T> table, String title, double width, boolean right, Function<T, String> text) {
        column(table, title, "", width, right, text);
    }

    private static <T> void column(TableView<T> table, String title, String meaning, double width, boolean right,
            Function<T, String> text) {
        TableColumn<T, String> c = Columns.explained(title, meaning);
        c.setCellValueFactory(d -> new SimpleStringProperty(text.apply(d.getValue())));
        c.setPrefWidth(width);
        if (right) {
            c.getStyleClass().add("figure");
        }
        table.getColumns().add(c);
    }
}
