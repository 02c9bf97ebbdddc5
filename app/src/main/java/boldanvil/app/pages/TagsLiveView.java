package boldanvil.app.pages;

import boldanvil.app.model.PlcSession;
import boldanvil.app.model.PlcSession.Live;
import boldanvil.app.model.PlcSession.Row;
import boldanvil.app.widget.AskCard;
import boldanvil.app.widget.Buttons;
import boldanvil.app.widget.LiveCell;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import javafx.beans.property.LongProperty;
import javafx.beans.property.SimpleLongProperty;
import javafx.beans.property.SimpleStringProperty;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** The values of a part's tags while it runs on a PLC stand-in, forced values, and how long its scans take. */
final class TagsLiveView implements TagsView {
    private final TagsPage page;
    private final TextField filter = Forms.field("tags-filter", "", "Part of a name, a use or an address");
    private final Label state = Forms.message("tags-state");
    private final TableView<Row> table = new TableView<>();
    private final FlowPane forces = new FlowPane(6, 4);
    private final ScanHistogram histogram;
    private final Button force;
    private final Button release;
    private final VBox node;
    private final LongProperty beat = new SimpleLongProperty();
    private List<Row> rows = List.of();
    private Live live = Live.NONE;
    private boolean asking;

    TagsLiveView(TagsPage page) {
        this.page = page;
        histogram = new ScanHistogram(page.host());
        filter.setPrefColumnCount(18);
        filter.setPromptText("Filter tags");
        filter.textProperty().addListener(_ -> shown());
        force = Buttons.button("Force …", "tags-force", "Holds the selected tag at a value, whatever the program or its wire says",
                this::force);
        release = Buttons.button("Release", "tags-release", "Ends forcing the selected tag", () -> selected().ifPresent(this::release));
        var releaseAll = Buttons.button("Release all", "tags-release-all", "Ends forcing every tag", () -> page.ask(c -> {
            live.forces().keySet().forEach(c::release);
            return "No tag is forced.";
        }));
        table();
        forces.setId("tags-forces");
        forces.setAlignment(Pos.CENTER_LEFT);
        var bar = TagsPage.bar(filter, TagsPage.spring(), force, release, releaseAll);
        VBox.setVgrow(table, Priority.ALWAYS);
        node = new VBox(8, bar, state, forces, table, histogram);
    }

    @Override
    public Node node() {
        return node;
    }

    private void table() {
        table.setId("tags-table");
        table.setFixedCellSize(26);
        table.setColumnResizePolicy(TableView.CONSTRAINED_RESIZE_POLICY_FLEX_LAST_COLUMN);
        column("Tag", 190, Row::name, false);
        column("Use", 80, Row::use, false);
        column("Type", 70, r -> r.type().name(), false);
        LiveCell.in(column("Value", 100, r -> live.values().getOrDefault(r.path(), "—"), true), r -> live.values()
                .getOrDefault(r.path(), "—"),
                beat);
        column("Unit", 60, Row::unit, false);
        LiveCell.in(column("Forced", 90, r -> live.forces().getOrDefault(r.path(), ""), true), r -> live.forces()
                .getOrDefault(r.path(), ""),
                beat);
        column("Address", 330, Row::address, false);
        table.setPlaceholder(new Label("No tag has this in its name. Clear the filter."));
        table.getSelectionModel().selectedItemProperty().addListener((_, _, _) -> enable());
    }

    private TableColumn<Row, String> column(String title, double width, Function<Row, String> text, boolean number) {
        var c = new TableColumn<Row, String>(title);
        c.setPrefWidth(width);
        c.setCellValueFactory(d -> new SimpleStringProperty(text.apply(d.getValue())));
        c.setSortable(false);
        c.getStyleClass().add(number ? "number" : "words");
        table.getColumns().add(c);
        return c;
    }

    @Override
    public void load() {
        live = Live.NONE;
        var review = page.host().workspace().review();
        rows = page.isOnPlc() ? PlcSession.rows(review, page.host().rig(), page.part()) : List.of();
        table.setPlaceholder(new Label(page.isOnPlc() ? "No tag has this in its name. Clear the filter."
                : "In this rig the part does not run on a PLC. Choose a rig in which it does, or place it on Tongs PLC-24 by "
                        + "'Where parts run'."));
        forces.getChildren().clear();
        shown();
        enable();
    }

    private void shown() {
        var before = table.getSelectionModel().getSelectedItem();
        table.getItems().setAll(PlcSession.filtered(rows, filter.getText()));
        table.getSelectionModel().select(before);
    }

    private Optional<Row> selected() {
        return Optional.ofNullable(table.getSelectionModel().getSelectedItem());
    }

    private void enable() {
        boolean running = page.control().isPresent();
        force.setDisable(!running || selected().isEmpty());
        release.setDisable(!running || selected().filter(r -> live.forces().containsKey(r.path())).isEmpty());
        if (!running) {
            state.setText("Start the rig to see values.");
            histogram.show(List.of());
        }
    }

    @Override
    public void poll() {
        var control = page.control();
        enable();
        if (control.isEmpty() || asking) {
            return;
        }
        asking = true;
        var wanted = List.copyOf(table.getItems());
        page.host().workOut(() -> PlcSession.read(control.get(), wanted), now -> {
            live = now;
            state.setText(PlcSession.words(now));
            forces();
            histogram.show(now.tasks());
            beat.set(beat.get() + 1);
            enable();
        }, () -> asking = false);
    }

    /** Every forced tag, with what ends it. */
    private void forces() {
        var names = List.copyOf(live.forces().keySet());
        if (names.equals(forces.getUserData())) {
            return;
        }
        forces.setUserData(names);
        forces.getChildren().clear();
        live.forces().forEach((path, value) -> {
            var b = Buttons.button("✕", "", "Release", () -> page.ask(c -> {
                c.release(path);
                return "'" + path + "' is released.";
            }));
            var chip = new HBox(4, new Label(path + " = " + value), b);
            chip.setAlignment(Pos.CENTER_LEFT);
            chip.getStyleClass().add("force-chip");
            forces.getChildren().add(chip);
        });
    }

    private void force() {
        selected().ifPresent(r -> AskCard.show(force, "Hold '" + r.name() + "' at", live.values().getOrDefault(r.path(), ""), text -> {
            page.ask(c -> {
                c.force(r.path(), PlcSession.value(r, text));
                return "'" + r.name() + "' is forced to " + text.strip() + ".";
            });
            return "";
        }));
    }

    private void release(Row r) {
        page.ask(c -> {
            c.release(r.path());
            return "'" + r.name() + "' is released.";
        });
    }
}
