package boldanvil.app.pages;

import boldanvil.app.model.PlcSession;
import boldanvil.app.model.WatchedProgram;
import boldanvil.app.model.WatchedProgram.Instance;
import boldanvil.app.model.WatchedProgram.Line;
import boldanvil.app.sheet.CanvasPen;
import boldanvil.app.widget.Buttons;
import boldanvil.core.bench.PlcRemote.InterlockTrace;
import boldanvil.core.sheet.ChartPicture;
import boldanvil.core.text.Chart;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import javafx.application.Platform;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.canvas.Canvas;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.SplitPane;
import javafx.scene.control.TextArea;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;
import javafx.util.StringConverter;

/** The program of a PLC: its values in the text and on the chart, where a value is used, and changes while it runs. */
final class PlcProgramView implements TagsView {
    private static final int POLL_EVERY = 2;

    private final TagsPage page;
    private final ToggleButton watching = new ToggleButton("Watch");
    private final ToggleButton editing = new ToggleButton("Edit");
    private final ComboBox<Instance> instance = new ComboBox<>();
    private final ListView<Line> lines = new ListView<>();
    private final TextArea text = new TextArea();
    private final Canvas chart = new Canvas(10, 10);
    private final ScrollPane chartPane = new ScrollPane(chart);
    private final VBox uses = new VBox(2);
    private final ScrollPane below = new ScrollPane(uses);
    private final InterlockPane interlock;
    private final StackPane left = new StackPane();
    private final SplitPane split = new SplitPane();
    private final Button change;
    private final Button takeBack;
    private final Button check;
    private final Button keep;
    private final VBox node;
    private WatchedProgram program = WatchedProgram.of("");
    private ChartPicture picture;
    private Map<String, String> values = Map.of();
    private String loaded = "";
    private String part = "";
    private Set<String> seen = Set.of();
    private boolean asking;
    private int polls;

    PlcProgramView(TagsPage page) {
        this.page = page;
        interlock = new InterlockPane(page);
        var group = new ToggleGroup();
        watching.setToggleGroup(group);
        editing.setToggleGroup(group);
        watching.setId("program-watch");
        editing.setId("program-edit");
        watching.setOnAction(_ -> show(false));
        editing.setOnAction(_ -> show(true));
        instance.setId("program-instance");
        instance.setConverter(new StringConverter<>() {
            @Override
            public String toString(Instance i) {
                return i == null ? "" : i.label();
            }

            @Override
            public Instance fromString(String s) {
                return null;
            }
        });
        instance.valueProperty().addListener((_, _, _) -> fill());
        check = Buttons.button("Check change", "tags-check", "Lists what the change would start anew",
                () -> page.ask(c -> TagsPage.said("This would change the program. ", c.plan(text.getText()))));
        change = Buttons.button("Change program", "tags-change", "Replaces the running program by this text between two scans",
                () -> page.ask(c -> {
                    var done = c.change(text.getText());
                    Platform.runLater(this::read);
                    return TagsPage.said("Changed. ", done);
                }));
        change.getStyleClass().add("primary");
        takeBack = Buttons.button("Take change back", "tags-take-back", "Goes back to the program before the last change",
                () -> page.ask(c -> {
                    var plan = c.takeBack();
                    String former = c.text();
                    Platform.runLater(() -> {
                        text.setText(former);
                        read();
                    });
                    return TagsPage.said("Taken back. ", plan);
                }));
        keep = Buttons.button("Keep in project", "tags-keep", "Makes this text the program that the stand-in runs at the next start",
                this::keep);
        text.setId("tags-program");
        text.getStyleClass().add("mono");
        lines.setId("program-lines");
        lines.setFixedCellSize(21);
        lines.setCellFactory(_ -> new Cell());
        lines.setPlaceholder(new Label("The part has no program of a PLC. Import one in the view 'Bindings', or let a rig place the part "
                + "on a PLC."));
        lines.getSelectionModel().selectedItemProperty().addListener((_, _, l) -> uses(l));
        chart.setId("program-chart");
        chartPane.getStyleClass().add("paper");
        below.setFitToWidth(true);
        uses.setId("program-uses");
        uses.getStyleClass().add("side");
        below.setPrefHeight(170);
        below.setMinHeight(90);
        VBox.setVgrow(chartPane, Priority.ALWAYS);
        var right = new VBox(6, chartPane, Forms.section("WHERE THE VALUES OF THE LINE ARE USED"), below, interlock.node());
        right.setMinWidth(260);
        split.getItems().setAll(left, right);
        split.setDividerPositions(0.64);
        VBox.setVgrow(split, Priority.ALWAYS);
        List.of(check, change, takeBack, keep).forEach(b -> b.setMinWidth(Region.USE_PREF_SIZE));
        node = new VBox(8, TagsPage.bar(watching, editing, instance, TagsPage.spring(), check, change, takeBack, keep), split);
        show(false);
    }

