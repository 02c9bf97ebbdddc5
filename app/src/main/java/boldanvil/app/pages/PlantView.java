package boldanvil.app.pages;

import boldanvil.app.chart.CurveView;
import boldanvil.app.chart.CurveView.Curve;
import boldanvil.app.chart.CurveView.Mark;
import boldanvil.app.chart.CurveView.Plot;
import boldanvil.app.chart.CurveView.Style;
import boldanvil.app.model.Figures;
import boldanvil.app.model.LatestWork;
import boldanvil.app.model.LoopSession;
import boldanvil.app.model.TypedPlants;
import boldanvil.app.model.TypedPlants.Form;
import boldanvil.app.model.TypedPlants.Row;
import boldanvil.app.model.TypedPlants.Typed;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Buttons;
import boldanvil.core.linear.Bode;
import boldanvil.core.linear.Sampling;
import boldanvil.core.loop.Controller;
import boldanvil.core.loop.TypedLoop;
import boldanvil.core.quantity.Variables;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import javafx.application.Platform;
import javafx.geometry.HPos;
import javafx.scene.Node;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;
import javafx.util.StringConverter;

/** A plant that is typed, sampled in all ways side by side, and opened as a loop with a PID controller. */
final class PlantView {
    private static final double NAN = Double.NaN;
    /** Decibels that are shown at least; a gain margin beyond says nothing. */
    private static final double LOWEST = -100;

    /** What can be opened. */
    private record Ready(TypedLoop plant, Controller controller) {}

    private final PageHost host;
    private final LoopSession loop;
    private final LatestWork work;
    private final Runnable shown;
    private final ChoiceBox<Form> form = new ChoiceBox<>();
    private final Map<Form, Map<String, TextField>> fields = new LinkedHashMap<>();
    private final VBox given = new VBox(4);
    private final TextField period = Forms.field("plant-period", "0.1 s", "Sample time of the controller");
    private final ChoiceBox<Sampling> way = new ChoiceBox<>();
    private final TextField kp = Forms.field("plant-kp", "1", "Proportional gain of the controller");
    private final TextField ki = Forms.field("plant-ki", "0.5", "Integral gain, per second");
    private final TextField kd = Forms.field("plant-kd", "0", "Derivative gain, times seconds");
    private final TextField tf = Forms.field("plant-tf", "50 ms", "Time constant of the derivative's filter");
    private final Label message = Forms.message("plant-message");
    private final GridPane table = new GridPane();
    private final CurveView magnitude;
    private final CurveView phase;
    private final VBox plots;
    private final Label empty = Forms.faint("Type a plant and press 'Sample': this view shows it as it is sampled in each way.\n"
            + "'Open as loop' shows it with the controller in the view 'Loop'.");
    private final Node node;
    private List<Row> rows = List.of();

    /** @param shown brings the view of the open loop to the front */
    PlantView(PageHost host, LoopSession loop, Runnable shown) {
        this.host = host;
        this.loop = loop;
        this.shown = shown;
        work = new LatestWork("plant", Platform::runLater, this::changed);
        magnitude = new CurveView(host::theme);
        magnitude.setId("plant-magnitude");
        phase = new CurveView(host::theme);
        phase.setId("plant-phase");
        VBox.setVgrow(magnitude, Priority.ALWAYS);
        VBox.setVgrow(phase, Priority.ALWAYS);
        plots = new VBox(magnitude, phase, table);
        empty.setId("plant-empty");
        node = Forms.beside(form(), new StackPane(plots, empty));
        changed();
    }

    Node node() {
        return node;
    }

    private VBox form() {
        form.setId("plant-form");
        form.getItems().setAll(Form.values());
        form.setMaxWidth(Double.MAX_VALUE);
        for (Form f : Form.values()) {
            Map<String, TextField> mine = new LinkedHashMap<>();
            f.fields().forEach((name, text) -> mine.put(name, Forms.field("plant-" + name.toLowerCase(java.util.Locale.ROOT)
                    .replace(' ', '-'),
                    text, name)));
            fields.put(f, mine);
        }
        form.valueProperty().addListener((_, _, f) -> given.getChildren().setAll(fields.get(f).entrySet().stream()
                .flatMap(e -> java.util.stream.Stream.<Node>of(new Label(e.getKey()), e.getValue())).toList()));
        form.setValue(Form.TRANSFER);
        way.setId("plant-way");
        way.getItems().setAll(Sampling.values());
        way.setConverter(new StringConverter<>() {
            @Override
            public String toString(Sampling s) {
                return s == null ? "" : s.label();
            }

            @Override
            public Sampling fromString(String text) {
                return null;
            }
        });
        way.setValue(Sampling.ZERO_ORDER_HOLD);
        way.valueProperty().addListener((_, _, _) -> draw());
        way.setMaxWidth(Double.MAX_VALUE);
        table.setHgap(16);
        table.setVgap(3);
        table.setId("plant-table");
        table.setStyle("-fx-padding: 8 14 10 14;");
        var sample = Buttons.button("Sample", "plant-sample", "Samples the plant in each way, side by side", this::sample);
        sample.getStyleClass().add("primary");
        return new VBox(8, Forms.heading("Plant"), form, given, Forms.section("SAMPLED"), Forms.grid("Sample time", period), way,
                Forms.section("CONTROLLER"), Forms.grid("kp", kp, "ki", ki, "kd", kd, "Filter", tf), new HBox(8, sample,
                        Buttons.button("Open as loop", "plant-open", "Shows the loop of this plant and controller", this::open)), message);
    }

