package boldanvil.app.pages;

import boldanvil.app.model.FeedbackSession;
import boldanvil.app.model.Figures;
import boldanvil.app.model.IdentifySession;
import boldanvil.app.model.LoopSession;
import boldanvil.app.model.LoopSession.Design;
import boldanvil.app.model.LoopView;
import boldanvil.app.page.Command;
import boldanvil.app.page.Page;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Buttons;
import boldanvil.app.widget.ConfirmCard;
import boldanvil.core.diagram.Rig;
import boldanvil.core.diagram.Wire;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.linear.Bode;
import boldanvil.core.linear.Margins;
import boldanvil.core.linear.Margins.Crossing;
import boldanvil.core.loop.Cut;
import boldanvil.core.loop.Linearisation.OperatingPoint;
import boldanvil.core.loop.LoopPlaces;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import javafx.application.Platform;
import javafx.geometry.HPos;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.Slider;
import javafx.scene.control.TextField;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;
import org.kordamp.ikonli.Ikon;
import org.kordamp.ikonli.feather.Feather;

/** A control loop: opened at a wire, seen as curves, designed, sent to the sheet and to the running rig. */
public final class LoopPage extends BorderPane implements Page {
    private static final double DECADES = 2;

    /** Ways to design a PID controller. */
    private enum Way {
        PI("PI by crossover and margin"), PID("PID by crossover and margin"), LEAST("PI with the least error"),
                ULTIMATE("PI by ultimate gain");

        private final String label;

        Way(String label) {
            this.label = label;
        }

        @Override
        public String toString() {
            return label;
        }
    }

    private final PageHost host;
    private final LoopSession session = new LoopSession(Platform::runLater);
    private final Supplier<Optional<Cut>> selected;
    private final LoopPlots plots;
    private final ComboBox<String> place = new ComboBox<>();
    private final TextField after = new TextField("0.5 s");
    private final Slider gain = new Slider(-DECADES, DECADES, 0);
    private final TextField factor = new TextField("1");
    private final GridPane figures = new GridPane();
    private final VBox modes = new VBox(2);
    private final VBox kept = new VBox(4);
    private final Label message = new Label();
    private final ChoiceBox<Way> way = new ChoiceBox<>();
    private final TextField crossover = new TextField();
    private final TextField margin = new TextField("60 °");
    private final TextField peak = new TextField("1.6");
    private final Label gains = new Label();
    private final ComboBox<String> in = new ComboBox<>();
    private final ComboBox<String> out = new ComboBox<>();
    private final VBox design;
    private final Label empty = new Label("Choose an output within a control loop and press 'Open the loop'.\n"
            + "Or select a wire on a sheet and use 'Open the loop at the selected wire'.");
    private final IdentifyView identify;
    private final FeedbackView feedback;
    private final Map<String, Node> views = new LinkedHashMap<>();
    private boolean follows;

    /** @param selected the wire that is selected on the sheet */
    public LoopPage(PageHost host, Supplier<Optional<Cut>> selected) {
        this.host = host;
        this.selected = selected;
        plots = new LoopPlots(host, session);
        empty.setId("loop-empty");
        empty.getStyleClass().add("faint");
        design = design();
        identify = new IdentifyView(host);
        views.put("Loop", Forms.beside(form(), new StackPane(plots, empty)));
        feedback = new FeedbackView(host, session);
        views.put("State feedback", feedback.node());
        views.put("Limits", new CheckView(host, session).node());
        views.put("Identify", identify.node());
        setTop(tabs());
        setCenter(views.get("Loop"));
        session.onChange(this::changed);
        changed();
    }

    /** The views of this page, in the order of the work. */
    private HBox tabs() {
        var line = new HBox(4);
        line.getStyleClass().add("tabs");
        var group = new ToggleGroup();
        views.forEach((name, view) -> {
            var b = new ToggleButton(name);
            b.setId("loop-view-" + name.toLowerCase(Locale.ROOT).replace(' ', '-'));
            b.setToggleGroup(group);
            b.setOnAction(_ -> {
                b.setSelected(true);
                setCenter(view);
            });
            line.getChildren().add(b);
        });
        ((ToggleButton) line.getChildren().getFirst()).setSelected(true);
        return line;
    }

    @Override
    public String name() {
        return "Loop";
    }

    @Override
    public String key() {
        return "Alt+L";
    }

    @Override
    public Ikon icon() {
        return Feather.TARGET;
    }

    @Override
    public Node node() {
        return this;
    }

    @Override
    public void shown() {
        String before = place.getEditor().getText();
        List<String> now = LoopPlaces.of(host.workspace().project());
        if (!now.equals(List.copyOf(place.getItems()))) {
            place.getItems().setAll(now);
        }
        place.getEditor().setText(before.isEmpty() && !now.isEmpty() ? now.getFirst() : before);
        plots.draw();
    }

