package boldanvil.app.shell;

import boldanvil.app.model.Diagnostics;
import boldanvil.app.model.Navigator;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.SheetEdits;
import boldanvil.app.model.SweepSession;
import boldanvil.app.model.TrialSession;
import boldanvil.app.model.Workspace;
import boldanvil.app.page.Command;
import boldanvil.app.page.Memory;
import boldanvil.app.page.Page;
import boldanvil.app.page.PageHost;
import boldanvil.app.pages.AllPages;
import boldanvil.app.widget.Chooser;
import boldanvil.app.widget.Copies;
import boldanvil.app.widget.PopupCard;
import boldanvil.app.widget.Theme;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.user.Log;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Function;
import javafx.animation.Animation;
import javafx.animation.KeyFrame;
import javafx.animation.Timeline;
import javafx.application.Platform;
import javafx.geometry.Pos;
import javafx.scene.control.ContentDisplay;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;
import javafx.stage.Stage;
import javafx.util.Duration;
import org.kordamp.ikonli.javafx.FontIcon;

/** The whole window's content: rail, run bar, status line and, between them, the page on show. */
public final class Shell extends BorderPane implements PageHost, AutoCloseable {
    private static final String WINDOW = "window";

    private final ExecutorService background = thread("background");
    private final ExecutorService drawing = thread("drawing");
    private final Workspace workspace = new Workspace(thread("reviews"), thread("journal"), Platform::runLater);
    private final RigSession session = new RigSession(Platform::runLater);
    private final SweepSession sweeps = new SweepSession(Platform::runLater);
    private final TrialSession trials = new TrialSession(Platform::runLater);
    private final Navigator navigator = new Navigator(workspace);
    private final SheetEdits edits = new SheetEdits(workspace);
    private final List<Page> pages;
    private final RunBar runBar;
    private final StatusLine status;
    private final FindingsPane findings;
    private final StackPane stack = new StackPane();
    private final Map<Page, ToggleButton> rail = new LinkedHashMap<>();
    private final List<Command> commands = new ArrayList<>();
    private final ViewMemory memory = new ViewMemory();
    private final VBox bottom = new VBox();
    private final ProjectDesk desk = new ProjectDesk(this, memory, stack);
    private final Timeline lookAtDisk = new Timeline(new KeyFrame(Duration.seconds(2), _ -> workspace.compareWithDisk()));
    private Theme theme = Theme.DAY;

    public Shell() {
        this(AllPages::of);
    }

    /** @param pages makes the pages of this window, in the order of the rail */
    public Shell(Function<PageHost, List<Page>> pages) {
        runBar = new RunBar(workspace, session, navigator, () -> show(Place.sheet("")), () -> rail.keySet().forEach(Page::rigChanged));
        status = new StatusLine(workspace, session, this::toggleFindings);
        findings = new FindingsPane(workspace, session, this::show, this::showInstant);
        this.pages = pages.apply(this);
        this.pages.forEach(this::toRail);
        this.pages.forEach(p -> p.node().setVisible(false));
        bottom.getChildren().add(status);
        setLeft(railBox());
        setCenter(stack);
        setBottom(bottom);
        getStyleClass().add("root");
        getStylesheets().add(Shell.class.getResource("/boldanvil/app/style.css").toExternalForm());
        workspace.onChange(this::workspaceChanged);
        edits.onRefused(f -> showMessage(f.toString()));
        lookAtDisk.setCycleCount(Animation.INDEFINITE);
        lookAtDisk.play();
        commands();
        setTop(new VBox(new MainMenu(commands, desk::recent, desk::openLater), runBar));
        show(this.pages.getFirst());
        // Whoever opens a project at once gets it without the start page before.
        Platform.runLater(desk::showStart);
    }

    private void showLog() {
        PopupCard.below(runBar, new LogCard(Diagnostics.log(), Log.folder().map(Object::toString).orElse("none"), this::copyDiagnostics));
    }

    private void copyDiagnostics() {
        Copies.text(Diagnostics.machine() + "\n" + Diagnostics.project(workspace.project(), workspace.findings()) + "\n"
                + Diagnostics.log());
        showMessage("Copied the diagnostics.");
    }

    private static ExecutorService thread(String name) {
        return Executors.newSingleThreadExecutor(r -> Thread.ofPlatform().daemon().name(name).unstarted(r));
    }

