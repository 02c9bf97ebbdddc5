package boldanvil.app.sheet;

import boldanvil.app.widget.AskCard;
import boldanvil.app.widget.Theme;
import boldanvil.core.sheet.ChartPicture;
import boldanvil.core.text.Chart;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Supplier;
import javafx.scene.canvas.Canvas;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.input.KeyCode;
import javafx.scene.input.MouseEvent;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.FlowPane;

/** A mode chart as a picture. What is changed here is changed in its text, of which this is another view. */
final class ChartPane extends BorderPane {
    private final Canvas canvas = new Canvas(100, 100);
    private final Supplier<Theme> theme;
    private final Supplier<Set<String>> active;
    private final Consumer<String> change;
    private final Label hint = new Label();
    private Chart chart;
    private ChartPicture picture;
    private Object selected;
    private boolean connecting;

    /**
     * @param active names of the active steps
     * @param change takes the text after an edit
     */
    ChartPane(Supplier<Theme> theme, Supplier<Set<String>> active, Consumer<String> change) {
        this.theme = theme;
        this.active = active;
        this.change = change;
        setId("chart-pane");
        canvas.setId("chart-canvas");
        canvas.setFocusTraversable(true);
        var scroll = new ScrollPane(canvas);
        scroll.getStyleClass().add("paper");
        setCenter(scroll);
        var add = button("Add a step", "chart-add", this::add);
        var connect = button("Add a transition", "chart-connect", () -> {
            connecting = selected instanceof Chart.Step;
            hint.setText(connecting ? "Click the step it leads to." : "Select the step it starts from first.");
        });
        var edit = button("Edit", "chart-edit", this::edit);
        var delete = button("Delete", "chart-delete", this::delete);
        hint.getStyleClass().addAll("small", "faint");
        var bar = new FlowPane(8, 4, add, connect, edit, delete, hint);
        bar.getStyleClass().add("text-pane-bar");
        setTop(bar);
        canvas.setOnMousePressed(this::pressed);
        canvas.setOnKeyPressed(e -> {
            if (e.getCode() == KeyCode.DELETE) {
                delete();
                e.consume();
            } else if (e.getCode() == KeyCode.F2 || e.getCode() == KeyCode.ENTER) {
                edit();
                e.consume();
            }
        });
    }

    private static Button button(String text, String id, Runnable action) {
        var b = new Button(text);
        b.setId(id);
        b.setOnAction(_ -> action.run());
        return b;
    }

    /** Shows the chart of a text; the last readable one while the text has mistakes. */
    void show(String text) {
        var next = Chart.of(text).orElse(null);
        if (next == null || !next.readable() && chart != null) {
            hint.setText("The text has errors; the chart shows its last readable state.");
            return;
        }
        hint.setText("");
        chart = next;
        picture = new ChartPicture(chart);
        if (!(selected instanceof Chart.Step s && chart.step(s.name()).isPresent())) {
            selected = null;
        } else {
            selected = chart.step(s.name()).orElseThrow();
        }
        paint();
    }

    void paint() {
        if (picture == null) {
            return;
        }
        canvas.setWidth(Math.max(400, picture.width()));
        canvas.setHeight(Math.max(300, picture.height()));
        var g = canvas.getGraphicsContext2D();
        g.setFill(theme.get().paper());
        g.fillRect(0, 0, canvas.getWidth(), canvas.getHeight());
        picture.paint(new CanvasPen(g, theme.get()), active.get(), selected);
    }

    private void pressed(MouseEvent e) {
        canvas.requestFocus();
        Object hit = picture == null ? null : picture.steps().stream().filter(b -> b.contains(e.getX(), e.getY())).findFirst()
                .<Object>map(ChartPicture.StepBox::step).orElseGet(() -> picture.bars().stream().filter(b -> b.contains(e.getX(), e.getY()))
                        .findFirst().map(ChartPicture.Bar::transition).orElse(null));
        if (connecting && selected instanceof Chart.Step from && hit instanceof Chart.Step to) {
            connecting = false;
            change.accept(chart.connected(from, to));
            return;
        }
        connecting = false;
        selected = hit;
        paint();
        if (e.getClickCount() == 2) {
            edit();
        }
    }

    private void edit() {
        if (selected instanceof Chart.Step s) {
            AskCard.show(canvas, "Name of the step", s.name(), name -> named(name, text -> change.accept(chart.renamed(s, text))));
        } else if (selected instanceof Chart.Transition t) {
            AskCard.show(canvas, "Condition of the transition", t.condition(), text -> {
                if (text.isBlank()) {
                    return "Enter a condition, such as start AND NOT stop.";
                }
                change.accept(chart.condition(t, text));
                return "";
            });
        }
    }

    private String named(String name, Consumer<String> take) {
        if (!name.matches("[A-Za-z_][A-Za-z0-9_]*")) {
            return "Use letters, digits and underscores, beginning with a letter.";
        }
        if (chart.step(name).isPresent()) {
            return "There is a step of this name already.";
        }
        take.accept(name);
        return "";
    }

    private void add() {
        if (selected instanceof Chart.Step s) {
            AskCard.show(canvas, "Name of the new step", "", name -> named(name, text -> change.accept(chart.added(s, text))));
        } else {
            hint.setText("Select the step it follows first.");
        }
    }

    private void delete() {
        if (selected instanceof Chart.Step s) {
            change.accept(chart.without(s));
        } else if (selected instanceof Chart.Transition t) {
            change.accept(chart.without(t));
        }
    }
}
