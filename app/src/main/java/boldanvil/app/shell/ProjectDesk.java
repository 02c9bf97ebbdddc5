package boldanvil.app.shell;

import boldanvil.app.model.Examples;
import boldanvil.app.model.Examples.Example;
import boldanvil.app.model.Workspace;
import boldanvil.app.widget.ConfirmCard;
import boldanvil.app.widget.PopupCard;
import boldanvil.core.finding.FindingException;
import boldanvil.core.user.RecentProjects;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import javafx.application.Platform;
import javafx.scene.layout.StackPane;
import javafx.stage.DirectoryChooser;
import javafx.stage.Popup;

/**
 * Opens, begins, copies and closes projects, and shows the start page while none is open. Edits that are not saved are asked about first.
 */
final class ProjectDesk {
    private static final String PROJECTS = "projects folder";

    private final Shell shell;
    private final Workspace workspace;
    private final ViewMemory memory;
    private final StackPane stack;
    private final RecentProjects recent = RecentProjects.ofUser();
    private StartPane start;
    /** Whether a project is being read; the start page is not worth its pictures then. */
    private boolean opening;
    /** Whether the walk begins when the next project is open. */
    private boolean walkNext;

    /** @param stack where the start page is shown, over the pages */
    ProjectDesk(Shell shell, ViewMemory memory, StackPane stack) {
        this.shell = shell;
        workspace = shell.workspace();
        this.memory = memory;
        this.stack = stack;
    }

    /** Folders of recent projects, newest first. */
    List<Path> recent() {
        return recent.list();
    }

    /** Opens a project folder; what is wrong is shown in the status line. */
    void open(Path folder) {
        shell.attempt(() -> open(Workspace.load(folder)));
    }

    /** As {@link #open}, without keeping the window waiting while the project is read. */
    void openLater(Path folder) {
        shell.showMessage("Opening " + folder.getFileName() + " …");
        opening = true;
        shell.workOut(() -> Workspace.load(folder), this::open, () -> {
            opening = false;
            showStart();
        });
    }

    private void open(Workspace.Loaded loaded) {
        workspace.open(loaded);
        shell.session().forget();
        shell.sweeps().forget();
        shell.trials().forget();
        recent.opened(loaded.folder());
        shell.opened();
        shell.show(memory.page(loaded.folder()));
        shell.showMessage("");
        showStart();
        if (walkNext) {
            walkNext = false;
            Platform.runLater(this::walk);
        }
    }

    void chooseProject() {
        var chooser = new DirectoryChooser();
        chooser.setTitle("Open a project folder");
        var folder = chooser.showDialog(shell.getScene().getWindow());
        if (folder != null) {
            unlessDirty("opening another project", () -> open(folder.toPath()));
        }
    }

    void newProject() {
        create("New project", Examples.templates(), "My project");
    }

    /** Asks for name and place, then makes a project and opens it. */
    private void create(String title, List<Example> templates, String name) {
        unlessDirty("opening another project", () -> {
            var popup = new Popup[1];
            var card = new NewProjectCard(title, templates, name, projectsFolder(), (template, called, folder) -> {
                try {
                    Examples.create(template, called, folder);
                    memory.put(PROJECTS, String.valueOf(folder.getParent()));
                    open(folder);
                    return "";
                } catch (FindingException e) {
                    return e.findings().getFirst().toString();
                }
            }, () -> popup[0].hide());
            popup[0] = PopupCard.below(shell.getTop(), card);
            popup[0].setAutoHide(false);
        });
    }

    private Path projectsFolder() {
        String known = memory.get(PROJECTS);
        return known.isEmpty() ? Path.of(System.getProperty("user.home"), "bold-anvil") : Path.of(known);
    }

    void saveAs() {
        var chooser = new DirectoryChooser();
        chooser.setTitle("Choose an empty folder for the copy");
        var folder = chooser.showDialog(shell.getScene().getWindow());
        if (folder != null) {
            saveAs(folder.toPath());
        }
    }

    /** Saves the project into another folder and continues there. */
    void saveAs(Path folder) {
        shell.attempt(() -> {
            workspace.saveAs(folder);
            recent.opened(folder);
            shell.showMessage("Saved as " + folder + ".");
        });
    }

    /** Does something that loses edits which are not saved; asks first where there are any. */
    void unlessDirty(String what, Runnable then) {
        if (!workspace.isDirty() || workspace.folder().isEmpty()) {
            then.run();
            return;
        }
        Map<String, Runnable> ways = new LinkedHashMap<>();
        ways.put("Save", () -> {
            shell.attempt(workspace::save);
            if (!workspace.isDirty()) {
                then.run();
            }
        });
        ways.put("Discard", then);
        ways.put("Cancel", () -> { });
        ConfirmCard.show(shell.getScene().getWindow(), "'" + workspace.project()
                .name() + "' has edits that are not saved. Save them before "
                + what + "?", ways);
    }

    void closeProject() {
        shell.session().forget();
        shell.sweeps().forget();
        shell.trials().forget();
        workspace.closeProject();
        shell.opened();
        showStart();
    }

    /** Closes the window; asks first where edits are not saved. */
    void quit() {
        unlessDirty("closing the window", () -> {
            if (workspace.folder().isPresent()) {
                workspace.discard();
            }
            shell.getScene().getWindow().hide();
        });
    }

    void walk() {
        if (workspace.folder().isEmpty()) {
            shell.showMessage("Open an example first; the walk goes over a project.");
            return;
        }
        new FirstWalk(shell.getScene(), shell::show).begin();
    }

    void showStart() {
        boolean none = workspace.folder().isEmpty();
        stack.getChildren().remove(start);
        if (none && !opening) {
            if (start == null) {
                start = new StartPane(new Beginnings());
            }
            start.show(recent.list());
            stack.getChildren().add(start);
        }
        shell.working(!none);
    }

    /** What the start page asks for. */
    private final class Beginnings implements StartPane.Actions {
        @Override
        public void newProject() {
            ProjectDesk.this.newProject();
        }

        @Override
        public void openFolder() {
            chooseProject();
        }

        @Override
        public void open(Path folder) {
            openLater(folder);
        }

        @Override
        public void forget(Path folder) {
            recent.forget(folder);
            showStart();
        }

        @Override
        public void example(Example e) {
            create("Copy of " + e.title(), List.of(e), e.title());
        }

        @Override
        public void walk() {
            create("First walk: a copy of " + Examples.all().getFirst().title(), List.of(Examples.all().getFirst()), "First walk");
            walkNext = true;
        }
    }
}
