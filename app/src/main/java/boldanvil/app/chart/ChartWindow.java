package boldanvil.app.chart;

import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.runs.Mark;
import java.util.List;
import java.util.function.BooleanSupplier;
import java.util.function.Supplier;
import javafx.animation.AnimationTimer;
import javafx.scene.Scene;
import javafx.scene.layout.BorderPane;
import javafx.stage.Stage;

/** Charts in a window of their own; for a second screen. */
public final class ChartWindow {
    private final Stage stage = new Stage();
    private final TraceView traces;

    /** @param owner the window whose colours it wears and with which it closes */
    public ChartWindow(Scene owner, Supplier<Theme> theme, String title) {
        traces = new TraceView(theme);
        traces.setId("detached");
        var root = new BorderPane(traces);
        root.getStylesheets().addAll(owner.getRoot().getStylesheets());
        root.getStyleClass().addAll(owner.getRoot().getStyleClass());
        stage.setTitle(title + ": charts");
        stage.initOwner(owner.getWindow());
        stage.setScene(new Scene(root, 900, 600));
    }

    /** Shows charts as they are from now on. */
    public void show(Supplier<List<Chart>> charts, Supplier<List<TraceView.Layer>> layers, BooleanSupplier running,
            Supplier<List<Mark>> marks) {
        var timer = new AnimationTimer() {
            @Override
            public void handle(long now) {
                if (!traces.charts().equals(charts.get()) || !traces.layers().equals(layers.get())) {
                    traces.show(charts.get(), layers.get());
                }
                if (running.getAsBoolean() && !layers.get().isEmpty()) {
                    traces.setMarks(marks.get());
                    traces.setEnd(layers.get().getFirst().samples().end());
                    traces.paint();
                }
            }
        };
        stage.setOnHidden(_ -> timer.stop());
        timer.start();
        stage.show();
    }
}
