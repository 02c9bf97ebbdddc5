package boldanvil.app.pages;

import boldanvil.app.model.Figures;
import boldanvil.app.model.IdentifySession;
import boldanvil.app.model.IdentifySession.Remove;
import boldanvil.app.model.IdentifySession.Result;
import boldanvil.app.model.IdentifySession.Span;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Buttons;
import boldanvil.app.widget.Copies;
import boldanvil.core.diagram.Project;
import boldanvil.core.identify.BlackBox;
import boldanvil.core.identify.Estimate;
import boldanvil.core.identify.GreyBox;
import boldanvil.core.identify.TakenOver;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.quantity.Variables;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.stream.Collectors;
import javafx.application.Platform;
import javafx.geometry.HPos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;

/** Models and values from recorded runs: what is asked on the left, how well it fits on the right. */
final class IdentifyView {
    private static final String SHEET = "Variables of the sheet";

    private final PageHost host;
    private final IdentifySession session = new IdentifySession(Platform::runLater);
    private final RunChoice run;
    private final RunChoice check;
    private final TapChoice inputs;
    private final TapChoice outputs;
    private final TextField from = Forms.field("identify-from", "", "First instant that counts; empty for the beginning");
    private final TextField to = Forms.field("identify-to", "", "Last instant that counts; empty for the end");
    private final TextField every = Forms.field("identify-every", "", "Sample time of the model; empty for that of the input");
    private final ChoiceBox<Remove> remove = new ChoiceBox<>();
    private final ChoiceBox<String> model = new ChoiceBox<>();
    private final TextField numbers = Forms.field("identify-numbers", "", "Whole numbers, separated by commas");
    private final Label meaning = Forms.faint("");
    private final FreeVariables free;
    private final Label message = Forms.message("identify-message");
    private final VBox found = new VBox(6);
    private final Button start;
    private final Button cancel;
    private final IdentifyPlots plots;
    private final Node node;

    IdentifyView(PageHost host) {
        this.host = host;
        run = new RunChoice(host, "identify-run", "Choose a run", false);
        check = new RunChoice(host, "identify-check", "None", true);
        inputs = new TapChoice("identify-in", "Add an input", run::taps);
        outputs = new TapChoice("identify-out", "Add an output", run::taps);
        plots = new IdentifyPlots(host, session);
        free = new FreeVariables("identify-variable", () -> host.workspace().project(), "0.25*(%s)", "4*(%s)");
        start = Buttons.button("Identify", "identify-start", "Finds the model that comes nearest to the run", this::identify);
        start.getStyleClass().add("primary");
        cancel = Buttons.button("Cancel", "identify-cancel", "Stops the search", session.latest()::cancel);
        var empty = Forms.faint("Choose a run, an input that moves and an output that follows.\nThen choose a kind of model, or variables "
                + "of the sheet, and press 'Identify'.");
        empty.setId("identify-empty");
        node = Forms.beside(form(), new StackPane(plots, empty));
        session.latest().onChange(() -> {
            changed();
            empty.setVisible(session.latest().result().isEmpty());
        });
        plots.setVisible(false);
        changed();
    }

    Node node() {
        return node;
    }

    IdentifySession session() {
        return session;
    }

    /** The project is another one. */
    void opened() {
        run.clear();
        check.clear();
        inputs.clear();
        outputs.clear();
        free.clear();
        session.latest().clear();
    }

    void draw() {
        plots.draw();
    }

    /** Chooses a span of the last run; for experiments. */
    void propose(List<String> in, List<String> out, double first) {
        run.chooseLast();
        inputs.clear();
        outputs.clear();
        in.forEach(inputs::add);
        out.forEach(outputs::add);
        from.setText(Figures.text(first, 6) + " s");
    }

