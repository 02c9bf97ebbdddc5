package boldanvil.app.pages;

import boldanvil.app.model.FeedbackSession;
import boldanvil.app.model.FeedbackSession.Pole;
import boldanvil.app.model.FeedbackSession.Result;
import boldanvil.app.model.FeedbackSession.Wanted;
import boldanvil.app.model.Figures;
import boldanvil.app.model.LoopSession;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Buttons;
import boldanvil.core.linear.Bode;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.loop.SheetOutputs;
import boldanvil.core.loop.StateFeedback;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Variables;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;
import javafx.application.Platform;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;

/** State feedback with an estimator: what is asked on the left, what it does on the right. */
final class FeedbackView {
    private static final String LEAST = "Least squares";
    private static final String POLES = "Poles";

    private final PageHost host;
    private final LoopSession loop;
    private final FeedbackSession session = new FeedbackSession(Platform::runLater);
    private final TapChoice outputs = new TapChoice("feedback-out", "Add an output the controller reads", this::candidates);
    private final TextField states = Forms.field("feedback-states", "all",
            "How many states of the plant are kept, the most important ones; "
            + "'all' for every state");
    private final ChoiceBox<String> way = new ChoiceBox<>();
    private final TextField poles = Forms.field("feedback-poles", "10, 0.7; 20", "Each pole as natural frequency in rad/s, and damping "
            + "ratio where it is a pair; separated by semicolons");
    private final TextField deviations = Forms.field("feedback-deviations", "1", "Deviation of each output that is as bad as the others, "
            + "separated by commas");
    private final TextField input = Forms.field("feedback-input", "1", "Deviation of the input that is as bad");
    private final TextField integral = Forms.field("feedback-integral", "1 s", "Integral of the first output's error that is as bad");
    private final CheckBox integrates = new CheckBox("Integrate the error of the first output");
    private final CheckBox referenced = new CheckBox("Reference acts straight on the input");
    private final TextField disturbed = Forms.field("feedback-disturbed", "1", "Standard deviation of what disturbs the input");
    private final TextField noise = Forms.field("feedback-noise", "0.01", "Standard deviation of each sensor's noise, separated by commas");
    private final TextField estimated = Forms.field("feedback-estimated", "",
            "Poles of the estimator, as those above; empty for those that follow "
            + "from the noise");
    private final ComboBox<String> reference = new ComboBox<>();
    private final TextField low = Forms.field("feedback-low", "", "Lower limit of what is given to the wire; empty for none");
    private final TextField high = Forms.field("feedback-high", "", "Upper limit; empty for none");
    private final Label message = Forms.message("feedback-message");
    private final VBox found = new VBox(4);
    private final Button start;
    private final Button put;
    private final FeedbackPlots plots;
    private final Label empty = Forms.faint("");
    private final Node node;
    private LoopSession.Opened known;

    FeedbackView(PageHost host, LoopSession loop) {
        this.host = host;
        this.loop = loop;
        plots = new FeedbackPlots(host, session);
        start = Buttons.button("Design", "feedback-start", "Computes the gain and the estimator", this::design);
        start.getStyleClass().add("primary");
        put = Buttons.button("Put on the sheet", "feedback-put", "Adds the controller as blocks, in place of what drives the wire now",
                this::put);
        empty.setId("feedback-empty");
        node = Forms.beside(form(), new StackPane(plots, empty));
        loop.onChange(this::opened);
        session.latest().onChange(this::changed);
        changed();
    }

    Node node() {
        return node;
    }

    FeedbackSession session() {
        return session;
    }

    void draw() {
        plots.draw();
    }

    private VBox form() {
        way.setId("feedback-way");
        way.getItems().setAll(LEAST, POLES);
        way.setValue(LEAST);
        integrates.setId("feedback-integrates");
        integrates.setSelected(true);
        referenced.setId("feedback-referenced");
        reference.setId("feedback-reference");
        reference.setMaxWidth(Double.MAX_VALUE);
        reference.setPromptText("A value of its own");
        reference.setOnShowing(_ -> reference.getItems().setAll(candidates()));
        found.setId("feedback-found");
        var weights = Forms.grid("Outputs", deviations, "Input", input, "Integral", integral);
        var placed = Forms.grid("Poles", poles);
        var equal = Forms.faint("Deviations that are equally bad; a smaller one is held more tightly.");
        way.valueProperty().addListener((_, _, w) -> {
            Forms.show(weights, w.equals(LEAST));
            Forms.show(equal, w.equals(LEAST));
            Forms.show(placed, w.equals(POLES));
        });
        Forms.show(placed, false);
        var keep = Forms.grid("States kept", states);
        var estimator = Forms.grid("Disturbance", disturbed, "Sensors", noise, "Or poles", estimated);
        var limits = Forms.grid("Lower limit", low, "Upper limit", high);
        return new VBox(8, Forms.heading("State feedback"), Forms.section("OUTPUTS, THE FIRST IS CONTROLLED"), outputs, keep,
                Forms.section("REGULATOR"), way, equal,
                weights, placed, integrates, referenced, Forms.section("ESTIMATOR: NOISE, STANDARD DEVIATION"), estimator, start, message,
                        found,
                Forms.section("ON THE SHEET"), new Label("Reference of the first output"), reference, limits, new HBox(8, put));
    }

