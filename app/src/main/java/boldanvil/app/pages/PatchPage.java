package boldanvil.app.pages;

import boldanvil.core.peripheral.Fact;
import boldanvil.core.peripheral.Peripherals;
import boldanvil.app.model.Reports;
import boldanvil.app.model.Workspace;
import boldanvil.app.page.Page;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Theme;
import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import boldanvil.core.board.Channel;
import boldanvil.core.diagram.Patch;
import boldanvil.core.diagram.Places;
import boldanvil.core.diagram.Project;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.patch.AutoPatch;
import boldanvil.core.patch.BoardChange;
import boldanvil.core.patch.PatchCheck;
import boldanvil.core.patch.PinSwap;
import boldanvil.core.patch.WiringTable;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.program.Program;
import boldanvil.core.program.Terminal;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Supplier;
import javafx.geometry.Insets;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.MenuButton;
import javafx.scene.control.MenuItem;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.TextField;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.ColumnConstraints;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import org.kordamp.ikonli.Ikon;
import org.kordamp.ikonli.feather.Feather;

/**
 * Where terminals meet peripherals, pins and wires; each row is one signal's whole way, with the numbers that follow. Conflicts stand
 * where they are, with what would resolve them.
 */
public final class PatchPage extends BorderPane implements Page {
    private final Workspace workspace;
    private final Supplier<Theme> theme;
    private final VBox rows = new VBox(10);
    private final BoardOutline outline;
    private final Label outlineTitle = new Label();
    private final ClockCard clocks;
    private final TaskTable tasks = new TaskTable();
    private final VBox side;
    private final VBox linkLoss = new VBox();
    private String part = "";
    private String wantedBoard = "";
    private BoardChange planned;
    private Optional<Path> folder = Optional.empty();
    private final Label notice = new Label();
    private Object shown;

    public PatchPage(PageHost host) {
        workspace = host.workspace();
        theme = host::theme;
        outline = new BoardOutline(theme, this::swap);
        clocks = new ClockCard(asked -> workspace.edit("request clocks", p -> p.withPatch(part, patch(p).withClock(asked))));
        rows.setPadding(new Insets(14, 16, 14, 16));
        var scroll = new ScrollPane(rows);
        scroll.setFitToWidth(true);
        setCenter(scroll);
        outlineTitle.getStyleClass().add("heading");
        var hint = new Label("Pins as printed on the board. Filled: in use. Crossed: used twice. Drag a used pin onto another to swap "
                + "them.");
        hint.setWrapText(true);
        hint.setMaxWidth(BoardOutline.SIZE);
        hint.setMinHeight(Region.USE_PREF_SIZE);
        hint.getStyleClass().addAll("faint", "small");
        var load = new Label("Processor load");
        load.getStyleClass().add("section");
        side = new VBox(6, outlineTitle, outline, hint, load, tasks, clocks, linkLoss);
        side.getStyleClass().add("side");
        side.setMaxWidth(BoardOutline.SIZE + 26);
        var sideScroll = new ScrollPane(side);
        sideScroll.setHbarPolicy(ScrollPane.ScrollBarPolicy.NEVER);
        sideScroll.setFitToWidth(true);
        sideScroll.setPrefWidth(BoardOutline.SIZE + 38);
        setRight(sideScroll);
        workspace.onChange(this::refresh);
    }

    @Override
    public String name() {
        return "Patch";
    }

    @Override
    public Ikon icon() {
        return Feather.SHARE_2;
    }

    @Override
    public Node node() {
        return this;
    }

    @Override
    public boolean owns(Place place) {
        return place instanceof Place.Patch;
    }

    @Override
    public void shown() {
        refresh();
    }

    @Override
    public void repaint() {
        refresh();
    }

