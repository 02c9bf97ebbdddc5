package boldanvil.app.pages;

import boldanvil.app.model.RigSession;
import boldanvil.app.model.Workspace;
import boldanvil.app.page.Command;
import boldanvil.app.page.Page;
import boldanvil.app.page.PageHost;
import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import boldanvil.core.build.Image;
import boldanvil.core.build.Target;
import boldanvil.core.control.DeviceFault;
import boldanvil.core.diagram.Patch;
import boldanvil.core.diagram.Rig;
import boldanvil.core.estimate.LinkBudget;
import boldanvil.core.export.Exporter;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.output.GeneratedFile;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Program;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import javafx.geometry.Insets;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListView;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.SplitPane;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import org.kordamp.ikonli.Ikon;
import org.kordamp.ikonli.feather.Feather;

/** What will be made and how big: tasks, sizes, the generated files with the place of each line, the steps and their log. */
public final class BuildPage extends BorderPane implements Page {
    private final Workspace workspace;
    private final RigSession session;
    private final Supplier<String> rig;
    private final PageHost host;
    private final VBox facts = new VBox(6);
    private final ListView<String> log = new ListView<>();
    private final VBox steps = new VBox(3);
    private final Button build = new Button("Build");
    private final Button leave = new Button("Disconnect and keep running");
    private final Button reconnect = new Button("Reconnect");
    private final ChoiceBox<String> fault = new ChoiceBox<>();
    private final Label older = new Label("The running build is older than the project. Stop and run again to deploy the newer build.");
    private final GeneratedFiles files;
    private Object shown;

    public BuildPage(PageHost host) {
        this.host = host;
        workspace = host.workspace();
        session = host.session();
        rig = host::rig;
        build.setId("build");
        build.setOnAction(_ -> build());
        leave.setId("leave");
        leave.setOnAction(_ -> session.leave());
        reconnect.setId("reconnect");
        reconnect.setOnAction(_ -> reconnect());
        fault.setId("fault");
        fault.getItems().setAll(Arrays.stream(DeviceFault.values()).map(DeviceFault::label).toList());
        fault.setValue(DeviceFault.NONE.label());
        fault.valueProperty().addListener((_, _, v) -> play(v));
        older.getStyleClass().add("warning");
        older.setWrapText(true);
        older.setMinHeight(Region.USE_PREF_SIZE);
        facts.getStyleClass().add("side");
        facts.setPrefWidth(360);
        files = new GeneratedFiles(host, this::refresh);
        log.setId("build-log");
        log.getStyleClass().add("mono");
        log.setPlaceholder(new Label("The log of the next start appears here."));
        var stepsBox = new VBox(4, title("Steps of the last start"), steps);
        stepsBox.setPadding(new Insets(8, 12, 8, 12));
        var stepsScroll = new ScrollPane(stepsBox);
        stepsScroll.setFitToWidth(true);
        stepsScroll.setMinWidth(250);
        var below = new SplitPane(stepsScroll, log);
        below.setDividerPositions(0.3);
        var right = new SplitPane(files, below);
        right.setOrientation(javafx.geometry.Orientation.VERTICAL);
        right.setDividerPositions(0.66);
        var all = new SplitPane(facts, right);
        SplitPane.setResizableWithParent(facts, false);
        all.setDividerPositions(0.3);
        setCenter(all);
        workspace.onChange(this::refresh);
        session.onChange(this::refresh);
    }

    @Override
    public String name() {
        return "Build";
    }

    @Override
    public Ikon icon() {
        return Feather.PACKAGE;
    }

    @Override
    public Node node() {
        return this;
    }

    @Override
    public boolean owns(Place place) {
        return place instanceof Place.Rig || place instanceof Place.Build;
    }

    @Override
    public void shown() {
        refresh();
    }

    @Override
    public void rigChanged() {
        refresh();
    }

    @Override
    public List<Command> commands() {
        return List.of(Command.of("Build the rig", "Shortcut+B", this::build),
                Command.of("Reconnect to the running rig", "", this::reconnect));
    }

    /** Builds the chosen rig without starting it. */
    public void build() {
        workspace.folder().ifPresent(f -> session.build(workspace.project(), f, rig.get()));
    }

    /** Reconnects to the chosen rig. */
    public void reconnect() {
        workspace.folder().ifPresent(f -> session.reconnect(workspace.project(), f, rig.get()));
    }

    private void play(String label) {
        Map<String, DeviceFault> faults = new LinkedHashMap<>();
        workspace.project().rig(rig.get()).ifPresent(r -> r.places().forEach((part, place) -> {
            if (place.mode() == Rig.Mode.DEVICE) {
                faults.put(part, DeviceFault.labelled(part, label));
            }
        }));
        session.playFaults(faults);
    }