    private Typed typed() {
        Map<String, String> texts = new LinkedHashMap<>();
        fields.get(form.getValue()).forEach((name, f) -> texts.put(name, f.getText()));
        return new Typed(form.getValue(), texts, period.getText(), Map.of("kp", kp.getText(), "ki", ki.getText(), "kd", kd.getText(), "tf",
                tf.getText()), Variables.resolve(host.workspace().project().variableTexts()).values(),
                host.workspace().folder().orElse(Path.of("")));
    }

    private void sample() {
        Typed t = typed();
        work.start("Sampling …", () -> TypedPlants.rows(TypedPlants.loop(t, Sampling.ZERO_ORDER_HOLD), TypedPlants.controller(t)),
                found -> rows = found);
    }

    private void open() {
        Typed t = typed();
        Sampling chosen = way.getValue();
        work.start("Opening …", () -> new Ready(TypedPlants.loop(t, chosen), TypedPlants.controller(t)), r -> {
            loop.open(r.plant(), r.controller());
            shown.run();
        });
    }

    private void changed() {
        message.setText(work.message());
        Forms.show(message, !work.message().isEmpty());
        plots.setVisible(!rows.isEmpty());
        empty.setVisible(rows.isEmpty());
        table.getChildren().clear();
        if (rows.isEmpty()) {
            return;
        }
        String[] heads = {"Sampled by", "phase margin", "at, rad/s", "gain margin", "closed loop"};
        for (int i = 0; i < heads.length; i++) {
            var l = Forms.faint(heads[i]);
            table.add(l, i, 0);
            GridPane.setHalignment(l, i == 0 ? HPos.LEFT : HPos.RIGHT);
        }
        for (Row r : rows) {
            int at = table.getRowCount();
            table.add(new Label(r.name()), 0, at);
            if (!r.cause().isEmpty()) {
                table.add(Forms.faint(r.cause()), 1, at, 4, 1);
                continue;
            }
            right(r.margins().phase().map(c -> Figures.text(Math.toDegrees(c.value()), 4) + " °").orElse("none"), 1, at);
            right(r.margins().phase().map(c -> Figures.text(c.omega(), 4)).orElse(""), 2, at);
            right(r.margins().up().filter(c -> Bode.decibels(c.value()) < -LOWEST)
                    .map(c -> Figures.text(Bode.decibels(c.value()), 4) + " dB").orElse("none"), 3, at);
            right(r.isStable() ? "stable" : "not stable", 4, at);
        }
        draw();
    }

    private void right(String text, int column, int row) {
        var l = new Label(text);
        table.add(l, column, row);
        GridPane.setHalignment(l, HPos.RIGHT);
    }

    private void draw() {
        if (rows.isEmpty()) {
            return;
        }
        magnitude.show(Plot.of("Loop: magnitude, dB; " + (rows.getFirst().isContinuous() ? "continuous solid, " : "") + way.getValue()
                .label()
                + " dashed, others grey", "", true, curves(b -> Arrays.stream(b.magnitude()).map(Bode::decibels)
                        .map(v -> Math.clamp(v, LOWEST, -LOWEST)).toArray()), List.of(
                        new Mark(NAN, 0, ""))));
        phase.show(Plot.of("Loop: phase, °", "Frequency, rad/s", true, curves(b -> Arrays.stream(b.phase()).map(Math::toDegrees).toArray()),
                List.of(new Mark(NAN, -180, "−180°"))).between(null, new double[] {-400, 30}));
    }

    private List<Curve> curves(Function<Bode, double[]> y) {
        List<Curve> all = new ArrayList<>();
        for (Row r : rows) {
            if (r.cause().isEmpty()) {
                boolean chosen = r.name().equals(way.getValue().label());
                all.add(new Curve(r.bode().omega(), y.apply(r.bode()), r.isContinuous() ? Style.LINE : chosen ? Style.DASHED : Style.FAINT,
                        chosen ? 1 : 0));
            }
        }
        return all;
    }
}