    @Override
    public void opened() {
        session.clear();
        identify.opened();
        place.getItems().clear();
        place.getEditor().setText("");
    }

    @Override
    public void repaint() {
        plots.draw();
        identify.draw();
        feedback.draw();
    }

    @Override
    public List<Command> commands() {
        return List.of(Command.of("Open the loop at the selected wire", "", this::openSelected).in("Sheet"));
    }

    /** What is open; for tests. */
    public LoopSession session() {
        return session;
    }

    /** The state feedback that was designed; for tests. */
    public FeedbackSession feedback() {
        return feedback.session();
    }

    /** What was identified; for tests. */
    public IdentifySession identification() {
        return identify.session();
    }

    private VBox form() {
        place.setId("loop-place");
        place.setEditable(true);
        place.setMaxWidth(Double.MAX_VALUE);
        place.setPromptText("part/block");
        after.setId("loop-after");
        after.setPrefColumnCount(6);
        after.setTooltip(new Tooltip("How long the chosen rig runs, so that it is at its operating point"));
        var open = Buttons.button("Open the loop", "loop-open", "Makes the loop linear at the operating point", this::open);
        open.getStyleClass().add("primary");
        var run = new HBox(8, new Label("after"), after, open);
        run.setAlignment(Pos.CENTER_LEFT);
        gain.setId("loop-gain");
        gain.valueProperty().addListener((_, _, v) -> {
            if (!follows) {
                session.gain(Math.pow(10, v.doubleValue()));
            }
        });
        factor.setId("loop-factor");
        factor.setPrefColumnCount(6);
        factor.setOnAction(_ -> Forms.number(host, factor).ifPresent(session::gain));
        HBox.setHgrow(gain, Priority.ALWAYS);
        var move = new HBox(8, gain, factor);
        move.setAlignment(Pos.CENTER_LEFT);
        figures.setHgap(10);
        figures.setVgap(3);
        figures.setId("loop-figures");
        modes.setId("loop-modes");
        message.setWrapText(true);
        message.setId("loop-message");
        message.getStyleClass().add("small");
        gains.setWrapText(true);
        gains.setId("loop-gains");
        kept.setId("loop-kept");
        return new VBox(8, Forms.heading("Loop"), new Label("Opened at the output"), place, run, message,
                Forms.section("GAIN OF THE LOOP, FACTOR"), move,
                Forms.section("MARGINS"), figures, design, Forms.section("MODES OF THE CLOSED LOOP"), modes,
                        Forms.section("MEASURED ON THE LAST RUN"),
                measured());
    }

    /** Which taps of the last run are laid over the curves. */
    private VBox measured() {
        in.setId("loop-in");
        out.setId("loop-out");
        for (ComboBox<String> b : List.of(in, out)) {
            b.setMaxWidth(Double.MAX_VALUE);
            b.setOnShowing(_ -> {
                String before = b.getValue();
                b.getItems().setAll(host.session().run().map(r -> r.store().columns().stream().map(c -> c.name()).toList())
                        .orElse(List.of()));
                b.setValue(before);
            });
        }
        in.setPromptText("from, such as the error");
        out.setPromptText("to, such as the measured value");
        return new VBox(6, in, out, Buttons.button("Lay over", "loop-measure",
                "Shows the response of one tap of the last run to another as dots, where they are coherent", this::measure));
    }

    private void measure() {
        var run = host.session().run();
        if (run.isEmpty()) {
            host.showMessage("Run the rig first, with a stimulus that moves the loop.");
        } else if (in.getValue() == null || out.getValue() == null) {
            host.showMessage("Choose the two taps of the run first.");
        } else {
            Forms.number(host, after).ifPresent(t -> session.measure(run.get().store(), in.getValue(), out.getValue(), t));
        }
    }

    private VBox design() {
        way.setId("loop-way");
        way.getItems().setAll(Way.values());
        way.setValue(Way.PI);
        way.setMaxWidth(Double.MAX_VALUE);
        crossover.setId("loop-crossover");
        crossover.setPromptText("rad/s");
        margin.setId("loop-margin");
        peak.setId("loop-peak");
        for (TextField f : List.of(crossover, margin, peak)) {
            f.setPrefColumnCount(6);
        }
        var values = new GridPane();
        values.setHgap(8);
        values.setVgap(4);
        values.addRow(0, new Label("Crossover, rad/s"), crossover);
        values.addRow(1, new Label("Phase margin"), margin);
        values.addRow(2, new Label("Peak of sensitivity"), peak);
        way.valueProperty().addListener((_, _, w) -> enable(w));
        enable(way.getValue());
        var buttons = new HBox(8, Buttons.button("Design", "loop-design", "Computes the gains and shows the loop with them",
                this::designed),
                Buttons.button("Keep", "loop-keep", "Keeps what is shown, to compare others with it", session::keep));
        var to = new HBox(8, Buttons.button("Send …", "loop-send", "Writes the gains into the variables they come from", this::send),
                Buttons.button("Try", "loop-try", "Gives the gains to the running rig, as one set", this::tryOut));
        return new VBox(6, Forms.section("CONTROLLER"), gains, way, values, buttons, to, Forms.section("KEPT, DASHED"), kept);
    }

