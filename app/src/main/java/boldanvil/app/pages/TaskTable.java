package boldanvil.app.pages;

import boldanvil.core.estimate.LoadEstimate;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.peripheral.Fact;
import java.util.List;
import java.util.Locale;
import javafx.geometry.HPos;
import javafx.scene.control.Label;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.VBox;

/** Whether a board is fast enough: each task with its period, run and response time, and the load they make together. */
final class TaskTable extends VBox {
    TaskTable() {
        super(5);
    }

    void show(BoardSetup setup) {
        getChildren().clear();
        List<LoadEstimate.Row> rows = LoadEstimate.of(setup);
        var grid = new GridPane();
        grid.setHgap(11);
        grid.setVgap(3);
        String[] titles = {"task", "period µs", "run µs", "response µs", "load %"};
        for (int i = 0; i < titles.length; i++) {
            var l = new Label(titles[i]);
            l.getStyleClass().addAll("faint", "small");
            grid.add(l, i, 0);
            GridPane.setHalignment(l, i == 0 ? HPos.LEFT : HPos.RIGHT);
        }
        for (int i = 0; i < rows.size(); i++) {
            var r = rows.get(i);
            grid.add(new Label(r.name().replace('_', ' ')), 0, i + 1);
            String[] texts = {micros(r.periodSeconds()), micros(r.seconds()), Double.isInfinite(r.responseSeconds()) ? "never"
                    : micros(r.responseSeconds()),
                String.format(Locale.ROOT, "%.1f", r.load() * 100)};
            for (int k = 0; k < texts.length; k++) {
                var l = new Label(texts[k]);
                l.getStyleClass().add("mono");
                if (k > 0 && !r.isInTime()) {
                    l.getStyleClass().add("bad");
                }
                grid.add(l, k + 1, i + 1);
                GridPane.setHalignment(l, HPos.RIGHT);
            }
        }
        double load = LoadEstimate.load(rows);
        var verdict = new Label(LoadEstimate.lateness(rows, setup.board()).orElse(
                "The processor load is within limits: " + Fact.sig(Math.rint(load * 1000) / 10) + " %."));
        verdict.setId("verdict");
        verdict.setWrapText(true);
        verdict.setMinHeight(javafx.scene.layout.Region.USE_PREF_SIZE);
        verdict.getStyleClass().add(rows.stream().allMatch(LoadEstimate.Row::isInTime) ? load > 0.7 ? "warning" : "good" : "bad");
        getChildren().addAll(grid, verdict);
    }

    private static String micros(double seconds) {
        return String.format(Locale.ROOT, "%.1f", seconds * 1e6);
    }
}