    /** Shows the patch as it is now. */
    public void refresh() {
        record Key(Object project, Object findings, Theme theme, boolean visible, String part, String wanted) {}
        var key = new Key(workspace.project(), workspace.findings(), theme.get(), isVisible(), part, wantedBoard);
        if (key.equals(shown) || !isVisible()) {
            return;
        }
        shown = key;
        if (!workspace.folder().equals(folder)) {
            folder = workspace.folder();
            forgetPlan();
            shown = key;
            showMessage("");
        }
        rows.getChildren().clear();
        List<String> patched = workspace.project().parts().stream().map(p -> p.id()).filter(id -> !terminals(id).isEmpty()).toList();
        side.setVisible(!patched.isEmpty());
        if (patched.isEmpty()) {
            var empty = new Label("Assign a peripheral and a pin to each terminal of a controller here. First add terminals, such "
                    + "as Analog in or PWM out, to the controller's sheet, and fix the errors of that part.");
            empty.setWrapText(true);
            empty.getStyleClass().add("empty-state");
            rows.getChildren().add(empty);
            return;
        }
        if (!patched.contains(part)) {
            part = patched.getFirst();
            forgetPlan();
            shown = key;
        }
        header(patched);
        var patch = patch(workspace.project());
        Boards.of(workspace.project()).find(patch.board()).ifPresentOrElse(board -> show(board, patch), () -> {
            var unknown = new Label("There is no board '" + patch.board() + "'. Choose one above.");
            unknown.getStyleClass().add("bad");
            rows.getChildren().add(unknown);
        });
    }

    private void show(Board board, Patch patch) {
        var setup = new BoardSetup(board, patch, program());
        if (planned != null) {
            String title = Boards.of(workspace.project()).require(Place.patch(part), wantedBoard).title();
            rows.getChildren().add(new BoardChangeCard(planned, title,
                    terminal -> unit(program().terminal(terminal).orElseThrow()), this::makePlan, this::keepBoard));
        }
        grid(setup);
        outlineTitle.setText(board.title());
        outline.show(board, patch);
        clocks.show(setup);
        tasks.show(setup);
    }

    /** The rows of the part on show; none yet, on the first board, where it has not been patched. */
    private Patch patch(Project p) {
        return p.patches().getOrDefault(part, new Patch(Boards.shipped().names().getFirst(), List.of()));
    }

    private Program program() {
        return workspace.review().system().program(part).orElseThrow();
    }

    private List<Terminal> terminals(String id) {
        return workspace.review().system().program(id).map(Program::terminals).orElse(List.of());
    }

    private void header(List<String> patched) {
        var heading = new Label("Patch sheet");
        heading.getStyleClass().add("heading");
        var parts = new ChoiceBox<String>();
        parts.getItems().setAll(patched);
        parts.setValue(part);
        parts.valueProperty().addListener((_, _, v) -> {
            part = v;
            forgetPlan();
            showMessage("");
            refresh();
        });
        var boards = new ChoiceBox<String>();
        boards.setId("board");
        boards.getItems().setAll(Boards.of(workspace.project()).names());
        boards.setValue(wantedBoard.isEmpty() ? patch(workspace.project()).board() : wantedBoard);
        boards.valueProperty().addListener((_, _, v) -> plan(v));
        var find = new Button("Assign automatically");
        find.setId("find-places");
        find.setOnAction(_ -> findPlaces());
        var table = new MenuButton("Wiring table");
        var csv = new MenuItem("Write as CSV");
        csv.setOnAction(_ -> wiring(".csv"));
        var pdf = new MenuItem("Write as PDF");
        pdf.setOnAction(_ -> wiring(".pdf"));
        table.getItems().addAll(csv, pdf);
        var link = new ChoiceBox<String>();
        link.setId("link-loss");
        link.getItems().addAll("keeps running", "goes to safe state");
        link.setValue(patch(workspace.project()).safeOnLinkLoss() ? "goes to safe state" : "keeps running");
        link.valueProperty().addListener((_, _, v) -> workspace.edit("choose the behaviour on link loss",
                p -> p.withPatch(part, patch(p).withSafeOnLinkLoss(v.equals("goes to safe state")))));
        var first = new HBox(8, heading, new Label("of"), parts, new Label("on"), boards, find, table);
        first.setAlignment(Pos.CENTER_LEFT);
        var alone = new HBox(8, new Label("On link loss, the device"), link);
        alone.setAlignment(Pos.CENTER_LEFT);
        linkLoss.getChildren().setAll(alone);
        notice.setWrapText(true);
        notice.setId("patch-notice");
        notice.setMinHeight(Region.USE_PREF_SIZE);
        notice.setManaged(!notice.getText().isEmpty());
        rows.getChildren().addAll(first, notice);
    }

    private void showMessage(String text, String... classes) {
        notice.setText(text);
        notice.getStyleClass().setAll("label", "small");
        notice.getStyleClass().addAll(classes);
        notice.setManaged(!text.isEmpty());
    }

