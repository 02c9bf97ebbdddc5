package boldanvil.app.pages;

import boldanvil.app.chart.MeasurePane;
import boldanvil.app.chart.TraceView;
import boldanvil.app.model.Figures;
import boldanvil.app.model.Reports;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.RunPlots;
import boldanvil.app.model.RunViews;
import boldanvil.app.model.Workspace;
import boldanvil.app.page.Page;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.AskCard;
import boldanvil.app.widget.Columns;
import boldanvil.app.widget.PopupCard;
import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.diagram.BenchLayout.Kind;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.measure.StepMetrics;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.runs.Comparison;
import boldanvil.core.runs.RunDifferences;
import boldanvil.core.runs.RunNote;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.samples.Column;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import boldanvil.core.transfer.RunExport;
import boldanvil.core.transfer.RunImport;
import java.io.File;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Executor;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Supplier;
import javafx.application.Platform;
import javafx.beans.property.SimpleStringProperty;
import javafx.embed.swing.SwingFXUtils;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.control.Menu;
import javafx.scene.control.MenuButton;
import javafx.scene.control.MenuItem;
import javafx.scene.control.SelectionMode;
import javafx.scene.control.SplitPane;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
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
import javafx.stage.FileChooser;
import javafx.stage.Popup;
import org.kordamp.ikonli.Ikon;
import org.kordamp.ikonli.feather.Feather;

/** The record: runs with what made them, overlaid, compared, measured, exported. */
public final class RunsPage extends BorderPane implements Page {
    private static final int OVERLAID = 4;

    private final Workspace workspace;
    private final Executor background;
    private final Consumer<Series> playback;
    private final ListView<RunShelf.Entry> list = new ListView<>();
    private final TextField search = new TextField();
    private final TraceView traces;
    private final TableView<Comparison.Row> table = new TableView<>();
    private final TableView<RunViews.Step> steps = new TableView<>();
    private final TableView<RunDifferences.Row> origins = new TableView<>();
    private final MeasurePane measure;
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
    private final Map<String, Samples> opened = new HashMap<>();
    private List<RunShelf.Entry> entries = List.of();
    private List<RunViews.Step> shownSteps = List.of();
    private boolean wasLive;
    private boolean choosing;
    private long generation;
    private double begin;
    private double end;
    private Popup popup;

