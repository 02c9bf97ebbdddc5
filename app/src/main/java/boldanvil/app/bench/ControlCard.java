package boldanvil.app.bench;

import boldanvil.app.model.Figures;
import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.BenchLayout.Choice;
import boldanvil.core.diagram.BenchLayout.Control;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Unit;
import boldanvil.core.quantity.Units;
import java.util.Map;
import java.util.function.Consumer;
import java.util.function.DoubleConsumer;
import java.util.function.Supplier;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.Slider;
import javafx.scene.control.TextField;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.Tooltip;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.ScrollEvent;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.kordamp.ikonli.feather.Feather;
import org.kordamp.ikonli.javafx.FontIcon;

/** A live control with its title, limits and rate. What it is set to reaches the rig no faster than its rate allows. */
final class ControlCard extends VBox {
    private static final long STALE_NANOS = 1_500_000_000L;

    private final Control control;
    private final DoubleConsumer apply;
    private final Unit unit;
    private final Label driven = new Label();
    private final Button stimulus = icon(Feather.TRENDING_UP, "Drive it with a stimulus");
    private final Button restore = icon(Feather.ROTATE_CCW, "Revert to project value");
    private DoubleConsumer display = _ -> { };
    private DoubleConsumer progress = _ -> { };
    private Runnable repaint = () -> { };
    /** In the control's unit: where it is set to, and what the rig has got so far. */
    private double goal;
    private double sent;
    private double usual;
    private long touched = System.nanoTime() - STALE_NANOS;

    /**
     * @param apply takes a new value, SI, for the rig
     * @param drive opens the stimuli of this control
     */
    ControlCard(Control control, double initialSi, Supplier<Theme> theme, DoubleConsumer apply, Consumer<ControlCard> drive) {
        super(4);
        this.control = control;
        this.apply = apply;
        unit = Units.orOne(control.unit());
        getStyleClass().add("card");
        setId("control-" + control.tunable());
        double initial = unit.fromSi(initialSi);
        goal = initial;
        sent = initial;
        usual = initial;
        stimulus.setId("stimulus-" + control.tunable());
        stimulus.setOnAction(_ -> drive.accept(this));
        restore.setId("restore-" + control.tunable());
        restore.setOnAction(_ -> {
            display.accept(usual);
            aim(usual);
        });
        driven.getStyleClass().addAll("small", "warning");
        driven.setManaged(false);
        driven.setVisible(false);
        switch (control.shape()) {
            case DIAL -> dial(initial, theme);
            case SLIDER -> slider(initial);
            case SWITCH -> toggle(initial, "on", "off");
            case LATCH -> toggle(initial, "pressed", "press");
            case BUTTON -> button();
            case STEPPER -> stepper(initial);
            case NUMBER -> number(initial);
            case CHOICE -> choice(initial);
        }
        getChildren().add(driven);
    }

    Control control() {
        return control;
    }

    /** The value it is set to, in its unit. */
    double goal() {
        return goal;
    }

    private static Button icon(Feather what, String tip) {
        var b = new Button();
        b.setGraphic(FontIcon.of(what, 13));
        b.getStyleClass().add("quiet");
        b.setTooltip(new Tooltip(tip));
        b.setFocusTraversable(false);
        return b;
    }

    private String limits() {
        String range = Figures.text(control.minimum(), 4) + " to " + Figures.text(control.maximum(), 4) + " " + control.unit();
        String soft = control.softMinimum() > control.minimum() || control.softMaximum() < control.maximum()
                ? "; beyond " + (control.softMinimum() > control.minimum()
                ? Figures.text(control.softMinimum(), 4) + " or " : "") + Figures.text(control.softMaximum(), 4) + " with Shift" : "";
        return range + (control.rate() > 0 ? ", at most " + Figures.text(control.rate(), 4) + " " + control.unit() + "/s" : "") + soft;
    }

    private Label note() {
        var l = new Label(limits());
        l.getStyleClass().addAll("faint", "small");
        l.setWrapText(true);
        return l;
    }

