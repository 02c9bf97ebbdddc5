package boldanvil.app.pages;

import boldanvil.app.chart.PointsView;
import boldanvil.app.model.SweepSession;
import boldanvil.app.model.Workspace;
import boldanvil.app.page.PageHost;
import boldanvil.core.bench.Sweep;
import boldanvil.core.finding.FindingException;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Variables;
import java.io.File;
import java.io.IOException;
import java.math.BigDecimal;
import java.math.MathContext;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.function.Supplier;
import javafx.beans.property.SimpleStringProperty;
import javafx.geometry.Insets;
import javafx.geometry.Orientation;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ProgressBar;
import javafx.scene.control.SplitPane;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import javafx.stage.FileChooser;
import org.kordamp.ikonli.feather.Feather;
import org.kordamp.ikonli.javafx.FontIcon;

/** Many runs of a rig with other values: what is varied on the left, what came of it on the right. */
public final class SweepView extends BorderPane {
    /** Lines of a grid that have a colour and a name of their own. */
    private static final int MOST_LINES = 6;

    private final Workspace workspace;
    private final SweepSession session;
    private final ChoiceBox<String> rig = new ChoiceBox<>();
    private final TextField length = new TextField("4 s");
    private final VBox rows = new VBox(10);
    private final List<Varied> varied = new ArrayList<>();
    private final CheckBox random = new CheckBox("Random points in the ranges");
    private final TextField count = new TextField("50");
    private final TextField seed = new TextField("1");
    private final Label plan = new Label();
    private final Button start = new Button("Sweep", FontIcon.of(Feather.PLAY, 14));
    private final Button cancel = new Button("Cancel");
    private final ProgressBar bar = new ProgressBar(0);
    private final ChoiceBox<String> tap = new ChoiceBox<>();
    private final ChoiceBox<Sweep.Measure> measure = new ChoiceBox<>();
    private final Button save = new Button("Save as CSV");
    private final PointsView points;
    private final TableView<Sweep.Outcome> table = new TableView<>();
    private final Label message = new Label();
    private List<String> names = List.of();
    private List<Sweep.Outcome> shown = List.of();
    /** Whether the points were random; such are not joined by lines. */
    private boolean sampled;

    /** One line of the form. */
    private final class Varied {
        final ComboBox<String> name = new ComboBox<>();
        final TextField values = new TextField();
        final VBox line;

        Varied() {
            int n = varied.size() + 1;
            name.setId("vary-name-" + n);
            name.getItems().setAll(names);
            name.setPromptText("what");
            name.setMaxWidth(Double.MAX_VALUE);
            values.setId("vary-values-" + n);
            values.setPromptText("1 : 5 : 9");
            values.setPrefColumnCount(11);
            values.setTooltip(new Tooltip("A list such as [1, 2, 5], or from : to : number of values"));
            values.textProperty().addListener((_, _, _) -> showPlan());
            name.valueProperty().addListener((_, _, _) -> showPlan());
            var drop = new Button("", FontIcon.of(Feather.X, 14));
            drop.getStyleClass().add("quiet");
            drop.setTooltip(new Tooltip("Remove this range"));
            drop.setOnAction(_ -> {
                varied.remove(this);
                rows.getChildren().remove(line());
                showPlan();
            });
            HBox.setHgrow(values, Priority.ALWAYS);
            var below = new HBox(6, new Label("over"), values, drop);
            below.setAlignment(Pos.CENTER_LEFT);
            line = new VBox(4, name, below);
        }

        private VBox line() {
            return line;
        }
    }

    SweepView(PageHost host) {
        workspace = host.workspace();
        session = host.sweeps();
        points = new PointsView(host::theme);
        var all = new SplitPane(form(), results());
        SplitPane.setResizableWithParent(all.getItems().getFirst(), false);
        all.setDividerPositions(0.28);
        setCenter(all);
        session.onChange(this::changed);
        add();
        changed();
    }