    /** @param playback takes a recorded signal as the source of stimuli */
    public RunsPage(PageHost host, Consumer<Series> playback) {
        workspace = host.workspace();
        background = host.background();
        this.playback = playback;
        var session = host.session();
        Supplier<Theme> theme = host::theme;
        traces = new TraceView(theme);
        traces.setId("run-traces");
        traces.onChange(this::measureNow);
        measure = new MeasurePane(background);
        list.setId("runs");
        list.getSelectionModel().setSelectionMode(SelectionMode.MULTIPLE);
        list.setCellFactory(_ -> new RunCell());
        list.setPlaceholder(new Label("Every run of a rig is listed here.\nPress Run to record the first."));
        list.getSelectionModel().getSelectedItems().addListener((javafx.collections.ListChangeListener<RunShelf.Entry>) _ -> {
            if (!choosing) {
                chosen();
            }
        });
        columns();
        var right = new SplitPane(new VBox(toolbar(), traces), lower());
        VBox.setVgrow(traces, Priority.ALWAYS);
        right.setOrientation(javafx.geometry.Orientation.VERTICAL);
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
    public boolean owns(Place place) {
        return false;
    }

    @Override
    public void shown() {
        refresh();
    }

    @Override
    public void opened() {
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
        var star = button("Star", "run-star", "Adds or removes the star of the run", () -> one(e -> note(e, e.note().starred(!e.note().starred()))));
        var name = button("Name", "run-name", "Names the run", () -> one(e -> ask("Name of this run", e.note().name(), text -> note(e, e.note().named(text.strip())))));
        var remark = button("Note", "run-note", "Writes a note to the run", () -> one(e -> ask("A note to this run", e.note().remark(), text -> note(e, e.note().remarked(text.strip())))));
        var delete = button("Delete", "run-delete", "Deletes the selected runs; can be undone", this::delete);
        undelete.setId("run-undelete");
        undelete.setOnAction(_ -> undelete());
        undelete.setVisible(false);
        undelete.setManaged(false);
        var side = new VBox(6, heading, search, hint, list, new FlowPane(6, 6, star, name, remark, delete, undelete), made);
        side.getStyleClass().add("side");
        side.setPrefWidth(280);
        return side;
    }

    private static Button button(String text, String id, String tip, Runnable action) {
        var b = new Button(text);
        b.setId(id);
        b.setTooltip(new Tooltip(tip));
        b.setOnAction(_ -> action.run());
        return b;
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
        var whole = button("Whole run", "run-whole", "Shows everything", this::whole);
        var export = new MenuButton("Export");
        export.setId("run-export");
        for (String kind : List.of("CSV", "HDF5", "VCD", "PNG", "SVG", "PDF")) {
            export.getItems().add(menu(kind + " …", () -> export(kind)));
        }
        var play = new Menu("Use as stimulus");
        play.setOnShowing(_ -> offerPlayback(play));
        play.getItems().add(new MenuItem("…"));
        export.getItems().addAll(new javafx.scene.control.SeparatorMenuItem(), play);
        export.setOnShowing(_ -> offerPlayback(play));
        var read = button("Import …", "run-import", "Imports CSV or HDF5 files of other tools", this::importFile);
        var space = new HBox();
        HBox.setHgrow(space, Priority.ALWAYS);
        var bar = new HBox(7, new Label("Align"), align, difference, cursors, whole, space, overlay, export, read);
        bar.setAlignment(Pos.CENTER_LEFT);
        bar.setStyle("-fx-padding: 8 12 6 12;");
        bar.getChildren().stream().filter(n -> n != space).forEach(n -> ((javafx.scene.layout.Region) n).setMinWidth(USE_PREF_SIZE));
        return bar;
    }

    private static MenuItem menu(String text, Runnable action) {
        var i = new MenuItem(text);
        i.setOnAction(_ -> action.run());
        return i;
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
        panes.put("Comparison", table);
        panes.put("Steps", steps);
        panes.put("Measure", measure);
        panes.put("Origin", origins);
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
        below.getChildren().setAll(table);
        VBox.setVgrow(below, Priority.ALWAYS);
        var toleranceLabel = new Label("Tolerance");
        toleranceLabel.setMinWidth(USE_PREF_SIZE);
        tolerance.setMinWidth(70);
        var line = new HBox(8, tabs, verdict, toleranceLabel, tolerance);
        line.setAlignment(Pos.CENTER_LEFT);
        line.setStyle("-fx-padding: 7 12 7 12;");
        return new VBox(line, below);
    }

    private void columns() {
        table.setId("comparison");
        table.setFixedCellSize(24);
        table.getStyleClass().add("dense");
        column(table, "tap", 250, false, r -> r.name().replace('_', ' '));
        column(table, "unit", 60, false, Comparison.Row::unit);
        column(table, "largest deviation", 130, true, r -> Figures.text(r.largest(), 4));
        column(table, "at s", 80, true, r -> r.largest() == 0 ? "" : String.format(Locale.ROOT, "%.4f", r.largestAt()));
        column(table, "RMS deviation", 120, true, r -> Figures.text(r.rms(), 4));
        column(table, "first beyond tolerance", 170, true, r -> r.compared() == 0 ? "no common span" : r.beyond().isPresent()
                ? String.format(Locale.ROOT, "%.4f s", r.beyond().getAsDouble()) : "never");
        table.setPlaceholder(new Label("The comparison of two runs appears here."));
        steps.setId("steps");
        steps.setFixedCellSize(24);
        steps.getStyleClass().add("dense");
        column(steps, "run", 90, false, RunViews.Step::run);
        column(steps, "signal", 130, false, s -> Figures.shortName(s.tap()));
        column(steps, "at s", 70, true, s -> Figures.text(s.metrics().start(), 5));
        column(steps, "from", 70, true, s -> Figures.text(s.metrics().from(), 4));
        column(steps, "to", 70, true, s -> Figures.text(s.metrics().to(), 4));
        column(steps, "rise 10–90 %", "From 10 % to 90 % of the step (IEC 60050-351:2013)", 95, true, s -> Figures.seconds(s.metrics().riseTime()));
        column(steps, "settling 2 %", "Until the response stays within 2 % of the step around its end level (IEC 60050-351:2013)", 95, true, s -> Figures.seconds(s.metrics().settlingTime()));
        column(steps, "overshoot %", "Largest excursion beyond the end level, by the step (IEC 60050-351:2013)", 90, true, s -> Figures.text(100 * s.metrics().overshootShare(), 3));
        column(steps, "peak", 80, true, s -> Figures.text(s.metrics().peak(), 4));
        column(steps, "final error", "Mean of the last tenth of the span minus the end level", 90, true, s -> Figures.text(s.metrics().finalError(), 3));
        steps.setPlaceholder(new Label("When a set-point steps, the step response of the other signal in its chart is measured here (IEC 60050-351)."));
        steps.getSelectionModel().selectedItemProperty().addListener((_, _, s) -> {
            if (s != null) {
                double length = Double.isNaN(s.metrics().settlingTime()) ? 1 : Math.max(4 * s.metrics().riseTime(), 2 * s.metrics().settlingTime());
                traces.view().show(s.metrics().start() - 0.15 * length, s.metrics().start() + (Double.isNaN(length) ? 1 : length));
                traces.setAnnotations(List.of(new TraceView.Annotation(s.tap(), s.metrics())));
            }
        });
        origins.setId("origins");
        origins.setFixedCellSize(24);
        origins.getStyleClass().add("dense");
        column(origins, "difference", 380, false, RunDifferences.Row::what);
        column(origins, "first run", 220, false, RunDifferences.Row::first);
        column(origins, "second run", 220, false, RunDifferences.Row::second);
        origins.setPlaceholder(new Label("For two runs, the differences in project, build and rig appear here."));
    }

    private static <T> void column(TableView<T> table, String title, double width, boolean right, Function<T, String> text) {
        column(table, title, "", width, right, text);
    }

    private static <T> void column(TableView<T> table, String title, String meaning, double width, boolean right, Function<T, String> text) {
        TableColumn<T, String> c = Columns.explained(title, meaning);
        c.setCellValueFactory(d -> new SimpleStringProperty(text.apply(d.getValue())));
        c.setPrefWidth(width);
        if (right) {
            c.getStyleClass().add("figure");
        }
        table.getColumns().add(c);
    }

    // ---- the list

    private RunShelf shelf() {
        return new RunShelf(workspace.folder().orElseThrow().resolve("runs"));
    }

    /** Lists the runs of the project again. */
    public void refresh() {
        refresh(false);
    }

    private void refresh(boolean overlaid) {
        if (workspace.folder().isEmpty()) {
            return;
        }
        var shelf = shelf();
        background.execute(() -> {
            try {
                List<Finding> problems = new ArrayList<>();
                var all = shelf.list(problems);
                List<RunShelf.Entry> alike = overlaid && !all.isEmpty() ? alike(all) : List.of();
                Platform.runLater(() -> {
                    if (!all.equals(entries)) {
                        entries = all;
                        filter();
                    }
                    if (!problems.isEmpty()) {
                        made.setText(problems.getFirst().toString());
                    }
                    if (alike.size() > 1) {
                        select(alike);
                    }
                });
            } catch (FindingException e) {
                Platform.runLater(() -> made.setText(e.getMessage()));
            }
        });
    }

    /** The newest run with the newest of each other rig that was made from the same project. */
    private static List<RunShelf.Entry> alike(List<RunShelf.Entry> all) {
        var newest = all.getFirst();
        List<RunShelf.Entry> alike = new ArrayList<>(List.of(newest));
        for (var e : all) {
            boolean other = alike.stream().noneMatch(x -> x.note().rig().equals(e.note().rig()));
            if (other && alike.size() < OVERLAID && RunDifferences.projects(newest, e).isEmpty()) {
                alike.add(e);
            }
        }
        return alike;
    }

    private void select(List<RunShelf.Entry> which) {
        choosing = true;
        list.getSelectionModel().clearSelection();
        which.forEach(e -> list.getSelectionModel().select(e));
        choosing = false;
        chosen();
    }

    private void filter() {
        var shown = entries.stream().filter(e -> e.note().matches(search.getText())).sorted(java.util.Comparator.comparing((RunShelf.Entry e) -> !e.note().starred())).toList();
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
        made.setText(describe(next));
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

    /** What is made of the chosen runs in the background. */
    private record View(List<TraceView.Layer> layers, List<Chart> charts, Comparison comparison, List<RunDifferences.Row> origins, List<RunViews.Step> steps,
            List<boldanvil.core.runs.Mark> marks, double begin, double end) {}

    private void chosen() {
        var chosen = list.getSelectionModel().getSelectedItems().stream().filter(java.util.Objects::nonNull).limit(OVERLAID).toList();
        long mine = ++generation;
        made.setText(chosen.isEmpty() ? "" : describe(chosen.getFirst()));
        if (chosen.isEmpty()) {
            traces.show(List.of(), List.of());
            table.getItems().clear();
            steps.getItems().clear();
            origins.getItems().clear();
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
                View v = view(chosen, how, differences, charts, allowed);
                Platform.runLater(() -> {
                    if (mine == generation) {
                        show(v, allowed);
                        showComparison(chosen, v.comparison());
                    }
                });
            } catch (FindingException e) {
                Platform.runLater(() -> verdict.setText(e.getMessage()));
            }
        });
    }