    private VBox form() {
        remove.setId("identify-remove");
        remove.getItems().setAll(Remove.values());
        remove.setValue(Remove.OFFSET);
        model.setId("identify-model");
        Arrays.stream(BlackBox.values()).forEach(b -> model.getItems().add(b.label()));
        model.getItems().add(SHEET);
        model.setMaxWidth(Double.MAX_VALUE);
        model.valueProperty().addListener((_, _, m) -> chosen(m));
        model.setValue(BlackBox.OUTPUT_ERROR.label());
        var span = Forms.grid("From", from, "To", to, "Sample time", every, "Remove", remove);
        return new VBox(8, Forms.heading("Identify"), new Label("Run"), run, Forms.section("INPUTS"), inputs, Forms.section("OUTPUTS"),
                outputs,
                Forms.section("SPAN"), span, Forms.section("MODEL"), model, numbers, meaning, free, new Label("Check on a second run"),
                check,
                new HBox(8, start, cancel), message, found);
    }

    private static Optional<BlackBox> kind(String label) {
        return Arrays.stream(BlackBox.values()).filter(b -> b.label().equals(label)).findFirst();
    }

    private void chosen(String label) {
        var kind = kind(label);
        boolean counts = kind.filter(b -> b.defaults().length > 0).isPresent();
        Forms.show(numbers, counts);
        Forms.show(meaning, counts);
        Forms.show(free, kind.isEmpty());
        every.setDisable(kind.isEmpty());
        remove.setDisable(kind.isEmpty());
        kind.ifPresent(b -> {
            numbers.setText(Arrays.stream(b.defaults()).mapToObj(Integer::toString).collect(Collectors.joining(", ")));
            meaning.setText(b.meaning());
        });
    }

    private void identify() {
        if (run.getValue() == null || inputs.chosen().isEmpty() && kind(model.getValue()).isPresent() || outputs.chosen().isEmpty()) {
            host.showMessage("Choose a run, an input and an output first.");
            return;
        }
        var first = instant(from, Double.NEGATIVE_INFINITY);
        var last = instant(to, Double.POSITIVE_INFINITY);
        var period = instant(every, 0);
        if (first.isEmpty() || last.isEmpty() || period.isEmpty()) {
            return;
        }
        double end = Math.min(last.get(), run.getValue().end());
        var span = new Span(run.getValue(), check.getValue(), inputs.chosen(), outputs.chosen(), Math.max(0, first.get()), end,
                period.get() > 0 ? OptionalDouble.of(period.get()) : OptionalDouble.empty(), remove.getValue());
        var kind = kind(model.getValue());
        if (kind.isPresent()) {
            counts(kind.get()).ifPresent(n -> session.model(span, kind.get(), n));
        } else {
            try {
                List<GreyBox.Free> all = free.chosen();
                if (all.isEmpty()) {
                    host.showMessage("Add the variables that are to be found.");
                    return;
                }
                Project p = host.workspace().project();
                session.variables(span, p.rig(run.getValue().rig()).map(p::as).orElse(p), all);
            } catch (FormulaException e) {
                host.showMessage("A limit cannot be computed: " + e.getMessage());
            }
        }
    }

    private Optional<Double> instant(TextField f, double otherwise) {
        return f.getText().isBlank() ? Optional.of(otherwise) : Forms.number(host, f);
    }

    private Optional<int[]> counts(BlackBox kind) {
        String[] texts = numbers.getText().isBlank() ? new String[0] : numbers.getText().split(",");
        try {
            int[] all = kind.defaults().length == 0 ? new int[0] : Arrays.stream(texts).mapToInt(t -> Integer.parseInt(t.strip()))
                    .toArray();
            if (all.length == kind.defaults().length && Arrays.stream(all).allMatch(n -> n >= 0 && n <= 60)
                    && (all.length < 2 || all[0] > 0 && all[1] > 0)) {
                return Optional.of(all);
            }
        } catch (NumberFormatException _) {
            // The message below says what to write.
        }
        host.showMessage("Write whole numbers up to 60: " + kind.meaning() + ".");
        return Optional.empty();
    }

