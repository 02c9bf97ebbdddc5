package boldanvil.app.bench;

import boldanvil.app.model.Figures;
import boldanvil.core.diagram.BenchLayout.Choice;
import boldanvil.core.diagram.BenchLayout.Control;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.VBox;

/** Title, limits, rate and group of a control. */
final class ControlForm extends VBox {
    private final Map<String, TextField> fields = new LinkedHashMap<>();

    ControlForm(Control c, Consumer<Control> done) {
        super(8);
        var heading = new Label(c.tunable().replace('_', ' '));
        heading.getStyleClass().add("strong");
        var form = new GridPane();
        form.setHgap(8);
        form.setVgap(5);
        field("title", c.title());
        field("group", c.group());
        field("minimum", Figures.text(c.minimum()));
        field("maximum", Figures.text(c.maximum()));
        field("soft minimum", Figures.text(c.softMinimum()));
        field("soft maximum", Figures.text(c.softMaximum()));
        field("per second", Figures.text(c.rate()));
        field("step", Figures.text(c.step()));
        field("choices", String.join(", ", c.choices().stream().map(x -> x.label() + " = " + Figures.text(x.value())).toList()));
        int row = 0;
        for (var e : fields.entrySet()) {
            boolean number = row > 1 && !e.getKey().equals("choices");
            form.addRow(row++, new Label(e.getKey()), e.getValue(), new Label(number ? c.unit() : ""));
        }
        var wrong = new Label();
        wrong.getStyleClass().addAll("small", "bad");
        wrong.setWrapText(true);
        var ok = new Button("Apply");
        ok.setId("control-keep");
        ok.getStyleClass().add("primary");
        ok.setOnAction(_ -> {
            try {
                done.accept(read(c));
            } catch (IllegalArgumentException e) {
                wrong.setText(e.getMessage());
            }
        });
        getChildren().addAll(heading, form, ok, wrong);
        setPrefWidth(300);
    }

    private void field(String name, String text) {
        var f = new TextField(text);
        f.setId("control-" + name.replace(' ', '-'));
        f.setPrefColumnCount(9);
        fields.put(name, f);
    }

    private double number(String name) {
        try {
            return Double.parseDouble(fields.get(name).getText().strip());
        } catch (NumberFormatException e) {
            throw new IllegalArgumentException("'" + name + "' is not a number.");
        }
    }

    private Control read(Control c) {
        double least = number("minimum");
        double most = number("maximum");
        if (!(least < most)) {
            throw new IllegalArgumentException("The minimum must be below the maximum.");
        }
        List<Choice> choices = new ArrayList<>();
        for (String part : fields.get("choices").getText().split(",")) {
            int equals = part.lastIndexOf('=');
            if (equals > 0) {
                try {
                    choices.add(new Choice(part.substring(0, equals).strip(), Double.parseDouble(part.substring(equals + 1).strip())));
                } catch (NumberFormatException e) {
                    throw new IllegalArgumentException("Write a choice as name = value.");
                }
            }
        }
        return new Control(c.shape(), fields.get("title").getText().strip(), c.tunable(), c.unit(), least, most,
                Math.max(0, number("per second")),
                Math.max(0, number("step")), Math.clamp(number("soft minimum"), least, most),
                Math.clamp(number("soft maximum"), least, most),
                fields.get("group").getText().strip(), choices);
    }
}
