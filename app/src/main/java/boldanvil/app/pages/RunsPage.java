package boldanvil.app.pages;

import boldanvil.app.chart.TraceView;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.Workspace;
import boldanvil.app.shell.Theme;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.finding.FindingException;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.runs.Comparison;
import boldanvil.core.runs.RunData;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.runs.SampleStore;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Executor;
import java.util.function.Supplier;
import javafx.application.Platform;
import javafx.beans.property.SimpleStringProperty;
import javafx.geometry.Insets;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.control.SelectionMode;
import javafx.scene.control.SplitPane;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** The record: runs with what made them, two of them overlaid and compared. */
public final class RunsPage extends BorderPane {
    private final Workspace workspace;
    private final Executor background;
    private final ListView<RunShelf.Entry> list = new ListView<>();
    private final TraceView traces;
    private final TableView<Comparison.Row> table = new TableView<>();
    private final Label verdict = new Label();
    private final Label made = new Label();
    private final TextField tolerance = new TextField("0");
    private long generation;

    /** @param background reads and compares runs */
    public RunsPage(Workspace workspace, RigSession session, Supplier<Theme> theme, Executor background) {
        this.workspace = workspace;
        this.background = background;
        traces = new TraceView(theme);
        list.setId("runs");
        list.getSelectionModel().setSelectionMode(SelectionMode.MULTIPLE);
        list.setCellFactory(_ -> new RunCell());
        list.setPlaceholder(new Label("Every run of a rig is kept here.\nPress Run to make the first."));
        list.getSelectionModel().getSelectedItems().addListener((javafx.collections.ListChangeListener<RunShelf.Entry>) _ -> chosen());
        var heading = new Label("Runs");
        heading.getStyleClass().add("heading");
        var hint = new Label("Select two (Ctrl+click) to overlay and compare them.");
        hint.setWrapText(true);
        hint.getStyleClass().addAll("faint", "small");
        made.setWrapText(true);
        made.getStyleClass().add("small");
        VBox.setVgrow(list, Priority.ALWAYS);
        var side = new VBox(6, heading, hint, list, made);
        side.getStyleClass().add("side");
        side.setPrefWidth(270);
        columns();
        verdict.setId("verdict");
        verdict.setWrapText(true);
        verdict.setMaxWidth(Double.MAX_VALUE);
        HBox.setHgrow(verdict, Priority.ALWAYS);
        tolerance.setId("tolerance");
        tolerance.setPrefColumnCount(7);
        tolerance.setTooltip(new javafx.scene.control.Tooltip("Deviation allowed for every tap, in its SI unit, such as 1e-3 or 2 mm"));
        tolerance.setOnAction(_ -> chosen());
        var line = new HBox(8, verdict, new Label("Tolerance"), tolerance);
        line.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        line.setPadding(new Insets(8, 12, 8, 12));
        var below = new VBox(line, table);
        VBox.setVgrow(table, Priority.ALWAYS);
        var right = new SplitPane(traces, below);
        right.setOrientation(javafx.geometry.Orientation.VERTICAL);
        right.setDividerPositions(0.62);
        var all = new SplitPane(side, right);
        SplitPane.setResizableWithParent(side, false);
        all.setDividerPositions(0.22);
        setCenter(all);
        session.onChange(() -> {
            if (session.phase() == RigSession.Phase.ENDED || session.phase() == RigSession.Phase.LOST) {
                refresh();
            }
        });
        chosen();
    }

    private void columns() {
        table.setId("comparison");
        column("tap", 260, false, r -> r.name().replace('_', ' '));
        column("unit", 60, false, Comparison.Row::unit);
        column("largest deviation", 140, true, r -> number(r.largest()));
        column("at s", 80, true, r -> r.largest() == 0 ? "" : String.format(Locale.ROOT, "%.4f", r.largestAt()));
        column("RMS deviation", 120, true, r -> number(r.rms()));
        column("first beyond tolerance", 180, true, r -> r.beyond().isPresent()
                ? String.format(Locale.ROOT, "%.4f s", r.beyond().getAsDouble()) : "never");
        table.setPlaceholder(new Label("The comparison of two runs appears here."));
    }

    private void column(String title, double width, boolean right, java.util.function.Function<Comparison.Row, String> text) {
        var c = new TableColumn<Comparison.Row, String>(title);
        c.setCellValueFactory(d -> new SimpleStringProperty(text.apply(d.getValue())));
        c.setPrefWidth(width);
        if (right) {
            c.getStyleClass().add("figure");
        }
        table.getColumns().add(c);
    }

