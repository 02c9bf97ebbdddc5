package boldanvil.app.pages;

import boldanvil.app.model.TargetMapping;
import boldanvil.app.model.TargetMapping.Column;
import boldanvil.app.model.TargetMapping.Seat;
import boldanvil.app.model.TargetMapping.Setting;
import boldanvil.app.model.TargetMapping.Signal;
import boldanvil.app.page.Page;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Buttons;
import boldanvil.app.widget.Columns;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.function.UnaryOperator;
import java.util.stream.IntStream;
import javafx.beans.property.SimpleStringProperty;
import javafx.geometry.Insets;
import javafx.geometry.Orientation;
import javafx.scene.Node;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.SplitPane;
import javafx.scene.control.TableCell;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.control.cell.ComboBoxTableCell;
import javafx.scene.control.cell.TextFieldTableCell;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.kordamp.ikonli.Ikon;
import org.kordamp.ikonli.feather.Feather;

/** Parts on real-time targets: the channel of each signal with its scale, and the core of each part with its step. */
public final class MappingPage extends BorderPane implements Page {
    private static final String NO_TARGET =
            "No rig of this project puts a part on a real-time target. Choose a rig, press 'Where parts run', "
            + "and put a part on a target. Then select a core of a target and a step for it here.";

    private final PageHost host;
    private final ComboBox<String> rigs = new ComboBox<>();
    private final TableView<Signal> signals = new TableView<>();
    private final TableView<Seat> seats = new TableView<>();
    private final Label message = Forms.message("mapping-message");
    private final Label empty = new Label(NO_TARGET);
    private final SplitPane tables;
    private TargetMapping shown;
    private Object known;
    private boolean refreshing;

    public MappingPage(PageHost host) {
        this.host = host;
        setId("mapping");
        rigs.setId("mapping-rig");
        rigs.valueProperty().addListener((_, _, _) -> {
            if (!refreshing) {
                known = null;
                refresh();
            }
        });
        signals();
        seats();
        var assign = Buttons.button("Assign automatically", "mapping-assign",
                "Gives each signal without a channel the next free one of its "
                + "kind", () -> {
                    if (shown != null) {
                        Rig rig = shown.rig();
                        host.workspace().editLater("assign channels", p -> TargetMapping.assigned(p, rig),
                                findings -> message(findings.getFirst().toString()));
                    }
                });
        var bar = TagsPage.bar(Forms.heading("Mapping"), new Label("of rig"), rigs, assign, TagsPage.spring());
        bar.setPadding(new Insets(10, 14, 6, 14));
        setTop(bar);
        empty.setId("mapping-empty");
        empty.setWrapText(true);
        empty.getStyleClass().add("empty-state");
        var meaning = Forms.faint("Volts at an analog channel = signal × scale + offset, within the limits; what is wired to the channel "
                + "undoes that. Double-click a cell to edit it.");
        var above = new VBox(6, Forms.section("SIGNALS THAT LEAVE A TARGET"), signals, meaning, message);
        var below = new VBox(6, Forms.section("PARTS ON CORES"), seats);
        VBox.setVgrow(signals, Priority.ALWAYS);
        VBox.setVgrow(seats, Priority.ALWAYS);
        tables = new SplitPane(above, below);
        tables.setOrientation(Orientation.VERTICAL);
        tables.setDividerPositions(0.64);
        setMargin(tables, new Insets(0, 14, 10, 14));
        host.workspace().onChange(() -> {
            if (isVisible()) {
                refresh();
            }
        });
    }

    private void signals() {
        table(signals, "mapping-signals");
        signals.setPlaceholder(new Label("No signal leaves a target in this rig. Put the part at the other end of a wire on a device."));
        words(signals, "Part", 84, Signal::part);
        words(signals, "Signal", 90, Signal::name);
        words(signals, "Kind", 96, Signal::kind);
        words(signals, "Wired to", 128, Signal::wiredTo);
        signal("Channel", 72, Column.CHANNEL, "", s -> shown.free(s));
        signal("Scale", 62, Column.SCALE, "Volts at the channel for each unit of the signal. What is wired to the channel undoes it.",
                null);
        signal("Offset V", 66, Column.OFFSET, "Volts at the channel while the signal is 0", null);
        signal("Least V", 66, Column.MINIMUM, "Voltages below are cut off", null);
        signal("Most V", 66, Column.MAXIMUM, "Voltages above are cut off", null);
        signal("Filter Hz", 66, Column.FILTER, "Cut-off frequency of an analog input, first order", null);
        signal("Lines", 60, Column.LINES, "Lines of the encoder for each turn", null);
        signal("PWM as", 132, Column.MEAN, "What the part gets of a captured PWM signal", _ -> TargetMapping.means());
        words(signals, "Resolution", 94, s -> s.resolution(stamp(s))).getStyleClass().setAll("number");
        signal("Wire", 134, Column.WIRE, "What the wire is called, for the wiring table", null);
        signals.getSelectionModel().selectedItemProperty().addListener((_, _, s) -> message(s == null ? "" : s.problem()));
    }