    /** Title on the left; on the right the value or the control itself, and what else can be done. */
    private HBox line(Node right) {
        var title = new Label(control.title());
        title.getStyleClass().add("strong");
        title.setTooltip(new Tooltip(control.tunable()));
        title.setMinWidth(30);
        var space = new HBox();
        HBox.setHgrow(space, Priority.ALWAYS);
        var line = new HBox(2, title, space);
        if (right != null) {
            line.getChildren().add(right);
        }
        line.getChildren().addAll(restore, stimulus);
        line.setAlignment(Pos.CENTER_LEFT);
        return line;
    }

    private void dial(double initial, Supplier<Theme> theme) {
        var dial = new Dial(control, theme, this::aim);
        dial.setId("dial-" + control.tunable());
        dial.show(initial);
        display = dial::show;
        repaint = () -> dial.show(dial.value());
        progress = v -> dial.reached(v == goal ? Double.NaN : v);
        var middle = new HBox(dial);
        middle.setAlignment(Pos.CENTER);
        getChildren().addAll(line(null), middle, note());
    }

    private void slider(double initial) {
        var value = new Label();
        value.getStyleClass().add("mono");
        value.setMinWidth(USE_PREF_SIZE);
        var slider = new Slider(control.minimum(), control.maximum(), initial);
        slider.setId("slider-" + control.tunable());
        slider.setBlockIncrement(control.stride());
        boolean[] shift = {false};
        slider.addEventFilter(KeyEvent.ANY, e -> shift[0] = e.isShiftDown());
        slider.addEventFilter(javafx.scene.input.MouseEvent.ANY, e -> shift[0] = e.isShiftDown());
        slider.addEventHandler(ScrollEvent.SCROLL, e -> {
            shift[0] = e.isShiftDown();
            slider.setValue(slider.getValue() + Math.signum(e.getDeltaY() + e.getDeltaX()) * control.stride());
            e.consume();
        });
        Consumer<Double> show = v -> value.setText(Figures.text(Math.rint(v * 1000) / 1000, 5) + " " + control.unit());
        show.accept(initial);
        slider.valueProperty().addListener((_, was, v) -> {
            double allowed = shift[0] ? v.doubleValue() : Math.clamp(v.doubleValue(), Math.min(was.doubleValue(), control.softMinimum()),
                    Math.max(was.doubleValue(), control.softMaximum()));
            if (allowed != v.doubleValue()) {
                slider.setValue(allowed);
                return;
            }
            show.accept(allowed);
            aim(allowed);
        });
        display = slider::setValue;
        getChildren().addAll(line(value), slider, note());
    }

    private void toggle(double initial, String on, String off) {
        var button = new ToggleButton(initial != 0 ? on : off);
        button.setId("switch-" + control.tunable());
        button.setSelected(initial != 0);
        button.setMinWidth(64);
        button.selectedProperty().addListener((_, _, yes) -> {
            button.setText(yes ? on : off);
            aim(yes ? control.maximum() : control.minimum());
        });
        display = v -> button.setSelected(v > (control.minimum() + control.maximum()) / 2);
        getChildren().add(line(button));
    }

    private void button() {
        var button = new Button("press");
        button.setId("button-" + control.tunable());
        button.setMinWidth(64);
        button.armedProperty().addListener((_, _, down) -> aim(down ? control.maximum() : control.minimum()));
        getChildren().add(line(button));
    }

    private void stepper(double initial) {
        var value = new Label();
        value.getStyleClass().add("mono");
        value.setMinWidth(84);
        value.setAlignment(Pos.CENTER);
        var down = new Button("−");
        down.setId("down-" + control.tunable());
        var up = new Button("+");
        up.setId("up-" + control.tunable());
        DoubleConsumer show = v -> value.setText(Figures.text(v, 5) + " " + control.unit());
        down.setOnAction(_ -> step(-1, show));
        up.setOnAction(_ -> step(1, show));
        show.accept(initial);
        display = show;
        var box = new HBox(2, down, value, up);
        box.setAlignment(Pos.CENTER_LEFT);
        box.addEventHandler(ScrollEvent.SCROLL, e -> {
            step(Math.signum(e.getDeltaY() + e.getDeltaX()), show);
            e.consume();
        });
        getChildren().addAll(line(null), box, note());
    }

