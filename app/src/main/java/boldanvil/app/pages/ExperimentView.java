package boldanvil.app.pages;

import boldanvil.app.chart.CurveView;
import boldanvil.app.chart.CurveView.Curve;
import boldanvil.app.chart.CurveView.Mark;
import boldanvil.app.chart.CurveView.Plot;
import boldanvil.app.chart.CurveView.Style;
import boldanvil.app.model.ExperimentSession;
import boldanvil.app.model.ExperimentSession.Asked;
import boldanvil.app.model.ExperimentSession.Result;
import boldanvil.app.model.Figures;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Buttons;
import boldanvil.core.identify.Excitation;
import boldanvil.core.linear.Bode;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import java.util.stream.IntStream;
import javafx.animation.KeyFrame;
import javafx.animation.Timeline;
import javafx.application.Platform;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ProgressBar;
import javafx.scene.control.TextField;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;
import javafx.util.Duration;

/** Experiments on the running rig: a value is moved, and what follows is measured. */
final class ExperimentView {
    private static final double NAN = Double.NaN;

    private final PageHost host;
    private final ExperimentSession session;
    private final Consumer<Result> overlay;
    private final BiConsumer<Result, Double> identify;
    private final ComboBox<String> tunable = Forms.choice("experiment-tunable", "A value of the rig", this::tunables);
    private final ComboBox<String> in = Forms.choice("experiment-in", "Tap of the input", this::taps);
    private final ComboBox<String> out = Forms.choice("experiment-out", "Tap of the output", this::taps);
    private final ChoiceBox<Excitation.Kind> kind = new ChoiceBox<>();
    private final TextField amplitude = Forms.field("experiment-amplitude", "0.1", "Largest distance from the value it has now");
    private final TextField low = Forms.field("experiment-low", "1 Hz", "Lowest frequency");
    private final TextField high = Forms.field("experiment-high", "50 Hz", "Highest frequency, below half of the sample rate");
    private final TextField time = Forms.field("experiment-time", "10 s", "How long the value is moved");
    private final TextField hysteresis = Forms.field("experiment-hysteresis", "0", "How far the output must pass its level until the relay "
            + "switches");
    private final TextField least = Forms.field("experiment-least", "",
            "The rig is stopped when the output falls below; empty for no limit");
    private final TextField most = Forms.field("experiment-most", "", "The rig is stopped when the output rises above; empty for no limit");
    private final Label message = Forms.message("experiment-message");
    private final ProgressBar progress = new ProgressBar(0);
    private final VBox found = new VBox(4);
    private final Button start;
    private final Button stop;
    private final CurveView course;
    private final CurveView magnitude;
    private final CurveView phase;
    private final CurveView coherence;
    private final GridPane plots = new GridPane();
    private final Label empty = Forms.faint("Run a rig, choose a value of it that is moved, and taps of the input and the output.\n"
            + "Then press 'Start': the frequency response, or the oscillation under a relay, is measured.");
    private final Timeline clock = new Timeline();
    private final Node node;

    /**
     * @param overlay lays what was measured over the curves of the loop
     * @param identify proposes the record, from an instant on, for identification
     */
    ExperimentView(PageHost host, Consumer<Result> overlay, BiConsumer<Result, Double> identify) {
        this.host = host;
        this.overlay = overlay;
        this.identify = identify;
        session = new ExperimentSession(Platform::runLater, host.session());
        start = Buttons.button("Start", "experiment-start", "Moves the value of the running rig", this::start);
        start.getStyleClass().add("primary");
        stop = Buttons.button("Stop", "experiment-stop", "Ends the experiment; the value is as before, the rig goes on", session::stop);
        course = Plots.view(host, "experiment-course");
        magnitude = Plots.view(host, "experiment-magnitude");
        phase = Plots.view(host, "experiment-phase");
        coherence = Plots.view(host, "experiment-coherence");
        arrange();
        empty.setId("experiment-empty");
        node = Forms.beside(form(), new StackPane(plots, empty));
        session.onChange(this::changed);
        clock.getKeyFrames().setAll(new KeyFrame(Duration.millis(100), _ -> {
            session.look();
            progress.setProgress(session.share());
        }));
        clock.setCycleCount(Timeline.INDEFINITE);
        changed();
    }

    private void arrange() {
        plots.add(course, 0, 0, 2, 1);
        plots.add(magnitude, 0, 1);
        plots.add(coherence, 0, 2);
        plots.add(phase, 1, 1, 1, 2);
        Plots.divide(plots, 40, 36, 24);
    }

    Node node() {
        return node;
    }

    ExperimentSession session() {
        return session;
    }

    void opened() {
        session.clear();
        for (ComboBox<String> b : List.of(tunable, in, out)) {
            b.setValue(null);
            b.getItems().clear();
        }
    }

    private VBox form() {
        kind.setId("experiment-kind");
        kind.getItems().setAll(Excitation.Kind.values());
        kind.setMaxWidth(Double.MAX_VALUE);
        found.setId("experiment-found");
        progress.setMaxWidth(Double.MAX_VALUE);
        var band = Forms.grid("Lowest frequency", low, "Highest frequency", high);
        var relay = Forms.grid("Hysteresis", hysteresis);
        kind.valueProperty().addListener((_, _, k) -> {
            Forms.show(band, k.isBand());
            Forms.show(relay, k == Excitation.Kind.RELAY);
        });
        kind.setValue(Excitation.Kind.MULTISINE);
        HBox.setHgrow(progress, Priority.ALWAYS);
        return new VBox(8, Forms.heading("Experiment"), new Label("Value that is moved"), tunable, new Label("Measured from and to"), in,
                out,
                Forms.section("EXCITATION"), kind, Forms.grid("Amplitude", amplitude, "Time", time), band, relay,
                Forms.section("LIMITS OF THE OUTPUT"),
                Forms.grid("Stop below", least, "Stop above", most), new HBox(8, start, stop), progress, message, found);
    }