    /** What can be done now. */
    private void actions(Rig chosen) {
        boolean device = chosen != null && chosen.places().values().stream().anyMatch(p -> p.mode() == Rig.Mode.DEVICE);
        build.setDisable(session.isBusy() || chosen == null || !chosen.needsBench() || workspace.review().hasErrors());
        boolean going = session.phase() == RigSession.Phase.RUNNING || session.phase() == RigSession.Phase.PAUSED;
        leave.setDisable(!going || !device);
        reconnect.setDisable(session.isBusy() || !device);
        older.setVisible(session.isOlder() && going);
        older.setManaged(older.isVisible());
        fault.setDisable(!device);
    }

    private static Label title(String text) {
        var l = new Label(text);
        l.getStyleClass().add("section");
        return l;
    }

    /** Shows what the chosen rig makes of the project now. */
    public void refresh() {
        refreshLog();
        record Key(Object review, String rig, Exporter format, boolean visible, Object images) {}
        var key = new Key(workspace.review(), rig.get(), files.format(), isVisible(), session.built());
        if (key.equals(shown) || !isVisible()) {
            return;
        }
        shown = key;
        facts.getChildren().clear();
        var heading = new Label("Rig " + rig.get());
        heading.getStyleClass().add("heading");
        var playing = new HBox(8, new Label("Simulated fault"), fault);
        playing.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        facts.getChildren().addAll(heading, new HBox(6, build, leave, reconnect), playing, older);
        Map<String, List<GeneratedFile>> all = new LinkedHashMap<>();
        // Rig and programs of one and the same state; the project may be a change ahead of its review.
        var chosen = workspace.review().project().rig(rig.get()).orElse(null);
        if (chosen == null || workspace.review().hasErrors()) {
            var l = new Label(chosen == null ? "No rig is chosen." : "Fix the errors first; then the files and sizes appear here.");
            l.setWrapText(true);
            l.getStyleClass().add("empty-state");
            facts.getChildren().add(l);
        } else {
            chosen.places().forEach((part, place) -> {
                if (place.mode() != Rig.Mode.MODEL) {
                    all.put(part, exported(chosen, part));
                    sizes(chosen, part);
                }
            });
            if (all.isEmpty()) {
                var l = new Label("Every part of this rig is a model here; nothing is built. Choose a rig with a part as code or on "
                        + "a device.");
                l.setWrapText(true);
                l.getStyleClass().add("empty-state");
                facts.getChildren().add(l);
            }
        }
        files.show(all);
    }

    private List<GeneratedFile> exported(Rig chosen, String part) {
        try {
            return files.format().files(workspace.review(), chosen, part);
        } catch (FindingException e) {
            var l = new Label(e.findings().getFirst().toString());
            l.setWrapText(true);
            l.getStyleClass().add("warning");
            facts.getChildren().add(l);
            return List.of();
        }
    }

    private void sizes(Rig rig, String part) {
        var program = workspace.review().system().program(part).orElseThrow();
        var place = rig.place(part);
        String boardName = place.mode() == Rig.Mode.DEVICE || place.mode() == Rig.Mode.EMULATED ? place.device()
                : workspace.project().patches().containsKey(part)
                ? workspace.project().patches().get(part).board() : Boards.shipped().names().getFirst();
        var board = Boards.of(workspace.project()).find(boardName).orElse(Boards.shipped()
                .require(Place.rig(rig.name(), part), Boards.shipped().names().getFirst()));
        facts.getChildren().add(title(program.title() + (place.mode() == Rig.Mode.DEVICE ? " on " + board.title()
                : place.mode() == Rig.Mode.EMULATED ? " on an emulated " + board.title() : " as code, estimated for " + board.title())));
        var setup = new BoardSetup(board, Optional.ofNullable(workspace.review().project().patches().get(part))
                .flatMap(p -> p.on(board.name()))
                .orElse(new Patch(board.name(), List.of())), program);
        var table = new TaskTable();
        table.show(setup);
        var hint = new Label("Estimated from the operations of the program at " + String.format(Locale.ROOT, "%.0f",
                setup.coreHertz() / 1e6)
                + " MHz" + (workspace.project().part(part).map(p -> p.real().equals("float64")).orElse(false)
                && board.core().floatBits() < 64
                ? "; float64 is computed in software on this board" + (board.core().floatBits() == 32 ? ", float32 in hardware." : ".")
                : "."));
        hint.getStyleClass().addAll("faint", "small");
        hint.setWrapText(true);
        hint.setMinHeight(javafx.scene.layout.Region.USE_PREF_SIZE);
        facts.getChildren().addAll(table, hint);
        var counted = session.run().map(r -> r.instructions().get(part)).orElse(null);
        if (counted != null) {
            var measured = new Label(String.format(Locale.ROOT,
                    "Measured on the emulated processor: %,d instructions in the longest step, %,.0f in the mean; %.1f µs at one "
                    + "instruction per cycle.",
                    counted.most(), counted.mean(), counted.most() / setup.coreHertz() * 1e6));
            measured.setWrapText(true);
            measured.setMinHeight(Region.USE_PREF_SIZE);
            facts.getChildren().add(measured);
        }
        facts.getChildren().addAll(memory(program, board, session.built().get(part)), links(setup));
    }