    private void changed() {
        message.setText(session.latest().message());
        Forms.show(message, !session.latest().message().isEmpty());
        start.setDisable(session.latest().isBusy());
        Forms.show(cancel, session.latest().isBusy());
        found.getChildren().clear();
        session.latest().result().ifPresent(this::show);
        plots.setVisible(session.latest().result().isPresent());
        plots.draw();
    }

    private void show(Result r) {
        found.getChildren().add(Forms.section("FOUND, ± 95 %"));
        r.estimate().ifPresent(e -> found.getChildren().add(values(e, r.black().isEmpty())));
        r.predictions().forEach(p -> line("Fit of " + Figures.shortName(p.tap()) + ": " + percent(p.fit())));
        r.checked().forEach(p -> line("On the second run: " + Figures.shortName(p.tap()) + " " + percent(p.fit())));
        if (!Double.isNaN(r.checkedFit())) {
            line("On the second run: " + percent(r.checkedFit()));
        }
        r.estimate().ifPresent(e -> {
            line(String.format(Locale.ROOT, "Residuals %s (p = %.2g)", e.white().isWhite() ? "white" : "not white",
                    e.white().probability()));
            e.warnings().forEach(this::line);
        });
        r.polynomials().ifPresent(texts -> {
            String delay = r.black().filter(b -> b.delay() > 0).map(b -> "\ndelay " + Figures.seconds(b.delay())).orElse("");
            line("numerator  " + texts.getFirst() + "\ndenominator  " + texts.getLast() + delay);
            found.getChildren().add(Buttons.button("Copy", "identify-copy",
                    "Copies numerator and denominator, to paste them into a transfer function block", () ->
                    Copies.text(String.join("\n", texts))));
        });
        if (r.black().isEmpty()) {
            found.getChildren().add(Buttons.button("Write to variables …", "identify-write",
                    "Writes the values, with the run and the bound as their note", () -> write(r)));
        }
    }

    private static String percent(double fit) {
        return String.format(Locale.ROOT, "%.2f %%", 100 * fit);
    }

    private void line(String text) {
        found.getChildren().add(Forms.line(text));
    }

    private GridPane values(Estimate e, boolean sheet) {
        var grid = new GridPane();
        grid.setId("identify-values");
        grid.setHgap(10);
        grid.setVgap(3);
        Map<String, Quantity> known = sheet ? Variables.resolve(host.workspace().project().variableTexts()).values() : Map.of();
        for (Estimate.Value v : e.values()) {
            int row = grid.getRowCount();
            var value = new Label(Figures.text(v.value(), 6));
            var bound = new Label("± " + Figures.text(v.bound(), 2));
            bound.getStyleClass().add("faint");
            String unit = known.containsKey(v.name()) ? known.get(v.name()).dimension().unit() : "";
            var units = new Label(unit);
            units.getStyleClass().add("faint");
            grid.addRow(row, new Label(v.name()), value, bound, units);
            GridPane.setHalignment(value, HPos.RIGHT);
            for (int k = 0; k < row; k++) {
                double c = e.correlation()[row][k];
                if (Math.abs(c) > 0.7) {
                    var tip = new Tooltip(String.format(Locale.ROOT, "Correlation with %s: %.2f", e.values().get(k).name(), c));
                    value.setTooltip(tip);
                }
            }
        }
        return grid;
    }

    private void write(Result r) {
        Project before = host.workspace().project();
        Project after = TakenOver.in(before, r.estimate().orElseThrow(), r.run());
        List<String> lines = TakenOver.lines(before, after);
        if (lines.isEmpty()) {
            host.showMessage("The variables have these values already.");
            return;
        }
        Forms.confirm(node, "Write", "values", lines, () -> host.workspace()
                .edit("write identified values", p -> TakenOver.in(p, r.estimate().orElseThrow(),
                r.run())));
    }
}
