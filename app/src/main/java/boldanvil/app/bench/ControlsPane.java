package boldanvil.app.bench;

import boldanvil.app.model.BenchEdits;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.Workspace;
import boldanvil.app.widget.PopupCard;
import boldanvil.app.widget.Theme;
import boldanvil.core.bench.Values;
import boldanvil.core.diagram.BenchLayout.Control;
import boldanvil.core.diagram.BenchLayout.Shape;
import boldanvil.core.finding.FindingException;
import boldanvil.core.samples.Series;
import boldanvil.core.simulate.Addresses;
import boldanvil.core.simulate.Stimulus;
import boldanvil.core.user.Log;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import javafx.geometry.Pos;
import javafx.scene.control.ContextMenu;
import javafx.scene.control.Label;
import javafx.scene.control.Menu;
import javafx.scene.control.MenuButton;
import javafx.scene.control.MenuItem;
import javafx.scene.input.ClipboardContent;
import javafx.scene.input.DataFormat;
import javafx.scene.input.TransferMode;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import javafx.stage.Popup;

/** The controls in their groups, on a grid; dragged to where they are wanted. */
final class ControlsPane extends VBox {
    private static final DataFormat DRAGGED = new DataFormat("application/x-bold-anvil-control");

    private final Workspace workspace;
    private final RigSession session;
    private final BenchEdits edits;
    private final Supplier<Theme> theme;
    private final List<ControlCard> cards = new ArrayList<>();
    private final Map<String, String> driving = new LinkedHashMap<>();
    private final MenuButton add = new MenuButton("Add");
    private List<Control> shown = List.of();
    private int columns;
    private Object shownRun;
    private Optional<Series> playback = Optional.empty();
    private Popup open;

    ControlsPane(Workspace workspace, RigSession session, BenchEdits edits, Supplier<Theme> theme) {
        super(8);
        this.workspace = workspace;
        this.session = session;
        this.edits = edits;
        this.theme = theme;
        getStyleClass().add("side");
        add.setId("add-control");
        add.setOnShowing(_ -> offer());
        add.getItems().add(new MenuItem("…"));
    }

    /** A recorded signal that stimuli can play. */
    void playback(Series s) {
        playback = Optional.of(s);
    }

    List<ControlCard> cards() {
        return cards;
    }

    void refresh() {
        var layout = workspace.project().bench();
        Object run = session.run().orElse(null);
        if (!layout.controls().equals(shown) || run != shownRun || layout.columns() != columns || getChildren().isEmpty()) {
            shown = layout.controls();
            shownRun = run;
            columns = Math.clamp(layout.columns(), 1, 4);
            driving.clear();
            build();
        }
        boolean live = session.phase() == RigSession.Phase.RUNNING || session.phase() == RigSession.Phase.PAUSED;
        cards.forEach(c -> c.setDisable(!live));
    }

    private void build() {
        getChildren().clear();
        cards.clear();
        var heading = new Label("Controls");
        heading.getStyleClass().add("heading");
        var space = new HBox();
        HBox.setHgrow(space, Priority.ALWAYS);
        var line = new HBox(6, heading, space, add);
        line.setAlignment(Pos.CENTER_LEFT);
        getChildren().add(line);
        if (shown.isEmpty()) {
            var empty = new Label("No controls yet. 'Add' lists every tunable. Ctrl+E on the sheet adds the selected block.");
            empty.setWrapText(true);
            empty.getStyleClass().add("faint");
            getChildren().add(empty);
        }
        Map<String, List<Control>> groups = new LinkedHashMap<>();
        shown.forEach(c -> groups.computeIfAbsent(c.group(), _ -> new ArrayList<>()).add(c));
        groups.forEach((name, members) -> {
            if (!name.isEmpty()) {
                var label = new Label(name);
                label.getStyleClass().add("section");
                getChildren().add(label);
            }
            var grid = new GridPane();
            grid.setHgap(8);
            grid.setVgap(8);
            for (int i = 0; i < columns; i++) {
                var column = new javafx.scene.layout.ColumnConstraints();
                column.setPercentWidth(100.0 / columns);
                grid.getColumnConstraints().add(column);
            }
            for (int i = 0; i < members.size(); i++) {
                var card = card(members.get(i));
                card.setMaxWidth(Double.MAX_VALUE);
                cards.add(card);
                grid.add(card, i % columns, i / columns);
            }
            getChildren().add(grid);
        });
    }

