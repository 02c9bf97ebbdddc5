package boldanvil.app.pages;

import boldanvil.app.shell.Theme;
import boldanvil.core.diagram.BenchLayout.Control;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Units;
import java.util.Locale;
import java.util.Map;
import java.util.function.DoubleConsumer;
import java.util.function.Supplier;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.Slider;
import javafx.scene.control.TextField;
import javafx.scene.control.ToggleButton;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** A live control with its title, limits and rate. What it is set to reaches the rig no faster than its rate allows. */
final class ControlCard extends VBox {
    private final Control control;
    private final DoubleConsumer apply;
    private final double factor;
    private DoubleConsumer display = _ -> { };
    private DoubleConsumer progress = _ -> { };
    private Runnable repaint = () -> { };
    /** In the control's unit: where it is set to, and what the rig has got so far. */
    private double goal = Double.NaN;
    private double sent = Double.NaN;

    /** @param apply takes a new value, SI, for the rig */
    ControlCard(Control control, double initialSi, Supplier<Theme> theme, DoubleConsumer apply) {
        super(4);
        this.control = control;
        this.apply = apply;
        factor = factor(control.unit());
        getStyleClass().add("card");
        setId("control-" + control.tunable());
        var title = new Label(control.title());
        title.getStyleClass().add("strong");
        double initial = initialSi / factor;
        goal = initial;
        sent = initial;
        switch (control.shape()) {
            case DIAL -> dial(title, initial, theme);
            case SLIDER -> slider(title, initial);
            case SWITCH -> toggle(title, initial);
            case BUTTON -> button(title);
            case NUMBER -> number(title, initial);
        }
    }

    static double factor(String unit) {
        try {
            return unit.isEmpty() ? 1 : Units.toSi(unit);
        } catch (IllegalArgumentException e) {
            return 1;
        }
    }

    private String limits() {
        String range = text(control.minimum()) + " to " + text(control.maximum()) + " " + control.unit();
        return control.rate() > 0 ? range + ", at most " + text(control.rate()) + " " + control.unit() + "/s" : range;
    }

    private static String text(double v) {
        return v == Math.rint(v) ? String.format(Locale.ROOT, "%.0f", v) : String.format(Locale.ROOT, "%.4g", v);
    }

    private static Label note(String text) {
        var l = new Label(text);
        l.getStyleClass().addAll("faint", "small");
        l.setWrapText(true);
        return l;
    }

    private void dial(Label title, double initial, Supplier<Theme> theme) {
        var dial = new Dial(control.minimum(), control.maximum(), control.unit(), theme, this::aim);
        dial.setId("dial-" + control.tunable());
        dial.show(initial);
        display = dial::show;
        repaint = () -> dial.show(dial.value());
        progress = v -> dial.reached(v == goal ? Double.NaN : v);
        var middle = new HBox(dial);
        middle.setAlignment(Pos.CENTER);
        getChildren().addAll(title, middle, note(limits()));
    }

    private void slider(Label title, double initial) {
        var value = new Label(text(initial) + " " + control.unit());
        value.getStyleClass().add("mono");
        var slider = new Slider(control.minimum(), control.maximum(), initial);
        slider.valueProperty().addListener((_, _, v) -> {
            value.setText(text(Math.rint(v.doubleValue() * 1000) / 1000) + " " + control.unit());
            aim(v.doubleValue());
        });
        display = slider::setValue;
        var space = new HBox();
        HBox.setHgrow(space, Priority.ALWAYS);
        getChildren().addAll(new HBox(title, space, value), slider, note(limits()));
    }

    private void toggle(Label title, double initial) {
        var button = new ToggleButton(initial != 0 ? "on" : "off");
        button.setId("switch-" + control.tunable());
        button.setSelected(initial != 0);
        button.setMinWidth(64);
        button.selectedProperty().addListener((_, _, on) -> {
            button.setText(on ? "on" : "off");
            aim(on ? 1 : 0);
        });
        display = v -> button.setSelected(v != 0);
        row(title, button);
    }

    private void button(Label title) {
        var button = new Button("press");
        button.setMinWidth(64);
        button.armedProperty().addListener((_, _, down) -> aim(down ? 1 : 0));
        row(title, button);
    }

    private void row(Label title, javafx.scene.Node control) {
        var space = new HBox();
        HBox.setHgrow(space, Priority.ALWAYS);
        var line = new HBox(6, title, space, control);
        line.setAlignment(Pos.CENTER_LEFT);
        getChildren().add(line);
    }

    private void number(Label title, double initial) {
        var field = new TextField(text(initial));
        field.setId("number-" + control.tunable());
        field.setPrefColumnCount(6);
        field.setOnAction(_ -> {
            field.getStyleClass().remove("wrong");
            try {
                double v = Formula.evaluate(field.getText(), Map.of());
                boolean plain = field.getText().strip().matches("[-+0-9.eE]+");
                double here = plain ? v : v / factor;
                if (here < control.minimum() || here > control.maximum()) {
                    throw new FormulaException("outside its limits", 0);
                }
                aim(here);
            } catch (FormulaException e) {
                field.getStyleClass().add("wrong");
            }
        });
        display = v -> field.setText(text(v));
        var both = new HBox(4, field, new Label(control.unit()));
        both.setAlignment(Pos.CENTER_LEFT);
        row(title, both);
        getChildren().add(note(limits()));
    }

    private void aim(double v) {
        goal = v;
        if (control.rate() <= 0) {
            sent = v;
            apply.accept(v * factor);
        }
    }

    void repaint() {
        repaint.run();
    }

    /** Goes on towards what is set, as far as the rate allows. */
    void advance(double seconds) {
        if (control.rate() > 0 && goal != sent) {
            double step = control.rate() * seconds;
            sent = Math.abs(goal - sent) <= step ? goal : sent + Math.copySign(step, goal - sent);
            apply.accept(sent * factor);
            progress.accept(sent);
        }
    }

    /** Shows the value the rig has, SI, where nobody is moving the control. */
    void follow(double si) {
        double v = si / factor;
        if (goal == sent && Math.abs(v - sent) > 1e-9) {
            goal = v;
            sent = v;
            display.accept(v);
        }
    }
}
