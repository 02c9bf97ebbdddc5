package boldanvil.app.pages;

import boldanvil.app.model.Figures;
import boldanvil.app.model.LoopSession;
import boldanvil.app.model.LoopSession.Design;
import boldanvil.app.model.LoopView;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Buttons;
import boldanvil.core.linear.Bode;
import boldanvil.core.linear.Margins;
import boldanvil.core.linear.Margins.Crossing;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.loop.Compensator;
import boldanvil.core.loop.Tolerances;
import boldanvil.core.quantity.FormulaException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import javafx.geometry.HPos;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.Slider;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;

/** The open loop: its gain, margins and curves, the design of its controller, and what tolerances do to it. */
final class DesignView {
    private static final double DECADES = 2;

    /** Ways to design a controller. */
    private enum Way {
        PI("PI by crossover and margin"), PID("PID by crossover and margin"), POLES("PI by poles"), INTERNAL("PI by internal model"),
                LEAST("PI with the least error"), MAGNITUDE("PI by magnitude optimum"), SYMMETRICAL("PI by symmetrical optimum"),
                ULTIMATE("PI by ultimate gain"), LEAD("Lead or lag in the wire"), NOTCH("Notch in the wire");

        private final String label;

        Way(String label) {
            this.label = label;
        }

        @Override
        public String toString() {
            return label;
        }

        private boolean isCompensator() {
            return this == LEAD || this == NOTCH;
        }
    }

    private final PageHost host;
    private final LoopSession session;
    private final LoopPlots plots;
    private final Slider gain = new Slider(-DECADES, DECADES, 0);
    private final TextField factor = new TextField("1");
    private final GridPane figures = new GridPane();
    private final VBox modes = new VBox(2);
    private final VBox kept = new VBox(4);
    private final Label message = Forms.message("loop-message");
    private final ChoiceBox<Way> way = new ChoiceBox<>();
    private final TextField crossover = Forms.field("loop-crossover", "",
            "Crossover of the loop, or natural frequency of the poles, rad/s");
    private final TextField margin = Forms.field("loop-margin", "60 °", "Phase margin");
    private final TextField damping = Forms.field("loop-damping", "0.7", "Damping ratio of the poles");
    private final TextField lag = Forms.field("loop-lag", "0.1 s", "Time constant of the closed loop");
    private final TextField peak = Forms.field("loop-peak", "1.6", "Largest peak of the sensitivity");
    private final TextField turn = Forms.field("loop-turn", "30 °", "How far the phase is turned at that frequency; below 0 for a lag");
    private final TextField depth = Forms.field("loop-depth", "0.1", "What is left at that frequency, as a factor");
    private final TextField width = Forms.field("loop-width", "0.3", "Half of the relative width of the band");
    private final Map<TextField, Label> labels = new LinkedHashMap<>();
    private final Button insert;
    private final Label gains = new Label();
    private final ComboBox<String> in = Forms.choice("loop-in", "from, such as the error", this::taps);
    private final ComboBox<String> out = Forms.choice("loop-out", "to, such as the measured value", this::taps);
    private final FreeVariables tolerances;
    private final TextField random = Forms.field("loop-random", "20", "How many random cases besides the corners");
    private final Label worst = new Label();
    private final VBox design;
    private final VBox varied;
    private final SystemText system;
    private LoopView written;
    private final Label empty = new Label("Choose an output within a control loop and press 'Open the loop'.\n"
            + "Or select a wire on a sheet and use 'Open the loop at the selected wire'.");
    private final Node node;
    private Compensator compensator;
    private boolean follows;

    DesignView(PageHost host, LoopSession session) {
        this.host = host;
        this.session = session;
        plots = new LoopPlots(host, session);
        tolerances = new FreeVariables("loop-variable", () -> host.workspace().project(), "0.8*(%s)", "1.2*(%s)");
        insert = Buttons.button("Insert in the wire", "loop-insert", "Adds it to the sheet as a transfer function in z", this::insert);
        empty.setId("loop-empty");
        empty.getStyleClass().add("faint");
        design = design();
        varied = varied();
        system = new SystemText(session);
        node = Forms.beside(form(), new StackPane(plots, empty));
        session.onChange(this::changed);
        changed();
    }

    Node node() {
        return node;
    }

    void draw() {
        plots.draw();
    }

    void opened() {
        tolerances.clear();
        crossover.setText("");
    }

    private VBox form() {
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
        gains.setWrapText(true);
        gains.setId("loop-gains");
        kept.setId("loop-kept");
        return new VBox(8, message, Forms.section("GAIN OF THE LOOP, FACTOR"), move, Forms.section("MARGINS"), figures, design, varied,
                Forms.section("MODES OF THE CLOSED LOOP"), modes, system, Forms.section("MEASURED ON THE LAST RUN"), measured());
    }

    /** Which taps of the last run are laid over the curves. */
    private VBox measured() {
        return new VBox(6, in, out, Buttons.button("Lay over", "loop-measure",
                "Shows the response of one tap of the last run to another as dots, where they are coherent", this::measure));
    }