    private static String number(double v) {
        return v == 0 ? "0" : String.format(Locale.ROOT, "%.4g", v);
    }

    /** Lists the runs of the project anew. */
    public void refresh() {
        workspace.folder().ifPresent(folder -> background.execute(() -> {
            try {
                var entries = new RunShelf(folder.resolve("runs")).list();
                Platform.runLater(() -> {
                    if (!entries.equals(List.copyOf(list.getItems()))) {
                        list.getItems().setAll(entries);
                    }
                });
            } catch (FindingException e) {
                Platform.runLater(() -> made.setText(e.getMessage()));
            }
        }));
    }

    /** What is said of the runs that are chosen. */
    public String verdict() {
        return verdict.getText();
    }

    public ListView<RunShelf.Entry> list() {
        return list;
    }

    private void chosen() {
        var entries = List.copyOf(list.getSelectionModel().getSelectedItems());
        long mine = ++generation;
        made.setText(entries.isEmpty() ? "" : describe(entries.getFirst()));
        if (entries.isEmpty()) {
            show(List.of(), null);
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
        background.execute(() -> {
            try {
                List<RunData> data = new ArrayList<>();
                entries.stream().limit(2).forEach(e -> data.add(e.samples()));
                var comparison = data.size() == 2 ? Comparison.of(data.get(0), data.get(1), Map.of("*", allowed)) : null;
                List<TraceView.Layer> layers = new ArrayList<>();
                for (int i = 0; i < data.size(); i++) {
                    layers.add(new TraceView.Layer(entries.get(i).note().rig(), SampleStore.of(data.get(i))));
                }
                double end = data.stream().mapToDouble(RunData::end).max().orElse(1);
                Platform.runLater(() -> {
                    if (mine == generation) {
                        traces.setSpan(end);
                        traces.setEnd(end);
                        show(layers, comparison);
                        tell(entries, comparison);
                    }
                });
            } catch (FindingException e) {
                Platform.runLater(() -> verdict.setText(e.getMessage()));
            }
        });
    }

    private void tell(List<RunShelf.Entry> entries, Comparison c) {
        if (c == null) {
            verdict.setText("One run: " + entries.getFirst().note().rig() + ". Select a second with Ctrl+click to compare.");
            return;
        }
        boolean none = c.rows().stream().allMatch(r -> r.largest() == 0);
        long beyond = c.rows().stream().filter(r -> !r.within()).count();
        long differing = c.rows().stream().filter(r -> r.largest() != 0).count();
        verdict.setText(entries.get(0).note().rig() + " (solid) against " + entries.get(1).note().rig() + " (dashed): "
                + (none ? "no deviation at all in " + c.rows().size() + " taps." : differing + " of " + c.rows().size()
                + " taps deviate, " + beyond + " beyond the tolerance."));
    }

    private void show(List<TraceView.Layer> layers, Comparison c) {
        List<Chart> charts = layers.isEmpty() ? List.of() : workspace.project().bench().charts();
        traces.show(charts, layers);
        table.getItems().setAll(c == null ? List.of() : c.rows());
    }

    private static String describe(RunShelf.Entry e) {
        var text = new StringBuilder("Rig " + e.note().rig() + ", started " + e.note().started().replace('T', ' ').replaceAll("\\.\\d+Z", " UTC")
                + ", " + String.format(Locale.ROOT, "%.2f s", e.note().seconds()));
        e.note().images().forEach((part, sha) -> text.append("\nImage of ").append(part).append(": ").append(sha, 0, 12).append('…'));
        e.note().changes().stream().limit(5).forEach(c -> text.append("\n").append(c));
        if (e.note().changes().size() > 5) {
            text.append("\n… ").append(e.note().changes().size() - 5).append(" more changes");
        }
        return text.toString();
    }

    private static final class RunCell extends ListCell<RunShelf.Entry> {
        @Override
        protected void updateItem(RunShelf.Entry e, boolean empty) {
            super.updateItem(e, empty);
            setText(empty || e == null ? null : e.note().rig() + "   " + String.format(Locale.ROOT, "%.2f s", e.note().seconds()) + "\n"
                    + e.note().started().replace('T', ' ').replaceAll("\\.\\d+Z", "") + "   " + switch (e.note().changes().size()) {
                        case 0 -> "no changes";
                        case 1 -> "1 change";
                        default -> e.note().changes().size() + " changes";
                    });
        }
    }
}
