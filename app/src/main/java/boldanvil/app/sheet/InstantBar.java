package boldanvil.app.sheet;

import boldanvil.app.model.TimeTravel;
import java.util.Locale;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ProgressBar;
import javafx.scene.control.Slider;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** Chooses the past instant whose values the sheet shows. */
final class InstantBar extends VBox {
    private final TimeTravel travel;
    private final Slider slider = new Slider(0, 1, 1);
    private final TextField field = new TextField();
    private final Label message = new Label();
    private final ProgressBar progress = new ProgressBar(0);
    private boolean following;

    InstantBar(TimeTravel travel) {
        super(2);
        this.travel = travel;
        setId("instant-bar");
        getStyleClass().add("instant-bar");
        slider.setId("instant");
        HBox.setHgrow(slider, Priority.ALWAYS);
        slider.valueProperty().addListener((_, _, v) -> {
            if (!following) {
                travel.goTo(v.doubleValue());
            }
        });
        field.setId("instant-time");
        field.setPrefColumnCount(8);
        field.setOnAction(_ -> type());
        var earlier = new Button("◂");
        earlier.setOnAction(_ -> travel.goTo(travel.instant() - step()));
        var later = new Button("▸");
        later.setOnAction(_ -> travel.goTo(travel.instant() + step()));
        slider.setOnKeyPressed(e -> {
            if (e.getCode() == KeyCode.LEFT || e.getCode() == KeyCode.RIGHT) {
                travel.goTo(travel.instant() + (e.getCode() == KeyCode.LEFT ? -step() : step()));
                e.consume();
            }
        });
        var live = new Button("Live values");
        live.setId("instant-end");
        live.setOnAction(_ -> travel.end());
        message.getStyleClass().addAll("small", "faint");
        progress.setPrefWidth(120);
        var row = new HBox(8, new Label("Values at"), field, new Label("s"), earlier, slider, later, live);
        row.setAlignment(Pos.CENTER_LEFT);
        var below = new HBox(8, progress, message);
        below.setAlignment(Pos.CENTER_LEFT);
        getChildren().addAll(row, below);
        travel.onChange(this::refresh);
        refresh();
    }

    private double step() {
        return Math.max(1e-6, travel.last() / 1000);
    }

    private void type() {
        try {
            travel.goTo(Double.parseDouble(field.getText().strip().replace(',', '.')));
        } catch (NumberFormatException e) {
            refresh();
        }
    }

    private void refresh() {
        setVisible(travel.isOn());
        setManaged(travel.isOn());
        following = true;
        slider.setMax(Math.max(1e-9, travel.last()));
        slider.setValue(travel.instant());
        following = false;
        field.setText(String.format(Locale.ROOT, "%.6f", travel.instant()));
        progress.setProgress(travel.progress());
        progress.setVisible(travel.progress() < 1);
        progress.setManaged(travel.progress() < 1);
        message.setText(travel.message());
    }
}
