package boldanvil.app.bench;

import boldanvil.app.model.Figures;
import boldanvil.core.measure.Trigger;
import boldanvil.core.measure.TriggeredView;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.quantity.Units;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.Slider;
import javafx.scene.control.TextField;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;

/** What the charts wait for. */
final class TriggerCard extends VBox {
    /** Everything that is set here. */
    record Setting(TriggeredView.Mode mode, String tap, Trigger trigger, double before) {}

    private static final List<String> MODES = List.of("off", "auto", "normal", "single");

    private final ChoiceBox<String> mode = new ChoiceBox<>();
    private final ChoiceBox<String> tap = new ChoiceBox<>();
    private final ChoiceBox<String> kind = new ChoiceBox<>();
    private final TextField level = new TextField("0");
    private final TextField hysteresis = new TextField("0");
    private final TextField least = new TextField("0 s");
    private final TextField most = new TextField("1 s");
    private final Slider before = new Slider(0, 100, 20);
    private final Label message = new Label();
    /** The unit of a tap. */
    private final UnaryOperator<String> unitOf;

    TriggerCard(List<String> taps, UnaryOperator<String> unitOf, Setting now, Consumer<Setting> done) {
        super(8);
        this.unitOf = unitOf;
        var heading = new Label("Trigger");
        heading.getStyleClass().add("heading");
        mode.setId("trigger-mode");
        mode.getItems().setAll(MODES);
        mode.setValue(MODES.get(now.mode().ordinal()));
        tap.setId("trigger-tap");
        tap.getItems().setAll(taps);
        tap.setMaxWidth(230);
        tap.setValue(taps.contains(now.tap()) ? now.tap() : taps.isEmpty() ? null : taps.getFirst());
        kind.setId("trigger-kind");
        for (Trigger.Kind k : Trigger.Kind.values()) {
            kind.getItems().add(k.label());
        }
        kind.setValue(now.trigger().kind().label());
        level.setId("trigger-level");
        level.setText(Figures.text(now.trigger().level(), 6, unit()));
        hysteresis.setText(Figures.text(Units.orOne(unit()).differenceFromSi(now.trigger().hysteresis())));
        least.setText(Figures.text(now.trigger().least()) + " s");
        most.setText(Double.isInfinite(now.trigger().most()) ? "1 s" : Figures.text(now.trigger().most()) + " s");
        before.setValue(100 * now.before());
        before.setPrefWidth(120);
        var grid = new GridPane();
        grid.setHgap(8);
        grid.setVgap(5);
        var share = new Label();
        Runnable show = () -> share.setText(Math.round(before.getValue()) + " % of the span");
        before.valueProperty().addListener((_, _, _) -> show.run());
        show.run();
        var width = new HBox(6, least, new Label("to"), most);
        width.setAlignment(Pos.CENTER_LEFT);
        least.setPrefColumnCount(5);
        most.setPrefColumnCount(5);
        level.setPrefColumnCount(7);
        hysteresis.setPrefColumnCount(7);
        grid.addRow(0, new Label("mode"), mode);
        grid.addRow(1, new Label("signal"), tap);
        grid.addRow(2, new Label("when it"), kind);
        grid.addRow(3, new Label("level"), level);
        grid.addRow(4, new Label("hysteresis"), hysteresis);
        grid.addRow(5, new Label("for"), width);
        grid.addRow(6, new Label("before it"), new HBox(6, before, share));
        kind.valueProperty().addListener((_, _, _) -> arrange(grid));
        arrange(grid);
        message.setWrapText(true);
        message.setMaxWidth(300);
        message.getStyleClass().addAll("small", "bad");
        var ok = new Button("Arm");
        ok.setId("trigger-arm");
        ok.getStyleClass().add("primary");
        ok.setOnAction(_ -> {
            try {
                done.accept(setting());
                message.setText("");
            } catch (FormulaException | IllegalArgumentException e) {
                message.setText(e.getMessage());
            }
        });
        var hint = new Label("Levels are in the unit of the signal, or have a unit of their own.");
        hint.getStyleClass().addAll("small", "faint");
        getChildren().addAll(heading, grid, ok, message, hint);
    }

    private Trigger.Kind chosen() {
        return Trigger.Kind.values()[Math.max(0, kind.getItems().indexOf(kind.getValue()))];
    }

    private void arrange(GridPane grid) {
        boolean change = chosen() == Trigger.Kind.CHANGE;
        grid.getChildren().forEach(n -> {
            Integer row = GridPane.getRowIndex(n);
            boolean shown = row == null || row < 3 || row == 6 || row == 5 && chosen() == Trigger.Kind.PULSE || (row == 3 || row == 4)
                    && !change;
            n.setManaged(shown);
            n.setVisible(shown);
        });
    }

    private String unit() {
        return tap.getValue() == null ? "" : unitOf.apply(tap.getValue());
    }

    /** The hysteresis in SI; a bare number is a difference in the signal's unit. */
    private double hysteresis() throws FormulaException {
        Quantity q = Formula.quantity(hysteresis.getText(), Map.of());
        return Math.abs(q.isBare() ? q.value() * Units.orOne(unit()).factor() : q.value());
    }

    private Setting setting() throws FormulaException {
        var how = TriggeredView.Mode.values()[MODES.indexOf(mode.getValue())];
        if (how != TriggeredView.Mode.FREE && tap.getValue() == null) {
            throw new IllegalArgumentException("Choose a signal.");
        }
        var t = new Trigger(chosen(), Formula.evaluate(level.getText(), Map.of(), unit()), hysteresis(),
                Formula.evaluate(least.getText(), Map.of(), "s"), Formula.evaluate(most.getText(), Map.of(), "s"));
        return new Setting(how, tap.getValue() == null ? "" : tap.getValue(), t, before.getValue() / 100);
    }
}
