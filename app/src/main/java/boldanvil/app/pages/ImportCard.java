package boldanvil.app.pages;

import boldanvil.core.quantity.Units;
import boldanvil.core.samples.Column;
import boldanvil.core.transfer.RunImport;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.TextField;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;

/** Which column of a file becomes what. */
final class ImportCard extends VBox {
    private static final String NO_TIME = "none; time between rows:";

    private record Line(CheckBox take, String column, TextField tap, TextField unit, TextField factor) {}

    private final List<Line> lines = new ArrayList<>();
    private final ChoiceBox<String> time = new ChoiceBox<>();
    private final TextField factor = new TextField("1");
    private final TextField step = new TextField("0.001");
    private final Label message = new Label();

    /** @param read reads as planned; says what is wrong, or nothing */
    ImportCard(String file, RunImport.Contents contents, Function<RunImport.Plan, String> read) {
        super(8);
        var heading = new Label("Columns of " + file);
        heading.getStyleClass().add("heading");
        time.setId("import-time");
        time.getItems().add(NO_TIME);
        time.getItems().addAll(contents.columns());
        time.setValue(contents.time() < 0 ? NO_TIME : contents.columns().get(contents.time()));
        factor.setPrefColumnCount(5);
        step.setPrefColumnCount(6);
        step.setId("import-step");
        var timeLine = new HBox(6, new Label("time column"), time, new Label("seconds of one unit"), factor,
                new Label("or sample time in s"), step);
        timeLine.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        var grid = new GridPane();
        grid.setHgap(8);
        grid.setVgap(4);
        grid.addRow(0, head(""), head("column"), head("signal name"), head("shown in"), head("factor"));
        for (int i = 0; i < contents.columns().size(); i++) {
            String c = contents.columns().get(i);
            var column = Column.ofHeading(c.substring(c.lastIndexOf('/') + 1));
            String name = column.name();
            String unit = column.unit();
            double f = Units.orOne(unit).factor();
            var take = new CheckBox();
            take.setSelected(i != contents.time());
            var line = new Line(take, c, field(name.contains(".") ? name : "imported." + name.replace(' ', '_'), 18), field(unit, 5),
                    field(Double.toString(f), 5));
            line.tap().setId("import-tap-" + i);
            lines.add(line);
            grid.addRow(i + 1, take, new Label(c), line.tap(), line.unit(), line.factor());
        }
        var scroll = new ScrollPane(grid);
        scroll.setPrefSize(660, Math.min(320, 40 + 32 * contents.columns().size()));
        message.setWrapText(true);
        message.setMaxWidth(640);
        message.setId("import-message");
        message.getStyleClass().addAll("small", "bad");
        var go = new Button("Import");
        go.setId("import-go");
        go.getStyleClass().add("primary");
        go.setOnAction(_ -> {
            try {
                message.setText(read.apply(plan()));
            } catch (NumberFormatException e) {
                message.setText("A factor or the sample time is not a number.");
            }
        });
        getChildren().addAll(heading, timeLine, scroll, go, message);
    }

    private static Label head(String text) {
        var l = new Label(text);
        l.getStyleClass().addAll("small", "faint");
        return l;
    }

    private static TextField field(String text, int columns) {
        var f = new TextField(text);
        f.setPrefColumnCount(columns);
        return f;
    }

    private RunImport.Plan plan() {
        boolean none = time.getValue().equals(NO_TIME);
        return new RunImport.Plan(none ? "" : time.getValue(), Double.parseDouble(factor.getText().strip()),
                Double.parseDouble(step.getText().strip()),
                lines.stream().filter(l -> l.take().isSelected() && !l.column().equals(time.getValue()))
                        .map(l -> new RunImport.Mapping(l.column(), l.tap().getText().strip(), l.unit().getText().strip(),
                        Double.parseDouble(l.factor().getText().strip()))).toList());
    }
}
