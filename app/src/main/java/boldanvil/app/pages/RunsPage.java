package boldanvil.app.pages;

import boldanvil.app.chart.MeasurePane;
import boldanvil.app.chart.TraceView;
import boldanvil.app.model.PastRun;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.RunViews;
import boldanvil.app.model.Workspace;
import boldanvil.app.page.Page;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.AskCard;
import boldanvil.app.widget.Buttons;
import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.diagram.BenchLayout.Kind;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.measure.StepMetrics;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.runs.RunNote;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.samples.Series;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Deque;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.concurrent.Executor;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import java.util.function.Supplier;
import java.util.function.UnaryOperator;
import javafx.application.Platform;
import javafx.geometry.Insets;
import javafx.geometry.Orientation;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListView;
import javafx.scene.control.SelectionMode;
import javafx.scene.control.SplitPane;
import javafx.scene.control.TextField;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;
import javafx.stage.Popup;
import org.kordamp.ikonli.Ikon;
import org.kordamp.ikonli.feather.Feather;

/** The record: runs with what made them, overlaid, compared, measured, exported. */
public final class RunsPage extends BorderPane implements Page {
    private static final int OVERLAID = 4;

    private final Workspace workspace;
    private final Executor background;
    private final ListView<RunShelf.Entry> list = new ListView<>();
    private final TextField search = new TextField();
    private final TraceView traces;
    private final RunTables tables = new RunTables(this::showStep);
    private final RunTransfer transfer;
    private final FidelityRuns fidelities;
    private final NetworkFigures figures;
    private final RunReader reader = new RunReader();
    private final MeasurePane measure;
    private final BiConsumer<PastRun, Double> travel;
    private final Label verdict = new Label();
    private final Label made = new Label();
    private final TextField tolerance = new TextField("0");
    private final ChoiceBox<String> align = new ChoiceBox<>();
    private final ToggleButton difference = new ToggleButton("Difference");
    private final ToggleButton cursors = new ToggleButton("Cursors");
    private final ToggleButton overlay = new ToggleButton("Overlay other rigs");
    private final Button undelete = new Button("Undo delete");
    private final StackPane below = new StackPane();
    private final Deque<String> deleted = new ArrayDeque<>();
    private List<RunShelf.Entry> entries = List.of();
    private List<RunViews.Step> shownSteps = List.of();
    private boolean wasLive;
    private boolean choosing;
    private long generation;
    private double begin;
    private double end;
    private Popup popup;

    /**
     * @param playback takes a recorded signal as the source of stimuli
     * @param travel shows a run on the sheets, at an instant
     */
    public RunsPage(PageHost host, Consumer<Series> playback, BiConsumer<PastRun, Double> travel) {
        this.travel = travel;
        workspace = host.workspace();
        background = host.background();
        var session = host.session();
        Supplier<Theme> theme = host::theme;
        traces = new TraceView(theme);
        traces.setId("run-traces");
        traces.onChange(this::measureNow);
        fidelities = new FidelityRuns(host, this::show);
        figures = new NetworkFigures(host);
        transfer = new RunTransfer(host, traces, playback, verdict::setText, this::shelf, this::refresh);
        measure = new MeasurePane(background);
        list.setId("runs");
        list.getSelectionModel().setSelectionMode(SelectionMode.MULTIPLE);
        list.setCellFactory(_ -> new RunCell());
        var empty = new Label("Every run of a rig is listed here. Press Run to record the first.");
        empty.setWrapText(true);
        empty.setPadding(new Insets(8));
        list.setPlaceholder(empty);
        list.getSelectionModel().getSelectedItems().addListener((javafx.collections.ListChangeListener<RunShelf.Entry>) _ -> {
            if (!choosing) {
                chosen();
            }
        });
        var right = new SplitPane(new VBox(toolbar(), traces), lower());
        VBox.setVgrow(traces, Priority.ALWAYS);
        right.setOrientation(Orientation.VERTICAL);
        right.setDividerPositions(0.66);
        var side = side();
        var all = new SplitPane(side, right);
        SplitPane.setResizableWithParent(side, false);
        all.setDividerPositions(0.23);
        setCenter(all);
        session.onChange(() -> {
            boolean live = session.isBusy();
            if (wasLive && !live) {
                refresh(overlay.isSelected());
            } else if (session.phase() == RigSession.Phase.ENDED || session.phase() == RigSession.Phase.LOST) {
                refresh(false);
            }
            wasLive = live;
        });
        chosen();
    }

    @Override
    public String name() {
        return "Runs";
    }

    @Override
    public Ikon icon() {
        return Feather.LAYERS;
    }

    @Override
    public Node node() {
        return this;
    }

    @Override
    public void shown() {
        fidelities.refresh();
        figures.refresh();
        refresh();
    }