    private void toRail(Page page) {
        var b = new ToggleButton(page.name(), FontIcon.of(page.icon(), 19));
        b.setId("page-" + page.name().toLowerCase(Locale.ROOT));
        b.setContentDisplay(ContentDisplay.TOP);
        b.setOnAction(_ -> show(page));
        rail.put(page, b);
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
        add("Project", Command.of("New project …", "Shortcut+N", desk::newProject),
                Command.of("Open folder …", "Shortcut+O", desk::chooseProject),
                Command.of("Start page", "", () -> desk.unlessDirty("closing the project", desk::closeProject)),
                Command.of("Save", "Shortcut+S", () -> save(workspace::save)), Command.of("Save as …", "Shortcut+Shift+S", desk::saveAs),
                Command.of("Save over the files on disk", "", () -> save(workspace::saveOver)),
                Command.of("Reload from disk", "", () -> attempt(workspace::reload)),
                Command.of("Recover unsaved edits", "", () -> attempt(workspace::recover)),
                Command.of("Close project", "Shortcut+W", () -> desk.unlessDirty("closing the project", desk::closeProject)),
                Command.of("Quit", "Shortcut+Q", desk::quit));
        add("Edit", Command.of("Undo", "Shortcut+Z", this::undo), Command.of("Redo", "Shortcut+Shift+Z", this::redo),
                Command.of("Redo (other key)", "Shortcut+Y", this::redo));
        int i = 1;
        for (Page p : pages) {
            add("View", Command.of("Go to " + p.name(), p.key().isEmpty() ? "Alt+" + i++ : p.key(), () -> show(p)));
        }
        add("View", Command.of("Show or hide findings", "Shortcut+J", this::toggleFindings),
                Command.of("Dark theme", "Shortcut+Shift+L", () -> setNight(!theme.night())));
        pages.forEach(p -> p.commands().forEach(c -> commands.add(c.group().isEmpty() ? c.in(p.name()) : c)));
        add("Rig", Command.of("Run the rig", "Shortcut+ENTER", runBar::start),
                Command.of("Pause / Resume", "Shortcut+SPACE", () -> session.pause(session.phase() == RigSession.Phase.RUNNING)),
                Command.of("Run one step", "Shortcut+Shift+SPACE", session::step),
                Command.of("Stop the rig", "Shortcut+PERIOD", session::stop),
                Command.of("Stop all", "F12", () -> session.stopAll(workspace.project().name())),
                Command.of("Reset the devices", "", session::reset), Command.of("Disconnect and keep running", "", session::leave));
        add("Help", Command.of("All commands", "Shortcut+K", this::palette), Command.of("First walk", "", desk::walk),
                Command.of("Show log", "", this::showLog), Command.of("Copy diagnostics", "", this::copyDiagnostics),
                Command.of("About Bold Anvil", "", () -> showMessage(Diagnostics.VERSION + ", Apache License 2.0")));
        sceneProperty().addListener((_, _, scene) -> {
            if (scene != null) {
                commands.stream().filter(c -> c.key() != null).forEach(c -> scene.getAccelerators().put(c.key(), c.action()));
                // Stopping comes before whatever else a key might mean where the focus is.
                scene.addEventFilter(javafx.scene.input.KeyEvent.KEY_PRESSED, e -> {
                    if (e.getCode() == javafx.scene.input.KeyCode.F12) {
                        session.stopAll(workspace.project().name());
                        e.consume();
                    }
                });
            }
        });
    }

    private void add(String group, Command... some) {
        for (Command c : some) {
            commands.add(c.in(group));
        }
    }

    /** Everything the window can do; for tests and pictures. */
    public List<Command> commandList() {
        return List.copyOf(commands);
    }

    private void palette() {
        var window = getScene().getWindow();
        Chooser.show(window, window.getX() + window.getWidth() / 2 - 215, window.getY() + 90, 430, "palette", "Type a command",
                text -> commands.stream().filter(c -> c.name().toLowerCase(Locale.ROOT).contains(text.toLowerCase(Locale.ROOT))).toList(),
                c -> new Chooser.Reading(c.name(), c.keyText()), c -> c.action().run());
    }

    /** Opens a project folder; what is wrong is shown in the status line. */
    public void open(Path folder) {
        desk.open(folder);
    }

    /** As {@link #open}, without keeping the window waiting while the project is read. */
    public void openLater(Path folder) {
        desk.openLater(folder);
    }

    /** Opens, begins and closes projects. */
    ProjectDesk desk() {
        return desk;
    }

    /** Closes the window; asks first where edits are not saved. */
    void quit() {
        desk.quit();
    }