    /** What is asked of the links and what they can carry. */
    private static GridPane links(BoardSetup setup) {
        var grid = new GridPane();
        grid.setHgap(12);
        grid.setVgap(3);
        grid.addRow(0, faint(""), faint("required bytes/s"), faint("of"), faint("%"));
        int y = 1;
        for (LinkBudget.Row r : LinkBudget.of(setup)) {
            var name = new Label(r.link() + ", " + r.what());
            name.setWrapText(true);
            grid.add(name, 0, y);
            String[] texts = {String.format(Locale.ROOT, "%,.0f", r.asked()), String.format(Locale.ROOT, "%,.0f", r.possible()),
                    String.format(Locale.ROOT, "%.1f", 100 * r.asked() / r.possible())};
            for (int i = 0; i < texts.length; i++) {
                var l = new Label(texts[i]);
                l.getStyleClass().add("mono");
                l.setMinWidth(Region.USE_PREF_SIZE);
                if (!r.isEnough()) {
                    l.getStyleClass().add("bad");
                }
                GridPane.setHalignment(l, javafx.geometry.HPos.RIGHT);
                grid.add(l, i + 1, y);
            }
            y++;
        }
        return grid;
    }

    /** Flash, RAM and stack; figures that need a build are missing before the first one. */
    private static GridPane memory(Program program, Board board, Image image) {
        var grid = new GridPane();
        grid.setHgap(12);
        grid.setVgap(3);
        grid.addRow(0, faint(""), faint("used bytes"), faint("of"), faint("%"));
        size(grid, 1, image != null && !image.file().toString().endsWith(Target.HOST.ending()) ? "flash" : "flash, as compiled here",
                image == null ? -1 : image.sizes().code() + image.sizes().data(), board.memory().flashBytes());
        size(grid, 2, "RAM", Layout.of(program).size() + (image == null ? 0 : image.sizes().data()), board.memory().ramBytes());
        size(grid, 3, "stack of a step", image == null ? -1 : image.sizes().stack(), board.memory().stackBytes());
        return grid;
    }

    private static Label faint(String text) {
        var l = new Label(text);
        l.getStyleClass().addAll("faint", "small");
        l.setMinWidth(Region.USE_PREF_SIZE);
        GridPane.setHalignment(l, javafx.geometry.HPos.RIGHT);
        return l;
    }

    private static void size(GridPane grid, int row, String name, long used, long of) {
        grid.add(new Label(name), 0, row);
        String[] texts = {used < 0 ? "after a build" : String.format(Locale.ROOT, "%,d", used), String.format(Locale.ROOT, "%,d", of),
            used < 0 ? "" : String.format(Locale.ROOT, "%.1f", 100.0 * used / of)};
        for (int i = 0; i < texts.length; i++) {
            var l = new Label(texts[i]);
            l.getStyleClass().add(used < 0 && i == 0 ? "faint" : "mono");
            if (used > of) {
                l.getStyleClass().add("bad");
            }
            GridPane.setHalignment(l, javafx.geometry.HPos.RIGHT);
            grid.add(l, i + 1, row);
        }
    }

    /** Shows the first line that comes from a block. */
    public void showPlace(String place) {
        files.showPlace(place);
    }

    private void refreshLog() {
        if (!isVisible()) {
            return;
        }
        actions(workspace.review().project().rig(rig.get()).orElse(null));
        if (log.getItems().size() != session.log().size()) {
            log.getItems().setAll(session.log());
            log.scrollTo(Math.max(0, log.getItems().size() - 1));
        }
        steps.getChildren().clear();
        for (var s : session.steps()) {
            boolean current = !s.done();
            var l = new Label((s.failed() ? "✕  " : s.done() ? "✓  " : "…  ") + s.name()
                    + (current && session.share() > 0 ? String.format(Locale.ROOT, "  %.0f %%", session.share() * 100) : ""));
            l.getStyleClass().add(s.failed() ? "bad" : s.done() ? "good" : "warning");
            steps.getChildren().add(l);
        }
        for (var f : session.findings()) {
            var l = new Label(f.place().text() + ": " + f.cause() + " " + f.cure());
            l.setWrapText(true);
            l.setMinHeight(Region.USE_PREF_SIZE);
            l.getStyleClass().addAll("small", f.isError() ? "bad" : "warning");
            steps.getChildren().add(l);
        }
        if (session.steps().isEmpty()) {
            var l = new Label("Press Run to perform them.");
            l.getStyleClass().add("faint");
            steps.getChildren().add(l);
        }
    }
}