    private View view(List<RunShelf.Entry> chosen, RunViews.Align how, boolean differences, List<Chart> charts, double allowed) {
        var ids = chosen.stream().map(RunShelf.Entry::id).toList();
        opened.keySet().stream().filter(id -> !ids.contains(id)).toList().forEach(id -> opened.remove(id).close());
        List<Samples> data = chosen.stream().map(e -> opened.computeIfAbsent(e.id(), _ -> e.open())).toList();
        List<TraceView.Layer> layers = new ArrayList<>();
        List<RunViews.Step> found = new ArrayList<>();
        double[] shifts = new double[data.size()];
        for (int i = 0; i < data.size(); i++) {
            shifts[i] = i == 0 ? 0 : RunViews.shift(data.getFirst(), data.get(i), charts, how);
            layers.add(new TraceView.Layer(chosen.get(i).note().title(), data.get(i), shifts[i]));
            found.addAll(RunViews.steps(chosen.get(i).note().title(), data.get(i), charts));
        }
        Comparison comparison = data.size() < 2 ? null : Comparison.of(data.get(0), data.get(1), Map.of("*", allowed), shifts[1]);
        List<RunDifferences.Row> origin = data.size() < 2 ? List.of() : RunDifferences.of(chosen.get(0), chosen.get(1));
        var shownCharts = charts;
        if (differences && data.size() >= 2) {
            layers.add(new TraceView.Layer("difference", RunViews.difference(data.get(0), data.get(1), charts, shifts[1])));
            shownCharts = RunViews.withDifferences(charts);
        }
        return new View(layers, shownCharts, comparison, origin, found, chosen.getFirst().marks(), data.stream().mapToDouble(Samples::begin).min().orElse(0),
                data.stream().mapToDouble(Samples::end).max().orElse(1));
    }