    private void showFindings(List<Finding> findings) {
        showMessage(String.join("\n", findings.stream().map(f -> f.cause() + " " + f.cure()).toList()), "bad");
    }

    private void findPlaces() {
        var boards = Boards.of(workspace.project());
        var program = program();
        String of = part;
        workspace.editLater("assign terminals", p -> {
            var done = AutoPatch.complete(boards.require(Place.patch(of), patch(p).board()), program, patch(p));
            return p.withPatch(of, done.patch());
        }, this::showFindings);
        showMessage("Assigned terminals keep their place; the others are assigned where a place is free.", "faint");
    }

    private void swap(String from, String to) {
        var boards = Boards.of(workspace.project());
        var program = program();
        String of = part;
        showMessage("");
        workspace.editLater("swap " + from + " and " + to, p -> p.withPatch(of, PinSwap.plan(boards, program, patch(p), from, to)),
                this::showFindings);
    }

    private void wiring(String ending) {
        var folder = workspace.folder().orElse(null);
        var board = Boards.of(workspace.project()).find(patch(workspace.project()).board()).orElse(null);
        if (folder == null || board == null) {
            showMessage("Open a project and choose a board first.", "bad");
            return;
        }
        Path file = folder.resolve("boards").resolve("wiring-" + part + ending);
        var table = WiringTable.of(new BoardSetup(board, patch(workspace.project()), program()));
        workspace.inBackground(() -> {
            if (ending.equals(".csv")) {
                table.writeCsv(file);
            } else {
                Reports.pdf(table, file);
            }
        }, () -> showMessage("Written to " + file + ".", "good"), this::showFindings);
    }

    /** Works out what the change to a board would bring. */
    private void plan(String board) {
        var project = workspace.project();
        var program = program();
        planned = null;
        wantedBoard = board;
        if (board.equals(patch(project).board())) {
            refresh();
            return;
        }
        var done = new AtomicReference<BoardChange>();
        workspace.inBackground(() -> done.set(BoardChange.plan(Boards.of(project), program, patch(project), board)), () -> {
            planned = done.get();
            shown = null;
            refresh();
        }, this::showFindings);
    }

    private void makePlan() {
        var plan = planned;
        String title = Boards.of(workspace.project()).require(Place.patch(part), wantedBoard).title();
        forgetPlan();
        workspace.edit("change board to " + title, p -> p.withPatch(part, plan.patch()));
    }

    private void keepBoard() {
        forgetPlan();
        refresh();
    }

    private void forgetPlan() {
        wantedBoard = "";
        planned = null;
        shown = null;
    }

    private void grid(BoardSetup setup) {
        var boards = Boards.of(workspace.project());
        var problems = PatchCheck.problems(boards, setup.program(), setup.patch(), PatchCheck.onDevice(workspace.project(), part));
        for (var t : problems.stream().filter(x -> x.terminal().isEmpty()).toList()) {
            rows.getChildren().add(problemRow(setup, t));
        }
        var grid = new GridPane();
        grid.setHgap(10);
        grid.setVgap(4);
        for (int w : new int[] {92, 108, 92, 112}) {
            grid.getColumnConstraints().add(new ColumnConstraints(w));
        }
        var last = new ColumnConstraints();
        last.setHgrow(Priority.ALWAYS);
        grid.getColumnConstraints().add(last);
        String[] titles = {"Terminal", "Kind", "Peripheral", "Pin", "Wire and destination"};
        for (int i = 0; i < titles.length; i++) {
            var l = new Label(titles[i]);
            l.getStyleClass().add("section");
            grid.add(l, i, 0);
        }
        int y = 1;
        for (Terminal t : setup.program().terminals()) {
            y = row(grid, y, setup, t, problems.stream().filter(x -> x.terminal().equals(t.name())).toList());
        }
        rows.getChildren().add(grid);
    }