    private void enable(Way w) {
        crossover.setDisable(w == Way.LEAST || w == Way.ULTIMATE);
        margin.setDisable(w == Way.LEAST || w == Way.ULTIMATE);
        peak.setDisable(w != Way.LEAST);
    }

    private void open() {
        host.attempt(() -> open(Cut.at(host.workspace().project(), place.getEditor().getText().strip())));
    }

    private void openSelected() {
        var cut = selected.get();
        if (cut.isEmpty()) {
            host.showMessage("Select a wire on the sheet first; the loop is opened there.");
            return;
        }
        host.show(this);
        place.getEditor().setText(cut.get().label(host.workspace().project()));
        open(cut.get());
    }

    private void open(Cut cut) {
        Rig rig = host.workspace().project().rig(host.rig()).orElseThrow(() -> FindingException.of(Place.rig(host.rig()),
                "No rig is chosen.", "Add a rig and choose it in the bar above."));
        Forms.number(host, after).ifPresent(t -> session.open(host.workspace().project(), rig, cut,
                new OperatingPoint(Math.max(0, t), List.of())));
    }

    private void designed() {
        switch (way.getValue()) {
            case PI, PID -> Forms.number(host, crossover).ifPresent(w -> Forms.number(host, margin).ifPresent(m -> session.design(
                    String.format(Locale.ROOT, "%s, %s rad/s", way.getValue() == Way.PID ? "PID" : "PI", Figures.text(w, 4)),
                    d -> d.byMargin(w, m, way.getValue() == Way.PID))));
            case LEAST -> Forms.number(host, peak).ifPresent(p -> session.design("PI, peak " + Figures.text(p, 3), d -> d.leastError(p)));
            case ULTIMATE -> session.design("PI, ultimate gain", d -> d.byUltimateGain(false));
        }
    }

    private void send() {
        var c = session.controller();
        if (c.isEmpty() || session.gains().isEmpty()) {
            return;
        }
        Map<String, Double> wanted = session.gains();
        var sent = c.get().send(host.workspace().project(), wanted);
        if (sent.writings().isEmpty()) {
            host.showMessage("The sheet has these gains already.");
            return;
        }
        String lines = sent.writings().stream().map(w -> w.where() + ":  " + w.before() + "  →  " + w.after())
                .collect(Collectors.joining("\n"));
        Map<String, Runnable> ways = new LinkedHashMap<>();
        ways.put("Send", () -> host.workspace().edit("send the gains of '" + c.get().name() + "'",
                p -> c.get().send(p, wanted).project()));
        ways.put("Cancel", () -> { });
        ConfirmCard.show(getScene().getWindow(), "Write these gains? One undo takes all back.\n\n" + lines, ways);
    }

    private void tryOut() {
        var c = session.controller();
        var live = host.session().live();
        if (c.isEmpty() || session.gains().isEmpty() || live.isEmpty()) {
            host.showMessage("Run the rig first; the gains are then given to it as one set.");
            return;
        }
        Map<String, Double> now = new LinkedHashMap<>();
        var system = live.get().review().system();
        c.get().addressed(session.gains()).forEach((address, v) -> {
            int dot = address.indexOf('.');
            if (system.program(address.substring(0, dot)).flatMap(p -> p.tunable(address.substring(dot + 1))).isPresent()) {
                now.put(address, v);
            }
        });
        if (now.isEmpty()) {
            host.showMessage("The gains of '" + c.get().name() + "' cannot change while running; mark them as live in its details.");
            return;
        }
        host.session().apply(now);
        host.showMessage("Given to the running rig: " + now.entrySet().stream().map(e -> e.getKey() + " = " + Figures.text(e.getValue(), 5))
                .collect(Collectors.joining(", ")) + ".");
    }

    private void changed() {
        message.setText(session.message());
        Forms.show(message, !session.message().isEmpty());
        boolean there = session.shown().isPresent();
        plots.setVisible(there);
        empty.setVisible(!there);
        gain.setDisable(!there);
        factor.setDisable(!there);
        boolean controlled = session.controller().isPresent();
        Forms.show(design, controlled);
        session.shown().ifPresent(this::show);
    }

