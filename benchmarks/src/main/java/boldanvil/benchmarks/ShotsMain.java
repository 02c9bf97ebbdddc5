package boldanvil.benchmarks;

import boldanvil.core.files.Folders;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.user.TemporaryFiles;
import boldanvil.core.user.UserFolder;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Set;
import javafx.application.Application;

/**
 * Writes a 1280 x 800 picture of every main view of the demo projects. Its parameters are the folder for the pictures and, if those of the
 * start page are to be made too, the folder for them.
 */
public final class ShotsMain {
    private ShotsMain() {}

    public static void main(String[] args) throws IOException {
        if (args.length < 1 || args.length > 2) {
            System.err.println("Usage: bold-anvil shots FOLDER [EXAMPLES]");
            System.exit(2);
        }
        // Pictures show no projects and no habits of whoever makes them.
        System.setProperty(UserFolder.PROPERTY, Files.createTempDirectory("shots-state").toString());
        TemporaryFiles.sweep();
        Path shown = Path.of(System.getProperty("boldanvil.demo", "demo/larkmere-lock"));
        ProjectReader.read(shown);
        // A copy is shown, so that its runs and builds do not change the project.
        Path demos = shown.toAbsolutePath().normalize().getParent();
        Path copies = TemporaryFiles.folder("shots");
        Path copy = copies.resolve(demos.relativize(shown.toAbsolutePath().normalize()));
        copy(demos, copies);
        if (args.length == 2) {
            ExamplePictures.write(demos, Path.of(args[1]));
        }
        try {
            Application.launch(Shots.class, args[0], copy.toString());
        } finally {
            Folders.delete(copies);
        }
        System.exit(0);
    }

    private static void copy(Path from, Path to) throws IOException {
        try (var files = Files.walk(from)) {
            for (Path f : files.toList()) {
                Path relative = from.relativize(f);
                boolean made = relative.getNameCount() > 1 && Set.of("runs", "build").contains(relative.getName(1).toString());
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
