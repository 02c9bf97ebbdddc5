package boldanvil.app.pages;

import boldanvil.app.chart.CurveView;
import boldanvil.app.chart.CurveView.Curve;
import boldanvil.app.chart.CurveView.Plot;
import boldanvil.app.chart.CurveView.Style;
import boldanvil.app.model.Figures;
import boldanvil.app.model.GuideSession;
import boldanvil.app.model.GuideSession.Result;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Buttons;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Variable;
import boldanvil.core.identify.Estimate;
import boldanvil.core.identify.GuidedTest;
import boldanvil.core.identify.TakenOver;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import javafx.application.Platform;
import javafx.geometry.HPos;
import javafx.geometry.Insets;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;

/** Ready experiments: what to do, which signals, and the values that follow. */
final class GuideView {
    private final PageHost host;
    private final GuideSession session = new GuideSession(Platform::runLater);
    private final ChoiceBox<String> test = new ChoiceBox<>();
    private final RunChoice run;
    private final VBox given = new VBox(4);
    private final Map<String, ComboBox<String>> taps = new LinkedHashMap<>();
    private final Map<String, TextField> numbers = new LinkedHashMap<>();
    private final TextField from = Forms.field("guide-from", "", "First instant that counts; empty for the beginning");
    private final TextField to = Forms.field("guide-to", "", "Last instant that counts; empty for the end");
    private final Button start;
    private final Label message = Forms.message("guide-message");
    private final VBox found = new VBox(6);
    private final Map<String, ComboBox<String>> targets = new LinkedHashMap<>();
    private final VBox right = new VBox(10);
    private final CurveView course;
    private final Node node;

    GuideView(PageHost host) {
        this.host = host;
        run = new RunChoice(host, "guide-run", "Choose a run", false);
        start = Buttons.button("Evaluate", "guide-start", "Computes the values from the run", this::evaluate);
        start.getStyleClass().add("primary");
        course = new CurveView(host::theme);
        course.setId("guide-course");
        VBox.setVgrow(course, Priority.ALWAYS);
        right.setPadding(new Insets(16));
        test.setId("guide-test");
        test.setMaxWidth(Double.MAX_VALUE);
        GuidedTest.all().forEach(g -> test.getItems().add(g.title()));
        test.valueProperty().addListener((_, _, _) -> {
            session.latest().clear();
            chosen();
        });
        found.setId("guide-found");
        node = Forms.beside(new VBox(8, Forms.heading("Motor and sensor"), test, new Label("Run"), run, given,
                Forms.grid("From", from, "To",
                to), start, message, found), right);
        session.latest().onChange(this::changed);
        test.setValue(test.getItems().getFirst());
        changed();
    }

    Node node() {
        return node;
    }

    GuideSession session() {
        return session;
    }

    void opened() {
        run.clear();
        session.latest().clear();
        chosen();
    }

    void draw() {
        course.paint();
    }

    private GuidedTest current() {
        return GuidedTest.all().get(Math.max(0, test.getItems().indexOf(test.getValue())));
    }

    private void chosen() {
        GuidedTest g = current();
        taps.clear();
        numbers.clear();
        given.getChildren().setAll(Forms.section("SIGNALS"));
        for (String signal : g.signals()) {
            var box = Forms.choice("guide-" + signal, "Choose a tap", run::taps);
            taps.put(signal, box);
            given.getChildren().addAll(new Label(signal), box);
        }
        if (!g.numbers().isEmpty()) {
            given.getChildren().add(Forms.section("KNOWN"));
            new TreeMap<>(g.numbers()).forEach((name, text) -> numbers.put(name,
                    Forms.field("guide-" + name.replace(' ', '-'), text, name)));
            given.getChildren().add(Forms.grid(numbers.entrySet().stream()
                    .flatMap(e -> java.util.stream.Stream.of(e.getKey(), e.getValue()))
                    .toArray()));
        }
        given.getChildren().add(Forms.section("SPAN"));
        right.getChildren().setAll(Forms.heading(g.title()));
        for (int i = 0; i < g.steps().size(); i++) {
            right.getChildren().add(Forms.line(i + 1 + ".  " + g.steps().get(i)));
        }
        right.getChildren().add(course);
    }

