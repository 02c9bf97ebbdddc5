package boldanvil.app.shell;

import boldanvil.app.model.Navigator;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.SheetEdits;
import boldanvil.app.model.SweepSession;
import boldanvil.app.model.Workspace;
import boldanvil.app.pages.BenchPage;
import boldanvil.app.pages.BuildPage;
import boldanvil.app.pages.PatchPage;
import boldanvil.app.pages.RunsPage;
import boldanvil.app.pages.TrialsPage;
import boldanvil.app.sheet.SheetPage;
import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.FindingException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import javafx.animation.Animation;
import javafx.animation.KeyFrame;
import javafx.animation.Timeline;
import javafx.application.Platform;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.ContentDisplay;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;
import javafx.stage.DirectoryChooser;
import javafx.util.Duration;
import org.kordamp.ikonli.Ikon;
import org.kordamp.ikonli.feather.Feather;
import org.kordamp.ikonli.javafx.FontIcon;

/** The whole window's content. */
public final class Shell extends BorderPane implements AutoCloseable {
    private final ExecutorService background = Executors.newSingleThreadExecutor(
            r -> Thread.ofPlatform().daemon().name("background").unstarted(r));
    private final ExecutorService drawing = Executors.newSingleThreadExecutor(
            r -> Thread.ofPlatform().daemon().name("drawing").unstarted(r));
    private final Workspace workspace = new Workspace(background, Platform::runLater);
    private final RigSession session = new RigSession(Platform::runLater);
    private final SweepSession sweeps = new SweepSession(Platform::runLater);
    private final Navigator navigator = new Navigator(workspace);
    private final SheetEdits edits = new SheetEdits(workspace);
    private final SheetPage sheetPage;
    private final BenchPage benchPage;
    private final BuildPage buildPage;
    private final PatchPage patchPage;
    private final RunsPage runsPage;
    private final TrialsPage trialsPage;
    private final RunBar runBar;
    private final StatusLine status;
    private final FindingsPane findings;
    private final StackPane stack = new StackPane();
    private final Map<String, Node> pages = new LinkedHashMap<>();
    private final Map<String, ToggleButton> rail = new LinkedHashMap<>();
    private final List<Command> commands = new ArrayList<>();
    private final ViewMemory memory = new ViewMemory();
    private final VBox bottom = new VBox();
    private final Timeline lookAtDisk = new Timeline(new KeyFrame(Duration.seconds(2), _ -> workspace.compareWithDisk()));
    private Theme theme = Theme.DAY;

    public Shell() {
        runBar = new RunBar(workspace, session, navigator, () -> show("Sheet"), this::rigChanged);
        sheetPage = new SheetPage(workspace, edits, navigator, session, () -> theme, drawing);
        patchPage = new PatchPage(workspace, () -> theme);
        buildPage = new BuildPage(workspace, session, runBar::rig, navigator, () -> show("Sheet"));
        benchPage = new BenchPage(workspace, session, () -> theme);
        runsPage = new RunsPage(workspace, session, () -> theme, background, benchPage::playback);
        trialsPage = new TrialsPage(workspace, sweeps, () -> theme);
        status = new StatusLine(workspace, session, this::toggleFindings);
        findings = new FindingsPane(workspace, this::showPlace);
        page("Sheet", sheetPage, Feather.EDIT_3);
        page("Patch", patchPage, Feather.SHARE_2);
        page("Build", buildPage, Feather.PACKAGE);
        page("Bench", benchPage, Feather.ACTIVITY);
        page("Runs", runsPage, Feather.LAYERS);
        page("Trials", trialsPage, Feather.GRID);
        stack.getChildren().addAll(pages.values());
        bottom.getChildren().add(status);
        setTop(runBar);
        setLeft(railBox());
        setCenter(stack);
        setBottom(bottom);
        getStyleClass().add("root");
        getStylesheets().add(Shell.class.getResource("/boldanvil/app/style.css").toExternalForm());
        workspace.onChange(this::workspaceChanged);
        lookAtDisk.setCycleCount(Animation.INDEFINITE);
        lookAtDisk.play();
        commands();
        show("Sheet");
    }