    @Override
    public void opened() {
        background.execute(reader::close);
        refresh();
    }

    private VBox side() {
        var heading = new Label("Runs");
        heading.getStyleClass().add("heading");
        search.setId("run-search");
        search.setPromptText("find: rig, name, note, device");
        search.textProperty().addListener((_, _, _) -> filter());
        var hint = new Label("Select up to " + OVERLAID + " (Ctrl+click) to overlay them.");
        hint.setWrapText(true);
        hint.getStyleClass().addAll("faint", "small");
        made.setWrapText(true);
        made.getStyleClass().add("small");
        made.setId("run-made");
        made.setMinHeight(USE_PREF_SIZE);
        VBox.setVgrow(list, Priority.ALWAYS);
        var star = Buttons.button("Star", "run-star", "Adds or removes the star of the run",
                () -> one(e -> note(e, e.note().starred(!e.note().starred()))));
        var name = Buttons.button("Name", "run-name", "Names the run", () ->
                one(e -> ask("Name of this run", e.note().name(), text -> note(e, e.note().named(text.strip())))));
        var remark = Buttons.button("Note", "run-note", "Writes a note to the run",
                () -> one(e -> ask("A note to this run", e.note().remark(), text -> note(e, e.note().remarked(text.strip())))));
        var values = Buttons.button("Values on sheets", "run-values",
                "Shows the values of all wires in the run, at the first cursor or the end", () -> one(this::showOnSheets));
        var delete = Buttons.button("Delete", "run-delete", "Deletes the selected runs; can be undone", this::delete);
        undelete.setId("run-undelete");
        undelete.setOnAction(_ -> undelete());
        undelete.setVisible(false);
        undelete.setManaged(false);
        var side = new VBox(6, heading, search, hint, list, new FlowPane(6, 6, star, name, remark, values, delete, undelete), made);
        side.getStyleClass().add("side");
        side.setPrefWidth(280);
        return side;
    }

    private HBox toolbar() {
        align.setId("run-align");
        for (RunViews.Align a : RunViews.Align.values()) {
            align.getItems().add(a.label());
        }
        align.setValue(RunViews.Align.TIME.label());
        align.valueProperty().addListener((_, _, _) -> chosen());
        difference.setId("run-difference");
        difference.selectedProperty().addListener((_, _, _) -> chosen());
        cursors.setId("run-cursors");
        cursors.selectedProperty().addListener((_, _, on) -> traces.setCursors(on));
        overlay.setId("run-overlay");
        overlay.setTooltip(new Tooltip("After a run, overlays the newest runs of the other rigs made from the same project"));
        var whole = Buttons.button("Whole run", "run-whole", "Shows everything", this::whole);
        var read = Buttons.button("Import …", "run-import", "Imports CSV or HDF5 files of other tools", transfer::importFile);
        var space = new HBox();
        HBox.setHgrow(space, Priority.ALWAYS);
        var bar = new HBox(7, new Label("Align"), align, difference, cursors, whole, space, figures.button(), fidelities.button(), overlay,
                transfer.button(), read);
        bar.setAlignment(Pos.CENTER_LEFT);
        bar.setStyle("-fx-padding: 8 12 6 12;");
        bar.getChildren().stream().filter(n -> n != space).forEach(n -> ((javafx.scene.layout.Region) n).setMinWidth(USE_PREF_SIZE));
        return bar;
    }

    private VBox lower() {
        verdict.setId("verdict");
        verdict.setWrapText(true);
        verdict.setMaxWidth(Double.MAX_VALUE);
        HBox.setHgrow(verdict, Priority.ALWAYS);
        tolerance.setId("tolerance");
        tolerance.setPrefColumnCount(6);
        tolerance.setTooltip(new Tooltip("Deviation allowed for every tap, in its SI unit, such as 1e-3 or 2 mm; shown as a band"));
        tolerance.setOnAction(_ -> chosen());
        var group = new ToggleGroup();
        var tabs = new HBox(4);
        Map<String, Node> panes = new LinkedHashMap<>();
        panes.put("Comparison", tables.comparison);
        panes.put("Steps", tables.steps);
        panes.put("Measure", measure);
        panes.put("Origin", tables.origins);
        panes.forEach((name, pane) -> {
            var b = new ToggleButton(name);
            b.setId("runs-" + name.toLowerCase(Locale.ROOT).replace(' ', '-'));
            b.setToggleGroup(group);
            b.setMinWidth(USE_PREF_SIZE);
            b.setOnAction(_ -> {
                b.setSelected(true);
                below.getChildren().setAll(pane);
                traces.setAnnotations(name.equals("Steps") ? annotations() : List.of());
                measureNow();
            });
            tabs.getChildren().add(b);
        });
        ((ToggleButton) tabs.getChildren().getFirst()).setSelected(true);
        below.getChildren().setAll(tables.comparison);
        VBox.setVgrow(below, Priority.ALWAYS);
        var toleranceLabel = new Label("Tolerance");
        toleranceLabel.setMinWidth(USE_PREF_SIZE);
        tolerance.setMinWidth(70);
        var line = new HBox(8, tabs, verdict, toleranceLabel, tolerance);
        line.setAlignment(Pos.CENTER_LEFT);
        line.setStyle("-fx-padding: 7 12 7 12;");
        return new VBox(line, below);
    }