    private List<String> taps() {
        return host.session().run().map(r -> r.store().columns().stream().map(c -> c.name()).toList()).orElse(List.of());
    }

    private void measure() {
        var run = host.session().run();
        if (run.isEmpty()) {
            host.showMessage("Run the rig first, with a stimulus that moves the loop.");
        } else if (in.getValue() == null || out.getValue() == null) {
            host.showMessage("Choose the two taps of the run first.");
        } else {
            double from = session.opened().map(o -> o.point().seconds()).orElse(0.0);
            session.measure(run.get().store(), in.getValue(), out.getValue(), from);
        }
    }

    private VBox design() {
        way.setId("loop-way");
        way.getItems().setAll(Way.values());
        way.setValue(Way.PI);
        way.setMaxWidth(Double.MAX_VALUE);
        crossover.setPromptText("rad/s");
        var values = new GridPane();
        values.setHgap(8);
        values.setVgap(4);
        named(values, "Frequency, rad/s", crossover);
        named(values, "Phase margin", margin);
        named(values, "Damping ratio", damping);
        named(values, "Time constant", lag);
        named(values, "Peak of sensitivity", peak);
        named(values, "Phase turned by", turn);
        named(values, "What is left", depth);
        named(values, "Half width", width);
        way.valueProperty().addListener((_, _, w) -> offer(w));
        var buttons = new HBox(8, Buttons.button("Design", "loop-design", "Computes it and shows the loop with it", this::designed),
                Buttons.button("Keep", "loop-keep", "Keeps what is shown, to compare others with it", session::keep));
        var to = new HBox(8, Buttons.button("Send …", "loop-send", "Writes the gains into the variables they come from", this::send),
                Buttons.button("Try", "loop-try", "Gives the gains to the running rig, as one set", this::tryOut), insert);
        offer(Way.PI);
        return new VBox(6, Forms.section("CONTROLLER"), gains, way, values, buttons, to, Forms.section("KEPT, DASHED"), kept);
    }

    private void named(GridPane grid, String name, TextField field) {
        var l = new Label(name);
        labels.put(field, l);
        grid.addRow(grid.getRowCount(), l, field);
    }

    private void offer(Way w) {
        List<TextField> shown = switch (w) {
            case PI, PID -> List.of(crossover, margin);
            case POLES -> List.of(crossover, damping);
            case INTERNAL -> List.of(lag);
            case LEAST -> List.of(peak);
            case MAGNITUDE, SYMMETRICAL, ULTIMATE -> List.of();
            case LEAD -> List.of(crossover, turn);
            case NOTCH -> List.of(crossover, depth, width);
        };
        labels.forEach((field, label) -> {
            Forms.show(field, shown.contains(field));
            Forms.show(label, shown.contains(field));
        });
        Forms.show(insert, w.isCompensator());
    }

    private VBox varied() {
        worst.setWrapText(true);
        worst.setId("loop-worst");
        worst.setMinHeight(Region.USE_PREF_SIZE);
        return new VBox(6, Forms.section("TOLERANCES, GREY"), tolerances, Forms.grid("Random cases", random),
                Buttons.button("Vary", "loop-vary", "Opens the loop at every corner of the limits, and at random values between",
                        this::vary),
                worst);
    }

    private void vary() {
        try {
            List<Tolerances.Tolerance> all = tolerances.chosen().stream()
                    .map(f -> new Tolerances.Tolerance(f.variable(), f.low(), f.high()))
                    .toList();
            if (all.isEmpty()) {
                host.showMessage("Add the variables that vary.");
                return;
            }
            Forms.number(host, random).ifPresent(n -> session.vary(all, (int) Math.clamp(n, 0, 500), c -> worst.setText(String.format(
                    Locale.ROOT, "Least phase margin %s%s, with %s", c.margins().phase().map(x -> Figures.text(Math.toDegrees(x.value()), 4)
                            + " °").orElse("none"), c.isStable() ? "" : " (not stable)", c.values().entrySet().stream().map(e -> e.getKey()
                            + " = " + Figures.text(e.getValue(), 4)).collect(Collectors.joining(", "))))));
        } catch (FormulaException e) {
            host.showMessage("A limit cannot be computed: " + e.getMessage());
        }
    }

    private void designed() {
        Way w = way.getValue();
        switch (w) {
            case PI, PID -> with(crossover, c -> with(margin, m -> session.design(String.format(Locale.ROOT, "%s, %s rad/s",
                    w == Way.PID ? "PID" : "PI", Figures.text(c, 4)), (d, _) -> d.byMargin(c, m, w == Way.PID))));
            case POLES -> with(crossover, c -> with(damping, z -> session.design("PI, poles at " + Figures.text(c, 4) + " rad/s",
                    (d, loop) -> d.byPoles(loop, c, z))));
            case INTERNAL -> with(lag, t -> session.design("PI, internal model " + Figures.seconds(t), (d, _) -> d.byInternalModel(t)));
            case LEAST -> with(peak, p -> session.design("PI, peak " + Figures.text(p, 3), (d, _) -> d.leastError(p)));
            case MAGNITUDE -> session.design("PI, magnitude optimum", (d, _) -> d.byMagnitudeOptimum());
            case SYMMETRICAL -> session.design("PI, symmetrical optimum", (d, _) -> d.bySymmetricalOptimum());
            case ULTIMATE -> session.design("PI, ultimate gain", (d, _) -> d.byUltimateGain(false));
            case LEAD -> with(crossover, c -> with(turn, a -> compensate(() -> Compensator.lead(c, a))));
            case NOTCH -> with(crossover, c -> with(depth, d -> with(width, z -> compensate(() -> Compensator.notch(c, d, z)))));
        }
    }

