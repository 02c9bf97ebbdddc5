package boldanvil.app.pages;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Variable;
import boldanvil.core.identify.GreyBox;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.quantity.Variables;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.VBox;

/** Variables that are left free, with their limits. */
final class FreeVariables extends VBox {
    private record Row(String name, TextField low, TextField high) {}

    private final ComboBox<String> choice = new ComboBox<>();
    private final GridPane grid = new GridPane();
    private final List<Row> rows = new ArrayList<>();
    private final Supplier<Project> project;
    private final String lowest;
    private final String highest;

    /**
     * @param id of the choice
     * @param lowest limit that is proposed, with %s for the text of the present value
     */
    FreeVariables(String id, Supplier<Project> project, String lowest, String highest) {
        super(4);
        this.project = project;
        this.lowest = lowest;
        this.highest = highest;
        choice.setId(id);
        choice.setPromptText("Add a variable");
        choice.setMaxWidth(Double.MAX_VALUE);
        choice.setOnShowing(_ -> choice.getItems().setAll(project.get().variables().stream().map(Variable::name).toList()));
        choice.setOnAction(_ -> {
            String name = choice.getValue();
            if (name != null) {
                add(name);
                javafx.application.Platform.runLater(() -> choice.setValue(null));
            }
        });
        grid.setHgap(6);
        grid.setVgap(3);
        getChildren().addAll(grid, choice);
    }

    void add(String name) {
        String text = project.get().variables().stream().filter(v -> v.name().equals(name)).map(Variable::value).findFirst().orElse("");
        if (!text.isEmpty() && rows.stream().noneMatch(r -> r.name().equals(name))) {
            rows.add(new Row(name, field("low", name, lowest.formatted(text)), field("high", name, highest.formatted(text))));
            draw();
        }
    }

    private TextField field(String end, String name, String text) {
        var f = new TextField(text);
        f.setId(choice.getId() + "-" + end + "-" + name);
        f.setPrefColumnCount(7);
        return f;
    }

    void clear() {
        rows.clear();
        draw();
    }

    private void draw() {
        grid.getChildren().clear();
        if (!rows.isEmpty()) {
            grid.addRow(0, faint("variable"), faint("from"), faint("to"));
        }
        for (Row r : rows) {
            var drop = new Button("✕");
            drop.getStyleClass().add("quiet");
            drop.setTooltip(new Tooltip("Hold this variable"));
            drop.setOnAction(_ -> {
                rows.remove(r);
                draw();
            });
            grid.addRow(grid.getRowCount(), new Label(r.name()), r.low(), r.high(), drop);
        }
    }

    private static Label faint(String text) {
        var l = new Label(text);
        l.getStyleClass().add("faint");
        return l;
    }

    /**
     * What is free.
     *
     * @throws FormulaException when a limit cannot be computed
     */
    List<GreyBox.Free> chosen() throws FormulaException {
        Map<String, Quantity> variables = Variables.resolve(project.get().variableTexts()).values();
        List<GreyBox.Free> all = new ArrayList<>();
        for (Row r : rows) {
            double a = Formula.quantity(r.low().getText(), variables).value();
            double b = Formula.quantity(r.high().getText(), variables).value();
            all.add(new GreyBox.Free(r.name(), Math.min(a, b), Math.max(a, b)));
        }
        return all;
    }
}