    private void page(String name, Node page, Ikon icon) {
        pages.put(name, page);
        var b = new ToggleButton(name, FontIcon.of(icon, 19));
        b.setId("page-" + name.toLowerCase(Locale.ROOT));
        b.setContentDisplay(ContentDisplay.TOP);
        b.setOnAction(_ -> show(name));
        rail.put(name, b);
    }

    private VBox railBox() {
        var group = new ToggleGroup();
        rail.values().forEach(b -> b.setToggleGroup(group));
        var box = new VBox(2);
        box.getStyleClass().add("rail");
        box.setAlignment(Pos.TOP_CENTER);
        box.getChildren().addAll(rail.values());
        return box;
    }

    private void commands() {
        commands.add(Command.of("Run the rig", "Shortcut+ENTER", runBar::start));
        commands.add(Command.of("Stop the rig", "Shortcut+PERIOD", session::stop));
        commands.add(Command.of("Stop everything at once", "F12", () -> session.stopAll(workspace.project().name())));
        commands.add(Command.of("Put the selected block on the bench", "Shortcut+E", this::sendToBench));
        commands.add(Command.of("Pin the value of the selected wire", "Shortcut+T", this::pinWire));
        commands.add(Command.of("Charts back to now", "Shortcut+HOME", () -> benchPage.live()));
        commands.add(Command.of("Build the rig", "Shortcut+B", buildPage::build));
        commands.add(Command.of("Reset the devices", "", session::reset));
        commands.add(Command.of("Leave the rig to go on by itself", "", session::leave));
        commands.add(Command.of("Take up the rig that goes on by itself", "", buildPage::takeUp));
        commands.add(Command.of("Pause or go on", "Shortcut+SPACE", () -> session.pause(session.phase() == RigSession.Phase.RUNNING)));
        commands.add(Command.of("Save", "Shortcut+S", () -> save(workspace::save)));
        commands.add(Command.of("Save over the files on disk", "", () -> save(workspace::saveOver)));
        commands.add(Command.of("Reload from disk", "", () -> guarded(workspace::reload)));
        commands.add(Command.of("Undo", "Shortcut+Z", this::undo));
        commands.add(Command.of("Redo", "Shortcut+Shift+Z", this::redo));
        commands.add(Command.of("Redo (other key)", "Shortcut+Y", this::redo));
        int i = 1;
        for (String name : pages.keySet()) {
            commands.add(Command.of("Go to " + name, "Alt+" + i++, () -> show(name)));
        }
        commands.add(Command.of("Fit the sheet to the window", "Shortcut+DIGIT0", () -> {
            sheetPage.canvas().fit();
            sheetPage.canvas().paint();
        }));
        commands.add(Command.of("Up to the sheet around", "Alt+UP", navigator::up));
        commands.add(Command.of("Fold or show the stock", "Alt+S", sheetPage::foldStock));
        commands.add(Command.of("Fold or show the details", "Alt+D", sheetPage::foldDetails));
        commands.add(Command.of("Show or hide findings", "Shortcut+J", this::toggleFindings));
        commands.add(Command.of("Show the selected block's code", "Shortcut+L", this::showCode));
        commands.add(Command.of("Day or night", "Shortcut+Shift+L", () -> setNight(!theme.night())));
        commands.add(Command.of("Open a project", "Shortcut+O", this::chooseProject));
        commands.add(Command.of("New project", "", this::newProject));
        commands.add(Command.of("Recover unsaved edits", "", () -> guarded(workspace::recover)));
        commands.add(Command.of("All commands", "Shortcut+K", this::palette));
        sceneProperty().addListener((_, _, scene) -> {
            if (scene != null) {
                commands.stream().filter(c -> c.key() != null).forEach(c -> scene.getAccelerators().put(c.key(), c.action()));
                // Stopping comes before whatever else a key might mean where the focus is.
                scene.addEventFilter(javafx.scene.input.KeyEvent.KEY_PRESSED, e -> {
                    if (e.getCode() == javafx.scene.input.KeyCode.F12) {
                        session.stopAll(workspace.project().name());
                        e.consume();
                    } else if (e.getCode() == javafx.scene.input.KeyCode.S && !e.isShortcutDown() && !e.isAltDown() && benchPage.isVisible()
                            && benchPage.traces().isFocused()) {
                        benchPage.traces().snap();
                    }
                });
            }
        });
    }

