package boldanvil.app.sheet;

import boldanvil.app.page.Command;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Chooser;
import boldanvil.core.compare.Revisions;
import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import java.util.List;
import java.util.Locale;
import java.util.function.BiConsumer;
import java.util.function.Supplier;
import javafx.application.Platform;
import javafx.scene.Node;
import javafx.stage.DirectoryChooser;

/** Chooses the state with which the open project is compared. */
final class CompareCommands {
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
                Command.of("Compare with a revision …", "", this::compareRevision).in("Project"));
    }

    private void compareFolder() {
        var chooser = new DirectoryChooser();
        chooser.setTitle("Compare with a project folder");
        var folder = chooser.showDialog(owner.getScene().getWindow());
        if (folder != null) {
            compareInBackground(folder.getName(), () -> ProjectReader.read(folder.toPath()));
        }
    }

    private void compareRevision() {
        var folder = host.workspace().folder().orElse(null);
        if (folder == null) {
            return;
        }
        host.background().execute(() -> {
            try {
                var revisions = Revisions.of(folder, 100);
                Platform.runLater(() -> Chooser.show(owner.getScene().getWindow(), owner.getScene().getWindow().getX() + 400,
                        owner.getScene().getWindow().getY() + 120, 520, "revisions", "Commit, author or message",
                        t -> revisions.stream().filter(r -> (r.id() + r.author() + r.message() + r.when()).toLowerCase(Locale.ROOT)
                                .contains(t.toLowerCase(Locale.ROOT))).toList(),
                        r -> new Chooser.Reading(r.message(), r.when().substring(0, 10) + "  " + r.brief()),
                        r -> compareInBackground("revision " + r.brief(), () -> Revisions.read(folder, r.id()))));
            } catch (FindingException e) {
                Platform.runLater(() -> host.showMessage(e.findings().getFirst().toString()));
            }
        });
    }

    private void compareInBackground(String name, Supplier<Project> read) {
        host.background().execute(() -> {
            try {
                Project other = read.get();
                Platform.runLater(() -> compare.accept(name, other));
            } catch (FindingException e) {
                Platform.runLater(() -> host.showMessage(e.findings().getFirst().toString()));
            }
        });
    }
}