    private void step(double direction, DoubleConsumer show) {
        double v = Math.clamp(goal + direction * control.stride(), Math.min(goal, control.softMinimum()),
                Math.max(goal, control.softMaximum()));
        show.accept(v);
        aim(v);
    }

    private void number(double initial) {
        var field = new TextField(Figures.text(initial, 5));
        field.setId("number-" + control.tunable());
        field.setPrefColumnCount(8);
        var hint = new Label();
        hint.getStyleClass().addAll("small", "warning");
        hint.setWrapText(true);
        hint.setManaged(false);
        double[] confirmed = {Double.NaN};
        field.setOnAction(_ -> {
            field.getStyleClass().remove("wrong");
            hint.setManaged(false);
            hint.setText("");
            try {
                double here = typed(field.getText());
                boolean soft = here < control.softMinimum() || here > control.softMaximum();
                if (soft && here != confirmed[0]) {
                    confirmed[0] = here;
                    hint.setText("Beyond the soft limit. Press Enter again to confirm.");
                    hint.setManaged(true);
                    return;
                }
                aim(here);
            } catch (FormulaException e) {
                field.getStyleClass().add("wrong");
                hint.setText(Character.toUpperCase(e.getMessage().charAt(0)) + e.getMessage().substring(1) + ".");
                hint.setManaged(true);
            }
        });
        field.addEventHandler(ScrollEvent.SCROLL, e -> {
            step(Math.signum(e.getDeltaY() + e.getDeltaX()), v -> field.setText(Figures.text(v, 6)));
            e.consume();
        });
        display = v -> field.setText(Figures.text(v, 6));
        var both = new HBox(4, field, new Label(control.unit()));
        both.setAlignment(Pos.CENTER_LEFT);
        getChildren().addAll(line(null), both, hint, note());
    }

    /** A number as typed: in the control's unit where it has none of its own. */
    private double typed(String text) throws FormulaException {
        double here = unit.fromSi(Formula.evaluate(text, Map.of(), control.unit()));
        if (here < control.minimum() || here > control.maximum()) {
            throw new FormulaException("outside " + limits(), 0);
        }
        return here;
    }

    private void choice(double initial) {
        var box = new ChoiceBox<String>();
        box.setId("choice-" + control.tunable());
        box.getItems().setAll(control.choices().stream().map(Choice::label).toList());
        DoubleConsumer show = v -> control.choices().stream().filter(c -> c.value() == v).findFirst()
                .ifPresent(c -> box.setValue(c.label()));
        show.accept(initial);
        box.valueProperty().addListener((_, _, label) -> control.choices().stream().filter(c -> c.label().equals(label)).findFirst()
                .ifPresent(c -> {
            if (c.value() != goal) {
                aim(c.value());
            }
        }));
        display = show;
        getChildren().add(line(box));
    }

    private void aim(double v) {
        goal = v;
        touched = System.nanoTime();
        if (control.rate() <= 0) {
            sent = v;
            apply.accept(unit.toSi(v));
        }
    }

    void repaint() {
        repaint.run();
    }

    /** Shows what drives it; empty for nothing. */
    void driven(String by) {
        driven.setText(by.isEmpty() ? "" : "driven by a " + by);
        driven.setManaged(!by.isEmpty());
        driven.setVisible(!by.isEmpty());
    }

    Button stimulusButton() {
        return stimulus;
    }

    /** Goes on towards what is set, as far as the rate allows. */
    void advance(double seconds) {
        if (control.rate() > 0 && goal != sent) {
            double step = control.rate() * seconds;
            sent = Math.abs(goal - sent) <= step ? goal : sent + Math.copySign(step, goal - sent);
            apply.accept(unit.toSi(sent));
            progress.accept(sent);
        }
    }

    /** Shows the value the rig has, SI, where nobody is moving the control. */
    void follow(double si) {
        double v = unit.fromSi(si);
        // What was asked of the rig a moment ago may be older than what was set here.
        boolean fresh = System.nanoTime() - touched < STALE_NANOS;
        if (!fresh && goal == sent && Math.abs(v - sent) > 1e-9) {
            goal = v;
            sent = v;
            display.accept(v);
        }
    }
}
