package boldanvil.app.bench;

import boldanvil.app.chart.ChartWindow;
import boldanvil.app.chart.MeasurePane;
import boldanvil.app.chart.TraceView;
import boldanvil.app.model.BenchEdits;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.Workspace;
import boldanvil.app.page.Command;
import boldanvil.app.page.Page;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Buttons;
import boldanvil.app.widget.Copies;
import boldanvil.app.widget.PopupCard;
import boldanvil.app.widget.Theme;
import boldanvil.core.bench.BenchRun;
import boldanvil.core.bench.Health;
import boldanvil.core.bench.LiveRun;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.diagram.BenchLayout;
import boldanvil.core.finding.Place;
import boldanvil.core.measure.Trigger;
import boldanvil.core.measure.TriggeredView;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import boldanvil.core.simulate.Stimulus;
import boldanvil.core.simulate.TapList;
import boldanvil.core.transfer.RunCsv;
import boldanvil.core.transfer.RunExport;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Supplier;
import javafx.animation.AnimationTimer;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ContextMenu;
import javafx.scene.control.Label;
import javafx.scene.control.Menu;
import javafx.scene.control.MenuButton;
import javafx.scene.control.MenuItem;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.SeparatorMenuItem;
import javafx.scene.control.TextField;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.Tooltip;
import javafx.scene.input.KeyCode;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import javafx.stage.Popup;
import org.kordamp.ikonli.Ikon;
import org.kordamp.ikonli.feather.Feather;

/** Drive and watch: controls, tuning and limits on the left, charts in the middle, readouts, drawing and health on the right. */
public final class BenchPage extends BorderPane implements Page {
    private static final long VALUES_NANOS = 700_000_000;
    private static final long SLOW_NANOS = 220_000_000;
    /** Pictures a second; more are not seen, and cost. */
    private static final double PICTURES = 52;
    private static final double SIDE = 270;

    private final Workspace workspace;
    private final RigSession session;
    private final Supplier<Theme> theme;
    private final BenchEdits edits;
    private final ExecutorService measuring = Executors.newSingleThreadExecutor(
            r -> Thread.ofPlatform().daemon().name("measuring").unstarted(r));
    private final TraceView traces;
    private final ControlsPane controls;
    private final TuningPane tuning;
    private final LimitsPane limits;
    private final FaultsPane faults;
    private final TargetLogPane logs;
    private final MeasurePane measure = new MeasurePane(measuring);
    private final DifferencesPane differences;
    private final ChartMenu chartMenu;
    private final SidePlots plots;
    private final BenchPanel panel;
    private final BenchTabs left;
    private final RunNotice notice;
    private final Label waiting = new Label();
    private final SpanBox span;
    private final ToggleButton hold;
    private final ToggleButton cursors;
    private final ToggleButton measured;
    private final ToggleButton shownPanel;
    private final MenuButton view = new MenuButton("View");
    private HBox bar;
    private final Button triggerButton = new Button("Trigger");
    private final TriggeredView triggered = new TriggeredView();
    private TriggerCard.Setting trigger = new TriggerCard.Setting(TriggeredView.Mode.FREE, "", Trigger.edge(Trigger.Kind.RISING, 0, 0),
            0.2);
    private BenchLayout shownLayout = BenchLayout.EMPTY;
    private LiveRun shownRun;
    private Popup open;
    private long lastFrame;
    private long lastValues;
    private long lastSlow;
    private final FrameRate frames = new FrameRate();
    private double due;

