package boldanvil.app.model;

import boldanvil.core.diagram.Project;
import boldanvil.core.files.DiskState;
import boldanvil.core.files.Folders;
import boldanvil.core.files.ProjectLock;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.review.Review;
import boldanvil.core.sheet.SheetSource;
import boldanvil.core.user.Log;
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
    private static final Place JOURNAL_PLACE = Place.named("journal");
    private static final int HISTORY = 500;
    private static final String JOURNAL = ".journal";
    private static final String CHANGED = "Another program changed the project's files since they were opened.";
    private static final String DISCARD_OR_KEEP =
            "Choose 'Reload from disk' to discard your edits, or 'Save over the files on disk' to keep them.";

    /** A change that was made. */
    private record Edit(String name, Project before, Project after) {}

    private final Executor background;
    private final Executor journals;
    private final Executor window;
    private final List<Runnable> listeners = new ArrayList<>();
    private final Deque<Edit> done = new ArrayDeque<>();
    private final Deque<Edit> undone = new ArrayDeque<>();
    private final List<Finding> notices = new ArrayList<>();
    private Path folder;
    private Project project;
    private Project saved;
    private Review review;
    private volatile long generation;
    private long reviewed;
    private DiskState disk = DiskState.NONE;
    private ProjectLock lock;

    /**
     * @param background runs reviews, one after the other
     * @param window runs what must happen on the window's thread
     */
    public Workspace(Executor background, Executor window) {
        this(background, background, window);
    }

    /** @param journals writes the journal, so that an edit is kept while a long review still runs */
    public Workspace(Executor background, Executor journals, Executor window) {
        this.background = background;
        this.journals = journals;
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
     * Opens a project folder. The first who opens it may write; whoever comes later may read.
     *
     * @throws FindingException when it cannot be read; what is open stays open
     */
    public void open(Path projectFolder) {
        open(load(projectFolder));
    }

    /** A project as it was read from its folder. */
    public record Loaded(Path folder, Project project, DiskState disk) {}

    /**
     * Reads a project without opening it, on any thread.
     *
     * @throws FindingException when it cannot be read
     */
    public static Loaded load(Path projectFolder) {
        DiskState state = DiskState.of(projectFolder);
        return new Loaded(projectFolder, ProjectReader.read(projectFolder), state);
    }

    /** Opens a project that was read. */
    public void open(Loaded loaded) {
        Path projectFolder = loaded.folder();
        Project read = loaded.project();
        if (!projectFolder.equals(folder)) {
            close();
        }
        folder = projectFolder;
        disk = loaded.disk();
        saved = read;
        done.clear();
        undone.clear();
        notices.clear();
        if (!mayWrite()) {
            notices.add(Finding.warning("project", ProjectLock.refusal(folder) + "; edits made here cannot be saved.",
                    "Close the other program, or make the folder writable, before you edit here."));
        } else if (Files.exists(journal().resolve("project.json"))) {
            notices.add(Finding.warning(JOURNAL_PLACE, "There are edits that were not saved before the program ended.",
                    "Choose 'Recover unsaved edits' in the command list, or save to discard them."));
        }
        project = read;
        // A review of what was open before would come too late.
        generation++;
        review = Review.pending(read);
        changed();
        reviewLater(false);
    }

    /** Reads the project again from its folder; edits that are not saved are lost. */
    public void reload() {
        open(opened());
    }

    /** Gives up the right to write. */
    public void close() {
        if (lock != null) {
            lock.close();
            lock = null;
        }
    }

    private Path opened() {
        if (folder == null) {
            throw FindingException.of("project", "No project is open.", "Open one first.");
        }
        return folder;
    }

    /** Whether this program may write the project; it takes the right where nobody has it. */
    private boolean mayWrite() {
        if (lock == null) {
            lock = ProjectLock.tryTake(folder, "a window").orElse(null);
        }
        return lock != null;
    }

    /** Looks in the background whether another program changed the project's files. */
    public void compareWithDisk() {
        if (folder == null) {
            return;
        }
        Path looked = folder;
        DiskState known = disk;
        background.execute(() -> {
            DiskState now = DiskState.of(looked);
            if (!now.equals(known)) {
                Optional<Project> there = readable(looked);
                window.execute(() -> compared(looked, known, now, there));
            }
        });
    }

    private static Optional<Project> readable(Path folder) {
        try {
            return Optional.of(ProjectReader.read(folder));
        } catch (FindingException e) {
            return Optional.empty();
        }
    }

    private void compared(Path looked, DiskState known, DiskState now, Optional<Project> there) {
        if (!looked.equals(folder) || !known.equals(disk)) {
            return;
        }
        if (there.isPresent() && there.get().equals(saved)) {
            disk = now;
        } else if (notices.stream().noneMatch(n -> n.cause().equals(CHANGED))) {
            notices.add(Finding.warning("project", CHANGED, isDirty() ? DISCARD_OR_KEEP
                    : "Choose 'Reload from disk' in the command list."));
            changed();
        }
    }

    private Path journal() {
        return folder.resolve(JOURNAL);
    }

    /** Brings back edits from the journal, as one change that can be undone. */
    public void recover() {
        opened();
        Project kept = ProjectReader.read(journal());
        notices.removeIf(n -> n.place().equals(JOURNAL_PLACE));
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

    /** The project as it was last saved, or opened. */
    public Project saved() {
        return saved;
    }

    /** What sheets are drawn from. */
    public SheetSource source() {
        return SheetSource.of(project, review.system(), findings());
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

    /** How many changes can be undone. */
    int depth() {
        return done.size();
    }

    /** Makes the changes after a depth one, so that they are undone together. */
    void join(String name, int depth) {
        if (done.size() > depth + 1) {
            Edit last = done.pop();
            Edit first = last;
            while (done.size() > depth) {
                first = done.pop();
            }
            done.push(new Edit(name, first.before(), last.after()));
        }
    }

    /**
     * Works out a change in the background and makes it, unless something else was changed in the meantime.
     *
     * @param refused is given the findings, on the window's thread, when it cannot be made
     */
    public void editLater(String name, UnaryOperator<Project> how, Consumer<List<Finding>> refused) {
        Project base = project;
        guarded(() -> {
            Project next = how.apply(base);
            window.execute(() -> edit(name, p -> p.equals(base) ? next : p));
        }, refused);
    }

    /** Does something that changes nothing of the project in the background; then, on the window's thread, reports how it went. */
    public void inBackground(Runnable work, Runnable done, Consumer<List<Finding>> refused) {
        guarded(() -> {
            work.run();
            window.execute(done);
        }, refused);
    }

    private void guarded(Runnable work, Consumer<List<Finding>> refused) {
        background.execute(() -> {
            try {
                work.run();
            } catch (FindingException e) {
                window.execute(() -> refused.accept(e.findings()));
            } catch (RuntimeException | StackOverflowError | OutOfMemoryError e) {
                window.execute(() -> refused.accept(List.of(Finding.error("project", "This failed: " + Finding.reason(e) + ".",
                        "Nothing was changed. Report it together with the project."))));
            }
        });
    }

    private void become(Project next) {
        project = next;
        generation++;
        changed();
        reviewLater(true);
    }

    /** Has the project reviewed in the background, unless it changes before its turn comes. */
    private void reviewLater(boolean journalled) {
        long mine = generation;
        Project now = project;
        if (journalled) {
            journals.execute(() -> {
                if (mine == generation) {
                    journal(now, mine);
                }
            });
        }
        background.execute(() -> {
            if (mine != generation) {
                return;
            }
            Review fresh = reviewed(now);
            window.execute(() -> {
                if (mine == generation) {
                    review = fresh;
                    reviewed = mine;
                    changed();
                }
            });
        });
    }

    /** Whether the findings are of an older state of the project. */
    public boolean isReviewing() {
        return reviewed != generation;
    }

    private static Review reviewed(Project next) {
        try {
            return Review.of(next);
        } catch (RuntimeException | StackOverflowError | OutOfMemoryError e) {
            return Review.failed(next, e);
        }
    }

    private void journal(Project next, long mine) {
        if (folder == null || lock == null || mine != generation) {
            return;
        }
        try {
            ProjectWriter.write(next, journal());
        } catch (FindingException e) {
            Log.ignored(Workspace.class, e, "The journal cannot be written; saving will report it.");
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

    /**
     * Writes the project to its folder.
     *
     * @throws FindingException when another program may write it, or changed it since it was opened
     */
    public void save() {
        opened();
        requireRight();
        if (!DiskState.of(folder).equals(disk) && !readable(folder).equals(Optional.of(saved))) {
            throw FindingException.of("project", CHANGED, DISCARD_OR_KEEP);
        }
        write();
    }

    /** Writes the project to its folder, over whatever another program wrote there. */
    public void saveOver() {
        opened();
        requireRight();
        write();
    }

    /**
     * Writes the project into another folder and continues there; the files of the former folder stay as they were last saved.
     *
     * @throws FindingException when the folder holds something else, or cannot be written
     */
    public void saveAs(Path target) {
        Path from = opened();
        if (Files.exists(target.resolve("project.json"))) {
            throw FindingException.of(target.toString(), "There is a project in this folder.", "Choose another folder.");
        }
        Project now = project;
        ProjectWriter.write(now, target);
        Folders.delete(from.resolve(JOURNAL));
        open(target);
    }

    /** Forgets edits that are not saved, so that they are not offered again. */
    public void discard() {
        generation++;
        if (folder != null && lock != null) {
            Folders.delete(journal());
        }
    }

    /** Closes the project; edits that are not saved are lost. */
    public void closeProject() {
        discard();
        close();
        folder = null;
        disk = DiskState.NONE;
        project = Project.empty("No project");
        saved = project;
        done.clear();
        undone.clear();
        notices.clear();
        generation++;
        reviewed = generation;
        review = Review.of(project);
        changed();
    }

    private void requireRight() {
        if (!mayWrite()) {
            throw ProjectLock.refused(folder);
        }
    }

    private void write() {
        // What is on its way to the journal is older than what is saved now.
        generation++;
        ProjectWriter.write(project, folder);
        disk = DiskState.of(folder);
        saved = project;
        notices.clear();
        Folders.delete(journal());
        changed();
        reviewLater(false);
    }
}