    private void with(TextField f, java.util.function.DoubleConsumer then) {
        Forms.number(host, f).ifPresent(then::accept);
    }

    private void compensate(java.util.function.Supplier<Compensator> made) {
        try {
            compensator = made.get();
            session.compensate(compensator);
        } catch (NoSolutionException e) {
            host.showMessage(e.getMessage() + " " + e.cure());
        }
    }

    private void insert() {
        var o = session.opened();
        if (compensator == null || o.isEmpty() || session.shown().isEmpty()) {
            host.showMessage("Press 'Design' first, and look at the loop with it.");
            return;
        }
        double period = session.shown().get().view().loop().samplePeriod();
        Compensator c = compensator;
        try {
            c.insert(host.workspace().project(), o.get().cut(), period);
            host.workspace().edit("insert a " + c.name() + " in the wire", p -> c.insert(p, o.get().cut(), period));
            host.showMessage("The " + c.name() + " is on the sheet, behind '" + o.get().cut().label(o.get().project()) + "'.");
        } catch (NoSolutionException e) {
            host.showMessage(e.getMessage() + " " + e.cure());
        }
    }

    private void send() {
        var c = session.controller();
        if (c.isEmpty() || session.gains().isEmpty()) {
            return;
        }
        if (!c.get().isOnSheet()) {
            host.showMessage("The plant is typed, so there is no sheet to send to. The gains are shown above.");
            return;
        }
        Map<String, Double> wanted = session.gains();
        var sent = c.get().send(host.workspace().project(), wanted);
        if (sent.writings().isEmpty()) {
            host.showMessage("The sheet has these gains already.");
            return;
        }
        Forms.confirm(node, "Send", "gains", sent.writings().stream().map(w -> w.where() + ":  " + w.before() + "  →  " + w.after())
                .toList(),
                () -> host.workspace().edit("send the gains of '" + c.get().name() + "'",
                p -> c.get().send(p, wanted).project()));
    }

    private void tryOut() {
        var c = session.controller().filter(x -> x.isOnSheet());
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
        Forms.show(design, there);
        Forms.show(varied, session.opened().isPresent());
        Forms.show(system, there);
        if (session.varied().isEmpty()) {
            worst.setText("");
        }
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
        margins(d);
        modes.getChildren().setAll(at.closed().stream().flatMap(c -> c.modes().stream()).limit(12)
                .map(mode -> new Label(String.format(Locale.ROOT,
                "%10s rad/s   damping %.3f", Figures.text(mode.omega(), 4), mode.damping()))).toList());
        gains.setText(session.controller().map(c -> c.name() + ": " + session.gains().entrySet().stream().filter(e -> e.getValue() != 0)
                .map(e -> e.getKey() + " = " + Figures.text(e.getValue(), 5)).collect(Collectors.joining(", ")))
                .orElse("No PID controller or gain was found beside the wire."));
        if (crossover.getText().isEmpty()) {
            at.margins().phase().ifPresent(c -> crossover.setText(Figures.text(c.omega(), 4)));
        }
        if (d.view() != written) {
            // The text is of the loop as it was opened or designed, and costs too much to follow a gain.
            written = d.view();
            system.draw();
        }
        kept.getChildren().setAll(session.kept().stream().map(this::keptRow).toList());
        plots.draw();
    }

    private void margins(Design d) {
        figures.getChildren().clear();
        var at = d.at();
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
        at.figures().ifPresent(s -> {
            var step = new Label(String.format(Locale.ROOT, "Step: rises in %s, overshoots %s %%, settles in %s",
                    Figures.seconds(s.riseTime()),
                    Figures.text(100 * s.overshootShare(), 3), Figures.seconds(s.settlingTime())));
            step.setWrapText(true);
            step.setMinHeight(Region.USE_PREF_SIZE);
            step.setId("loop-step");
            figures.add(step, 0, figures.getRowCount(), 4, 1);
        });
        boolean stableBuilt = d.built().map(b -> b.at().isStable()).orElse(at.isStable());
        var state = new Label(!at.isStable() ? "The closed loop is not stable." : stableBuilt ? "The closed loop is stable."
                : "The closed loop is stable, but not as built.");
        state.setId("loop-stable");
        figures.add(state, 0, figures.getRowCount(), 4, 1);
        d.built().ifPresent(b -> figures.add(Forms.faint("As built, dotted: " + Figures.seconds(b.how().longest())
                + " from sample to effect"), 0, figures.getRowCount(), 4, 1));
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
    private void row(String name, Optional<Crossing> c, Optional<Optional<Crossing>> built, Function<Crossing, String> value) {
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
}