    public BenchPage(PageHost host) {
        notice = new RunNotice(host::showInstant);
        workspace = host.workspace();
        session = host.session();
        theme = host::theme;
        edits = new BenchEdits(workspace);
        traces = new TraceView(theme);
        span = new SpanBox(traces, notice::setText);
        controls = new ControlsPane(workspace, session, edits, theme);
        tuning = new TuningPane(workspace, session, edits, notice::setText);
        limits = new LimitsPane(workspace, session, edits);
        faults = new FaultsPane(workspace, session);
        logs = new TargetLogPane(host);
        panel = new BenchPanel(workspace, theme, measuring);
        plots = new SidePlots(edits, theme, measuring, () -> {
            lastSlow = 0;
            slow();
        });
        differences = new DifferencesPane(workspace, session, notice::setText);
        chartMenu = new ChartMenu(workspace, edits, traces);
        hold = Buttons.toggle("Hold", "hold", on -> {
            traces.setHold(on);
            traces.paint();
        });
        cursors = Buttons.toggle("Cursors", "cursors", traces::setCursors);
        measured = Buttons.toggle("Measure", "measure", _ -> arrange());
        shownPanel = Buttons.toggle("Panel", "panel", _ -> arrange());
        traces.onChange(this::viewed);
        traces.setOnKeyPressed(e -> {
            if (e.getCode() == KeyCode.S && !e.isShortcutDown() && !e.isAltDown()) {
                traces.snap();
            }
        });
        traces.setOnContextMenuRequested(e -> paneMenu(e.getY()).show(traces, e.getScreenX(), e.getScreenY()));
        panel.setFitToWidth(true);
        panel.setHbarPolicy(ScrollPane.ScrollBarPolicy.NEVER);
        panel.setPrefWidth(SIDE);
        panel.setMinWidth(SIDE);
        Map<String, Node> panes = new LinkedHashMap<>();
        panes.put("Controls", controls);
        panes.put("Tuning", tuning);
        panes.put("Limits", limits);
        panes.put("Faults", faults);
        panes.put("Log", logs);
        left = new BenchTabs(panes, SIDE, this::refresh);
        setLeft(left);
        arrange();
        workspace.onChange(this::refresh);
        session.onChange(this::refresh);
        visibleProperty().addListener((_, _, on) -> {
            if (on) {
                refresh();
            }
        });
        new AnimationTimer() {
            @Override
            public void handle(long now) {
                frame(now);
            }
        }.start();
    }

    @Override
    public String name() {
        return "Bench";
    }

    @Override
    public Ikon icon() {
        return Feather.ACTIVITY;
    }

    @Override
    public Node node() {
        return this;
    }

    @Override
    public boolean owns(Place place) {
        return place instanceof Place.Bench;
    }

    @Override
    public List<Command> commands() {
        return List.of(Command.of("Resume live view", "Shortcut+HOME", this::live));
    }

    /** What stands around the charts. */
    private void arrange() {
        if (measured == null || shownPanel == null) {
            return;
        }
        VBox.setVgrow(traces, Priority.ALWAYS);
        var middle = new VBox(traces);
        if (!plots.getChildren().isEmpty()) {
            middle.getChildren().add(plots);
        }
        if (measured.isSelected()) {
            middle.getChildren().add(measure);
        }
        middle.getChildren().add(differences);
        HBox.setHgrow(middle, Priority.ALWAYS);
        middle.setMinWidth(200);
        var row = new HBox(middle);
        if (shownPanel.isSelected()) {
            row.getChildren().add(panel);
        }
        VBox.setVgrow(row, Priority.ALWAYS);
        setCenter(new VBox(toolbar(), notice, row));
    }

    private HBox toolbar() {
        if (bar != null) {
            return bar;
        }
        var autoscale = Buttons.toggle("Autoscale", "autoscale", on -> {
            traces.setAutoscale(on);
            traces.paint();
        });
        autoscale.setSelected(true);
        triggerButton.setId("trigger");
        triggerButton.setOnAction(_ -> trigger());
        waiting.setId("trigger-state");
        waiting.getStyleClass().addAll("small", "warning");
        view.setId("view");
        view.setOnShowing(_ -> viewMenu());
        view.getItems().add(new MenuItem("…"));
        var note = new TextField();
        note.setId("note");
        note.setPromptText("note on the time axis");
        note.setPrefColumnCount(11);
        note.setOnAction(_ -> {
            session.note(note.getText());
            note.clear();
        });
        var space = new HBox();
        HBox.setHgrow(space, Priority.ALWAYS);
        var unplug = new Button("Unplug");
        unplug.setId("unplug");
        unplug.setMinWidth(USE_PREF_SIZE);
        unplug.setTooltip(new Tooltip("Ends the bench process at once, as pulling the plug would"));
        unplug.setOnAction(_ -> session.unplug());
        session.onChange(() -> {
            boolean can = session.isBusy() && session.run().filter(BenchRun.class::isInstance).isPresent();
            unplug.setVisible(can);
            unplug.setManaged(can);
        });
        unplug.setVisible(false);
        unplug.setManaged(false);
        bar = new HBox(7, new Label("Span"), span, hold, autoscale, cursors, measured, triggerButton, view, waiting, space, note,
                shownPanel, unplug);
        bar.getChildren().stream().filter(n -> n instanceof Label || n instanceof ToggleButton || n instanceof Button
                || n instanceof MenuButton).forEach(n -> ((javafx.scene.layout.Region) n).setMinWidth(USE_PREF_SIZE));
        bar.setAlignment(Pos.CENTER_LEFT);
        bar.setStyle("-fx-padding: 8 12 6 12;");
        return bar;
    }