    private int row(GridPane grid, int y, BoardSetup setup, Terminal t, List<PatchCheck.Problem> problems) {
        var row = setup.patch().row(t.name()).orElse(new Patch.Row(t.name(), "", "", ""));
        var name = new Label(t.name());
        name.getStyleClass().add("strong");
        var kind = new Label(t.kind().label());
        kind.getStyleClass().add("faint");
        kind.setWrapText(true);
        grid.add(name, 0, y);
        grid.add(kind, 1, y);
        List<javafx.scene.Node> pointed = new ArrayList<>(List.of(name, kind));
        if (Peripherals.of(t).hasPins()) {
            List<Channel> channels = Peripherals.channels(setup.board(), t.kind());
            var channel = choice("channel-" + t.name(), channels.stream().map(Channel::id).toList(), row.peripheral());
            List<String> pins = channels.stream().filter(c -> c.id().equals(row.peripheral())).findFirst().map(Channel::pins)
                    .orElse(List.of());
            var pin = choice("pin-" + t.name(), pins, row.pin());
            channel.valueProperty().addListener((_, _, v) -> put(new Patch.Row(row.terminal(), v,
                    channels.stream().filter(c -> c.id().equals(v)).findFirst().map(c -> c.pins().getFirst()).orElse(""), row.wire())));
            pin.valueProperty().addListener((_, _, v) -> put(new Patch.Row(row.terminal(), row.peripheral(), v, row.wire())));
            var wire = wire(row);
            grid.add(channel, 2, y);
            grid.add(pin, 3, y);
            grid.add(wire, 4, y);
            pointed.addAll(List.of(channel, pin, wire));
        } else {
            var within = new Label("inside the device");
            within.getStyleClass().addAll("faint", "small");
            grid.add(within, 2, y, 2, 1);
        }
        var facts = new FlowPane(20, 1);
        facts.setPrefWrapLength(690);
        if (row.pins().size() > 2) {
            facts.getChildren().add(fact(new Fact("pins", String.join(" ", row.pins()), ""), t));
        }
        for (var f : Peripherals.figures(setup, t)) {
            facts.getChildren().add(fact(f, t));
        }
        var below = new VBox(3, facts);
        problems.forEach(x -> below.getChildren().add(problemRow(setup, x)));
        below.setPadding(new Insets(0, 0, 9, 0));
        grid.add(below, 1, y + 1, 4, 1);
        pointed.add(below);
        pointed.forEach(n -> n.setOnMouseEntered(_ -> outline.mark(row.pins())));
        return y + 2;
    }

    private TextField wire(Patch.Row row) {
        var wire = new TextField(row.wire());
        wire.setPromptText("destination of the wire");
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
        return wire;
    }

    /** A finding with buttons that would resolve it. */
    private VBox problemRow(BoardSetup setup, PatchCheck.Problem t) {
        var l = new Label((t.finding().isError() ? "✕ " : "▴ ") + t.finding().cause() + " " + t.finding().cure());
        l.setWrapText(true);
        l.setMinHeight(Region.USE_PREF_SIZE);
        l.getStyleClass().addAll("small", t.finding().isError() ? "bad" : "warning");
        var box = new VBox(2, l);
        var proposals = PatchCheck.proposals(Boards.of(workspace.project()), setup.program(), setup.patch(), t);
        if (!proposals.isEmpty()) {
            var line = new FlowPane(6, 4);
            for (int i = 0; i < proposals.size(); i++) {
                var p = proposals.get(i);
                var b = new Button(p.words());
                b.setId("proposal-" + (t.terminal().isEmpty() ? "all" : t.terminal()) + "-" + i);
                b.getStyleClass().add("small");
                b.setOnAction(_ -> workspace.edit(p.words(), x -> x.withPatch(part, p.patch())));
                line.getChildren().add(b);
            }
            box.getChildren().add(line);
        }
        return box;
    }

    /** A fact with its number; "units" become the terminal's own unit. */
    private HBox fact(Fact f, Terminal t) {
        String own = unit(t);
        var name = new Label(f.name().replace("per unit", own.isEmpty() ? "per unit" : "per " + own));
        name.getStyleClass().addAll("small", "faint");
        var number = new Label(f.value() + (f.unit().isEmpty() ? "" : " " + f.unit().replace("units", own)));
        number.getStyleClass().addAll("small", "mono");
        var both = new HBox(6, name, number);
        both.setAlignment(Pos.BASELINE_LEFT);
        return both;
    }

    /** A terminal's own unit. */
    private String unit(Terminal t) {
        return Places.find(workspace.project(), t.path()).map(p -> p.block().settings().getOrDefault("unit", "")).orElse("");
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
        showMessage("");
        workspace.edit("patch " + row.terminal(), p -> p.withPatch(part, patch(p).with(row)));
    }
}