    private double stamp(Signal s) {
        return part(s).part().board().target().stampNanos() / 1e9;
    }

    private Seat part(Signal s) {
        return shown.seats().stream().filter(x -> x.part().name().equals(s.part())).findFirst().orElseThrow();
    }

    private void seats() {
        table(seats, "mapping-seats");
        seats.setPlaceholder(new Label("No part runs on a target."));
        words(seats, "Part", 110, s -> s.part().name());
        words(seats, "Board", 100, s -> s.part().board().title());
        seat("Target", 90, Setting.TARGET, "Name of the target in this rig; parts with the same name share one", null);
        seat("Core", 60, Setting.CORE, "", s -> IntStream.rangeClosed(1, s.part().board().target().cores())
                .mapToObj(Integer::toString).toList());
        seat("Step", 80, Setting.STEP, "Step of a continuous part on this target, such as 25 us", null);
        numbers(seats, "Step µs", 76, s -> micros(s.part().program().tickSeconds()));
        numbers(seats, "Run µs", 76, s -> micros(s.part().costs().stream().mapToDouble(c -> c.seconds()).sum()));
        numbers(seats, "Core load %", 92, s -> String.format(Locale.ROOT, "%.1f", s.coreLoad() * 100));
        seat("On overrun", 100, Setting.OVERRUN, "stop: outputs rest and the run ends\nskip: the step that is due is left out\n"
                + "hold: outputs hold until the step is done", _ -> Arrays.stream(Rig.Overrun.values()).map(Rig.Overrun::label).toList());
        numbers(seats, "Latency up to µs", 118, s -> micros(s.part().longestLatency()));
        seat("Budget µs", 86, Setting.BUDGET, "The longest time allowed from an edge at an input to the outputs that follow from it", null);
    }

    private static <T> void table(TableView<T> table, String id) {
        table.setId(id);
        table.setFixedCellSize(26);
        table.setEditable(true);
        table.setColumnResizePolicy(TableView.CONSTRAINED_RESIZE_POLICY_FLEX_LAST_COLUMN);
    }

    private static <T> TableColumn<T, String> words(TableView<T> table, String title, double width, Function<T, String> text) {
        var c = new TableColumn<T, String>(title);
        c.setPrefWidth(width);
        c.setSortable(false);
        c.setEditable(false);
        c.setCellValueFactory(d -> new SimpleStringProperty(text.apply(d.getValue())));
        c.getStyleClass().add("words");
        table.getColumns().add(c);
        return c;
    }

    private static <T> void numbers(TableView<T> table, String title, double width, Function<T, String> text) {
        words(table, title, width, text).getStyleClass().setAll("number");
    }

    private void signal(String title, double width, Column column, String meaning, Function<Signal, List<String>> choices) {
        TableColumn<Signal, String> c = Columns.explained(title, meaning);
        c.setPrefWidth(width);
        c.setSortable(false);
        c.getStyleClass().add(choices == null && column != Column.WIRE ? "number" : "words");
        c.setCellValueFactory(d -> new SimpleStringProperty(d.getValue().text(column)));
        c.setCellFactory(_ -> choices == null ? new TextCell<>(s -> s.has(column)) : new ChoiceCell<>(s -> s.has(column), choices));
        c.setOnEditCommit(e -> {
            Signal s = e.getRowValue();
            edit("map " + s.name(), () -> TargetMapping.edited(part(s).part(), s, column, e.getNewValue()));
        });
        signals.getColumns().add(c);
    }

    private void seat(String title, double width, Setting setting, String meaning, Function<Seat, List<String>> choices) {
        TableColumn<Seat, String> c = Columns.explained(title, meaning);
        c.setPrefWidth(width);
        c.setSortable(false);
        c.getStyleClass().add(setting == Setting.BUDGET ? "number" : "words");
        c.setCellValueFactory(d -> new SimpleStringProperty(d.getValue().text(setting)));
        c.setCellFactory(_ -> choices == null ? new TextCell<>(_ -> true) : new ChoiceCell<>(_ -> true, choices));
        c.setOnEditCommit(e -> edit("set " + e.getRowValue().part().name(), () -> shown.edited(e.getRowValue(), setting, e.getNewValue())));
        seats.getColumns().add(c);
    }

