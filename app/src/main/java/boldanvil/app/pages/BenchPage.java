package boldanvil.app.pages;

import boldanvil.app.chart.TraceView;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.Workspace;
import boldanvil.app.shell.Theme;
import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.Values;
import boldanvil.core.diagram.BenchLayout.Control;
import boldanvil.core.finding.FindingException;
import boldanvil.core.simulate.Addresses;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.Supplier;
import javafx.animation.AnimationTimer;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.ToggleButton;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** Drive and watch: controls on the left, traces on the right, below them the values that differ from the project. */
public final class BenchPage extends BorderPane {
    private static final long FRAME_NANOS = 40_000_000;
    private static final long VALUES_NANOS = 700_000_000;

    private final Workspace workspace;
    private final RigSession session;
    private final Supplier<Theme> theme;
    private final TraceView traces;
    private final VBox controls = new VBox(8);
    private final VBox differences = new VBox(3);
    private final Label notice = new Label();
    private final List<ControlCard> cards = new ArrayList<>();
    private List<Control> shownControls = List.of();
    private List<Values.Row> shownValues = List.of();
    private long lastFrame;
    private long lastValues;
    private LiveRun shownRun;

    public BenchPage(Workspace workspace, RigSession session, Supplier<Theme> theme) {
        this.workspace = workspace;
        this.session = session;
        this.theme = theme;
        traces = new TraceView(theme);
        controls.getStyleClass().add("side");
        controls.setPrefWidth(236);
        var scroll = new ScrollPane(controls);
        scroll.setFitToWidth(true);
        scroll.setHbarPolicy(ScrollPane.ScrollBarPolicy.NEVER);
        scroll.setPrefWidth(250);
        scroll.setMinWidth(250);
        setLeft(scroll);
        notice.setWrapText(true);
        notice.setId("bench-notice");
        notice.setStyle("-fx-padding: 6 12 6 12;");
        differences.setStyle("-fx-padding: 6 12 8 12;");
        differences.setId("differences");
        var middle = new VBox(toolbar(), notice, traces, differences);
        VBox.setVgrow(traces, Priority.ALWAYS);
        setCenter(middle);
        workspace.onChange(this::refresh);
        session.onChange(this::refresh);
        new AnimationTimer() {
            @Override
            public void handle(long now) {
                frame(now);
            }
        }.start();
    }

    private HBox toolbar() {
        var span = new ChoiceBox<String>();
        span.setId("span");
        span.getItems().addAll("0.1 s", "0.5 s", "1 s", "2 s", "5 s", "10 s", "30 s", "60 s");
        span.setValue("5 s");
        span.valueProperty().addListener((_, _, v) -> {
            traces.setSpan(Double.parseDouble(v.substring(0, v.indexOf(' '))));
            traces.paint();
        });
        var autoscale = toggle("Autoscale", "autoscale", on -> traces.setAutoscale(on));
        autoscale.setSelected(true);
        var hold = toggle("Hold", "hold", traces::setHold);
        var cursors = toggle("Cursors", "cursors", traces::setCursors);
        var copy = new Button("Copy picture");
        copy.setOnAction(_ -> {
            var content = new javafx.scene.input.ClipboardContent();
            content.putImage(traces.snapshot(null, null));
            javafx.scene.input.Clipboard.getSystemClipboard().setContent(content);
        });
        var space = new HBox();
        HBox.setHgrow(space, Priority.ALWAYS);
        var unplug = new Button("Unplug");
        unplug.setId("unplug");
        unplug.setTooltip(new javafx.scene.control.Tooltip("Ends the bench process at once, as pulling the plug would"));
        unplug.setOnAction(_ -> session.unplug());
        session.onChange(() -> unplug.setVisible(session.isBusy()
                && session.run().filter(boldanvil.core.bench.BenchRun.class::isInstance).isPresent()));
        unplug.setVisible(false);
        var bar = new HBox(8, new Label("Span"), span, autoscale, hold, cursors, copy, space, unplug);
        bar.setAlignment(Pos.CENTER_LEFT);
        bar.setStyle("-fx-padding: 8 12 8 12;");
        return bar;
    }

    private ToggleButton toggle(String text, String id, java.util.function.Consumer<Boolean> action) {
        var b = new ToggleButton(text);
        b.setId(id);
        b.selectedProperty().addListener((_, _, on) -> {
            action.accept(on);
            traces.paint();
        });
        return b;
    }

    public TraceView traces() {
        return traces;
    }

    /** Draws everything anew, in the colours of the theme. */
    public void repaint() {
        traces.paint();
        cards.forEach(ControlCard::repaint);
    }

    /** The run whose tunables the controls move: the one that goes on. */
    private void refresh() {
        var wanted = workspace.project().bench().controls();
        LiveRun run = session.run().orElse(null);
        if (!wanted.equals(shownControls) || run != shownRun) {
            shownControls = wanted;
            shownRun = run;
            buildControls();
        }
        boolean live = session.phase() == RigSession.Phase.RUNNING || session.phase() == RigSession.Phase.PAUSED;
        cards.forEach(c -> c.setDisable(!live));
        tell();
        if (!session.values().equals(shownValues)) {
            shownValues = session.values();
            shownDifferences();
        } else if (!live) {
            differences.getChildren().clear();
            shownValues = List.of();
        }
        var charts = workspace.project().bench().charts();
        traces.show(charts, run == null ? List.of() : List.of(new TraceView.Layer("live", run.store())));
    }