    private VBox form() {
        var heading = new Label("Sweep");
        heading.getStyleClass().add("heading");
        var hint = new Label("Runs a rig of models once for each combination of values, on all cores, and shows the results of each tap.");
        hint.setWrapText(true);
        hint.getStyleClass().addAll("faint", "small");
        rig.setId("sweep-rig");
        length.setId("sweep-length");
        length.setPrefColumnCount(6);
        length.setTooltip(new Tooltip("Simulated time of each run"));
        var runs = new HBox(8, new Label("Rig"), rig, new Label("for"), length);
        runs.setAlignment(Pos.CENTER_LEFT);
        var vary = new Label("VARIED");
        vary.getStyleClass().add("section");
        var more = new Button("Vary another value", FontIcon.of(Feather.PLUS, 14));
        more.setId("vary-more");
        more.getStyleClass().add("quiet");
        more.setOnAction(_ -> add());
        random.setId("sweep-random");
        count.setPrefColumnCount(5);
        count.setId("sweep-count");
        seed.setPrefColumnCount(5);
        seed.setTooltip(new Tooltip("The same seed gives the same points"));
        var sample = new HBox(8, new Label("Points"), count, new Label("Seed"), seed);
        sample.setAlignment(Pos.CENTER_LEFT);
        sample.disableProperty().bind(random.selectedProperty().not());
        random.selectedProperty().addListener((_, _, _) -> showPlan());
        count.textProperty().addListener((_, _, _) -> showPlan());
        plan.setWrapText(true);
        plan.setId("sweep-plan");
        plan.getStyleClass().add("small");
        start.getStyleClass().add("primary");
        start.setId("sweep-start");
        start.setOnAction(_ -> start());
        cancel.setId("sweep-cancel");
        cancel.setOnAction(_ -> session.cancel());
        bar.setMaxWidth(Double.MAX_VALUE);
        var buttons = new HBox(8, start, cancel);
        message.setWrapText(true);
        message.setId("sweep-message");
        message.getStyleClass().add("small");
        var side = new VBox(8, heading, hint, runs, vary, rows, more, random, sample, plan, buttons, bar, message);
        side.getStyleClass().add("side");
        side.setMinWidth(260);
        return side;
    }

    private SplitPane results() {
        tap.setId("sweep-tap");
        measure.setId("sweep-measure");
        measure.getItems().setAll(Sweep.Measure.values());
        measure.setValue(Sweep.Measure.LAST);
        tap.valueProperty().addListener((_, _, _) -> draw());
        measure.valueProperty().addListener((_, _, _) -> draw());
        save.setId("sweep-save");
        save.setOnAction(_ -> {
            var chooser = new FileChooser();
            chooser.setTitle("Save the sweep");
            chooser.setInitialFileName("sweep.csv");
            File to = chooser.showSaveDialog(getScene().getWindow());
            if (to != null) {
                save(to);
            }
        });
        var space = new Region();
        HBox.setHgrow(space, Priority.ALWAYS);
        var line = new HBox(8, new Label("Show the"), measure, new Label("value of"), tap, space, save);
        line.setAlignment(Pos.CENTER_LEFT);
        line.setPadding(new Insets(8, 12, 8, 12));
        var above = new BorderPane(points);
        above.setTop(line);
        table.setId("sweep-table");
        table.setPlaceholder(new Label("Choose the varied values on the left and press Sweep; each run is a row here."));
        var right = new SplitPane(above, table);
        right.setOrientation(Orientation.VERTICAL);
        right.setDividerPositions(0.6);
        return right;
    }

    private void add() {
        var v = new Varied();
        varied.add(v);
        rows.getChildren().add(v.line);
        showPlan();
    }

    /** Offers what the present project has; for when the page is turned to. */
    public void refresh() {
        List<String> rigs = Sweep.rigs(workspace.project());
        if (!rigs.equals(List.copyOf(rig.getItems()))) {
            String before = rig.getValue();
            rig.getItems().setAll(rigs);
            rig.setValue(rigs.contains(before) ? before : rigs.isEmpty() ? null : rigs.getFirst());
        }
        List<String> now = Sweep.names(workspace.review());
        if (!now.equals(names)) {
            names = now;
            varied.forEach(v -> {
                String before = v.name.getValue();
                v.name.getItems().setAll(names);
                v.name.setValue(names.contains(before) ? before : null);
            });
        }
        showPlan();
    }