    /** A cell with a text that can be edited where it means something. */
    private static final class TextCell<T> extends TextFieldTableCell<T, String> {
        private final Function<T, Boolean> has;

        TextCell(Function<T, Boolean> has) {
            super(new javafx.util.converter.DefaultStringConverter());
            this.has = has;
        }

        @Override
        public void startEdit() {
            if (isUsed(this, has)) {
                super.startEdit();
            }
        }
    }

    /** A cell with what can be chosen for its row. */
    private static final class ChoiceCell<T> extends ComboBoxTableCell<T, String> {
        private final Function<T, Boolean> has;
        private final Function<T, List<String>> choices;

        ChoiceCell(Function<T, Boolean> has, Function<T, List<String>> choices) {
            this.has = has;
            this.choices = choices;
        }

        @Override
        public void startEdit() {
            if (isUsed(this, has)) {
                getItems().setAll(choices.apply(getTableRow().getItem()));
                super.startEdit();
            }
        }
    }

    private static <T> boolean isUsed(TableCell<T, String> cell, Function<T, Boolean> has) {
        return cell.getTableRow() != null && cell.getTableRow().getItem() != null && has.apply(cell.getTableRow().getItem());
    }

    /** Changes the project; what is wrong with the input is said below the table. */
    private void edit(String name, Supplier<UnaryOperator<Project>> how) {
        try {
            host.workspace().edit(name, how.get());
        } catch (FindingException e) {
            message(e.findings().getFirst().toString());
            signals.refresh();
            seats.refresh();
        }
    }

    private void message(String text) {
        message.setText(text);
        message.getStyleClass().setAll("label", "small", "bad");
    }

    private static String micros(double seconds) {
        return String.format(Locale.ROOT, "%.1f", seconds * 1e6);
    }

    private void refresh() {
        Project project = host.workspace().project();
        if (project == null) {
            return;
        }
        List<String> with = project.rigs().stream().filter(r -> !r.onTargets().isEmpty()).map(Rig::name).toList();
        refreshing = true;
        String before = rigs.getValue();
        if (!rigs.getItems().equals(with)) {
            rigs.getItems().setAll(with);
        }
        rigs.setValue(with.contains(before) ? before : with.contains(host.rig()) ? host.rig() : with.stream().findFirst().orElse(null));
        refreshing = false;
        setCenter(with.isEmpty() ? empty : tables);
        if (with.isEmpty() || known == project) {
            return;
        }
        known = project;
        Rig rig = project.rig(rigs.getValue()).orElseThrow();
        host.workOut(() -> TargetMapping.of(project, rig), this::fill);
    }

    private void fill(TargetMapping next) {
        if (next.project() != host.workspace().project()) {
            return;
        }
        var selected = signals.getSelectionModel().getSelectedItem();
        shown = next;
        signals.getItems().setAll(next.signals());
        seats.getItems().setAll(next.seats());
        message("");
        next.signals().stream().filter(s -> selected != null && s.part().equals(selected.part()) && s.name().equals(selected.name()))
                .findFirst().ifPresent(s -> signals.getSelectionModel().select(s));
        if (signals.getSelectionModel().isEmpty()) {
            next.signals().stream().filter(s -> !s.problem().isEmpty()).findFirst().ifPresent(s -> message(s.name() + ": " + s.problem()));
        }
    }

    @Override
    public String name() {
        return "Mapping";
    }

    @Override
    public Ikon icon() {
        return Feather.CPU;
    }

    @Override
    public String key() {
        return "Alt+M";
    }

    @Override
    public Node node() {
        return this;
    }

    @Override
    public boolean owns(Place place) {
        return place instanceof Place.Mapping;
    }

    @Override
    public void show(Place place) {
        if (place instanceof Place.Mapping m) {
            signals.getItems().stream().filter(s -> s.part().equals(m.part()) && s.name().equals(m.port())).findFirst()
                    .ifPresent(s -> signals.getSelectionModel().select(s));
        }
    }

    @Override
    public void opened() {
        known = null;
        shown = null;
        signals.getItems().clear();
        seats.getItems().clear();
    }

    @Override
    public void shown() {
        refresh();
    }
}
