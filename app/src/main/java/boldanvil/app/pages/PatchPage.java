package boldanvil.app.pages;

import boldanvil.app.model.Workspace;
import boldanvil.app.shell.Theme;
import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import boldanvil.core.board.Channel;
import boldanvil.core.board.PatchCheck;
import boldanvil.core.board.PatchNumbers;
import boldanvil.core.diagram.Patch;
import boldanvil.core.diagram.Project;
import boldanvil.core.finding.Finding;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import javafx.geometry.Insets;
import javafx.geometry.VPos;
import javafx.scene.canvas.Canvas;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.TextField;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.ColumnConstraints;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import javafx.scene.text.TextAlignment;

/** Where terminals meet peripherals, pins and wires; each row is one signal's whole way, with the numbers that follow. */
public final class PatchPage extends BorderPane {
    private static final double OUTLINE = 330;

    private final Workspace workspace;
    private final Supplier<Theme> theme;
    private final VBox rows = new VBox(10);
    private final Canvas outline = new Canvas(OUTLINE, OUTLINE);
    private final Label outlineTitle = new Label();
    private String part = "";
    private String highlighted = "";
    private Object shown;

    public PatchPage(Workspace workspace, Supplier<Theme> theme) {
        this.workspace = workspace;
        this.theme = theme;
        rows.setPadding(new Insets(14, 16, 14, 16));
        var scroll = new ScrollPane(rows);
        scroll.setFitToWidth(true);
        setCenter(scroll);
        outlineTitle.getStyleClass().add("heading");
        var hint = new Label("Pins as printed on the board. Taken pins are filled; a ring marks the row you point at; a cross is a conflict.");
        hint.setWrapText(true);
        hint.setMaxWidth(OUTLINE);
        hint.getStyleClass().addAll("faint", "small");
        var side = new VBox(8, outlineTitle, outline, hint);
        side.getStyleClass().add("side");
        setRight(side);
        workspace.onChange(this::refresh);
    }

    /** Shows the patch as it is now. */
    public void refresh() {
        record Key(Object project, Object findings, Theme theme, boolean visible) {}
        var key = new Key(workspace.project(), workspace.findings(), theme.get(), isVisible());
        if (key.equals(shown) || !isVisible()) {
            return;
        }
        shown = key;
        rows.getChildren().clear();
        List<String> patched = workspace.project().parts().stream().map(p -> p.id()).filter(id -> !terminals(id).isEmpty()).toList();
        if (patched.isEmpty()) {
            outlineTitle.setText("");
            var empty = new Label("Here each terminal of a controller gets a peripheral and a pin. Add terminals to a controller's "
                    + "sheet, such as Analog in or PWM out, and mend the findings of that part first.");
            empty.setWrapText(true);
            empty.getStyleClass().add("empty-state");
            rows.getChildren().add(empty);
            return;
        }
        if (!patched.contains(part)) {
            part = patched.getFirst();
        }
        header(patched);
        var patch = patch(workspace.project());
        Boards.of(workspace.project()).find(patch.board()).ifPresentOrElse(board -> grid(board, patch), () -> {
            var unknown = new Label("There is no board '" + patch.board() + "'. Choose one above.");
            unknown.getStyleClass().add("bad");
            rows.getChildren().add(unknown);
        });
    }

    /** The rows of the part on show; none yet, on the first board, where it has not been patched. */
    private Patch patch(Project p) {
        return p.patches().getOrDefault(part, new Patch(Boards.shipped().names().getFirst(), List.of()));
    }

    private List<Port> terminals(String id) {
        return workspace.review().system().program(id).map(Program::ports).orElse(List.of()).stream()
                .filter(p -> p.terminal() != null).toList();
    }

    private void header(List<String> patched) {
        var heading = new Label("Patch sheet");
        heading.getStyleClass().add("heading");
        var parts = new ChoiceBox<String>();
        parts.getItems().setAll(patched);
        parts.setValue(part);
        parts.valueProperty().addListener((_, _, v) -> {
            part = v;
            shown = null;
            refresh();
        });
        var boards = new ChoiceBox<String>();
        boards.getItems().setAll(Boards.of(workspace.project()).names());
        boards.setValue(patch(workspace.project()).board());
        boards.valueProperty().addListener((_, _, v) -> workspace.edit("choose board " + v, p -> p.withPatch(part,
                new Patch(v, patch(p).rows()))));
        var line = new HBox(10, heading, new Label("of"), parts, new Label("on"), boards);
        line.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        rows.getChildren().add(line);
    }