    /** Another project, or none, is open now. */
    void opened() {
        pages.forEach(Page::opened);
    }

    /** Shows or hides what needs an open project. */
    void working(boolean on) {
        for (javafx.scene.Node part : List.of(runBar, getLeft())) {
            part.setVisible(on);
            part.setManaged(on);
        }
    }

    private void save(Runnable how) {
        attempt(() -> {
            how.run();
            status.showMessage("Saved.");
        });
    }

    private void undo() {
        workspace.undoName().ifPresent(name -> status.showMessage("Undid: " + name));
        workspace.undo();
    }

    private void redo() {
        workspace.redoName().ifPresent(name -> status.showMessage("Redid: " + name));
        workspace.redo();
    }

    /** Brings the page with this name to the front, or the first one where there is none. */
    public void show(String name) {
        show(pages.stream().filter(p -> p.name().equals(name)).findFirst().orElse(pages.getFirst()));
    }

    @Override
    public void show(Page page) {
        // A page joins the scene when it is first shown: styling all of them would make up most of the time to the first picture.
        if (!stack.getChildren().contains(page.node())) {
            stack.getChildren().add(page.node());
        }
        pages.forEach(p -> p.node().setVisible(p == page));
        rail.get(page).setSelected(true);
        page.shown();
        workspace.folder().ifPresent(f -> memory.page(f, page.name()));
    }

    @Override
    public void show(Place place) {
        pages.stream().filter(p -> p.owns(place)).findFirst().ifPresent(p -> {
            show(p);
            p.show(place);
        });
    }

    @Override
    public void showInstant(Finding f) {
        var page = pages.stream().filter(p -> p.owns(f.place())).findFirst();
        page.ifPresent(this::show);
        if (page.isEmpty() || !page.get().show(f.place(), f.seconds())) {
            show(f.place());
        }
    }

    /** The page of a class; for tests, pictures and measurements. */
    public <T extends Page> T page(Class<T> type) {
        return pages.stream().filter(type::isInstance).map(type::cast).findFirst().orElseThrow();
    }

    private void workspaceChanged() {
        session.compareBuild(workspace.review());
        rail.forEach((page, button) -> {
            long own = workspace.findings().stream().filter(f -> page.owns(f.place())).count();
            button.setText(own == 0 ? page.name() : page.name() + "  " + own);
        });
    }

    private void toggleFindings() {
        if (!bottom.getChildren().remove(findings)) {
            bottom.getChildren().addFirst(findings);
        }
    }

    /** Changes between the day and the night colours. */
    public void setNight(boolean night) {
        theme = night ? Theme.NIGHT : Theme.DAY;
        getStyleClass().remove("night");
        if (night) {
            getStyleClass().add("night");
        }
        pages.forEach(Page::repaint);
    }

    @Override
    public void showMessage(String text) {
        status.showMessage(text);
    }

    @Override
    public Workspace workspace() {
        return workspace;
    }

    @Override
    public RigSession session() {
        return session;
    }

    @Override
    public Navigator navigator() {
        return navigator;
    }

    @Override
    public SweepSession sweeps() {
        return sweeps;
    }

    @Override
    public TrialSession trials() {
        return trials;
    }

    @Override
    public SheetEdits edits() {
        return edits;
    }

    @Override
    public Memory memory() {
        return memory;
    }

    @Override
    public Theme theme() {
        return theme;
    }

    @Override
    public String rig() {
        return runBar.rig();
    }

    @Override
    public ExecutorService background() {
        return background;
    }

    @Override
    public ExecutorService drawing() {
        return drawing;
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

    /** Gives the window the size it had, and remembers the size it gets. */
    void rememberSize(Stage stage) {
        String[] known = memory.get(WINDOW).split(" ");
        if (known.length == 3) {
            try {
                stage.setWidth(Math.max(stage.getMinWidth(), Double.parseDouble(known[0])));
                stage.setHeight(Math.max(stage.getMinHeight(), Double.parseDouble(known[1])));
                stage.setMaximized(Boolean.parseBoolean(known[2]));
            } catch (NumberFormatException e) {
                Log.ignored(Shell.class, e, "The size of the window is not known.");
            }
        }
        stage.setOnHiding(_ -> memory.put(WINDOW, stage.getWidth() + " " + stage.getHeight() + " " + stage.isMaximized()));
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
        trials.cancel();
        session.close();
        workspace.close();
        // Daemon threads; what is still on its way may finish, and nothing new is refused with an error.
    }
}