    @Override
    public Node node() {
        return node;
    }

    private void show(boolean edit) {
        watching.setSelected(!edit);
        editing.setSelected(edit);
        left.getChildren().setAll(edit ? text : lines);
        instance.setDisable(edit);
        if (!edit) {
            read();
        }
    }

    @Override
    public void load() {
        String now = PlcSession.program(page.host().workspace().review(), page.host().rig(), page.part());
        if (!now.equals(loaded) || !page.part().equals(part)) {
            loaded = now;
            part = page.part();
            text.setText(now);
            read();
            page.control().ifPresent(c -> page.work(c::text, running -> {
                if (!running.isEmpty() && !running.equals(text.getText())) {
                    text.setText(running);
                    read();
                }
            }));
        }
        enable();
    }

    /** Prepares the text for watching, in the background. */
    private void read() {
        String now = text.getText();
        page.work(() -> WatchedProgram.of(now), p -> {
            program = p;
            String before = instance.getValue() == null ? "" : instance.getValue().label();
            var all = p.instances();
            instance.getItems().setAll(all);
            instance.setValue(all.stream().filter(i -> i.label().equals(before)).findFirst().orElse(all.isEmpty() ? null : all.getFirst()));
            fill();
        });
    }

    private void fill() {
        Instance in = instance.getValue();
        lines.getItems().setAll(in == null ? List.of() : program.lines(in));
        picture = in == null || in.unit().chart().isEmpty() ? null
                : Chart.of(in.unit().chart()).filter(Chart::readable).map(ChartPicture::new).orElse(null);
        Forms.show(chartPane, picture != null);
        VBox.setVgrow(below, picture == null ? Priority.ALWAYS : Priority.NEVER);
        uses(null);
        paint();
    }

    private void paint() {
        if (picture == null) {
            return;
        }
        chart.setWidth(picture.width());
        chart.setHeight(picture.height());
        var g = chart.getGraphicsContext2D();
        var theme = page.host().theme();
        g.setFill(theme.paper());
        g.fillRect(0, 0, chart.getWidth(), chart.getHeight());
        var now = active();
        picture.paint(new CanvasPen(g, theme), now, null);
        if (!now.equals(seen)) {
            seen = now;
            now.stream().findFirst().ifPresent(this::reveal);
        }
    }

    /** Scrolls the chart so that a step is in view. */
    private void reveal(String step) {
        double height = chartPane.getViewportBounds().getHeight();
        double width = chartPane.getViewportBounds().getWidth();
        picture.steps().stream().filter(b -> b.step().name().equalsIgnoreCase(step) && height > 0).findFirst().ifPresent(b -> {
            chartPane.setVvalue((b.middleY() - height / 2) / Math.max(1, chart.getHeight() - height));
            chartPane.setHvalue((b.middle() - width / 2) / Math.max(1, chart.getWidth() - width));
        });
    }

