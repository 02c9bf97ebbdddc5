package boldanvil.app.pages;

import boldanvil.app.chart.HistogramView;
import boldanvil.app.chart.IndicesView;
import boldanvil.app.chart.ParallelView;
import boldanvil.app.chart.PointsView;
import boldanvil.app.chart.ScatterView;
import boldanvil.app.model.Figures;
import boldanvil.app.model.StudyViews;
import boldanvil.app.model.StudyViews.View;
import boldanvil.app.model.SweepSession;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Buttons;
import boldanvil.app.widget.Choices;
import boldanvil.core.quantity.Units;
import boldanvil.core.study.Criterion;
import boldanvil.core.study.RunTable;
import boldanvil.core.study.Way;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalInt;
import java.util.function.Consumer;
import java.util.stream.IntStream;
import javafx.beans.property.SimpleObjectProperty;
import javafx.geometry.Insets;
import javafx.geometry.Orientation;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.SplitPane;
import javafx.scene.control.TableCell;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;

/** What came of many runs: pictures of all of them, and a row for each. */
final class StudyResults extends SplitPane {
    /** Least time between two pictures while runs come in. */
    private static final long PICTURE_NANOS = 400_000_000;
    private static final List<String> LIMITS = List.of("no limit", "at most", "at least");

    private final SweepSession session;
    private final Map<View, ToggleButton> views = new LinkedHashMap<>();
    private final ChoiceBox<String> tap = new ChoiceBox<>();
    private final ChoiceBox<String> figure = new ChoiceBox<>();
    private final ChoiceBox<String> across = new ChoiceBox<>();
    private final ChoiceBox<String> kind = new ChoiceBox<>();
    private final TextField limit = new TextField();
    private final Label verdict = Forms.line("");
    private final PointsView curves;
    private final ScatterView scatter;
    private final HistogramView histogram;
    private final ParallelView parallel;
    private final IndicesView indices;
    private final Label hint = Forms.faint("");
    private final StackPane picture;
    private final TableView<Integer> table = new TableView<>();
    private final Button openRun;
    /** What was chosen last, for the next study. */
    private final Map<ChoiceBox<String>, String> wanted = new HashMap<>();
    private RunTable shown;
    private int shownRuns;
    private long painted;
    private boolean filling;

    /** @param openRun gets a run that is to be done again and shown */
    StudyResults(PageHost host, Consumer<Integer> openRun) {
        session = host.sweeps();
        curves = new PointsView(host::theme);
        scatter = new ScatterView(host::theme);
        histogram = new HistogramView(host::theme);
        parallel = new ParallelView(host::theme);
        indices = new IndicesView(host::theme);
        scatter.onChoose((run, twice) -> choose(run, twice, openRun));
        histogram.onChoose((run, twice) -> choose(run, twice, openRun));
        parallel.onChoose((run, twice) -> choose(run, twice, openRun));
        this.openRun = Buttons.button("Open run", "sweep-open-run", "Do the selected run again, record it and show it on the page Runs",
                () -> {
                    if (table.getSelectionModel().getSelectedItem() != null) {
                        openRun.accept(table.getSelectionModel().getSelectedItem());
                    }
                });
        hint.setId("sweep-hint");
        picture = new StackPane(curves, scatter, histogram, parallel, indices, hint);
        var above = new BorderPane(picture);
        above.setTop(new VBox(4, toolbar(), choices(), verdict));
        verdict.setPadding(new Insets(0, 12, 4, 12));
        verdict.setId("sweep-verdict");
        table.setId("sweep-table");
        table.setPlaceholder(new Label("Choose the varied values on the left and press Start runs; each run is a row here."));
        table.getSelectionModel().selectedItemProperty().addListener((_, _, run) -> selected(run == null ? -1 : run));
        table.setOnMouseClicked(e -> {
            Integer run = table.getSelectionModel().getSelectedItem();
            if (e.getClickCount() > 1 && run != null && session.canRepeat()) {
                openRun.accept(run);
            }
        });
        getItems().setAll(above, table);
        setOrientation(Orientation.VERTICAL);
        setDividerPositions(0.62);
        session.onChange(this::changed);
        turn(View.CURVES);
    }

    private HBox toolbar() {
        var group = new ToggleGroup();
        List<Node> nodes = new ArrayList<>();
        for (View v : View.values()) {
            var b = new ToggleButton(v.label());
            b.setId("sweep-view-" + v.name().toLowerCase(java.util.Locale.ROOT));
            b.setToggleGroup(group);
            b.setMinWidth(USE_PREF_SIZE);
            b.setOnAction(_ -> turn(v));
            views.put(v, b);
            nodes.add(b);
        }
        nodes.add(TagsPage.spring());
        nodes.add(openRun);
        var bar = TagsPage.bar(nodes.toArray(Node[]::new));
        bar.setPadding(new Insets(8, 12, 2, 12));
        return bar;
    }