    private void evaluate() {
        if (run.getValue() == null || taps.values().stream().anyMatch(b -> b.getValue() == null)) {
            host.showMessage("Choose a run and a tap for each signal first.");
            return;
        }
        Map<String, Double> values = new LinkedHashMap<>();
        for (var e : numbers.entrySet()) {
            Forms.number(host, e.getValue()).ifPresent(v -> values.put(e.getKey(), v));
        }
        var first = from.getText().isBlank() ? Optional.of(0.0) : Forms.number(host, from);
        var last = to.getText().isBlank() ? Optional.of(run.getValue().end()) : Forms.number(host, to);
        if (values.size() == numbers.size() && first.isPresent() && last.isPresent()) {
            session.evaluate(current(), run.getValue(), taps.entrySet().stream().collect(Collectors.toMap(Map.Entry::getKey,
                    e -> e.getValue().getValue(), (a, _) -> a, LinkedHashMap::new)), first.get(), last.get(), values);
        }
    }

    private void changed() {
        message.setText(session.latest().message());
        Forms.show(message, !session.latest().message().isEmpty());
        start.setDisable(session.latest().isBusy());
        found.getChildren().clear();
        targets.clear();
        course.setVisible(session.latest().result().isPresent());
        session.latest().result().ifPresent(this::show);
    }

    private void show(Result r) {
        var grid = new GridPane();
        grid.setId("guide-values");
        grid.setHgap(8);
        grid.setVgap(4);
        List<String> variables = host.workspace().project().variables().stream().map(Variable::name).toList();
        for (Estimate.Value v : r.estimate().values()) {
            var value = new Label(Figures.text(v.value(), 5));
            var target = new ComboBox<String>();
            target.setId("guide-into-" + v.name().replace(' ', '-'));
            target.setPromptText("into …");
            target.getItems().setAll(variables);
            target.setPrefWidth(110);
            if (variables.contains(v.name())) {
                target.setValue(v.name());
            }
            targets.put(v.name(), target);
            GridPane.setHalignment(value, HPos.RIGHT);
            var name = new Label(v.name());
            name.setWrapText(true);
            grid.addRow(grid.getRowCount(), name, value, Forms.faint("± " + Figures.text(v.bound(), 2)));
            grid.add(target, 1, grid.getRowCount(), 2, 1);
        }
        found.getChildren().addAll(Forms.section("FOUND, SI, ± 95 %"), grid);
        var fit = new Label(String.format(java.util.Locale.ROOT, "Fit %.2f %%", 100 * r.estimate().fit()));
        found.getChildren().add(fit);
        r.estimate().warnings().forEach(w -> {
            var l = Forms.faint(w);
            l.setMinHeight(Region.USE_PREF_SIZE);
            found.getChildren().add(l);
        });
        found.getChildren().add(Buttons.button("Write to variables …", "guide-write",
                "Writes the values into the chosen variables, with the run and the bound as their note", () -> write(r)));
        var all = r.signals().entrySet().stream().toList();
        List<Curve> curves = new java.util.ArrayList<>();
        for (int i = 0; i < all.size(); i++) {
            curves.add(new Curve(all.get(i).getValue().times(), all.get(i).getValue().values(), i == 0 ? Style.LINE : Style.DASHED, i));
        }
        course.show(Plot.of(all.stream().map(Map.Entry::getKey).collect(Collectors.joining(", "))
                + (all.size() > 1 ? "; the first solid" : ""),
                "Time, s", false, curves, List.of()));
    }

    private void write(Result r) {
        Map<String, String> into = new LinkedHashMap<>();
        targets.forEach((value, box) -> Optional.ofNullable(box.getValue()).ifPresent(v -> into.put(value, v)));
        Project before = host.workspace().project();
        List<String> lines = TakenOver.lines(before, r.in(before, into));
        if (lines.isEmpty()) {
            host.showMessage("Choose a variable for a value first.");
            return;
        }
        Forms.confirm(node, "Write", "values", lines, () -> host.workspace().edit("write measured values", p -> r.in(p, into)));
    }
}