    private List<String> tunables() {
        return host.session().live().map(r -> r.review().system().parts().keySet()
                .stream().flatMap(part -> r.review().system().program(part).stream().flatMap(p -> p.tunables().stream()
                .map(t -> part + "." + t.name()))).toList()).orElse(List.of());
    }

    private List<String> taps() {
        return host.session().live().map(r -> r.store().columns().stream().map(c -> c.name()).toList()).orElse(List.of());
    }

    private void start() {
        if (tunable.getValue() == null || in.getValue() == null || out.getValue() == null) {
            host.showMessage("Run the rig, then choose the value that is moved, and the taps of input and output.");
            return;
        }
        List<Double> all = new ArrayList<>();
        for (TextField f : List.of(amplitude, low, high, time, hysteresis)) {
            Forms.number(host, f).ifPresent(all::add);
        }
        Optional<Double> bottom = least.getText().isBlank() ? Optional.of(Double.NEGATIVE_INFINITY) : Forms.number(host, least);
        Optional<Double> top = most.getText().isBlank() ? Optional.of(Double.POSITIVE_INFINITY) : Forms.number(host, most);
        if (all.size() == 5 && bottom.isPresent() && top.isPresent()) {
            session.start(new Asked(tunable.getValue(), kind.getValue(), all.get(0), all.get(1), all.get(2), all.get(3), in.getValue(),
                    out.getValue(), bottom.get(), top.get(), all.get(4)), host.workspace().project().bench().limits());
        }
    }

    private void changed() {
        boolean active = session.isActive();
        if (active) {
            clock.play();
        } else {
            clock.stop();
        }
        Forms.show(progress, active);
        start.setDisable(session.isBusy());
        stop.setDisable(!active);
        message.setText(active ? "Moving the value …" : session.message());
        Forms.show(message, !message.getText().isEmpty());
        found.getChildren().clear();
        session.result().ifPresent(this::show);
        plots.setVisible(session.result().isPresent());
        empty.setVisible(session.result().isEmpty());
        draw();
    }

    private void show(Result r) {
        r.oscillation().ifPresent(o -> {
            line("Oscillates every " + Figures.seconds(o.seconds()) + " with an amplitude of " + Figures.text(o.amplitude(), 4));
            line("Ultimate gain " + Figures.text(o.gain(), 4) + ". From it, PI: kp = " + Figures.text(0.45 * o.gain(), 4) + ", ki = "
                    + Figures.text(0.45 * o.gain() * 1.2 / o.seconds(), 4) + "; PID: kp = " + Figures.text(0.6 * o.gain(), 4) + ", ki = "
                    + Figures.text(1.2 * o.gain() / o.seconds(), 4) + ", kd = " + Figures.text(0.075 * o.gain() * o.seconds(), 4));
            if (o.spread() > 0.1) {
                line("The periods differ by up to " + Math.round(100 * o.spread())
                        + " %. The oscillation has not settled, or the relay switches on noise.");
            }
        });
        r.response().ifPresent(m -> {
            long good = Arrays.stream(m.coherence()).filter(c -> c > 0.8).count();
            line(good + " of " + m.omega().length + " frequencies have a coherence above 0.8.");
            found.getChildren().add(Buttons.button("Lay over the loop", "experiment-overlay",
                    "Shows the response as dots in the view 'Loop'",
                    () -> overlay.accept(r)));
        });
        found.getChildren().add(Buttons.button("Identify from it", "experiment-identify", "Proposes this record in the view 'Identify'",
                () -> identify.accept(r, r.begin())));
    }

    private void line(String text) {
        found.getChildren().add(Forms.line(text));
    }

    void draw() {
        if (session.result().isEmpty()) {
            return;
        }
        Result r = session.result().get();
        int n = r.record().size();
        double[] t = IntStream.range(0, n).mapToDouble(i -> r.begin() + i * r.record().period()).toArray();
        course.show(Plot.of(Figures.shortName(r.asked().out()) + " solid, " + Figures.shortName(r.asked().in()) + " dashed", "Time, s",
                false,
                List.of(new Curve(t, r.record().input(), Style.DASHED, 1), new Curve(t, r.record().output(), Style.LINE, 0)), List.of())
                .between(new double[] {t[0], t[n - 1]}, null));
        for (CurveView v : List.of(magnitude, phase, coherence)) {
            v.setVisible(r.response().isPresent());
        }
        r.response().ifPresent(m -> {
            double[] db = Arrays.stream(m.response()).mapToDouble(c -> Bode.decibels(c.norm())).toArray();
            double[] degrees = Arrays.stream(m.response()).mapToDouble(c -> {
                double v = Math.toDegrees(c.getArgument());
                return v > 90 ? v - 360 : v;
            }).toArray();
            magnitude.show(Plot.of("Magnitude, dB", "", true, List.of(new Curve(m.omega(), db, Style.DOTS, 0)),
                    List.of(new Mark(NAN, 0, ""))));
            phase.show(Plot.of("Phase, °", "Frequency, rad/s", true, List.of(new Curve(m.omega(), degrees, Style.DOTS, 0)),
                    List.of(new Mark(NAN, -180, "−180°"))).between(null, new double[] {-280, 100}));
            coherence.show(Plot.of("Coherence", "Frequency, rad/s", true, List.of(new Curve(m.omega(), m.coherence(), Style.DOTS, 2)),
                    List.of()).between(null, new double[] {-0.05, 1.05}));
        });
    }
}