    // ---- menus

    private void viewMenu() {
        var system = workspace.review().system();
        var add = new Menu("Add a pane with");
        for (var e : TapList.of(system).entries()) {
            var item = new MenuItem(e.address().replace('_', ' ') + (e.tap().unit().isEmpty() ? "" : "  [" + e.tap().unit() + "]"));
            item.setOnAction(_ -> edits.addTrace(e.address(), e.tap().unit()));
            add.getItems().add(item);
        }
        var read = new Menu("Add a readout of");
        for (var e : TapList.of(system).entries()) {
            read.getItems().add(ChartMenu.item(e.address().replace('_', ' '), () -> {
                var next = new ArrayList<>(edits.layout().readouts());
                next.add(ReadoutsPane.suiting(e.address(), e.tap().unit()));
                edits.change("add a readout of " + e.address(), b -> b.withReadouts(next));
                shownPanel.setSelected(true);
            }));
        }
        view.getItems().setAll(add, read, new SeparatorMenuItem(), ChartMenu.item("Snap the cursor to the nearest edge  (S)",
                traces::snap), ChartMenu.item("Reset all scales", traces::freeAxes),
                ChartMenu.item("Resume live view", this::live), new SeparatorMenuItem(),
                ChartMenu.item("Copy as picture", () -> Copies.picture(traces)), ChartMenu.item("Copy data as text", this::copyData),
                ChartMenu.item("Copy measurements", () -> Copies.text(measure.asText())),
                ChartMenu.item("Show charts in a separate window", this::detach));
    }

    /** What can be done with the pane under the pointer. */
    private ContextMenu paneMenu(double y) {
        var menu = new ContextMenu();
        var charts = traces.charts();
        int index = (int) Math.clamp(y / Math.max(1, traces.getHeight()) * charts.size(), 0, Math.max(0, charts.size() - 1));
        if (charts.isEmpty()) {
            menu.getItems().add(ChartMenu.item("Add panes with View", () -> { }));
            return menu;
        }
        Chart c = charts.get(index);
        chartMenu.items(menu.getItems(), c);
        return menu;
    }

    private void trigger() {
        if (open != null) {
            open.hide();
        }
        var taps = traces.charts().stream().flatMap(c -> c.allTaps().stream()).distinct().toList();
        open = PopupCard.below(triggerButton, new TriggerCard(taps, this::unitOf, trigger, this::arm));
    }

    private void arm(TriggerCard.Setting setting) {
        trigger = setting;
        Samples samples = samples();
        triggered.set(setting.mode(), setting.trigger(), samples == null ? -1 : samples.indexOf(setting.tap()), setting.before());
        hold.setSelected(false);
        traces.setTrigger(Double.NaN);
        triggerButton.setText(setting.mode() == TriggeredView.Mode.FREE ? "Trigger"
                : "Trigger: " + setting.mode().name().toLowerCase(Locale.ROOT));
    }

    // ---- copies

    /** What is measured, as text: the samples of all charts between the cursors or on the screen. */
    private void copyData() {
        Samples samples = samples();
        if (samples == null) {
            return;
        }
        double[] s = traces.measured();
        var names = traces.charts().stream().flatMap(c -> c.allTaps().stream()).distinct().toList();
        measuring.execute(() -> {
            String text = RunCsv.text(RunExport.part(samples, names, s[0], s[1]).snapshot());
            javafx.application.Platform.runLater(() -> Copies.text(text));
        });
    }

    private void detach() {
        var window = new ChartWindow(getScene(), theme, workspace.project().name());
        window.show(() -> traces.charts(), () -> traces.layers(), () -> session.phase() == RigSession.Phase.RUNNING, () -> session.marks());
    }

    // ---- what is shown

    public TraceView traces() {
        return traces;
    }

    /** Starts a stimulus on a control. */
    public void drive(String tunable, Stimulus s) {
        controls.drive(tunable, s);
    }

    /** A recorded signal that stimuli can play. */
    public void playback(Series s) {
        controls.playback(s);
    }