    private void show(Design d) {
        LoopView.At at = d.at();
        follows = true;
        gain.setValue(Math.log10(at.gain()));
        follows = false;
        if (!factor.isFocused()) {
            factor.setText(Figures.text(at.gain(), 4));
        }
        figures.getChildren().clear();
        var m = at.margins();
        var built = d.built().map(b -> b.at().margins());
        if (built.isPresent()) {
            figures.add(Forms.faint("ideal"), 1, 0);
            figures.add(Forms.faint("as built"), 2, 0);
            GridPane.setHalignment(figures.getChildren().get(0), HPos.RIGHT);
            GridPane.setHalignment(figures.getChildren().get(1), HPos.RIGHT);
        }
        row("Phase", m.phase(), built.map(Margins::phase), c -> Figures.text(Math.toDegrees(c.value()), 4) + " °");
        row("Gain, up", m.up(), built.map(Margins::up), c -> Figures.text(Bode.decibels(c.value()), 4) + " dB");
        row("Gain, down", m.down(), built.map(Margins::down), c -> Figures.text(Bode.decibels(c.value()), 4) + " dB");
        row("Delay", m.delay(), built.map(Margins::delay), c -> Figures.seconds(c.value()));
        row("Sensitivity", Optional.of(m.peak()), built.map(b -> Optional.of(b.peak())), c -> Figures.text(c.value(), 4));
        boolean stableBuilt = d.built().map(b -> b.at().isStable()).orElse(at.isStable());
        var state = new Label(!at.isStable() ? "The closed loop is not stable." : stableBuilt ? "The closed loop is stable."
                : "The closed loop is stable, but not as built.");
        state.setId("loop-stable");
        figures.add(state, 0, figures.getRowCount(), 4, 1);
        d.built().ifPresent(b -> figures.add(Forms.faint("As built, dotted: " + Figures.seconds(b.how().longest())
                + " from sample to effect"), 0, figures.getRowCount(), 4, 1));
        modes.getChildren().setAll(at.closed().stream().flatMap(c -> c.modes().stream()).limit(12)
                .map(mode -> new Label(String.format(Locale.ROOT,
                "%10s rad/s   damping %.3f", Figures.text(mode.omega(), 4), mode.damping()))).toList());
        gains.setText(session.controller().map(c -> c.name() + ": " + session.gains().entrySet().stream().filter(e -> e.getValue() != 0)
                .map(e -> e.getKey() + " = " + Figures.text(e.getValue(), 5)).collect(Collectors.joining(", "))).orElse(""));
        if (crossover.getText().isEmpty()) {
            m.phase().ifPresent(c -> crossover.setText(Figures.text(c.omega(), 4)));
        }
        design.lookupAll(".choice-box, #loop-design").forEach(n -> n.setDisable(!session.controller().map(c -> c.isPid()).orElse(false)));
        kept.getChildren().setAll(session.kept().stream().map(this::keptRow).toList());
        plots.draw();
    }

    private HBox keptRow(Design d) {
        var name = new Button(d.name() + (d.at().gain() == 1 ? "" : " × " + Figures.text(d.at().gain(), 3)));
        name.getStyleClass().add("quiet");
        name.setTooltip(new Tooltip("Show this design"));
        name.setOnAction(_ -> session.show(d));
        var drop = new Button("✕");
        drop.getStyleClass().add("quiet");
        drop.setTooltip(new Tooltip("Forget this design"));
        drop.setOnAction(_ -> session.drop(d));
        return new HBox(4, name, drop);
    }

    /** @param built the same as built; empty where there is none to be shown */
    private void row(String name, Optional<Crossing> c, Optional<Optional<Crossing>> built,
            java.util.function.Function<Crossing, String> value) {
        var number = new Label(c.map(value).orElse("none"));
        var second = new Label(built.map(b -> b.map(value).orElse("none")).orElse(""));
        second.setMinWidth(Region.USE_PREF_SIZE);
        GridPane.setHalignment(second, HPos.RIGHT);
        var at = new Label(c.map(x -> Figures.text(x.omega(), 4) + " rad/s").orElse(""));
        at.getStyleClass().add("faint");
        number.setMinWidth(Region.USE_PREF_SIZE);
        at.setMinWidth(Region.USE_PREF_SIZE);
        GridPane.setHalignment(at, HPos.RIGHT);
        figures.addRow(figures.getRowCount(), new Label(name), number, second, at);
        GridPane.setHalignment(number, HPos.RIGHT);
    }

    /** The wire that is selected on a sheet, as a place to open a loop. */
    public static Optional<Cut> cut(PageHost host, Optional<Wire> wire) {
        var p = host.workspace().project();
        return wire.filter(w -> !w.isNet()).map(w -> host.navigator().sheet().map(ref -> new Cut(ref, host.navigator().path(), w.from(),
                w.fromPort(), null)).orElseGet(() -> Cut.atSystemWire(p, w)));
    }
}
