package boldanvil.app.cli;

import boldanvil.app.Shots;
import boldanvil.core.files.Folders;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.user.TemporaryFiles;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import javafx.application.Application;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** Takes pictures of every main view. */
@Command(name = "shots", mixinStandardHelpOptions = true, description = "Writes a 1280 x 800 PNG of every main view of the demo "
        + "and exits.")
final class ShotsCommand implements Callable<Integer> {
    @Parameters(paramLabel = "DIR", description = "Where to write the pictures.")
    private Path folder;

    @Override
    public Integer call() throws IOException {
        Path shown = Path.of(System.getProperty("boldanvil.demo", "demo/larkmere-lock"));
        ProjectReader.read(shown);
        // A copy is shown, so that its runs and builds leave the project alone.
        Path demos = shown.toAbsolutePath().normalize().getParent();
        Path copies = TemporaryFiles.folder("shots");
        Path copy = copies.resolve(demos.relativize(shown.toAbsolutePath().normalize()));
        copy(demos, copies);
        try {
            Application.launch(Shots.class, folder.toString(), copy.toString());
        } catch (UnsupportedOperationException e) {
            throw FindingException.of("shots", "No window can be made here: " + e.getMessage() + ".",
                    "Start it through ./bold-anvil, which draws without a display.");
        } finally {
            Folders.delete(copies);
        }
        return 0;
    }

    private static void copy(Path from, Path to) throws IOException {
        try (var files = Files.walk(from)) {
            for (Path f : files.toList()) {
                Path relative = from.relativize(f);
                boolean made = relative.getNameCount() > 1 && java.util.Set.of("runs", "build").contains(relative.getName(1).toString());
                if (!made) {
                    Path target = to.resolve(relative.toString());
                    if (Files.isDirectory(f)) {
                        Files.createDirectories(target);
                    } else {
                        Files.copy(f, target);
                    }
                }
            }
        }
    }
}