    private FlowPane choices() {
        tap.setId("sweep-tap");
        figure.setId("sweep-measure");
        across.setId("sweep-across");
        kind.setId("sweep-limit-kind");
        limit.setId("sweep-limit");
        limit.setPrefColumnCount(7);
        limit.setTooltip(new Tooltip("The limit, such as 320 mm"));
        kind.getItems().setAll(LIMITS);
        kind.setValue(LIMITS.getFirst());
        limit.disableProperty().bind(kind.valueProperty().isEqualTo(LIMITS.getFirst()));
        tap.valueProperty().addListener((_, _, _) -> {
            if (!filling && shown != null) {
                wanted.put(tap, tap.getValue());
                offerFigures();
                draw();
            }
        });
        List.of(figure, across, kind).forEach(c -> c.valueProperty().addListener((_, _, _) -> {
            if (!filling) {
                wanted.put(c, c.getValue());
                draw();
            }
        }));
        limit.setOnAction(_ -> draw());
        limit.focusedProperty().addListener((_, _, focused) -> {
            if (!focused) {
                draw();
            }
        });
        var line = new FlowPane(8, 4, new Label("Result"), tap, figure, new Label("over"), across, new Label("Limit"), kind, limit);
        line.setPadding(new Insets(4, 12, 4, 12));
        line.setRowValignment(javafx.geometry.VPos.CENTER);
        return line;
    }

    private void turn(View v) {
        views.get(v).setSelected(true);
        draw();
    }

    private View view() {
        return views.entrySet().stream().filter(e -> e.getValue().isSelected()).map(Map.Entry::getKey).findFirst().orElse(View.CURVES);
    }

    private void choose(int run, boolean twice, Consumer<Integer> open) {
        table.getSelectionModel().select(Integer.valueOf(run));
        table.scrollTo(Integer.valueOf(run));
        if (twice && session.canRepeat()) {
            open.accept(run);
        }
    }

    private void selected(int run) {
        scatter.select(run);
        histogram.select(run);
        parallel.select(run);
        openRun.setDisable(run < 0 || !session.canRepeat());
    }

    private void changed() {
        RunTable now = session.table().orElse(null);
        boolean other = now != shown;
        if (other) {
            shown = now;
            shownRuns = 0;
            table.getItems().clear();
            offerColumns();
            turn(StudyViews.usual(session.way()));
        }
        boolean due = !session.isRunning() || System.nanoTime() - painted > PICTURE_NANOS;
        if (shown != null && shown.size() != shownRuns && due || other) {
            draw();
        }
    }

    private void offerColumns() {
        if (shown != null) {
            offer(tap, shown.indices(false).stream().map(i -> shown.columns().get(i).name()).distinct().toList());
            offer(across, shown.columns().stream().map(RunTable.Column::label).toList());
            offerFigures();
        }
    }

    private void offerFigures() {
        offer(figure, shown.columns().stream().filter(c -> !c.isVaried() && c.name().equals(tap.getValue())).map(RunTable.Column::figure)
                .toList());
        table.getColumns().clear();
    }

    private void offer(ChoiceBox<String> box, List<String> items) {
        filling = true;
        Choices.offer(box, items, wanted.get(box));
        filling = false;
    }

    /** Shows one result. */
    void choose(String name, String how) {
        tap.setValue(name);
        figure.setValue(how);
    }

    /** Shows the runs in one way. */
    void choose(View v) {
        turn(v);
    }

    /** States a limit, such as {@code at most 320 mm}. */
    void limit(String how, String text) {
        limit.setText(text);
        kind.setValue(how);
        draw();
    }