    private void show(View v, double allowed) {
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
        table.getItems().setAll(v.comparison() == null ? List.of() : v.comparison().rows());
        origins.getItems().setAll(v.origins());
        shownSteps = v.steps();
        steps.getItems().setAll(shownSteps);
        traces.setAnnotations(below.getChildren().contains(steps) ? annotations() : List.of());
        measureNow();
    }

    private void whole() {
        traces.view().show(begin, Math.max(begin + 1e-6, end));
        traces.freeAxes();
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

    private void showComparison(List<RunShelf.Entry> chosen, Comparison c) {
        if (c == null) {
            verdict.setText("One run: " + chosen.getFirst().note().title() + ". Select a second with Ctrl+click to compare.");
            return;
        }
        boolean none = c.rows().stream().allMatch(r -> r.largest() == 0);
        long beyond = c.rows().stream().filter(r -> !r.within()).count();
        long differing = c.rows().stream().filter(r -> r.largest() != 0).count();
        double shift = traces.layers().size() > 1 ? traces.layers().get(1).shift() : 0;
        verdict.setText(chosen.get(0).note().title() + " (solid) against " + chosen.get(1).note().title() + " (dashed)" + (shift == 0 ? "" : ", shifted by "
                + Figures.seconds(shift)) + ": " + (none ? "no deviation in " + c.rows().size() + " taps." : differing + " of " + c.rows().size()
                + " taps deviate, " + beyond + " beyond the tolerance."));
    }

    private static String describe(RunShelf.Entry e) {
        RunNote n = e.note();
        var text = new StringBuilder();
        if (!n.name().isEmpty()) {
            text.append(n.name()).append("\n");
        }
        text.append("Rig ").append(n.rig()).append(", started ").append(started(n)).append(" UTC, ").append(Figures.text(n.seconds(), 5)).append(" s");
        if (!n.whole()) {
            text.append("\nIncomplete or still running. This is what was recorded.");
        }
        if (n.step() > 0) {
            text.append("\nSample time ").append(Figures.seconds(n.step()));
        }
        n.devices().entrySet().stream().sorted(Map.Entry.comparingByKey()).forEach(d -> text.append("\n").append(d.getKey()).append(": ").append(d.getValue())
                .append(n.images().containsKey(d.getKey()) ? ", image " + n.images().get(d.getKey()).substring(0, Math.min(10, n.images().get(d.getKey()).length())) + "…" : ""));
        n.changes().stream().limit(4).forEach(c -> text.append("\n").append(c));
        if (n.changes().size() > 4) {
            text.append("\n… ").append(n.changes().size() - 4).append(" more changes");
        }
        n.findings().stream().limit(2).forEach(f -> text.append("\n").append(f));
        if (!n.remark().isEmpty()) {
            text.append("\n“").append(n.remark()).append("”");
        }
        return text.toString();
    }

    private static String started(RunNote n) {
        return n.started().replace('T', ' ').replaceAll("(\\.\\d+)?Z", "");
    }

    // ---- out and in

    private void offerPlayback(Menu play) {
        play.getItems().clear();
        if (traces.layers().isEmpty()) {
            play.getItems().add(new MenuItem("Choose a run first"));
            return;
        }
        Samples samples = traces.layers().getFirst().samples();
        for (Column c : samples.columns()) {
            play.getItems().add(menu(c.name().replace('_', ' '), () -> {
                double[] s = traces.measured();
                background.execute(() -> {
                    Series series = samples.series(samples.indexOf(c.name()), s[0], s[1]);
                    Platform.runLater(() -> {
                        playback.accept(series);
                        verdict.setText(c.name().replace('_', ' ') + " can be used as a stimulus by any control on the Bench.");
                    });
                });
            }));
        }
    }

    private void export(String kind) {
        if (traces.layers().isEmpty()) {
            verdict.setText("Choose a run first.");
            return;
        }
        var chooser = new FileChooser();
        chooser.setTitle("Export as " + kind);
        String ending = kind.equals("HDF5") ? ".h5" : "." + kind.toLowerCase(Locale.ROOT);
        chooser.setInitialFileName(traces.layers().getFirst().name().replaceAll("[^A-Za-z0-9_-]+", "-") + ending);
        File file = chooser.showSaveDialog(getScene().getWindow());
        if (file != null) {
            export(kind, file.toPath());
        }
    }

    /** Writes what is on show: the samples of the first run between the cursors or on the screen, or the charts as a picture. */
    public void export(String kind, Path file) {
        var layers = traces.layers();
        double[] span = traces.measured();
        if (kind.equals("PNG")) {
            var image = traces.snapshot(null, null);
            background.execute(() -> finished(file, () -> javax.imageio.ImageIO.write(SwingFXUtils.fromFXImage(image, null), "png", file.toFile())));
            return;
        }
        var charts = traces.charts();
        var names = layers.getFirst().samples().columns().stream().map(Column::name).toList();
        background.execute(() -> finished(file, () -> {
            switch (kind) {
                case "SVG", "PDF" -> Reports.plot(RunPlots.of(workspace.project().name(), charts.stream().filter(c -> c.kind() == Kind.TRACE).toList(), layers.stream()
                        .map(l -> new RunPlots.Shown(l.name(), l.samples(), l.shift())).toList(), traces.view().begin(), traces.view().end()), file);
                default -> RunExport.write(RunExport.part(layers.getFirst().samples(), names, span[0], span[1]), file);
            }
        }));
    }

    /** Something that writes a file. */
    private interface Writing {
        void run() throws IOException;
    }

    private void finished(Path file, Writing how) {
        String message;
        try {
            how.run();
            message = "Wrote " + file.getFileName() + ".";
        } catch (FindingException e) {
            message = e.findings().getFirst().toString();
        } catch (IOException e) {
            message = file + ": The file cannot be written: " + e.getMessage() + ". Choose another folder.";
        }
        String text = message;
        Platform.runLater(() -> verdict.setText(text));
    }

    private void importFile() {
        var chooser = new FileChooser();
        chooser.setTitle("Import a recording");
        chooser.getExtensionFilters().add(new FileChooser.ExtensionFilter("CSV, text or HDF5", "*.csv", "*.txt", "*.tsv", "*.h5", "*.hdf5"));
        File file = chooser.showOpenDialog(getScene().getWindow());
        if (file != null) {
            importFile(file.toPath());
        }
    }

    /** Asks what the columns of a file are, then puts it on the shelf. */
    public void importFile(Path file) {
        guarded(() -> {
            var contents = RunImport.look(file);
            if (popup != null) {
                popup.hide();
            }
            popup = PopupCard.below(align, new ImportCard(file.getFileName().toString(), contents, plan -> {
                try {
                    var samples = RunImport.read(file, plan);
                    var note = RunNote.beginning("imported", Instant.now().toString(), 0, Map.of(), Map.of()).named(file.getFileName().toString()).ended(samples.end(), List.of(), List.of());
                    var entry = shelf().save(note, samples, Map.of());
                    popup.hide();
                    refresh();
                    verdict.setText("Imported " + entry.note().title() + ".");
                    return "";
                } catch (FindingException e) {
                    return e.findings().getFirst().toString();
                }
            }));
        });
    }

    private static final class RunCell extends ListCell<RunShelf.Entry> {
        @Override
        protected void updateItem(RunShelf.Entry e, boolean empty) {
            super.updateItem(e, empty);
            setText(empty || e == null ? null : (e.note().starred() ? "★ " : "") + e.note().title() + "   " + Figures.text(e.note().seconds(), 4) + " s"
                    + (e.note().whole() ? "" : "   incomplete") + "\n" + (e.note().name().isEmpty() ? "" : e.note().rig() + "   ") + started(e.note()) + "   " + switch (e.note().changes().size()) {
                        case 0 -> "no changes";
                        case 1 -> "1 change";
                        default -> e.note().changes().size() + " changes";
                    });
        }
    }
}