    private void palette() {
        var window = getScene().getWindow();
        Chooser.show(window, window.getX() + window.getWidth() / 2 - 215, window.getY() + 90, 430, "palette", "What do you want to do?",
                text -> commands.stream().filter(c -> c.name().toLowerCase(Locale.ROOT).contains(text.toLowerCase(Locale.ROOT))).toList(),
                c -> new Chooser.Reading(c.name(), c.keyText()), c -> c.action().run());
    }

    /** Opens a project folder; what is wrong is said in the status line. */
    public void open(Path folder) {
        guarded(() -> {
            workspace.open(folder);
            session.forget();
            sweeps.forget();
            navigator.open("");
            runsPage.refresh();
            String last = memory.page(folder);
            show(pages.containsKey(last) ? last : "Sheet");
            status.say("");
        });
    }

    private void guarded(Runnable action) {
        try {
            action.run();
        } catch (FindingException e) {
            status.say(e.findings().getFirst().toString());
        }
    }

    private void chooseProject() {
        var chooser = new DirectoryChooser();
        chooser.setTitle("Open a project folder");
        var folder = chooser.showDialog(getScene().getWindow());
        if (folder != null) {
            open(folder.toPath());
        }
    }

    private void newProject() {
        var chooser = new DirectoryChooser();
        chooser.setTitle("Choose an empty folder for the new project");
        var folder = chooser.showDialog(getScene().getWindow());
        if (folder == null) {
            return;
        }
        if (Files.exists(folder.toPath().resolve("project.json"))) {
            status.say("There is a project in this folder already; open it instead.");
            return;
        }
        guarded(() -> {
            var desk = new boldanvil.core.diagram.Rig("desk", "Everything simulated here",
                    boldanvil.core.diagram.Rig.Terminals.IDEAL, Map.of());
            ProjectWriter.write(Project.empty(folder.getName()).withRigs(List.of(desk)), folder.toPath());
            open(folder.toPath());
        });
    }

    private void save(Runnable how) {
        guarded(() -> {
            how.run();
            status.say("Saved.");
        });
    }

    private void undo() {
        workspace.undoName().ifPresent(name -> status.say("Undid: " + name));
        workspace.undo();
    }

    private void redo() {
        workspace.redoName().ifPresent(name -> status.say("Did again: " + name));
        workspace.redo();
    }

    /** Turns to a page by name. */
    public void show(String name) {
        pages.forEach((n, p) -> p.setVisible(n.equals(name)));
        rail.get(name).setSelected(true);
        switch (name) {
            case "Patch" -> patchPage.refresh();
            case "Build" -> buildPage.refresh();
            case "Runs" -> runsPage.refresh();
            case "Trials" -> trialsPage.refresh();
            default -> { }
        }
        workspace.folder().ifPresent(f -> memory.page(f, name));
    }

    private void rigChanged() {
        if (buildPage != null) {
            buildPage.refresh();
        }
    }