    /** The active steps of the chart on show. */
    private Set<String> active() {
        return instance.getValue() == null ? Set.of() : program.steps(instance.getValue()).entrySet().stream()
                .filter(e -> "TRUE".equals(values.get(e.getValue()))).map(Map.Entry::getKey).collect(Collectors.toSet());
    }

    private void uses(Line line) {
        uses.getChildren().clear();
        Instance in = instance.getValue();
        interlock.choose(line != null && in != null && program.isInterlock(line) ? line : null, in);
        if (line == null || in == null || line.uses().isEmpty()) {
            uses.getChildren().add(Forms.faint("Select a line that names values."));
            return;
        }
        for (var u : line.uses()) {
            program.path(u, in).ifPresent(path -> {
                uses.getChildren().add(new Label(path));
                program.where(path).forEach(w -> {
                    var link = new Hyperlink(w.words());
                    link.setOnAction(_ -> go(w.line()));
                    uses.getChildren().add(link);
                });
            });
        }
    }

    /** Shows a line, in the unit it belongs to. */
    private void go(int line) {
        if (instance.getValue() == null || line < instance.getValue().unit().firstLine() || line > instance.getValue().unit().lastLine()) {
            instance.getItems().stream().filter(i -> line >= i.unit().firstLine() && line <= i.unit().lastLine()).findFirst()
                    .ifPresent(instance::setValue);
        }
        lines.getItems().stream().filter(l -> l.number() == line).findFirst().ifPresent(l -> {
            lines.getSelectionModel().select(l);
            lines.scrollTo(Math.max(0, lines.getItems().indexOf(l) - 5));
        });
    }

    private void enable() {
        boolean running = page.control().isPresent();
        check.setDisable(!running);
        change.setDisable(!running);
        takeBack.setDisable(!running);
        keep.setDisable(!PlcSession.isOwn(page.host().workspace().project(), page.part()) || text.getText().equals(
                page.host().workspace().project().tagTable(page.part()).program()));
    }

    private void keep() {
        String now = text.getText();
        loaded = now;
        page.host().attempt(() -> page.host().workspace().edit("change the program of the PLC",
                p -> p.withTags(page.part(), p.tagTable(page.part()).withProgram(now))));
    }

    @Override
    public void poll() {
        enable();
        var control = page.control();
        Instance in = instance.getValue();
        if (control.isEmpty() || asking || in == null || editing.isSelected() || polls++ % POLL_EVERY != 0) {
            return;
        }
        asking = true;
        var shown = program;
        var paths = shown.paths(lines.getItems(), in);
        record Now(Map<String, String> values, Optional<InterlockTrace> trace) {}
        page.host().workOut(() -> new Now(PlcSession.values(control.get(), paths), control.get().interlock()), now -> {
            values = now.values();
            interlock.show(now.trace());
            lines.refresh();
            paint();
        }, () -> asking = false);
    }

    /** A line with its number before and its values behind it. */
    private final class Cell extends ListCell<Line> {
        private final Label number = new Label();
        private final Label words = new Label();
        private final Label now = new Label();
        private final HBox box = new HBox(12, number, words, now);

        Cell() {
            number.getStyleClass().addAll("mono", "faint");
            number.setMinWidth(34);
            number.setAlignment(Pos.CENTER_RIGHT);
            words.getStyleClass().add("mono");
            words.setMinWidth(Region.USE_PREF_SIZE);
            now.getStyleClass().addAll("mono", "watched");
        }

        @Override
        protected void updateItem(Line line, boolean empty) {
            super.updateItem(line, empty);
            if (empty || line == null) {
                setGraphic(null);
                return;
            }
            number.setText(Integer.toString(line.number()));
            words.setText(line.text());
            now.setText(instance.getValue() == null ? "" : program.values(line, instance.getValue(), values));
            setGraphic(box);
        }
    }
}
