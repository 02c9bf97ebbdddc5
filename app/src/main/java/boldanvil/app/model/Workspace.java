package boldanvil.app.model;

import boldanvil.core.build.Review;
import boldanvil.core.diagram.Project;
import boldanvil.core.files.Folders;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Executor;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;

/**
 * The open project, its history and its findings. All methods are called on one thread, the window's; reviewing and
 * journalling happen on another.
 */
public final class Workspace {
    private static final int HISTORY = 500;
    private static final String JOURNAL = ".journal";

    /** A change that was made. */
    private record Edit(String name, Project before, Project after) {}

    private final Executor background;
    private final Executor window;
    private final List<Runnable> listeners = new ArrayList<>();
    private final Deque<Edit> done = new ArrayDeque<>();
    private final Deque<Edit> undone = new ArrayDeque<>();
    private final List<Finding> notices = new ArrayList<>();
    private Path folder;
    private Project project;
    private Project saved;
    private Review review;
    private long generation;

    /**
     * @param background runs reviews, one after the other
     * @param window runs what must happen on the window's thread
     */
    public Workspace(Executor background, Executor window) {
        this.background = background;
        this.window = window;
        project = Project.empty("No project");
        saved = project;
        review = Review.of(project);
    }

    /** Has something called after each change of project or findings. */
    public void onChange(Runnable listener) {
        listeners.add(listener);
    }

    private void changed() {
        List.copyOf(listeners).forEach(Runnable::run);
    }

    /**
     * Opens a project folder.
     *
     * @throws FindingException when it cannot be read; what is open stays open
     */
    public void open(Path projectFolder) {
        Project read = ProjectReader.read(projectFolder);
        folder = projectFolder;
        // A review of what was open before would come too late.
        generation++;
        project = read;
        saved = read;
        review = Review.of(read);
        done.clear();
        undone.clear();
        notices.clear();
        if (Files.exists(journal().resolve("project.json"))) {
            notices.add(Finding.doubt("journal", "There are edits that were not saved before the program ended.",
                    "Choose 'Recover unsaved edits' from the commands, or save to forget them."));
        }
        changed();
    }

    private Path journal() {
        return folder.resolve(JOURNAL);
    }

    /** Brings back edits from the journal, as one change that can be undone. */
    public void recover() {
        Project kept = ProjectReader.read(journal());
        notices.clear();
        edit("recover unsaved edits", _ -> kept);
    }

    public Optional<Path> folder() {
        return Optional.ofNullable(folder);
    }

    public Project project() {
        return project;
    }

    /** The newest review; it may be a little older than the project. */
    public Review review() {
        return review;
    }

    /** Findings of the review and of the workspace itself. */
    public List<Finding> findings() {
        List<Finding> all = new ArrayList<>(notices);
        all.addAll(review.findings());
        return all;
    }

    /** Whether there are edits that are not saved. */
    public boolean isDirty() {
        return !project.equals(saved);
    }

    /** Makes a change that can be undone. Nothing happens when the project stays the same. */
    public void edit(String name, UnaryOperator<Project> how) {
        Project next = how.apply(project);
        if (next.equals(project)) {
            return;
        }
        done.push(new Edit(name, project, next));
        if (done.size() > HISTORY) {
            done.removeLast();
        }
        undone.clear();
        become(next);
    }

    /**
     * Works out a change in the background and makes it, unless something else was changed meanwhile.
     *
     * @param refused is given the findings, on the window's thread, when it cannot be made
     */
    public void editLater(String name, UnaryOperator<Project> how, Consumer<List<Finding>> refused) {
        Project base = project;
        background.execute(() -> {
            try {
                Project next = how.apply(base);
                window.execute(() -> edit(name, p -> p.equals(base) ? next : p));
            } catch (FindingException e) {
                window.execute(() -> refused.accept(e.findings()));
            }
        });
    }

    /** Does something that changes nothing of the project in the background; then, on the window's thread, tells how it went. */
    public void inBackground(Runnable work, Runnable done, Consumer<List<Finding>> refused) {
        background.execute(() -> {
            try {
                work.run();
                window.execute(done);
            } catch (FindingException e) {
                window.execute(() -> refused.accept(e.findings()));
            }
        });
    }

    private void become(Project next) {
        project = next;
        long mine = ++generation;
        changed();
        background.execute(() -> {
            Review fresh = Review.of(next);
            journal(next, mine);
            window.execute(() -> {
                if (mine == generation) {
                    review = fresh;
                    changed();
                }
            });
        });
    }

    private void journal(Project next, long mine) {
        if (folder == null || mine != generation) {
            return;
        }
        try {
            ProjectWriter.write(next, journal());
        } catch (FindingException e) {
            // A journal that cannot be written must not keep anybody from working; saving will tell.
        }
    }

    /** What undo would take back. */
    public Optional<String> undoName() {
        return Optional.ofNullable(done.peek()).map(Edit::name);
    }

    /** What redo would do again. */
    public Optional<String> redoName() {
        return Optional.ofNullable(undone.peek()).map(Edit::name);
    }

    public void undo() {
        if (!done.isEmpty()) {
            Edit e = done.pop();
            undone.push(e);
            become(e.before());
        }
    }

    public void redo() {
        if (!undone.isEmpty()) {
            Edit e = undone.pop();
            done.push(e);
            become(e.after());
        }
    }

    /** Writes the project to its folder. */
    public void save() {
        if (folder == null) {
            throw FindingException.of("save", "No project is open.", "Open one first.");
        }
        generation++;
        ProjectWriter.write(project, folder);
        saved = project;
        notices.clear();
        Folders.delete(journal());
        review = Review.of(project);
        changed();
    }
}
