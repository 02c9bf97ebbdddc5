package boldanvil.app.pages;

import boldanvil.app.model.PlcSession;
import boldanvil.app.model.PlcSession.Live;
import boldanvil.app.model.PlcSession.Row;
import boldanvil.app.page.Page;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.AskCard;
import boldanvil.app.widget.Buttons;
import boldanvil.core.bench.PlcRemote;
import boldanvil.core.bench.PlcRemote.Plan;
import boldanvil.core.finding.FindingException;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.Supplier;
import javafx.animation.Animation;
import javafx.animation.KeyFrame;
import javafx.animation.Timeline;
import javafx.beans.property.SimpleStringProperty;
import javafx.geometry.Insets;
import javafx.geometry.Orientation;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.SplitPane;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.control.TextArea;
import javafx.scene.control.TextField;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import javafx.util.Duration;
import org.kordamp.ikonli.Ikon;
import org.kordamp.ikonli.feather.Feather;

/** Parts on a PLC: which tag each port, tunable and signal is, its value now, forced values, and the program that runs. */
public final class TagsPage extends BorderPane implements Page {
    private static final Duration PERIOD = Duration.millis(250);

    private final PageHost host;
    private final ComboBox<String> part = new ComboBox<>();
    private final TextField filter = Forms.field("tags-filter", "", "Part of a name, a use or an address");
    private final Label state = Forms.message("tags-state");
    private final TableView<Row> table = new TableView<>();
    private final TextArea program = new TextArea();
    private final Label told = Forms.message("tags-told");
    private final VBox body = new VBox(10);
    private final Label empty = new Label("Run a part on a PLC to see its tags here. Open the rig in the bar above, and choose "
            + "Tongs PLC-24 over OPC UA or Modbus for a controller whose ports are inlets and outlets.");
    private final Button force;
    private final Button release;
    private final Button change;
    private final Button takeBack;
    private final Timeline clock;
    private List<Row> rows = List.of();
    private Live live = Live.NONE;
    private boolean asking;
    private Object known;

    public TagsPage(PageHost host) {
        this.host = host;
        setId("tags");
        part.setId("tags-part");
        part.valueProperty().addListener((_, _, _) -> load());
        filter.setPrefColumnCount(18);
        filter.setPromptText("Filter tags");
        filter.textProperty().addListener(_ -> shown(rows));
        force = Buttons.button("Force …", "tags-force", "Holds the selected tag at a value, whatever the program or its wire says",
                this::force);
        release = Buttons.button("Release", "tags-release", "Ends forcing the selected tag", () -> selected().ifPresent(r ->
                ask(c -> {
                    c.release(r.path());
                    return "'" + r.name() + "' is released.";
                })));
        change = Buttons.button("Change program", "tags-change", "Replaces the running program by this text between two scans",
                () -> ask(c -> said("Changed. ", c.change(program.getText()))));
        change.getStyleClass().add("primary");
        takeBack = Buttons.button("Take change back", "tags-take-back", "Goes back to the program before the last change",
                () -> ask(c -> {
                    var plan = c.takeBack();
                    String text = c.text();
                    javafx.application.Platform.runLater(() -> program.setText(text));
                    return said("Taken back. ", plan);
                }));
        var check = Buttons.button("Check change", "tags-check", "Lists what the change would start anew",
                () -> ask(c -> said("This would change the program. ", c.plan(program.getText()))));
        table();
        program.setId("tags-program");
        program.getStyleClass().add("mono");
        empty.setWrapText(true);
        empty.getStyleClass().add("empty-state");
        var bar = bar(new Label("Part"), part, filter, spring(), force, release);
        var below = new VBox(6, bar(Forms.section("PROGRAM"), spring(), check, change, takeBack), program, told);
        VBox.setVgrow(program, Priority.ALWAYS);
        below.setPadding(new Insets(6, 0, 0, 0));
        var split = new SplitPane(table, below);
        split.setOrientation(Orientation.VERTICAL);
        split.setDividerPositions(0.56);
        VBox.setVgrow(split, Priority.ALWAYS);
        body.getChildren().addAll(bar, state, split);
        body.setPadding(new Insets(12, 14, 12, 14));
        clock = new Timeline(new KeyFrame(PERIOD, _ -> poll()));
        clock.setCycleCount(Animation.INDEFINITE);
        visibleProperty().addListener((_, _, on) -> {
            if (on) {
                clock.play();
            } else {
                clock.stop();
            }
        });
        host.workspace().onChange(() -> {
            if (isVisible()) {
                refresh();
            }
        });
        setCenter(empty);
    }

    private static HBox bar(Node... nodes) {
        var bar = new HBox(8, nodes);
        bar.setAlignment(Pos.CENTER_LEFT);
        return bar;
    }

    private static Region spring() {
        var r = new Region();
        HBox.setHgrow(r, Priority.ALWAYS);
        return r;
    }

    private void table() {
        table.setId("tags-table");
        table.setFixedCellSize(26);
        table.setColumnResizePolicy(TableView.CONSTRAINED_RESIZE_POLICY_FLEX_LAST_COLUMN);
        column("Tag", 170, Row::name, false);
        column("Use", 80, Row::use, false);
        column("Type", 70, r -> r.type().name(), false);
        column("Value", 100, r -> live.values().getOrDefault(r.path(), "—"), true);
        column("Unit", 60, Row::unit, false);
        column("Forced", 90, r -> live.forces().getOrDefault(r.path(), ""), true);
        column("Address", 330, Row::address, false);
        table.setPlaceholder(new Label("No tag has this in its name. Clear the filter."));
        table.getSelectionModel().selectedItemProperty().addListener((_, _, _) -> enable());
    }