    private void tell() {
        notice.getStyleClass().removeAll("bad", "faint", "doubtful");
        switch (session.phase()) {
            case IDLE -> {
                boolean failed = !session.findings().isEmpty();
                notice.setText(failed ? session.findings().getLast().toString()
                        : "Nothing runs. Choose a rig above and press Run; then the controls on the left are live.");
                notice.getStyleClass().add(failed ? "bad" : "faint");
            }
            case PREPARING -> {
                notice.setText("Starting: " + (session.steps().isEmpty() ? "" : session.steps().getLast().name()) + " …");
                notice.getStyleClass().add("faint");
            }
            case LOST -> {
                notice.setText(session.findings().isEmpty() ? "The connection was lost." : session.findings().getLast().toString());
                notice.getStyleClass().add("bad");
            }
            case ENDED -> {
                notice.setText("The run has ended and is on the Runs page. Press Run to start again.");
                notice.getStyleClass().add("faint");
            }
            default -> {
                var findings = session.findings();
                notice.setText(findings.isEmpty() ? "" : findings.getLast().toString());
                notice.getStyleClass().add("doubtful");
            }
        }
        notice.setManaged(!notice.getText().isEmpty());
    }

    private void buildControls() {
        controls.getChildren().clear();
        cards.clear();
        var heading = new Label("Controls");
        heading.getStyleClass().add("heading");
        controls.getChildren().add(heading);
        if (shownControls.isEmpty()) {
            var empty = new Label("This project has no controls yet. They stand in bench/bench.json; any tunable can have one.");
            empty.setWrapText(true);
            empty.getStyleClass().add("faint");
            controls.getChildren().add(empty);
        }
        for (Control c : shownControls) {
            double initial = 0;
            try {
                initial = Addresses.tunable(workspace.review().system(), c.tunable()).tunable().slot().initial();
            } catch (FindingException e) {
                // The findings tell of a control without its tunable.
            }
            var card = new ControlCard(c, initial, theme, v -> session.set(c.tunable(), v));
            cards.add(card);
            controls.getChildren().add(card);
        }
    }

    private void shownDifferences() {
        differences.getChildren().clear();
        var differing = shownValues.stream().filter(Values.Row::differs).toList();
        if (shownValues.isEmpty()) {
            return;
        }
        var heading = new Label(differing.isEmpty() ? "Project and device agree in all " + shownValues.size() + " tunables."
                : "Values that differ");
        heading.getStyleClass().add(differing.isEmpty() ? "faint" : "section");
        differences.getChildren().add(heading);
        for (Values.Row r : differing) {
            var name = new Label(r.address().replace('_', ' '));
            name.setMinWidth(280);
            name.setPrefWidth(280);
            var values = new Label(String.format(Locale.ROOT, "project %s   built %s   device %s %s", number(r.project()),
                    number(r.built()), number(r.device()), r.unit()));
            values.getStyleClass().add("mono");
            HBox.setHgrow(values, Priority.ALWAYS);
            values.setMaxWidth(Double.MAX_VALUE);
            var take = new Button("Take into project");
            take.setId("take-" + r.address());
            take.setOnAction(_ -> takeBack(r));
            var push = new Button("Push to device");
            push.setId("push-" + r.address());
            push.setDisable(Double.isNaN(r.project()));
            push.setOnAction(_ -> session.set(r.address(), r.project()));
            var line = new HBox(8, name, values, take, push);
            line.setAlignment(Pos.CENTER_LEFT);
            differences.getChildren().add(line);
        }
    }

    private static String number(double v) {
        return String.format(Locale.ROOT, "%.6g", v).replaceAll("(\\.\\d*?)0+$", "$1").replaceAll("\\.$", "");
    }

    private void takeBack(Values.Row r) {
        try {
            var next = Values.takeBack(workspace.project(), workspace.review(), r.address(), r.device());
            workspace.edit("take " + r.address() + " from the device", _ -> next);
        } catch (FindingException e) {
            notice.setText(e.findings().getFirst().toString());
        }
    }

    private void frame(long now) {
        if (now - lastFrame < FRAME_NANOS || getScene() == null || !isVisible()) {
            return;
        }
        double seconds = Math.min(0.2, (now - lastFrame) / 1e9);
        lastFrame = now;
        if (session.phase() != RigSession.Phase.RUNNING) {
            return;
        }
        cards.forEach(c -> c.advance(seconds));
        session.run().ifPresent(run -> traces.setEnd(run.seconds()));
        traces.paint();
        if (now - lastValues > VALUES_NANOS) {
            lastValues = now;
            session.refreshValues(workspace.review());
            for (int i = 0; i < cards.size(); i++) {
                String address = shownControls.get(i).tunable();
                var card = cards.get(i);
                session.values().stream().filter(r -> r.address().equals(address)).findFirst().ifPresent(r -> card.follow(r.device()));
            }
        }
    }
}
