package boldanvil.app.bench;

import boldanvil.app.model.Figures;
import boldanvil.core.diagram.BenchLayout.Display;
import boldanvil.core.diagram.BenchLayout.Readout;
import boldanvil.core.quantity.Unit;
import boldanvil.core.quantity.Units;
import boldanvil.core.samples.Samples;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import javafx.geometry.Pos;
import javafx.scene.control.Label;
import javafx.scene.control.ProgressBar;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import javafx.scene.shape.Circle;

/** Newest values as numbers, lamps, bars and tables. */
final class ReadoutsPane extends VBox {
    private final List<Consumer<Samples>> updates = new ArrayList<>();

    ReadoutsPane(List<Readout> readouts) {
        super(8);
        setId("readouts");
        readouts.forEach(r -> getChildren().add(card(r)));
    }

    void update(Samples samples) {
        updates.forEach(u -> u.accept(samples));
    }

    private static double value(Samples s, String tap, Unit unit) {
        int column = s == null ? -1 : s.indexOf(tap);
        return column < 0 ? Double.NaN : unit.fromSi(s.valueAt(column, Double.POSITIVE_INFINITY));
    }

    private VBox card(Readout r) {
        Unit unit = Units.orOne(r.unit());
        String tap = r.taps().isEmpty() ? "" : r.taps().getFirst();
        var title = new Label(r.title());
        title.getStyleClass().add("strong");
        var figure = new Label("–");
        figure.getStyleClass().add("mono");
        var space = new HBox();
        HBox.setHgrow(space, Priority.ALWAYS);
        var line = new HBox(6, title, space);
        line.setAlignment(Pos.CENTER_LEFT);
        var card = new VBox(4, line);
        card.getStyleClass().add("card");
        switch (r.display()) {
            case NUMBER -> {
                figure.getStyleClass().add("heading");
                line.getChildren().add(figure);
                updates.add(s -> figure.setText(Figures.text(value(s, tap, unit), 4) + " " + r.unit()));
            }
            case LAMP -> {
                var lamp = new Circle(7);
                lamp.getStyleClass().add("lamp");
                line.getChildren().addAll(figure, lamp);
                updates.add(s -> {
                    double v = value(s, tap, unit);
                    boolean lit = v > (r.minimum() + r.maximum()) / 2;
                    figure.setText(Double.isNaN(v) ? "–" : lit ? "on" : "off");
                    lamp.getStyleClass().setAll("lamp", lit ? "lit" : "dark");
                });
            }
            case BAR -> {
                var bar = new ProgressBar(0);
                bar.setMaxWidth(Double.MAX_VALUE);
                bar.getStyleClass().add("reading");
                line.getChildren().add(figure);
                var ends = new Label(Figures.text(r.minimum(), 4) + " to " + Figures.text(r.maximum(), 4) + " " + r.unit());
                ends.getStyleClass().addAll("faint", "small");
                card.getChildren().addAll(bar, ends);
                updates.add(s -> {
                    double v = value(s, tap, unit);
                    figure.setText(Figures.text(v, 4) + " " + r.unit());
                    bar.setProgress(Double.isNaN(v) ? 0 : Math.clamp((v - r.minimum()) / (r.maximum() - r.minimum()), 0, 1));
                });
            }
            case TABLE -> {
                var grid = new GridPane();
                grid.setHgap(8);
                grid.setVgap(2);
                for (int i = 0; i < r.taps().size(); i++) {
                    String each = r.taps().get(i);
                    var name = new Label(Figures.shortName(each));
                    var v = new Label("–");
                    v.getStyleClass().add("mono");
                    v.setMaxWidth(Double.MAX_VALUE);
                    v.setAlignment(Pos.CENTER_RIGHT);
                    GridPane.setHgrow(v, Priority.ALWAYS);
                    grid.addRow(i, name, v, new Label(r.unit()));
                    updates.add(s -> v.setText(Figures.text(value(s, each, unit), 5)));
                }
                card.getChildren().add(grid);
            }
        }
        return card;
    }

    /** A readout that suits a tap. */
    static Readout suiting(String tap, String unit) {
        return new Readout(Display.NUMBER, Figures.shortName(tap), List.of(tap), unit, 0, 1);
    }
}