    private void grid(Board board, Patch patch) {
        var program = workspace.review().system().program(part).orElseThrow();
        Map<String, List<Finding>> troubles = PatchCheck.check(Boards.of(workspace.project()), program, patch, PatchCheck.onDevice(workspace.project(), part))
                .stream().collect(Collectors.groupingBy(f -> f.place().substring(f.place().indexOf('/') + 1)));
        var grid = new GridPane();
        grid.setHgap(10);
        grid.setVgap(5);
        int[] widths = {96, 100, 96, 104};
        for (int w : widths) {
            var c = new ColumnConstraints(w);
            grid.getColumnConstraints().add(c);
        }
        var last = new ColumnConstraints();
        last.setHgrow(Priority.ALWAYS);
        grid.getColumnConstraints().add(last);
        String[] titles = {"Terminal", "Kind", "Peripheral", "Pin", "Wire, and what it goes to"};
        for (int i = 0; i < titles.length; i++) {
            var l = new Label(titles[i]);
            l.getStyleClass().add("section");
            grid.add(l, i, 0);
        }
        int y = 1;
        for (Port port : terminals(part)) {
            y = row(grid, y, board, patch, port, troubles.getOrDefault(port.name(), List.of()));
        }
        rows.getChildren().add(grid);
        outlineTitle.setText(board.title());
        paint(board, patch, troubles);
    }

    private int row(GridPane grid, int y, Board board, Patch patch, Port port, List<Finding> troubles) {
        var row = patch.row(port.name()).orElse(new Patch.Row(port.name(), "", "", ""));
        var name = new Label(port.name());
        name.getStyleClass().add("strong");
        var kind = new Label(port.terminal().label());
        kind.getStyleClass().add("faint");
        List<Channel> channels = board.channels(port.terminal());
        var channel = choice("channel-" + port.name(), channels.stream().map(Channel::id).toList(), row.peripheral());
        List<String> pins = channels.stream().filter(c -> c.id().equals(row.peripheral())).findFirst().map(Channel::pins).orElse(List.of());
        var pin = choice("pin-" + port.name(), pins, row.pin());
        channel.valueProperty().addListener((_, _, v) -> {
            var first = channels.stream().filter(c -> c.id().equals(v)).findFirst().map(c -> c.pins().getFirst()).orElse("");
            put(new Patch.Row(row.terminal(), v, first, row.wire()));
        });
        pin.valueProperty().addListener((_, _, v) -> put(new Patch.Row(row.terminal(), row.peripheral(), v, row.wire())));
        var wire = new TextField(row.wire());
        wire.setPromptText("where the wire goes");
        Runnable commit = () -> {
            if (!wire.getText().equals(row.wire())) {
                put(new Patch.Row(row.terminal(), row.peripheral(), row.pin(), wire.getText()));
            }
        };
        wire.setOnAction(_ -> commit.run());
        wire.focusedProperty().addListener((_, _, now) -> {
            if (!now) {
                commit.run();
            }
        });
        grid.addRow(y, name, kind, channel, pin, wire);
        var facts = new FlowPane(22, 2);
        facts.setPrefWrapLength(720);
        for (var f : PatchNumbers.of(new boldanvil.core.board.BoardSetup(board, patch, workspace.review().system().program(part).orElseThrow()), workspace.review().system().program(part).orElseThrow().terminal(port.owner()).orElseThrow())) {
            facts.getChildren().add(fact(f, port));
        }
        var below = new VBox(2, facts);
        for (Finding f : troubles) {
            var l = new Label(f.cause() + " " + f.cure());
            l.setWrapText(true);
            l.getStyleClass().addAll("small", f.isError() ? "bad" : "doubtful");
            below.getChildren().add(l);
        }
        below.setPadding(new Insets(0, 0, 9, 0));
        grid.add(below, 1, y + 1, 4, 1);
        for (var n : List.of(name, kind, channel, pin, wire, below)) {
            n.setOnMouseEntered(_ -> {
                highlighted = row.pin();
                paint(board, patch, Map.of());
            });
        }
        return y + 2;
    }