    private void column(String title, double width, Function<Row, String> text, boolean number) {
        var c = new TableColumn<Row, String>(title);
        c.setPrefWidth(width);
        c.setCellValueFactory(d -> new SimpleStringProperty(text.apply(d.getValue())));
        c.setSortable(false);
        c.setStyle(number ? "-fx-alignment: center-right;" : "-fx-alignment: center-left;");
        table.getColumns().add(c);
    }

    @Override
    public String name() {
        return "Tags";
    }

    @Override
    public Ikon icon() {
        return Feather.TAG;
    }

    @Override
    public String key() {
        return "Alt+T";
    }

    @Override
    public Node node() {
        return this;
    }

    @Override
    public void shown() {
        refresh();
        clock.play();
    }

    @Override
    public void rigChanged() {
        if (isVisible()) {
            refresh();
        }
    }

    /** Shows the parts of the rig that run on a PLC. */
    void refresh() {
        var review = host.workspace().review();
        record Key(Object review, String rig) {}
        var key = new Key(review, host.rig());
        if (key.equals(known)) {
            return;
        }
        known = key;
        var parts = PlcSession.parts(review, host.rig());
        setCenter(parts.isEmpty() ? empty : body);
        BorderPane.setAlignment(empty, Pos.TOP_LEFT);
        String before = part.getValue();
        part.getItems().setAll(parts);
        part.setValue(before != null && parts.contains(before) ? before : parts.isEmpty() ? null : parts.getFirst());
        load();
    }

    private void load() {
        String chosen = part.getValue();
        live = Live.NONE;
        if (chosen == null) {
            rows = List.of();
            program.clear();
        } else {
            host.attempt(() -> {
                rows = PlcSession.rows(host.workspace().review(), host.rig(), chosen);
                program.setText(PlcSession.text(host.workspace().review(), host.rig(), chosen));
            });
        }
        told.setText("");
        shown(rows);
        enable();
    }

    private void shown(List<Row> all) {
        var before = table.getSelectionModel().getSelectedItem();
        table.getItems().setAll(PlcSession.filtered(all, filter.getText()));
        table.getSelectionModel().select(before);
    }

    private Optional<Row> selected() {
        return Optional.ofNullable(table.getSelectionModel().getSelectedItem());
    }

    private Optional<PlcRemote> control() {
        return part.getValue() == null ? Optional.empty() : PlcSession.remote(host.session().live(), part.getValue());
    }

    private void enable() {
        boolean running = control().isPresent();
        force.setDisable(!running || selected().isEmpty());
        release.setDisable(!running || selected().filter(r -> live.forces().containsKey(r.path())).isEmpty());
        change.setDisable(!running);
        takeBack.setDisable(!running);
        if (!running) {
            state.setText("Start the rig to see values. The PLC then runs the program below.");
        }
    }

    /** Asks for the values of the tags on show. */
    private void poll() {
        var control = control();
        enable();
        if (control.isEmpty() || asking || !isVisible()) {
            return;
        }
        asking = true;
        var wanted = List.copyOf(table.getItems());
        host.workOut(() -> PlcSession.read(control.get(), wanted), now -> {
            live = now;
            state.setText(words(now));
            table.refresh();
            enable();
        }, () -> asking = false);
    }

    private static String words(Live now) {
        var text = new StringBuilder(now.mode().equals("RUN") ? "The PLC runs." : "The PLC is in " + now.mode() + ".");
        if (!now.reason().isEmpty()) {
            text.append(' ').append(now.reason());
        }
        now.tasks().forEach(t -> text.append(String.format(Locale.ROOT,
                "   Task %s every %.4g ms: %d scans, %d overruns, %.0f µs a scan, longest %.0f µs.", t.name(), t.interval() * 1e3,
                        t.scans(), t.overruns(), t.mean() * 1e6, t.longest() * 1e6)));
        if (!now.forces().isEmpty()) {
            text.append("   Forced: ").append(String.join(", ", now.forces().keySet())).append('.');
        }
        return text.toString();
    }

    private void force() {
        selected().ifPresent(r -> AskCard.show(force, "Hold '" + r.name() + "' at", live.values().getOrDefault(r.path(), ""), text -> {
            ask(c -> {
                c.force(r.path(), PlcSession.value(r, text));
                return "'" + r.name() + "' is forced to " + text.strip() + ".";
            });
            return "";
        }));
    }

    private void ask(Function<PlcRemote, String> what) {
        var control = control();
        if (control.isEmpty()) {
            return;
        }
        Supplier<String> work = () -> {
            try {
                return what.apply(control.get());
            } catch (FindingException e) {
                return e.findings().getFirst().toString();
            }
        };
        host.workOut(work, told::setText);
    }

    private static String said(String begin, Plan plan) {
        var text = new StringBuilder(begin).append(plan.kept()).append(" variables keep their values.");
        if (!plan.fresh().isEmpty()) {
            text.append(" These begin anew: ")
                    .append(String.join(", ", plan.fresh().entrySet().stream().limit(8).map(TagsPage::fresh).toList()))
                    .append(plan.fresh().size() > 8 ? " and " + (plan.fresh().size() - 8) + " more." : ".");
        }
        if (!plan.removed().isEmpty()) {
            text.append(" Removed: ").append(plan.removed().size()).append('.');
        }
        return text.toString();
    }

    private static String fresh(Map.Entry<String, String> e) {
        return e.getValue().isEmpty() ? e.getKey() : e.getKey() + " (" + e.getValue() + ")";
    }
}
