package boldanvil.app.bench;

import boldanvil.app.chart.SidePlot;
import boldanvil.app.model.BenchEdits;
import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.diagram.BenchLayout.Kind;
import boldanvil.core.measure.Spectrum;
import boldanvil.core.samples.Samples;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.function.Supplier;
import javafx.scene.control.ContextMenu;
import javafx.scene.control.Menu;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;

/** Charts that are not over time: XY plots, spectra and histograms, side by side. */
final class SidePlots extends HBox {
    private final BenchEdits edits;
    private final Supplier<Theme> theme;
    private final ExecutorService measuring;
    private final Runnable due;

    /** @param due computes the plots again */
    SidePlots(BenchEdits edits, Supplier<Theme> theme, ExecutorService measuring, Runnable due) {
        super(8);
        this.edits = edits;
        this.theme = theme;
        this.measuring = measuring;
        this.due = due;
        setMinHeight(0);
        setPrefHeight(220);
    }

    void show(List<Chart> charts) {
        getChildren().setAll(charts.stream().filter(c -> c.kind() != Kind.TRACE && c.kind() != Kind.LOGIC).map(this::plot).toList());
    }

    private SidePlot plot(Chart c) {
        var plot = new SidePlot(c, theme, measuring);
        HBox.setHgrow(plot, Priority.ALWAYS);
        plot.setPrefWidth(300);
        plot.setOnContextMenuRequested(e -> menu(plot).show(plot, e.getScreenX(), e.getScreenY()));
        return plot;
    }

    private ContextMenu menu(SidePlot plot) {
        var menu = new ContextMenu();
        if (plot.chart().kind() == Kind.SPECTRUM) {
            var windows = new Menu("Window");
            for (var w : Spectrum.Window.values()) {
                windows.getItems().add(ChartMenu.item(w.label(), () -> {
                    plot.setWindow(w);
                    due.run();
                }));
            }
            menu.getItems().add(windows);
        }
        menu.getItems().add(ChartMenu.item("Remove this pane", () -> edits.remove(plot.chart())));
        return menu;
    }

    void update(Samples samples, double from, double to) {
        getChildren().forEach(n -> ((SidePlot) n).update(samples, from, to));
    }

    void repaint() {
        getChildren().forEach(n -> ((SidePlot) n).paint());
    }
}