    /** A fact with its number; "units" become the terminal's own unit. */
    private HBox fact(PatchNumbers.Fact f, Port port) {
        String own = boldanvil.core.diagram.Places.find(workspace.project(), port.path())
                .map(p -> p.block().settings().getOrDefault("unit", "")).orElse("");
        var name = new Label(f.name().replace("per unit", own.isEmpty() ? "per unit" : "per " + own));
        name.getStyleClass().addAll("small", "faint");
        var number = new Label(f.value() + (f.unit().isEmpty() ? "" : " " + (f.unit().equals("units") ? own : f.unit())));
        number.getStyleClass().addAll("small", "mono");
        var both = new HBox(6, name, number);
        both.setAlignment(javafx.geometry.Pos.BASELINE_LEFT);
        return both;
    }

    private static ChoiceBox<String> choice(String id, List<String> all, String value) {
        var c = new ChoiceBox<String>();
        c.setId(id);
        c.getItems().setAll(all);
        if (!value.isEmpty() && !all.contains(value)) {
            c.getItems().add(value);
        }
        c.setValue(value);
        c.setMaxWidth(Double.MAX_VALUE);
        return c;
    }

    private void put(Patch.Row row) {
        workspace.edit("patch " + row.terminal(), p -> p.withPatch(part, patch(p).with(row)));
    }

    /** The outline with the pins along its four edges. */
    private void paint(Board board, Patch patch, Map<String, List<Finding>> troubles) {
        var g = outline.getGraphicsContext2D();
        var t = theme.get();
        g.setFill(t.card());
        g.fillRect(0, 0, OUTLINE, OUTLINE);
        Map<String, List<String>> owners = new HashMap<>();
        patch.rows().forEach(r -> {
            for (String pin : r.pin().split(",")) {
                owners.computeIfAbsent(pin, _ -> new ArrayList<>()).add(r.terminal());
            }
        });
        double edge = 46;
        g.setStroke(t.ink());
        g.setLineWidth(1.4);
        g.strokeRoundRect(edge, edge, OUTLINE - 2 * edge, OUTLINE - 2 * edge, 14, 14);
        g.setTextBaseline(VPos.CENTER);
        g.setTextAlign(TextAlignment.CENTER);
        g.setFont(Theme.bold(13));
        g.setFill(t.ink());
        g.fillText(board.title(), OUTLINE / 2, OUTLINE / 2);
        int perSide = Math.max(1, board.pins().size() / 4);
        double pitch = (OUTLINE - 2 * edge - 16) / perSide;
        for (int i = 0; i < board.pins().size(); i++) {
            String pin = board.pins().get(i).name();
            int side = Math.min(3, i / perSide);
            double along = edge + 8 + pitch * (i % perSide + 0.5);
            double x = side == 0 || side == 2 ? along : side == 1 ? OUTLINE - edge : edge;
            double y = side == 1 || side == 3 ? along : side == 0 ? edge : OUTLINE - edge;
            int count = owners.getOrDefault(pin, List.of()).size();
            g.setFill(count > 1 ? t.madder() : count == 1 ? t.steel() : t.card());
            g.fillRect(x - 4, y - 4, 8, 8);
            g.setStroke(t.ink());
            g.setLineWidth(0.9);
            g.strokeRect(x - 4, y - 4, 8, 8);
            if (count > 1) {
                g.setStroke(t.madder());
                g.setLineWidth(2);
                g.strokeLine(x - 8, y - 8, x + 8, y + 8);
                g.strokeLine(x - 8, y + 8, x + 8, y - 8);
            }
            if (List.of(highlighted.split(",")).contains(pin)) {
                g.setStroke(t.ember());
                g.setLineWidth(2);
                g.strokeOval(x - 9, y - 9, 18, 18);
            }
            if (count > 0 || i % perSide == 0 || i % perSide == perSide - 1) {
                g.setFont(Theme.sans(10));
                g.setFill(count > 0 ? t.ink() : t.faint());
                // Labels above and below stand in two rows, so that neighbours do not touch.
                double away = side % 2 == 0 && i % 2 == 1 ? 28 : 15;
                g.fillText(pin, x + (side == 1 ? away + 4 : side == 3 ? -away - 4 : 0), y + (side == 0 ? -away : side == 2 ? away : 0));
            }
        }
    }
}