    /** Puts a block of the sheet on the bench. */
    public int send(String path) {
        return edits.send(path);
    }

    /** Goes along with the run again. */
    public void live() {
        hold.setSelected(false);
        traces.setHold(false);
        frameNow();
    }

    /** Pictures a second, as the window draws them. */
    public double framesPerSecond() {
        return frames.perSecond();
    }

    /** Draws everything again, in the colours of the theme. */
    @Override
    public void repaint() {
        traces.paint();
        controls.cards().forEach(ControlCard::repaint);
        plots.repaint();
    }

    private Samples samples() {
        return session.run().map(LiveRun::store).orElse(null);
    }

    private void viewed() {
        hold.setSelected(traces.view().isHeld());
        span.refresh();
        lastSlow = 0;
    }

    private String unitOf(String tap) {
        return session.run().map(LiveRun::store).filter(s -> s.indexOf(tap) >= 0).map(s -> s.columns().get(s.indexOf(tap)).unit())
                .orElse("");
    }

    private void refresh() {
        limits.refresh();
        if (!isVisible()) {
            // It is all done when the page is turned to.
            return;
        }
        controls.refresh();
        if (left.shown() == tuning) {
            tuning.refresh();
        }
        refreshFaults();
        var layout = workspace.project().bench();
        LiveRun run = session.run().orElse(null);
        if (!layout.equals(shownLayout)) {
            arrangeFor(layout);
        }
        if (run != shownRun) {
            shownRun = run;
            triggered.set(trigger.mode(), trigger.trigger(), run == null ? -1 : run.store().indexOf(trigger.tap()), trigger.before());
            traces.setTrigger(Double.NaN);
            hold.setSelected(false);
            traces.setHold(false);
        }
        notice.show(session);
        differences.refresh();
        traces.setMarks(session.marks());
        traces.show(layout.charts(), run == null ? List.of() : List.of(new TraceView.Layer("live", run.store())));
    }

    private void arrangeFor(BenchLayout layout) {
        boolean panelWanted = !layout.readouts().isEmpty() || !layout.drawings().isEmpty();
        boolean had = !shownLayout.readouts().isEmpty() || !shownLayout.drawings().isEmpty();
        shownLayout = layout;
        panel.show(layout, samples());
        plots.show(layout.charts());
        if (panelWanted != had) {
            shownPanel.setSelected(panelWanted);
        }
        lastSlow = 0;
        arrange();
    }

    // ---- in time

    private void frame(long now) {
        if (getScene() == null || !isVisible()) {
            return;
        }
        double seconds = Math.min(0.2, (now - lastFrame) / 1e9);
        lastFrame = now;
        frames.count(now, traces.frames());
        due = Math.min(2, due + seconds * PICTURES);
        boolean running = session.phase() == RigSession.Phase.RUNNING;
        if (running && due >= 1) {
            due--;
            frameNow();
        }
        if (running) {
            controls.advance(seconds);
        }
        if (now - lastSlow > SLOW_NANOS && (running || lastSlow == 0)) {
            lastSlow = now;
            slow();
        }
        if (running && now - lastValues > VALUES_NANOS) {
            lastValues = now;
            session.refreshValues(workspace.review());
            controls.follow(session.values(), session.run().map(LiveRun::driven).orElse(List.of()));
        }
    }

    private void frameNow() {
        Samples samples = samples();
        if (samples == null) {
            return;
        }
        if (!traces.view().isHeld()) {
            double end = triggered.update(samples, traces.span());
            traces.setEnd(end);
            traces.setTrigger(triggered.mode() == TriggeredView.Mode.FREE ? Double.NaN : triggered.trigger());
            waiting.setText(triggered.isWaiting() ? "waiting for the trigger" : "");
        }
        traces.paint();
    }

    private void refreshFaults() {
        if (left.shown() == faults) {
            faults.refresh();
        }
        if (left.shown() == logs) {
            logs.refresh();
        }
    }

    /** What need not be drawn for each picture. */
    private void slow() {
        Samples samples = samples();
        refreshFaults();
        if (shownPanel.isSelected()) {
            panel.update(samples, session.run().map(LiveRun::health).orElse(Health.NONE), frames.perSecond());
        }
        if (samples == null) {
            return;
        }
        double[] s = traces.measured();
        if (measured.isSelected()) {
            measure.update(samples, traces.charts(), s, cursors.isSelected());
        }
        plots.update(samples, s[0], s[1]);
    }
}
