package boldanvil.app.bench;

import boldanvil.app.chart.ChartWindow;
import boldanvil.app.chart.MeasurePane;
import boldanvil.app.chart.SidePlot;
import boldanvil.app.chart.TraceView;
import boldanvil.app.model.BenchEdits;
import boldanvil.app.model.Figures;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.Workspace;
import boldanvil.app.page.Command;
import boldanvil.app.page.Page;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.AskCard;
import boldanvil.app.widget.PopupCard;
import boldanvil.app.widget.Theme;
import boldanvil.core.bench.BenchRun;
import boldanvil.core.bench.Health;
import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.Values;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.diagram.BenchLayout.Kind;
import boldanvil.core.diagram.BenchLayout.Style;
import boldanvil.core.diagram.BenchLayout;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.measure.Spectrum;
import boldanvil.core.measure.Trigger;
import boldanvil.core.measure.TriggeredView;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Units;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import boldanvil.core.simulate.Stimulus;
import boldanvil.core.simulate.TapList;
import boldanvil.core.transfer.RunCsv;
import boldanvil.core.transfer.RunExport;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Consumer;
import java.util.function.Supplier;
import javafx.animation.AnimationTimer;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.ContextMenu;
import javafx.scene.control.Label;
import javafx.scene.control.Menu;
import javafx.scene.control.MenuButton;
import javafx.scene.control.MenuItem;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.SeparatorMenuItem;
import javafx.scene.control.TextField;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.control.Tooltip;
import javafx.scene.input.Clipboard;
import javafx.scene.input.ClipboardContent;
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
    private final ExecutorService measuring = Executors.newSingleThreadExecutor(r -> Thread.ofPlatform().daemon().name("measuring").unstarted(r));
    private final TraceView traces;
    private final ControlsPane controls;
    private final TuningPane tuning;
    private final LimitsPane limits;
    private final MeasurePane measure = new MeasurePane(measuring);
    private final HealthPane health;
    private final HBox plots = new HBox(8);
    private final VBox panel = new VBox(8);
    private final ScrollPane panelScroll = new ScrollPane(panel);
    private final ScrollPane left = new ScrollPane();
    private final VBox differences = new VBox(3);
    private final ScrollPane differencesScroll = new ScrollPane(differences);
    private final Label notice = new Label();
    private final Label waiting = new Label();
    private final ComboBox<String> span = new ComboBox<>();
    private final ToggleButton hold;
    private final ToggleButton cursors;
    private final ToggleButton measured;
    private final ToggleButton shownPanel;
    private final MenuButton view = new MenuButton("View");
    private HBox bar;
    private final Button triggerButton = new Button("Trigger");
    private final TriggeredView triggered = new TriggeredView();
    private final List<DrawingPane> drawings = new ArrayList<>();
    private TriggerCard.Setting trigger = new TriggerCard.Setting(TriggeredView.Mode.FREE, "", Trigger.edge(Trigger.Kind.RISING, 0, 0), 0.2);
    private ReadoutsPane readouts = new ReadoutsPane(List.of());
    private List<Values.Row> shownValues = List.of();
    private BenchLayout shownLayout = BenchLayout.EMPTY;
    private LiveRun shownRun;
    private Popup open;
    private long lastFrame;
    private long lastValues;
    private long lastSlow;
    private long countedAt;
    private long counted;
    private double frames;
    private double due;

    public BenchPage(PageHost host) {
        workspace = host.workspace();
        session = host.session();
        theme = host::theme;
        edits = new BenchEdits(workspace);
        traces = new TraceView(theme);
        controls = new ControlsPane(workspace, session, edits, theme);
        tuning = new TuningPane(workspace, session, edits, notice::setText);
        limits = new LimitsPane(workspace, session, edits);
        health = new HealthPane(theme);
        hold = toggle("Hold", "hold", on -> {
            traces.setHold(on);
            traces.paint();
        });
        cursors = toggle("Cursors", "cursors", traces::setCursors);
        measured = toggle("Measure", "measure", _ -> arrange());
        shownPanel = toggle("Panel", "panel", _ -> arrange());
        traces.onChange(this::viewed);
        traces.setOnKeyPressed(e -> {
            if (e.getCode() == KeyCode.S && !e.isShortcutDown() && !e.isAltDown()) {
                traces.snap();
            }
        });
        traces.setOnContextMenuRequested(e -> paneMenu(e.getY()).show(traces, e.getScreenX(), e.getScreenY()));
        for (ScrollPane s : List.of(left, panelScroll, differencesScroll)) {
            s.setFitToWidth(true);
            s.setHbarPolicy(ScrollPane.ScrollBarPolicy.NEVER);
        }
        left.setPrefWidth(SIDE);
        left.setMinWidth(SIDE);
        panelScroll.setPrefWidth(SIDE);
        panelScroll.setMinWidth(SIDE);
        panel.setStyle("-fx-padding: 8 10 8 8;");
        notice.setWrapText(true);
        notice.setId("bench-notice");
        notice.setStyle("-fx-padding: 4 12 6 12;");
        differences.setStyle("-fx-padding: 4 12 6 12;");
        differences.setId("differences");
        differencesScroll.setMaxHeight(118);
        differencesScroll.setMinHeight(USE_PREF_SIZE);
        plots.setMinHeight(0);
        plots.setPrefHeight(220);
        setLeft(leftSide());
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

    private VBox leftSide() {
        var group = new ToggleGroup();
        var tabs = new HBox(4);
        tabs.getStyleClass().add("tabs");
        Map<String, Node> panes = new java.util.LinkedHashMap<>();
        panes.put("Controls", controls);
        panes.put("Tuning", tuning);
        panes.put("Limits", limits);
        panes.forEach((name, pane) -> {
            var b = new ToggleButton(name);
            b.setId("bench-" + name.toLowerCase(Locale.ROOT));
            b.setToggleGroup(group);
            b.setOnAction(_ -> {
                b.setSelected(true);
                left.setContent(pane);
                refresh();
            });
            tabs.getChildren().add(b);
        });
        ((ToggleButton) tabs.getChildren().getFirst()).setSelected(true);
        left.setContent(controls);
        VBox.setVgrow(left, Priority.ALWAYS);
        var side = new VBox(tabs, left);
        side.getStyleClass().add("side-column");
        side.setPrefWidth(SIDE);
        side.setMinWidth(SIDE);
        return side;
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
        middle.getChildren().add(differencesScroll);
        HBox.setHgrow(middle, Priority.ALWAYS);
        middle.setMinWidth(200);
        var row = new HBox(middle);
        if (shownPanel.isSelected()) {
            row.getChildren().add(panelScroll);
        }
        VBox.setVgrow(row, Priority.ALWAYS);
        setCenter(new VBox(toolbar(), notice, row));
    }

    private HBox toolbar() {
        if (bar != null) {
            return bar;
        }
        span.setId("span");
        span.setEditable(true);
        span.setPrefWidth(108);
        span.setMinWidth(108);
        span.getItems().addAll("1 ms", "10 ms", "0.1 s", "0.5 s", "1 s", "2 s", "5 s", "10 s", "30 s", "1 min", "10 min", "1 h");
        span.setValue("5 s");
        span.valueProperty().addListener((_, _, v) -> setSpan(v));
        var autoscale = toggle("Autoscale", "autoscale", on -> {
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
        bar = new HBox(7, new Label("Span"), span, hold, autoscale, cursors, measured, triggerButton, view, waiting, space, note, shownPanel, unplug);
        bar.getChildren().stream().filter(n -> n instanceof Label || n instanceof ToggleButton || n instanceof Button || n instanceof MenuButton).forEach(n -> ((javafx.scene.layout.Region) n).setMinWidth(USE_PREF_SIZE));
        bar.setAlignment(Pos.CENTER_LEFT);
        bar.setStyle("-fx-padding: 8 12 6 12;");
        return bar;
    }

    private void setSpan(String text) {
        if (text == null || text.isBlank()) {
            return;
        }
        try {
            double seconds = Formula.evaluate(text, Map.of(), "s");
            if (seconds > 0 && Math.abs(seconds - traces.span()) > 1e-12 * seconds) {
                traces.setSpan(seconds);
                traces.paint();
            }
        } catch (FormulaException e) {
            notice.setText("Span: " + e.getMessage());
        }
    }

    private ToggleButton toggle(String text, String id, Consumer<Boolean> action) {
        var b = new ToggleButton(text);
        b.setId(id);
        b.selectedProperty().addListener((_, _, on) -> action.accept(on));
        return b;
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
            read.getItems().add(item(e.address().replace('_', ' '), () -> {
                var next = new ArrayList<>(edits.layout().readouts());
                next.add(ReadoutsPane.suiting(e.address(), e.tap().unit()));
                edits.change("add a readout of " + e.address(), b -> b.withReadouts(next));
                shownPanel.setSelected(true);
            }));
        }
        view.getItems().setAll(add, read, new SeparatorMenuItem(), item("Snap the cursor to the nearest edge  (S)", traces::snap), item("Reset all scales", traces::freeAxes),
                item("Resume live view", this::live), new SeparatorMenuItem(), item("Copy as picture", this::copyPicture), item("Copy data as text", this::copyData),
                item("Copy measurements", () -> copy(measure.asText())), item("Show charts in a separate window", this::detach));
    }

    private static MenuItem item(String text, Runnable action) {
        var i = new MenuItem(text);
        i.setId("menu-" + text.replaceAll("  \\(.*", "").replace(' ', '-').toLowerCase(Locale.ROOT));
        i.setOnAction(_ -> action.run());
        return i;
    }

    /** What can be done with the pane under the pointer. */
    private ContextMenu paneMenu(double y) {
        var menu = new ContextMenu();
        var charts = traces.charts();
        int index = (int) Math.clamp(y / Math.max(1, traces.getHeight()) * charts.size(), 0, Math.max(0, charts.size() - 1));
        if (charts.isEmpty()) {
            menu.getItems().add(item("Add panes with View", () -> { }));
            return menu;
        }
        Chart c = charts.get(index);
        chartItems(menu.getItems(), c);
        return menu;
    }

    private void chartItems(List<MenuItem> into, Chart c) {
        var joined = new Menu("Line style");
        for (Style s : Style.values()) {
            joined.getItems().add(item(s.name().toLowerCase(Locale.ROOT), () -> edits.replace(c, c.with(s))));
        }
        var kinds = new Menu("Show the pane as");
        for (Kind k : Kind.values()) {
            kinds.getItems().add(item(switch (k) {
                case TRACE -> "time chart";
                case LOGIC -> "logic chart";
                case XY -> "XY plot";
                case SPECTRUM -> "spectrum";
                case HISTOGRAM -> "histogram";
            }, () -> edits.add(new Chart(c.title() + ", " + k.name().toLowerCase(Locale.ROOT), k, c.unit(), c.allTaps(), "", List.of(), c.style(), 0, 0, c.decoder(), c.baud()))));
        }
        var more = new Menu("Add a signal");
        var right = new Menu("Add a signal on the right axis");
        for (var e : TapList.of(workspace.review().system()).entries()) {
            if (!c.allTaps().contains(e.address())) {
                more.getItems().add(item(e.address().replace('_', ' '), () -> edits.replace(c, withTap(c, e.address(), false, ""))));
                right.getItems().add(item(e.address().replace('_', ' '), () -> edits.replace(c, withTap(c, e.address(), true, e.tap().unit()))));
            }
        }
        var fewer = new Menu("Remove a signal");
        c.allTaps().forEach(tap -> fewer.getItems().add(item(tap.replace('_', ' '), () -> edits.replace(c, without(c, tap)))));
        var base = item(c.base() > 0 ? "Engineering units" : "Per unit of …", () -> {
            if (c.base() > 0) {
                edits.replace(c, c.based(0));
            } else {
                AskCard.show(traces, "Per-unit base of this axis" + (c.unit().isEmpty() ? "" : " In " + c.unit() + "."), "", text -> positive(text, v -> edits.replace(c, c.based(v))));
            }
        });
        var mean = item(c.period() > 0 ? "Instantaneous values" : "Mean over a switching period …", () -> {
            if (c.period() > 0) {
                edits.replace(c, period(c, 0));
            } else {
                AskCard.show(traces, "Averaging period", "50 us", text -> positive(text, v -> edits.replace(c, period(c, v))));
            }
        });
        var decoders = new Menu("Decode the lines as");
        for (BenchLayout.Decoder d : BenchLayout.Decoder.values()) {
            decoders.getItems().add(item(switch (d) {
                case NONE -> "no decoding";
                case ENCODER -> "encoder: A, B, index";
                case PWM -> "PWM: upper, lower";
                case UART -> "serial line";
            }, () -> edits.replace(c, new Chart(c.title(), c.kind(), c.unit(), c.taps(), c.rightUnit(), c.rightTaps(), c.style(), c.base(), c.period(), d, c.baud()))));
        }
        into.addAll(List.of(joined, base, mean, more, right, fewer, kinds));
        if (c.kind() == Kind.LOGIC) {
            into.add(decoders);
        }
        into.addAll(List.of(new SeparatorMenuItem(), item("Remove this pane", () -> edits.remove(c))));
    }

    private static String positive(String text, Consumer<Double> take) {
        try {
            double v = Formula.evaluate(text, Map.of());
            if (!(v > 0)) {
                return "Enter a value above 0.";
            }
            take.accept(v);
            return "";
        } catch (FormulaException e) {
            return e.getMessage();
        }
    }

    private static Chart period(Chart c, double seconds) {
        return new Chart(c.title(), c.kind(), c.unit(), c.taps(), c.rightUnit(), c.rightTaps(), c.style(), c.base(), seconds, c.decoder(), c.baud());
    }

    private static Chart withTap(Chart c, String tap, boolean onRight, String unit) {
        var taps = new ArrayList<>(c.taps());
        var rightTaps = new ArrayList<>(c.rightTaps());
        (onRight ? rightTaps : taps).add(tap);
        return new Chart(c.title(), c.kind(), c.unit(), taps, c.rightTaps().isEmpty() && onRight ? unit : c.rightUnit(), rightTaps, c.style(), c.base(), c.period(), c.decoder(), c.baud());
    }

    private static Chart without(Chart c, String tap) {
        return new Chart(c.title(), c.kind(), c.unit(), c.taps().stream().filter(t -> !t.equals(tap)).toList(), c.rightUnit(),
                c.rightTaps().stream().filter(t -> !t.equals(tap)).toList(), c.style(), c.base(), c.period(), c.decoder(), c.baud());
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
        triggerButton.setText(setting.mode() == TriggeredView.Mode.FREE ? "Trigger" : "Trigger: " + setting.mode().name().toLowerCase(Locale.ROOT));
    }

    // ---- copies

    private static void copy(String text) {
        var content = new ClipboardContent();
        content.putString(text);
        Clipboard.getSystemClipboard().setContent(content);
    }

    private void copyPicture() {
        var content = new ClipboardContent();
        content.putImage(traces.snapshot(null, null));
        Clipboard.getSystemClipboard().setContent(content);
    }

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
            javafx.application.Platform.runLater(() -> copy(text));
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
        return frames;
    }

    /** Draws everything again, in the colours of the theme. */
    @Override
    public void repaint() {
        traces.paint();
        controls.cards().forEach(ControlCard::repaint);
        plots.getChildren().forEach(n -> ((SidePlot) n).paint());
    }

    private Samples samples() {
        return session.run().map(LiveRun::store).orElse(null);
    }

    private void viewed() {
        hold.setSelected(traces.view().isHeld());
        String shown = traces.span() >= 1 ? Figures.text(traces.span(), 4) + " s" : Figures.seconds(traces.span());
        if (Math.abs(spanOf(span.getValue()) - traces.span()) > 1e-9 * traces.span()) {
            span.setValue(shown);
        }
        lastSlow = 0;
    }

    private String unitOf(String tap) {
        return session.run().map(LiveRun::store).filter(s -> s.indexOf(tap) >= 0).map(s -> s.columns().get(s.indexOf(tap)).unit()).orElse("");
    }

    private static String shown(Values.Row r, double si) {
        return Figures.text(Units.fromSi(r.unit(), si));
    }

    private static double spanOf(String text) {
        try {
            return text == null ? Double.NaN : Formula.evaluate(text, Map.of(), "s");
        } catch (FormulaException e) {
            return Double.NaN;
        }
    }

    private void refresh() {
        limits.refresh();
        if (!isVisible()) {
            // It is all done when the page is turned to.
            return;
        }
        controls.refresh();
        if (left.getContent() == tuning) {
            tuning.refresh();
        }
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
        showNotice();
        boolean live = session.phase() == RigSession.Phase.RUNNING || session.phase() == RigSession.Phase.PAUSED;
        if (!live) {
            differences.getChildren().clear();
            shownValues = List.of();
        } else if (!session.values().equals(shownValues)) {
            shownValues = session.values();
            shownDifferences();
        }
        differencesScroll.setManaged(!differences.getChildren().isEmpty());
        differencesScroll.setVisible(!differences.getChildren().isEmpty());
        traces.setMarks(session.marks());
        traces.show(layout.charts(), run == null ? List.of() : List.of(new TraceView.Layer("live", run.store())));
    }

    private void arrangeFor(BenchLayout layout) {
        boolean panelWanted = !layout.readouts().isEmpty() || !layout.drawings().isEmpty();
        boolean had = !shownLayout.readouts().isEmpty() || !shownLayout.drawings().isEmpty();
        shownLayout = layout;
        readouts = new ReadoutsPane(layout.readouts());
        drawings.clear();
        panel.getChildren().clear();
        workspace.folder().ifPresent(folder -> layout.drawings().forEach(d -> drawings.add(new DrawingPane(d, folder, measuring))));
        panel.getChildren().addAll(drawings);
        panel.getChildren().addAll(readouts, health);
        drawings.forEach(d -> d.update(samples()));
        plots.getChildren().setAll(layout.charts().stream().filter(c -> c.kind() != Kind.TRACE && c.kind() != Kind.LOGIC).map(c -> {
            var plot = new SidePlot(c, theme, measuring);
            HBox.setHgrow(plot, Priority.ALWAYS);
            plot.setPrefWidth(300);
            plot.setOnContextMenuRequested(e -> plotMenu(plot).show(plot, e.getScreenX(), e.getScreenY()));
            return (Node) plot;
        }).toList());
        if (panelWanted != had) {
            shownPanel.setSelected(panelWanted);
        }
        lastSlow = 0;
        arrange();
    }

    private ContextMenu plotMenu(SidePlot plot) {
        var menu = new ContextMenu();
        if (plot.chart().kind() == Kind.SPECTRUM) {
            var windows = new Menu("Window");
            for (var w : Spectrum.Window.values()) {
                windows.getItems().add(item(w.label(), () -> {
                    plot.setWindow(w);
                    lastSlow = 0;
                    slow();
                }));
            }
            menu.getItems().add(windows);
        }
        menu.getItems().add(item("Remove this pane", () -> edits.remove(plot.chart())));
        return menu;
    }

    private void showNotice() {
        notice.getStyleClass().removeAll("bad", "faint", "warning");
        switch (session.phase()) {
            case IDLE -> {
                boolean failed = !session.findings().isEmpty();
                notice.setText(failed ? session.findings().getLast().toString()
                        : "No rig is running. Choose a rig above and press Run; then the controls on the left are live.");
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
                var errors = session.findings().stream().filter(Finding::isError).toList();
                notice.setText(errors.isEmpty() ? "The run has ended. It is on the Runs page. Press Run to start again." : errors.getFirst().toString());
                notice.getStyleClass().add(errors.isEmpty() ? "faint" : "bad");
            }
            default -> {
                var findings = session.findings();
                notice.setText(findings.isEmpty() ? "" : findings.getLast().toString());
                notice.getStyleClass().add("warning");
            }
        }
        notice.setManaged(!notice.getText().isEmpty());
    }

    private void shownDifferences() {
        differences.getChildren().clear();
        var differing = shownValues.stream().filter(Values.Row::differs).toList();
        if (shownValues.isEmpty()) {
            return;
        }
        var heading = new Label(differing.isEmpty() ? "Project and device agree in all " + shownValues.size() + " tunables." : "Values that differ");
        heading.getStyleClass().add(differing.isEmpty() ? "faint" : "section");
        differences.getChildren().add(heading);
        for (Values.Row r : differing) {
            var name = new Label(r.address().replace('_', ' '));
            name.setTextOverrun(javafx.scene.control.OverrunStyle.LEADING_ELLIPSIS);
            name.setMinWidth(60);
            name.setPrefWidth(250);
            var values = new Label("project " + shown(r, r.project()) + "   built " + shown(r, r.built()) + "   device " + Figures.text(r.device(), 6, r.unit()));
            values.getStyleClass().add("mono");
            HBox.setHgrow(values, Priority.ALWAYS);
            values.setMaxWidth(Double.MAX_VALUE);
            values.setMinWidth(USE_PREF_SIZE);
            var take = new Button("Copy to project");
            take.setTooltip(new Tooltip("Copies the value of the device to the project"));
            take.setMinWidth(USE_PREF_SIZE);
            take.setId("take-" + r.address());
            take.setOnAction(_ -> copyToProject(r));
            var push = new Button("Revert to project value");
            push.setTooltip(new Tooltip("Sets the device back to the value of the project"));
            push.setMinWidth(USE_PREF_SIZE);
            push.setId("push-" + r.address());
            push.setDisable(Double.isNaN(r.project()));
            push.setOnAction(_ -> session.set(r.address(), r.project()));
            var line = new HBox(8, name, values, take, push);
            line.setAlignment(Pos.CENTER_LEFT);
            differences.getChildren().add(line);
        }
    }

    private void copyToProject(Values.Row r) {
        try {
            var next = Values.copyToProject(workspace.project(), workspace.review(), r.address(), r.device());
            workspace.edit("take " + r.address() + " from the device", _ -> next);
        } catch (FindingException e) {
            notice.setText(e.findings().getFirst().toString());
        }
    }

    // ---- in time

    private void frame(long now) {
        if (getScene() == null || !isVisible()) {
            return;
        }
        double seconds = Math.min(0.2, (now - lastFrame) / 1e9);
        lastFrame = now;
        count(now);
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

    private void count(long now) {
        if (now - countedAt > 1_000_000_000L) {
            frames = (traces.frames() - counted) * 1e9 / (now - countedAt);
            counted = traces.frames();
            countedAt = now;
        }
    }

    /** What need not be drawn for each picture. */
    private void slow() {
        Samples samples = samples();
        if (shownPanel.isSelected()) {
            readouts.update(samples);
            drawings.forEach(d -> d.update(samples));
            health.update(session.run().map(LiveRun::health).orElse(Health.NONE), frames);
        }
        if (samples == null) {
            return;
        }
        double[] s = traces.measured();
        if (measured.isSelected()) {
            measure.update(samples, traces.charts(), s, cursors.isSelected());
        }
        plots.getChildren().forEach(n -> ((SidePlot) n).update(samples, s[0], s[1]));
    }
}
