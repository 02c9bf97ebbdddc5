package boldanvil.app;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** A copy of the demo project for one test. */
public final class Demo {
    public static final Path ORIGINAL = Path.of("../demo/larkmere-lock");

    private Demo() {}

    /** Copies the demo's files, not its runs and builds, into a folder. */
    public static Path copyTo(Path folder) throws IOException {
        return copyTo(folder, ORIGINAL);
    }

    /** Copies another demo project, by the name of its folder. */
    public static Path copyTo(Path folder, String name) throws IOException {
        return copyTo(folder, ORIGINAL.resolveSibling(name));
    }

    private static Path copyTo(Path folder, Path original) throws IOException {
        try (var files = Files.walk(original)) {
            for (Path f : files.toList()) {
                Path relative = original.relativize(f);
                String first = relative.getName(0).toString();
                if (first.equals("runs") || first.equals("build")) {
                    continue;
                }
                Path target = folder.resolve(relative.toString());
                if (Files.isDirectory(f)) {
                    Files.createDirectories(target);
                } else {
                    Files.copy(f, target);
                }
            }
        }
        return folder;
    }
}
