package boldanvil.app.shell;

import boldanvil.app.model.TargetMapping;
import boldanvil.app.model.Workspace;
import boldanvil.app.widget.PopupCard;
import boldanvil.core.board.Boards;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import java.util.ArrayList;
import java.util.List;
import java.util.function.UnaryOperator;
import javafx.geometry.Pos;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.RadioButton;
import javafx.scene.control.TextField;
import javafx.scene.control.ToggleGroup;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import javafx.stage.Popup;
import javafx.stage.Window;

/** Where each part runs: parts down, model, code and devices across. */
final class RigGrid {
    private RigGrid() {}

    private static String link(Rig.Place p) {
        return switch (p.link()) {
            case "opcua" -> "OPC UA";
            case "modbus" -> "Modbus";
            default -> p.link();
        };
    }

    static void show(Window owner, double x, double y, Workspace workspace, String rigName) {
        var rig = workspace.project().rig(rigName).orElse(null);
        if (rig == null) {
            return;
        }
        var popup = new Popup();
        popup.setAutoHide(true);
        var grid = new GridPane();
        grid.setHgap(18);
        grid.setVgap(7);
        List<Rig.Place> places = new ArrayList<>(List.of(Rig.Place.MODEL, new Rig.Place(Rig.Mode.CODE, "")));
        var boards = Boards.of(workspace.project());
        boards.names().forEach(name -> {
            var b = boards.find(name).orElseThrow();
            if (b.target() != null) {
                places.add(new Rig.Place(name, new Rig.Seat("target", 1, Rig.Overrun.STOP, "")));
            } else if (b.plc() != null) {
                b.plc().links().forEach(link -> places.add(new Rig.Place(Rig.Mode.PLC, name, link)));
            } else {
                places.add(new Rig.Place(b.emulator() == null ? Rig.Mode.DEVICE : Rig.Mode.EMULATED, name));
            }
        });
        // A real PLC has an address, which only the file of the project gives so far.
        rig.places().values().stream().filter(p -> places.stream().noneMatch(known -> isSame(known, p))).forEach(places::add);
        String[] heads = new String[places.size()];
        for (int i = 0; i < heads.length; i++) {
            var p = places.get(i);
            heads[i] = switch (p.mode()) {
                case MODEL -> "model";
                case CODE -> "code";
                case DEVICE -> "on " + boards.find(p.device()).orElseThrow().title();
                case EMULATED -> "emulated " + boards.find(p.device()).orElseThrow().title();
                case TARGET -> "on " + boards.find(p.device()).orElseThrow().title();
                case PLC -> "on " + boards.find(p.device()).orElseThrow().title() + " over " + link(p);
            };
            var l = new Label(heads[i]);
            l.getStyleClass().add("section");
            grid.add(l, i + 1, 0);
        }
        var note = new Label("The diagrams do not change with the place where a part runs.");
        note.getStyleClass().addAll("faint", "small");
        int row = 1;
        for (var part : workspace.project().parts()) {
            grid.add(new Label(part.title()), 0, row);
            var group = new ToggleGroup();
            for (int i = 0; i < places.size(); i++) {
                var place = places.get(i);
                var button = new RadioButton();
                button.setId("place-" + part.id() + "-" + i);
                button.setAccessibleText(part.title() + " " + heads[i]);
                button.setToggleGroup(group);
                button.setSelected(isSame(place, rig.place(part.id())));
                button.setOnAction(_ -> place(workspace, rigName, part.id(), place, note));
                grid.add(button, i + 1, row);
            }
            row++;
        }
        var board = new CheckBox("Terminals of models and code quantise as the board does");
        board.setSelected(rig.terminals() == Rig.Terminals.BOARD);
        board.setOnAction(_ -> change(workspace, rigName, r -> r.withTerminals(
                board.isSelected() ? Rig.Terminals.BOARD : Rig.Terminals.IDEAL)));
        var title = new Label("Rig " + rigName + (rig.title().isEmpty() ? "" : " — " + rig.title()));
        title.getStyleClass().add("heading");
        var box = new VBox(8, title, grid, board, settled(workspace, rigName, rig), note);
        box.setStyle("-fx-padding: 12;");
        PopupCard.dress(box, owner);
        popup.getContent().add(box);
        popup.show(owner, x, y);
    }

    /** Whether the rig starts where its waveforms repeat, and after which period they do. */
    private static HBox settled(Workspace workspace, String rigName, Rig rig) {
        var on = new CheckBox("Start in the periodic steady state; period");
        on.setId("rig-settled");
        on.setSelected(!rig.settled().isEmpty());
        on.setTooltip(new Tooltip("Searches, before each start, the state that repeats after this period.\n"
                + "Enter a whole number of all sample times and of the period of each carrier.\nAll parts must run as models."));
        var period = new TextField(rig.settled().isEmpty() ? "50 us" : rig.settled());
        period.setId("rig-period");
        period.setPrefColumnCount(8);
        period.disableProperty().bind(on.selectedProperty().not());
        Runnable take = () -> change(workspace, rigName, r -> r.settled(on.isSelected() ? period.getText().strip() : ""));
        on.setOnAction(_ -> take.run());
        period.setOnAction(_ -> take.run());
        period.focusedProperty().addListener((_, _, now) -> {
            if (!now && on.isSelected()) {
                take.run();
            }
        });
        var row = new HBox(8, on, period);
        row.setAlignment(Pos.CENTER_LEFT);
        return row;
    }

    /** Whether two places are in one column: parts on any core of one kind of target are. */
    private static boolean isSame(Rig.Place a, Rig.Place b) {
        return a.mode() == Rig.Mode.TARGET ? b.mode() == Rig.Mode.TARGET && a.device().equals(b.device()) : a.equals(b);
    }

    /**
     * Puts a part in another place; on a target it gets a core of its own, where there is one. Signals that leave a target of the rig get
     * channels, for which the project is compiled in the background.
     */
    private static void place(Workspace workspace, String rigName, String part, Rig.Place place, Label note) {
        boolean isTarget = place.mode() == Rig.Mode.TARGET;
        if (!isTarget && workspace.project().rig(rigName).orElseThrow().onTargets().isEmpty()) {
            change(workspace, rigName, r -> r.with(part, place));
            return;
        }
        var review = workspace.review();
        workspace.editLater("change rig " + rigName, p -> {
            Project next = p.withRigs(p.rigs().stream().map(r -> !r.name().equals(rigName) ? r
                    : r.with(part, isTarget ? TargetMapping.seated(review, r, part, place.device()) : place)).toList());
            return TargetMapping.assigned(next, next.rig(rigName).orElseThrow());
        }, findings -> note.setText(findings.getFirst().toString()));
    }

    private static void change(Workspace workspace, String rigName, UnaryOperator<Rig> how) {
        workspace.edit("change rig " + rigName, (Project p) -> p.withRigs(p.rigs().stream()
                .map(r -> r.name().equals(rigName) ? how.apply(r) : r).toList()));
    }
}
