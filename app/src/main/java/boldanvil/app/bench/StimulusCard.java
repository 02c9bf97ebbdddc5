package boldanvil.app.bench;

import boldanvil.app.model.Figures;
import boldanvil.core.diagram.BenchLayout.Control;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Unit;
import boldanvil.core.quantity.Units;
import boldanvil.core.samples.Series;
import boldanvil.core.simulate.Stimulus;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;

/** The form of a stimulus for one control. Values are in the control's unit and stay within its limits. */
final class StimulusCard extends VBox {
    private final Control control;
    private final Unit unit;
    private final ChoiceBox<String> shape = new ChoiceBox<>();
    private final GridPane form = new GridPane();
    private final Map<String, TextField> fields = new LinkedHashMap<>();
    private final CheckBox repeat = new CheckBox("repeat");
    private final Label message = new Label();
    private final Optional<Series> source;

    /**
     * @param now the control's value, in its unit
     * @param source a recorded signal to play; empty for none
     * @param start takes what is to be played
     */
    StimulusCard(Control control, double now, Optional<Series> source, Consumer<Stimulus> start, Runnable stop) {
        super(8);
        this.control = control;
        this.source = source;
        unit = Units.orOne(control.unit());
        var heading = new Label("Stimulus on " + control.title());
        heading.getStyleClass().add("heading");
        shape.setId("stimulus-shape");
        for (Stimulus.Shape s : Stimulus.Shape.values()) {
            // A relay follows a tap: that is an experiment of the Loop page.
            if (s != Stimulus.Shape.RELAY) {
                shape.getItems().add(s.label());
            }
        }
        form.setHgap(8);
        form.setVgap(5);
        double to = Math.min(control.softMaximum(), now + (control.softMaximum() - control.softMinimum()) / 4);
        field("from", Figures.text(now, 5));
        field("to", Figures.text(to, 5));
        field("middle", Figures.text(now, 5));
        field("amplitude", Figures.text(Math.abs(to - now) / 2, 4));
        field("frequency", "1 Hz");
        field("last frequency", "20 Hz");
        field("steps", "5");
        field("for", "2 s");
        message.setWrapText(true);
        message.setMaxWidth(270);
        message.getStyleClass().addAll("small", "faint");
        message.setId("stimulus-message");
        var go = new Button("Start");
        go.setId("stimulus-start");
        go.getStyleClass().add("primary");
        go.setOnAction(_ -> start(start));
        var end = new Button("Stop");
        end.setId("stimulus-stop");
        end.setOnAction(_ -> stop.run());
        shape.valueProperty().addListener((_, _, _) -> arrange());
        shape.setValue(Stimulus.Shape.STEP.label());
        var buttons = new HBox(8, go, end, repeat);
        buttons.setAlignment(Pos.CENTER_LEFT);
        getChildren().addAll(heading, shape, form, buttons, message);
        setPrefWidth(290);
    }

    private void field(String name, String text) {
        var f = new TextField(text);
        f.setId("stimulus-" + name.replace(' ', '-'));
        f.setPrefColumnCount(8);
        fields.put(name, f);
    }

    private Stimulus.Shape chosen() {
        return Stimulus.Shape.values()[Math.max(0, shape.getItems().indexOf(shape.getValue()))];
    }

    private void arrange() {
        form.getChildren().clear();
        String[] wanted = switch (chosen()) {
            case STEP, RAMP -> new String[] {"from", "to", "for"};
            case SINE -> new String[] {"middle", "amplitude", "frequency", "for"};
            case CHIRP -> new String[] {"middle", "amplitude", "frequency", "last frequency", "for"};
            case STAIRCASE -> new String[] {"from", "to", "steps", "for"};
            case PLAYBACK, RELAY -> new String[0];
        };
        for (int i = 0; i < wanted.length; i++) {
            boolean value = !wanted[i].contains("frequency") && !wanted[i].equals("for") && !wanted[i].equals("steps");
            form.addRow(i, new Label(wanted[i]), fields.get(wanted[i]), new Label(value ? control.unit() : ""));
        }
        repeat.setVisible(chosen() != Stimulus.Shape.SINE && chosen() != Stimulus.Shape.CHIRP);
        message.getStyleClass().remove("bad");
        message.setText(chosen() != Stimulus.Shape.PLAYBACK ? "Within " + Figures.text(control.softMinimum(), 4) + " to "
                + Figures.text(control.softMaximum(), 4)
                + (control.unit().isEmpty() ? "" : " " + control.unit()) + ". It is applied tick by tick where the rig runs."
                : source.map(s -> "Applies " + s.name().replace('_', ' ') + ", " + s.size() + " samples.")
                .orElse("Choose a recorded signal first: on the Runs page, 'Use as stimulus'."));
    }

    private double number(String name) throws FormulaException {
        String text = fields.get(name).getText();
        String wanted = name.contains("frequency") ? "Hz" : name.equals("for") ? "s" : name.equals("steps") ? "1" : control.unit();
        return Formula.evaluate(text, Map.of(), wanted);
    }

    private void start(Consumer<Stimulus> start) {
        try {
            Stimulus s = stimulus();
            double low = unit.toSi(control.softMinimum());
            double high = unit.toSi(control.softMaximum());
            double a = s.shape() == Stimulus.Shape.SINE || s.shape() == Stimulus.Shape.CHIRP ? 2 * s.from() - s.to() : s.from();
            double least = s.shape() == Stimulus.Shape.PLAYBACK ? java.util.Arrays.stream(s.values()).min().orElse(low)
                    : Math.min(a, s.to());
            double most = s.shape() == Stimulus.Shape.PLAYBACK ? java.util.Arrays.stream(s.values()).max().orElse(high)
                    : Math.max(a, s.to());
            double slack = 1e-9 * (high - low);
            if (least < low - slack || most > high + slack) {
                throw new IllegalArgumentException("It would range from " + Figures.text(unit.fromSi(least), 4) + " to "
                        + Figures.text(unit.fromSi(most), 4) + " " + control.unit()
                        + ", beyond the control's limits.");
            }
            start.accept(s);
            message.getStyleClass().remove("bad");
            message.setText("Active.");
        } catch (FormulaException | IllegalArgumentException e) {
            message.setText(e.getMessage());
            message.getStyleClass().add("bad");
        }
    }

    private Stimulus stimulus() throws FormulaException {
        return switch (chosen()) {
            case STEP -> Stimulus.step(number("from"), number("to"), number("for"), repeat.isSelected());
            case RAMP -> Stimulus.ramp(number("from"), number("to"), number("for"), repeat.isSelected());
            case SINE -> Stimulus.sine(number("middle"), number("amplitude"), number("frequency"), number("for"));
            case CHIRP -> Stimulus.chirp(number("middle"), number("amplitude"), number("frequency"), number("last frequency"),
                    number("for"));
            case STAIRCASE -> Stimulus.staircase(number("from"), number("to"), (int) number("steps"), number("for"), repeat.isSelected());
            case PLAYBACK -> {
                Series s = source.orElseThrow(() -> new IllegalArgumentException(
                        "There is no recorded signal yet: on the Runs page, choose 'Use as stimulus'."));
                yield Stimulus.playback(s.times(), s.values(), repeat.isSelected());
            }
            case RELAY -> throw new IllegalArgumentException("A relay follows a tap: it is an experiment of the Loop page.");
        };
    }
}