    // ---- the list

    private RunShelf shelf() {
        return new RunShelf(workspace.folder().orElseThrow().resolve("runs"));
    }

    /** Lists the runs of the project again. */
    public void refresh() {
        refresh(false);
    }

    /** Lists the runs again, and selects some. */
    void show(Set<String> ids) {
        refresh(all -> all.stream().filter(e -> ids.contains(e.id())).toList());
    }

    private void refresh(boolean overlaid) {
        refresh(all -> {
            var alike = overlaid && !all.isEmpty() ? RunViews.alike(all, OVERLAID) : List.<RunShelf.Entry>of();
            return alike.size() > 1 ? alike : List.of();
        });
    }

    /** @param wanted the runs to select, of all; none leaves the selection as it is */
    private void refresh(UnaryOperator<List<RunShelf.Entry>> wanted) {
        if (workspace.folder().isEmpty()) {
            return;
        }
        var shelf = shelf();
        background.execute(() -> {
            try {
                List<Finding> problems = new ArrayList<>();
                var all = shelf.list(problems);
                List<RunShelf.Entry> alike = wanted.apply(all);
                Platform.runLater(() -> {
                    if (!all.equals(entries)) {
                        entries = all;
                        filter();
                    }
                    if (!problems.isEmpty()) {
                        made.setText(problems.getFirst().toString());
                    }
                    if (!alike.isEmpty()) {
                        select(alike);
                    }
                });
            } catch (FindingException e) {
                Platform.runLater(() -> made.setText(e.getMessage()));
            }
        });
    }

    private void select(List<RunShelf.Entry> which) {
        choosing = true;
        list.getSelectionModel().clearSelection();
        which.forEach(e -> list.getSelectionModel().select(e));
        choosing = false;
        chosen();
    }

    private void filter() {
        var shown = entries.stream().filter(e -> e.note().matches(search.getText()))
                .sorted(Comparator.comparing((RunShelf.Entry e) -> !e.note().starred())).toList();
        if (!shown.equals(List.copyOf(list.getItems()))) {
            var before = List.copyOf(list.getSelectionModel().getSelectedItems()).stream().map(RunShelf.Entry::id).toList();
            choosing = true;
            list.getItems().setAll(shown);
            list.getSelectionModel().clearSelection();
            shown.stream().filter(e -> before.contains(e.id())).forEach(e -> list.getSelectionModel().select(e));
            choosing = false;
            chosen();
        }
    }

    private void one(Consumer<RunShelf.Entry> action) {
        var e = list.getSelectionModel().getSelectedItem();
        if (e == null) {
            verdict.setText("Choose a run first.");
        } else {
            guarded(() -> action.accept(e));
        }
    }

    private void guarded(Runnable action) {
        try {
            action.run();
        } catch (FindingException e) {
            verdict.setText(e.findings().getFirst().toString());
        }
    }

    private void ask(String question, String present, Consumer<String> take) {
        AskCard.show(list, question, present, text -> {
            guarded(() -> take.accept(text));
            return "";
        });
    }

    private void note(RunShelf.Entry e, RunNote note) {
        var next = shelf().note(e, note);
        entries = entries.stream().map(x -> x.id().equals(e.id()) ? next : x).toList();
        filter();
        made.setText(RunCell.describe(next));
    }

    private void showOnSheets(RunShelf.Entry e) {
        var run = PastRun.of(e);
        double at = traces.cursorA();
        travel.accept(run, Double.isNaN(at) ? run.end() : at);
    }

    private void delete() {
        guarded(() -> {
            for (var e : List.copyOf(list.getSelectionModel().getSelectedItems())) {
                shelf().delete(e);
                deleted.push(e.id());
                entries = entries.stream().filter(x -> !x.id().equals(e.id())).toList();
            }
        });
        filter();
        undoable();
    }

    private void undelete() {
        guarded(() -> shelf().restore(deleted.pop()));
        undoable();
        refresh();
    }

    private void undoable() {
        undelete.setVisible(!deleted.isEmpty());
        undelete.setManaged(!deleted.isEmpty());
    }

    // ---- what is shown

