package boldanvil.app.model;

import boldanvil.core.diagram.Library;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.files.UserBlocks;
import boldanvil.core.finding.Finding;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Executor;
import java.util.function.Consumer;

/** The own blocks in the user's folder, as they were when it was last read. */
public final class OwnShelf {
    private final Executor background;
    private final Executor window;
    private final Runnable changed;
    private final Consumer<Finding> broken;
    private volatile Library library = Library.EMPTY;

    /**
     * @param changed is run on the window's thread when the folder was read
     * @param broken gets what is wrong with a file there
     */
    public OwnShelf(Executor background, Executor window, Runnable changed, Consumer<Finding> broken) {
        this.background = background;
        this.window = window;
        this.changed = changed;
        this.broken = broken;
    }

    /** Reads the folder in the background. */
    public void read() {
        background.execute(this::readNow);
    }

    private void readNow() {
        List<Finding> wrong = new ArrayList<>();
        library = UserBlocks.read(wrong::add);
        window.execute(() -> {
            changed.run();
            wrong.forEach(broken);
        });
    }

    public Library library() {
        return library;
    }

    public Optional<OwnBlock> find(String id) {
        return library.find(id);
    }

    /** Keeps a block with those it uses. To be called in the background. */
    public void save(OwnBlock block, Library from) {
        UserBlocks.save(from.with(block).closure(block.id()));
        readNow();
    }
}