    private ControlCard card(Control c) {
        double initial = 0;
        try {
            initial = Addresses.tunable(workspace.review().system(), c.tunable()).tunable().slot().initial();
        } catch (FindingException e) {
            Log.ignored(ControlsPane.class, e, "The control has no tunable; the review reports it.");
        }
        var card = new ControlCard(c, initial, theme, v -> session.set(c.tunable(), v), this::stimulate);
        card.setOnDragDetected(e -> {
            // A card is dragged by its title; dials and sliders want the pointer for themselves.
            if (e.getPickResult().getIntersectedNode() instanceof javafx.scene.Node n && isTitle(n)) {
                var content = new ClipboardContent();
                content.put(DRAGGED, c.tunable());
                card.startDragAndDrop(TransferMode.MOVE).setContent(content);
                e.consume();
            }
        });
        card.setOnDragOver(e -> {
            if (e.getDragboard().hasContent(DRAGGED)) {
                e.acceptTransferModes(TransferMode.MOVE);
            }
        });
        card.setOnDragDropped(e -> {
            edits.move((String) e.getDragboard().getContent(DRAGGED), c.tunable());
            e.setDropCompleted(true);
        });
        card.setOnContextMenuRequested(e -> menu(c, card).show(card, e.getScreenX(), e.getScreenY()));
        return card;
    }

    private static boolean isTitle(javafx.scene.Node n) {
        return n.getStyleClass().contains("strong") || n.getParent() != null && n.getParent().getStyleClass().contains("strong");
    }

    private ContextMenu menu(Control c, ControlCard card) {
        var shapes = new Menu("Show it as");
        for (Shape s : Shape.values()) {
            if (s != Shape.CHOICE || !c.choices().isEmpty()) {
                var item = new MenuItem(s.name().toLowerCase(Locale.ROOT));
                item.setOnAction(_ -> edits.replace(c, new Control(s, c.title(), c.tunable(), c.unit(), c.minimum(), c.maximum(), c.rate(),
                        c.step(), c.softMinimum(),
                        c.softMaximum(), c.group(), c.choices())));
                shapes.getItems().add(item);
            }
        }
        var change = new MenuItem("Title, limits, rate, group …");
        change.setOnAction(_ -> {
            hide();
            open = PopupCard.below(card, new ControlForm(c, next -> {
                hide();
                edits.replace(c, next);
            }));
        });
        var remove = new MenuItem("Remove the control");
        remove.setOnAction(_ -> edits.remove(c));
        var wide = new Menu("Controls side by side");
        for (int n = 1; n <= 3; n++) {
            int count = n;
            var item = new MenuItem(Integer.toString(n));
            item.setOnAction(_ -> edits.change("controls side by side", b -> b.withColumns(count)));
            wide.getItems().add(item);
        }
        return new ContextMenu(shapes, change, wide, remove);
    }

    private void hide() {
        if (open != null) {
            open.hide();
        }
    }

    private void offer() {
        add.getItems().clear();
        var system = workspace.review().system();
        var there = shown.stream().map(Control::tunable).toList();
        system.parts().keySet().forEach(part -> system.program(part).ifPresent(program -> {
            var menu = new Menu(part);
            program.tunables().stream().filter(t -> !there.contains(part + "." + t.name())).forEach(t -> {
                var item = new MenuItem(t.name().replace('_', ' ') + (t.slot().unit().isEmpty() ? "" : "  [" + t.slot().unit() + "]"));
                item.setOnAction(_ -> edits.addControl(part, t));
                menu.getItems().add(item);
            });
            if (!menu.getItems().isEmpty()) {
                add.getItems().add(menu);
            }
        }));
        if (add.getItems().isEmpty()) {
            add.getItems().add(new MenuItem("Every tunable has a control"));
        }
    }

    private void stimulate(ControlCard card) {
        hide();
        var c = card.control();
        open = PopupCard.below(card.stimulusButton(), new StimulusCard(c, card.goal(), playback, s -> {
            session.drive(c.tunable(), s);
            driving.put(c.tunable(), s.shape().label());
            card.driven(s.shape().label());
        }, () -> {
            session.release(c.tunable());
            driving.remove(c.tunable());
            card.driven("");
        }));
    }

    /** Starts a stimulus on a control, as its form does. */
    void drive(String tunable, Stimulus s) {
        session.drive(tunable, s);
        cards.stream().filter(c -> c.control().tunable().equals(tunable)).forEach(c -> c.driven(s.shape().label()));
    }

    /** Controls continue towards what they are set to. */
    void advance(double seconds) {
        cards.forEach(c -> c.advance(seconds));
    }

    /** Controls show what the rig has. */
    void follow(List<Values.Row> values, List<String> driven) {
        for (ControlCard card : cards) {
            String address = card.control().tunable();
            if (driving.containsKey(address) && !driven.contains(address)) {
                driving.remove(address);
                card.driven("");
            }
            values.stream().filter(r -> r.address().equals(address)).findFirst().ifPresent(r -> card.follow(r.device()));
        }
    }
}