    /** Fills in the form: what is varied, and over which values. */
    public void vary(Map<String, String> what) {
        varied.clear();
        rows.getChildren().clear();
        what.forEach((name, values) -> {
            add();
            varied.getLast().name.setValue(name);
            varied.getLast().values.setText(values);
        });
    }

    /** What the form says is varied. */
    private List<Sweep.Axis> axes() {
        var variables = Variables.resolve(workspace.project().variableTexts()).values();
        List<Sweep.Axis> axes = new ArrayList<>();
        for (Varied v : varied) {
            if (v.name.getValue() != null && !v.values.getText().isBlank()) {
                axes.add(Sweep.Axis.of(v.name.getValue(), v.values.getText(), variables));
            }
        }
        if (axes.isEmpty()) {
            throw FindingException.of("sweep", "No varied value is chosen.", "Choose a value and enter its range.");
        }
        if (axes.stream().map(Sweep.Axis::name).distinct().count() < axes.size()) {
            throw FindingException.of("sweep", "A value is varied twice.", "Remove one of the lines.");
        }
        return axes;
    }

    private static double number(String place, String text) {
        try {
            return Formula.evaluate(text, Map.of());
        } catch (FormulaException e) {
            throw FindingException.of(place, e.getMessage(), "Write a number.");
        }
    }

    private void showPlan() {
        try {
            var axes = axes();
            int n = random.isSelected() ? (int) number("points", count.getText()) : Sweep.count(axes);
            plan.setText(n == 1 ? "One run." : n + " runs.");
        } catch (FindingException e) {
            var f = e.findings().getFirst();
            plan.setText(f.cause() + " " + f.cure());
        }
    }

    /** Starts the sweep the form states. */
    public void start() {
        try {
            if (rig.getValue() == null) {
                throw FindingException.of("sweep", "No rig of the project consists of models only.",
                        "Add a rig in which every part is simulated.");
            }
            double seconds = number("length", length.getText());
            if (!(seconds > 0 && seconds <= 1e6)) {
                throw FindingException.of("length", "The time must be between 0 and 1,000,000 s.", "Write a time such as 4 s.");
            }
            var axes = axes();
            sampled = random.isSelected();
            session.start(workspace.project(), rig.getValue(), Math.round(seconds * 1e9), sampled ? sample(axes) : () -> Sweep.grid(axes));
        } catch (FindingException e) {
            var f = e.findings().getFirst();
            message.setText(f.place().text() + ": " + f.cause() + " " + f.cure());
        }
    }

    private Supplier<List<Map<String, Double>>> sample(List<Sweep.Axis> axes) {
        int n = (int) number("points", count.getText());
        long first = (long) number("seed", seed.getText());
        return () -> Sweep.sample(axes, n, first);
    }

    private void changed() {
        start.setDisable(session.isRunning());
        cancel.setDisable(!session.isRunning());
        bar.setVisible(session.isRunning());
        bar.setProgress(session.all() == 0 ? 0 : session.done() / (double) session.all());
        if (session.isRunning()) {
            message.setText(session.done() + " of " + session.all() + " runs");
        } else if (!session.findings().isEmpty()) {
            var f = session.findings().getFirst();
            message.setText(f.place().text() + ": " + f.cause() + " " + f.cure());
        } else {
            message.setText(session.outcomes().isEmpty() ? "" : session.outcomes()
                    .size() + " runs" + (session.isCancelled() ? ", then cancelled." : " done."));
        }
        if (session.outcomes() != shown) {
            shown = session.outcomes();
            offerTaps();
            draw();
        }
        save.setDisable(shown.isEmpty());
    }

    private void offerTaps() {
        List<String> taps = shown.stream().filter(o -> !o.courses().isEmpty()).findFirst()
                .map(o -> o.courses().stream().map(Sweep.Course::tap).toList()).orElse(List.of());
        if (!taps.equals(List.copyOf(tap.getItems()))) {
            tap.getItems().setAll(taps);
            tap.setValue(taps.isEmpty() ? null : taps.getFirst());
        }
    }