    private void workspaceChanged() {
        long patch = workspace.findings().stream().filter(f -> f.place().startsWith("patch")).count();
        long bench = workspace.findings().stream().filter(f -> f.place().startsWith("bench")).count();
        long build = workspace.findings().stream().filter(f -> f.place().startsWith("rig") || f.place().startsWith("build")).count();
        count("Sheet", workspace.findings().size() - patch - bench - build);
        count("Build", build);
        session.compareBuild(workspace.review());
        count("Patch", patch);
        count("Bench", bench);
    }

    private void count(String page, long findings) {
        rail.get(page).setText(findings == 0 ? page : page + "  " + findings);
    }

    private void toggleFindings() {
        if (!bottom.getChildren().remove(findings)) {
            bottom.getChildren().addFirst(findings);
        }
    }

    private void showPlace(String place) {
        if (place.startsWith("patch")) {
            show("Patch");
        } else if (place.startsWith("rig") || place.startsWith("build")) {
            show("Build");
        } else if (place.startsWith("bench")) {
            show("Bench");
        } else {
            show("Sheet");
            navigator.show(place);
        }
    }

    private void pinWire() {
        var wires = sheetPage.canvas().selectedWires();
        var sheet = navigator.sheet();
        if (wires.size() != 1 || sheet.isEmpty()) {
            status.say("Select one wire inside a part first.");
            return;
        }
        String tap = edits.pin(sheet.get(), wires.iterator().next());
        status.say("'" + tap + "' shows the wire's value while a rig runs" + (session.isBusy() ? ", from the next start on." : "."));
    }

    private void sendToBench() {
        var ids = sheetPage.canvas().selection();
        var node = ids.size() == 1 ? sheetPage.canvas().shown().node(ids.iterator().next()).orElse(null) : null;
        if (node == null) {
            status.say("Select one block first.");
            return;
        }
        int sent = benchPage.send(navigator.path() + "/" + node.title());
        status.say(sent == 0 ? node.title() + " has no tunable and no tap." : node.title() + " is on the bench.");
        if (sent > 0) {
            show("Bench");
        }
    }

    private void showCode() {
        var ids = sheetPage.canvas().selection();
        var node = ids.size() == 1 ? sheetPage.canvas().shown().node(ids.iterator().next()).orElse(null) : null;
        if (node == null) {
            status.say("Select one block first.");
            return;
        }
        show("Build");
        buildPage.showPlace(navigator.path() + "/" + node.title());
    }

    /** Changes between the day and the night colours. */
    public void setNight(boolean night) {
        theme = night ? Theme.NIGHT : Theme.DAY;
        getStyleClass().remove("night");
        if (night) {
            getStyleClass().add("night");
        }
        sheetPage.canvas().paint();
        benchPage.repaint();
        runsPage.repaint();
        trialsPage.repaint();
        patchPage.refresh();
    }

    /** Shows a short message in the status line. */
    public void say(String text) {
        status.say(text);
    }

    public Workspace workspace() {
        return workspace;
    }

    public RigSession session() {
        return session;
    }

    public Navigator navigator() {
        return navigator;
    }

    public SheetPage sheetPage() {
        return sheetPage;
    }

    public RunsPage runsPage() {
        return runsPage;
    }

    public TrialsPage trialsPage() {
        return trialsPage;
    }

    public SweepSession sweeps() {
        return sweeps;
    }

    public BenchPage benchPage() {
        return benchPage;
    }

    /** Chooses a rig and starts it. */
    public void run(String rig) {
        runBar.choose(rig);
        runBar.start();
    }

    /** Chooses a rig. */
    public void choose(String rig) {
        runBar.choose(rig);
    }

    /** Shows the findings if they are hidden. */
    public void showFindings(boolean on) {
        if (bottom.getChildren().contains(findings) != on) {
            toggleFindings();
        }
    }

    @Override
    public void close() {
        lookAtDisk.stop();
        sweeps.cancel();
        session.close();
        workspace.close();
        // Daemon threads; what is still on its way may finish, and nothing new is refused with an error.
    }
}
