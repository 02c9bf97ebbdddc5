package boldanvil.app.sheet;

import boldanvil.app.page.Command;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Chooser;
import boldanvil.core.compare.Revisions;
import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.runs.RunShelf;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.function.BiConsumer;
import javafx.scene.Node;
import javafx.stage.DirectoryChooser;

/** Chooses the state with which the open project is compared. */
final class CompareCommands {
    private static final int MOST = 100;

    private final PageHost host;
    private final Node owner;
    private final BiConsumer<String, Project> compare;

    /** @param compare gets the name of the other state, and that state */
    CompareCommands(PageHost host, Node owner, BiConsumer<String, Project> compare) {
        this.host = host;
        this.owner = owner;
        this.compare = compare;
    }

    List<Command> all() {
        return List.of(Command.of("Compare with the saved version", "", () -> compare.accept("the saved version", host.workspace().saved()))
                .in("Project"), Command.of("Compare with another project …", "", this::compareFolder).in("Project"),
                Command.of("Compare with a revision …", "", this::compareRevision).in("Project"),
                Command.of("Compare with the project of a run …", "", this::compareRun).in("Project"));
    }

    private void compareFolder() {
        var chooser = new DirectoryChooser();
        chooser.setTitle("Compare with a project folder");
        var folder = chooser.showDialog(owner.getScene().getWindow());
        if (folder != null) {
            host.workOut(() -> ProjectReader.read(folder.toPath()), p -> compare.accept(folder.getName(), p));
        }
    }

    private void compareRevision() {
        host.workspace().folder().ifPresent(folder -> host.workOut(() -> Revisions.of(folder, MOST), all -> choose(folder, all)));
    }

    private void compareRun() {
        host.workspace().folder().ifPresent(folder -> host.workOut(() -> new RunShelf(folder.resolve("runs")).list().stream()
                .filter(e -> Files.isDirectory(e.folder().resolve("project"))).toList(), this::chooseRun));
    }

    private void chooseRun(List<RunShelf.Entry> all) {
        if (all.isEmpty()) {
            host.showMessage("There is no run yet that holds its project. Run a rig first.");
            return;
        }
        var window = owner.getScene().getWindow();
        Chooser.show(window, window.getX() + 400, window.getY() + 120, 520, "runs-to-compare", "Rig or time of the run",
                t -> all.stream().filter(e -> (e.id() + e.note().rig()).toLowerCase(Locale.ROOT).contains(t.toLowerCase(Locale.ROOT)))
                        .toList(),
                e -> new Chooser.Reading(e.id(), e.note().rig()),
                e -> host.workOut(() -> ProjectReader.read(e.folder().resolve("project")), p -> compare.accept("run " + e.id(), p)));
    }

    private void choose(Path folder, List<Revisions.Revision> all) {
        var window = owner.getScene().getWindow();
        Chooser.show(window, window.getX() + 400, window.getY() + 120, 520, "revisions", "Commit, author or message",
                t -> all.stream().filter(r -> (r.id() + r.author() + r.message() + r.when()).toLowerCase(Locale.ROOT)
                        .contains(t.toLowerCase(Locale.ROOT))).toList(),
                r -> new Chooser.Reading(r.message(), r.when().substring(0, 10) + "  " + r.brief()),
                r -> host.workOut(() -> Revisions.read(folder, r.id()), p -> compare.accept("revision " + r.brief(), p)));
    }
}