    private void draw() {
        String chosen = tap.getValue();
        if (shown.isEmpty()) {
            points.show("", "", List.of());
            table.getItems().clear();
            table.getColumns().clear();
            return;
        }
        List<String> axes = List.copyOf(shown.getFirst().point().keySet());
        String unit = shown.stream().flatMap(o -> o.courses().stream()).filter(c -> c.tap().equals(chosen)).map(Sweep.Course::unit)
                .findFirst().orElse("");
        String up = chosen == null ? "" : measure.getValue() + " value of " + chosen.replace('_', ' ') + (unit.isEmpty() ? ""
                : " [" + unit + "]");
        points.show(up, axes.getFirst(), lines(axes, chosen));
        columns(axes, chosen, unit);
        table.getItems().setAll(shown);
    }

    private List<PointsView.Line> lines(List<String> axes, String chosen) {
        Map<String, List<Sweep.Outcome>> groups = new LinkedHashMap<>();
        for (var o : shown) {
            var key = new StringBuilder();
            for (int i = 1; i < axes.size() && !sampled; i++) {
                key.append(i == 1 ? "" : ", ").append(shortName(axes.get(i))).append(" = ").append(figure(o.point().get(axes.get(i))));
            }
            groups.computeIfAbsent(key.toString(), _ -> new ArrayList<>()).add(o);
        }
        List<PointsView.Line> lines = new ArrayList<>();
        groups.forEach((name, members) -> lines.add(new PointsView.Line(groups.size() > MOST_LINES ? "" : name,
                members.stream().mapToDouble(o -> o.point().get(axes.getFirst())).toArray(),
                members.stream().mapToDouble(o -> value(o, chosen, measure.getValue())).toArray(), !sampled)));
        return lines;
    }

    private static String shortName(String address) {
        return address.substring(address.lastIndexOf('.') + 1).replace('_', ' ');
    }

    private static double value(Sweep.Outcome o, String tap, Sweep.Measure m) {
        return o.courses().stream().filter(c -> c.tap().equals(tap)).mapToDouble(c -> c.value(m)).findFirst().orElse(Double.NaN);
    }

    private void columns(List<String> axes, String chosen, String unit) {
        table.getColumns().clear();
        axes.forEach(a -> column(a, 150, o -> figure(o.point().get(a))));
        for (var m : Sweep.Measure.values()) {
            column(m + (unit.isEmpty() ? "" : " [" + unit + "]"), 110, o -> o.courses().isEmpty() ? "–" : figure(value(o, chosen, m)));
        }
        var notes = new TableColumn<Sweep.Outcome, String>("findings");
        notes.setCellValueFactory(d -> new SimpleStringProperty(d.getValue().findings().isEmpty() ? ""
                : d.getValue().findings().getFirst().toString()));
        notes.setPrefWidth(320);
        table.getColumns().add(notes);
    }

    private void column(String title, double width, Function<Sweep.Outcome, String> text) {
        var c = new TableColumn<Sweep.Outcome, String>(title);
        c.setCellValueFactory(d -> new SimpleStringProperty(text.apply(d.getValue())));
        c.setPrefWidth(width);
        c.getStyleClass().add("figure");
        table.getColumns().add(c);
    }

    private static String figure(double v) {
        if (!Double.isFinite(v)) {
            return Double.toString(v);
        }
        var rounded = new BigDecimal(v).round(new MathContext(5)).stripTrailingZeros();
        return Math.abs(rounded.scale()) <= 9 ? rounded.toPlainString() : rounded.toString();
    }

    /** Shows one tap, summed up in one way. */
    public void choose(String address, Sweep.Measure how) {
        tap.setValue(address);
        measure.setValue(how);
    }

    /** Writes the runs as CSV. */
    public void save(File to) {
        try {
            Files.write(to.toPath(), Sweep.csv(shown), StandardCharsets.UTF_8);
            message.setText("Saved as " + to.getName() + ".");
        } catch (IOException e) {
            message.setText(to.getName() + " cannot be written: " + e.getMessage() + ". Choose another folder.");
        }
    }

    /** Paints again, in other colours. */
    void repaint() {
        draw();
    }
}