    private List<String> candidates() {
        return loop.opened().map(o -> SheetOutputs.of(o.project(), o.cut())).orElse(List.of());
    }

    private void design() {
        var opened = loop.opened();
        if (opened.isEmpty() || outputs.chosen().isEmpty()) {
            host.showMessage("Open a loop and add an output that the controller reads.");
            return;
        }
        try {
            boolean least = way.getValue().equals(LEAST);
            int n = outputs.chosen().size();
            List<Pole> wanted = least ? List.of() : poles(poles);
            session.design(opened.get(), new Wanted(outputs.chosen(), states.getText().isBlank() || states.getText().strip().equals("all")
                    ? 0
                    : (int) value(states.getText()), new StateFeedback.Weights(list(deviations, n), value(input.getText()),
                    value(integral.getText())), wanted, poles(estimated),
                            new StateFeedback.Noise(value(disturbed.getText()), list(noise, n)),
                    integrates.isSelected(), referenced.isSelected()));
        } catch (FormulaException e) {
            host.showMessage("A value cannot be computed: " + e.getMessage());
        }
    }

    private List<Pole> poles(TextField f) {
        return f.getText().isBlank() ? List.of() : Arrays.stream(f.getText().split(";")).map(this::pole).toList();
    }

    private Pole pole(String text) {
        String[] parts = text.split(",");
        return new Pole(value(parts[0]), parts.length > 1 ? value(parts[1]) : 1);
    }

    /** One value for each output; the last one holds for those that are left. */
    private double[] list(TextField f, int n) {
        String[] parts = f.getText().split(",");
        double[] all = new double[n];
        for (int i = 0; i < n; i++) {
            all[i] = value(parts[Math.min(i, parts.length - 1)]);
        }
        return all;
    }

    private double value(String text) {
        return Formula.quantity(text.strip().replace('−', '-'), Variables.resolve(host.workspace().project().variableTexts()).values())
                .value();
    }

    private Optional<Double> limit(TextField f, double otherwise) {
        return f.getText().isBlank() ? Optional.of(otherwise) : Forms.number(host, f);
    }

    private void put() {
        if (session.latest().result().isEmpty()) {
            return;
        }
        String r = reference.getValue() == null ? "" : reference.getValue();
        limit(low, Double.NEGATIVE_INFINITY).ifPresent(bottom -> limit(high, Double.POSITIVE_INFINITY).ifPresent(top -> host.attempt(() -> {
            try {
                session.onSheet(host.workspace().project(), r, bottom, top);
                host.workspace().edit("put the state feedback on the sheet", p -> session.onSheet(p, r, bottom, top));
                host.showMessage("The state feedback drives the wire now; its blocks are in the subsystem 'state feedback'.");
            } catch (NoSolutionException e) {
                host.showMessage(e.getMessage() + " " + e.cure());
            }
        })));
    }

    /** Forgets what belongs to the loop that was open before; while a gain is dragged nothing here changes. */
    private void opened() {
        if (loop.opened().orElse(null) != known) {
            known = loop.opened().orElse(null);
            outputs.clear();
            reference.setValue(null);
            session.latest().clear();
        }
    }

    private void changed() {
        message.setText(session.latest().message());
        Forms.show(message, !session.latest().message().isEmpty());
        start.setDisable(session.latest().isBusy() || known == null);
        put.setDisable(session.latest().result().isEmpty());
        found.getChildren().clear();
        session.latest().result().ifPresent(this::show);
        plots.setVisible(session.latest().result().isPresent());
        empty.setVisible(session.latest().result().isEmpty());
        empty.setText(known == null
                ? "Open a loop in the view 'Loop' at the wire that drives the plant.\nThen a state feedback for it is designed "
                + "here." : "Add the outputs that the controller reads and press 'Design'.");
        plots.draw();
    }

    private void show(Result r) {
        StateFeedback f = r.feedback();
        int n = f.plant().system().states();
        line("Plant: " + Figures.count(n, "state") + ", sampled every " + Figures.seconds(f.plant().system().period()));
        if (!f.plant().states().isEmpty()) {
            line(f.plant().states().stream().map(s -> s.substring(s.indexOf('/') + 1).replace('_', ' ')).collect(Collectors.joining(", ")));
        }
        double first = r.hankel().length == 0 ? 1 : r.hankel()[0];
        line("Weight of the states: " + Arrays.stream(r.hankel()).limit(8).mapToObj(h -> Figures.text(h / first, 2))
                .collect(Collectors.joining(", ")));
        line("K = " + row(f.k().getDDRM().getData()) + (f.integral() == 0 ? "" : "\nki = " + Figures.text(f.integral(), 4)));
        var m = r.at().margins();
        line(String.format(Locale.ROOT, "At the input: phase margin %s, gain margins %s and %s", m.phase().map(c -> Figures.text(
                Math.toDegrees(c.value()), 3) + " °").orElse("none"), m.down().map(c -> Figures.text(Bode.decibels(c.value()), 3) + " dB")
                .orElse("none"), m.up().map(c -> Figures.text(Bode.decibels(c.value()), 3) + " dB").orElse("none")));
    }

    private static String row(double[] all) {
        List<String> texts = new ArrayList<>();
        for (double v : all) {
            texts.add(Figures.text(v, 4));
        }
        return String.join(", ", texts);
    }

    private void line(String text) {
        found.getChildren().add(Forms.line(text));
    }
}