    private void draw() {
        painted = System.nanoTime();
        picture.getChildren().forEach(n -> n.setVisible(false));
        if (shown == null || tap.getValue() == null || figure.getValue() == null || across.getValue() == null) {
            verdict.setText("");
            table.getItems().clear();
            table.getColumns().clear();
            return;
        }
        shownRuns = shown.size();
        OptionalInt up = shown.find(tap.getValue() + " " + figure.getValue());
        OptionalInt along = shown.find(across.getValue());
        if (up.isEmpty() || along.isEmpty()) {
            return;
        }
        var criterion = criterion(up.getAsInt());
        verdict.setText(criterion == null && limit.isDisabled() || criterion != null ? StudyViews.verdict(shown, session.way(), up
                .getAsInt(), criterion) : "'" + limit.getText() + "' is not a limit. Write a value with its unit, such as 320 mm.");
        boolean[] passed = criterion == null ? null : criterion.of(shown);
        double border = criterion == null ? Double.NaN : StudyViews.shown(shown, up.getAsInt(), criterion.limit());
        String head = shown.columns().get(up.getAsInt()).head();
        List<Integer> varied = shown.indices(true);
        switch (view()) {
            case CURVES -> {
                var lines = StudyViews.lines(shown, session.way() == Way.GRID, up.getAsInt());
                curves.show(head, shown.columns().get(varied.getFirst()).head(), lines.stream()
                        .map(l -> new PointsView.Line(l.name(), l.x(), l.y(), l.joined())).toList());
                show(curves, "");
            }
            case SCATTER -> {
                scatter.show(new ScatterView.Points(shown.columns().get(along.getAsInt()).head(), head, StudyViews.shown(shown,
                        along.getAsInt()), StudyViews.shown(shown, up.getAsInt()), passed, border));
                show(scatter, "");
            }
            case PASS_MAP -> {
                int first = shown.columns().get(along.getAsInt()).isVaried() ? along.getAsInt() : varied.getFirst();
                int second = varied.stream().filter(i -> i != first).findFirst().orElse(-1);
                if (second >= 0) {
                    scatter.show(new ScatterView.Points(shown.columns().get(first).head(), shown.columns().get(second).head(),
                            StudyViews.shown(shown, first), StudyViews.shown(shown, second), passed, Double.NaN));
                }
                show(second < 0 || passed == null ? hint : scatter, second < 0 ? "A pass map needs two values that vary."
                        : "Choose a limit above to see where runs keep it.");
            }
            case HISTOGRAM -> {
                histogram.show(head, StudyViews.shown(shown, up.getAsInt()), passed, border);
                show(histogram, "");
            }
            case PARALLEL -> {
                List<ParallelView.Axis> axes = new ArrayList<>();
                IntStream.concat(varied.stream().mapToInt(Integer::intValue), IntStream.of(up.getAsInt())).forEach(i -> axes.add(
                        new ParallelView.Axis(shown.columns().get(i).head(), StudyViews.shown(shown, i))));
                parallel.show(axes, passed);
                show(parallel, "");
            }
            case SENSITIVITY -> {
                var found = StudyViews.indices(shown, session.way(), up.getAsInt());
                indices.show(shown.columns().get(up.getAsInt()).label(), found);
                show(found.isEmpty() ? hint : indices, session.way() == Way.SENSITIVITY
                        ? "There are not enough runs with a result yet, or this result is the same in all of them."
                        : "Choose the points 'Sensitivity' on the left to find how much each value contributes.");
            }
        }
        fill(up.getAsInt());
    }

    private void show(Node which, String text) {
        hint.setText(text);
        which.setVisible(true);
    }

    /** The limit that is asked for; null for none, or where its text is none. */
    private Criterion criterion(int column) {
        if (kind.getValue().equals(LIMITS.getFirst())) {
            return shown.columns().get(column).figure().equals("passed") ? new Criterion(column, false, 1) : null;
        }
        return StudyViews.limit(limit.getText(), shown.columns().get(column)).stream().mapToObj(v -> new Criterion(column, kind.getValue()
                .equals("at most"), v)).findFirst().orElse(null);
    }

    private void fill(int up) {
        if (table.getColumns().isEmpty()) {
            column("run", 60, null, r -> r + 1.0);
            shown.indices(true).forEach(i -> column(shown.columns().get(i).head(), 110, i, null));
            for (int i = 0; i < shown.columns().size(); i++) {
                if (!shown.columns().get(i).isVaried() && shown.columns().get(i).name().equals(shown.columns().get(up).name())) {
                    column(figureHead(shown.columns().get(i)), 110, i, null);
                }
            }
            var notes = new TableColumn<Integer, String>("finding");
            RunTable of = shown;
            notes.setCellValueFactory(d -> new SimpleObjectProperty<>(of.note(d.getValue())));
            notes.setPrefWidth(320);
            table.getColumns().add(notes);
        }
        int have = table.getItems().size();
        if (have < shownRuns) {
            table.getItems().addAll(IntStream.range(have, shownRuns).boxed().toList());
        }
    }

    private static String figureHead(RunTable.Column c) {
        return c.unit().isEmpty() ? c.figure() : c.figure() + " [" + c.unit() + "]";
    }

    private void column(String title, double width, Integer index, java.util.function.IntToDoubleFunction other) {
        var c = new TableColumn<Integer, Double>(title);
        RunTable of = shown;
        c.setCellValueFactory(d -> new SimpleObjectProperty<>(index == null ? other.applyAsDouble(d.getValue())
                : Units.fromSi(of.columns().get(index).unit(), of.value(d.getValue(), index))));
        c.setCellFactory(_ -> new TableCell<>() {
            @Override
            protected void updateItem(Double v, boolean empty) {
                super.updateItem(v, empty);
                setText(empty || v == null ? "" : v.isNaN() ? "–" : Figures.text(v));
                setAlignment(Pos.CENTER_RIGHT);
            }
        });
        c.setPrefWidth(Math.clamp(8.0 * title.length() + 24, width, 300));
        c.getStyleClass().add("figure");
        table.getColumns().add(c);
    }

    /** Paints again, in other colours. */
    void repaint() {
        draw();
    }
}