    /** What is message of the runs that are chosen. */
    public String verdict() {
        return verdict.getText();
    }

    public ListView<RunShelf.Entry> list() {
        return list;
    }

    public TraceView traces() {
        return traces;
    }

    /** Draws everything again, in the colours of the theme. */
    @Override
    public void repaint() {
        traces.paint();
    }

    private List<Chart> charts() {
        return workspace.project().bench().charts().stream().filter(c -> c.kind() == Kind.TRACE || c.kind() == Kind.LOGIC).toList();
    }

    private void chosen() {
        var chosen = list.getSelectionModel().getSelectedItems().stream().filter(Objects::nonNull).limit(OVERLAID).toList();
        long mine = ++generation;
        made.setText(chosen.isEmpty() ? "" : RunCell.describe(chosen.getFirst()));
        if (chosen.isEmpty()) {
            traces.show(List.of(), List.of());
            tables.comparison.getItems().clear();
            tables.steps.getItems().clear();
            tables.origins.getItems().clear();
            verdict.setText("Choose a run on the left to see its traces.");
            return;
        }
        double allowed;
        tolerance.getStyleClass().remove("wrong");
        try {
            allowed = Formula.evaluate(tolerance.getText(), Map.of());
        } catch (FormulaException e) {
            tolerance.getStyleClass().add("wrong");
            verdict.setText("Tolerance: " + e.getMessage());
            return;
        }
        verdict.setText("Reading …");
        var how = RunViews.Align.values()[align.getItems().indexOf(align.getValue())];
        boolean differences = difference.isSelected();
        var charts = charts();
        background.execute(() -> {
            try {
                RunReader.View v = reader.view(chosen, how, differences, charts, allowed);
                Platform.runLater(() -> {
                    if (mine == generation) {
                        show(v, allowed);
                        verdict.setText(RunViews.verdict(chosen.stream().map(e -> e.note().title()).toList(), v.comparison(),
                                traces.layers().size() > 1 ? traces.layers().get(1).shift() : 0));
                    }
                });
            } catch (FindingException e) {
                Platform.runLater(() -> verdict.setText(e.getMessage()));
            }
        });
    }

    private void show(RunReader.View v, double allowed) {
        boolean other = v.begin() != begin || v.end() != end;
        begin = v.begin();
        end = v.end();
        if (other || traces.layers().isEmpty()) {
            traces.view().show(begin, Math.max(begin + 1e-6, end));
        }
        Map<String, Double> bands = new HashMap<>();
        if (allowed > 0) {
            v.charts().forEach(c -> c.allTaps().forEach(t -> bands.put(t, allowed)));
        }
        traces.setTolerances(bands);
        traces.setMarks(v.marks());
        traces.show(v.charts(), v.layers());
        tables.comparison.getItems().setAll(v.comparison() == null ? List.of() : v.comparison().rows());
        tables.origins.getItems().setAll(v.origins());
        shownSteps = v.steps();
        tables.steps.getItems().setAll(shownSteps);
        traces.setAnnotations(below.getChildren().contains(tables.steps) ? annotations() : List.of());
        measureNow();
    }

    private void whole() {
        traces.view().show(begin, Math.max(begin + 1e-6, end));
        traces.freeAxes();
    }

    private void showStep(RunViews.Step s) {
        double length = Double.isNaN(s.metrics().settlingTime()) ? 1 : Math.max(4 * s.metrics().riseTime(), 2 * s.metrics().settlingTime());
        traces.view().show(s.metrics().start() - 0.15 * length, s.metrics().start() + (Double.isNaN(length) ? 1 : length));
        traces.setAnnotations(List.of(new TraceView.Annotation(s.tap(), s.metrics())));
    }

    /** Of each signal, the step that comes last on the screen; more would hide each other. */
    private List<TraceView.Annotation> annotations() {
        Map<String, StepMetrics> last = new LinkedHashMap<>();
        String first = traces.layers().isEmpty() ? "" : traces.layers().getFirst().name();
        shownSteps.stream().filter(s -> s.run().equals(first)).forEach(s -> last.putIfAbsent(s.tap(), s.metrics()));
        return last.entrySet().stream().map(e -> new TraceView.Annotation(e.getKey(), e.getValue())).toList();
    }

    private void measureNow() {
        if (below.getChildren().contains(measure) && !traces.layers().isEmpty()) {
            measure.update(traces.layers().getFirst().samples(), charts(), traces.measured(), cursors.isSelected());
        }
    }

    /** Writes what is on show: the samples of the first run between the cursors or in the visible span, or the charts as a picture. */
    public void export(String kind, Path file) {
        transfer.export(kind, file);
    }

    /** Asks for the meaning of the columns of a file, then adds it to the runs. */
    public void importFile(Path file) {
        transfer.importFile(file);
    }
}
