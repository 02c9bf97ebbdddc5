package boldanvil.core.files;

import boldanvil.core.user.Log;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;

/** Whole folders. */
public final class Folders {
    private Folders() {}

    /** Deletes a folder of temporary or derived files with all it holds. What cannot be deleted stays; it does no harm. */
    public static void delete(Path folder) {
        if (!Files.exists(folder)) {
            return;
        }
        try (var files = Files.walk(folder)) {
            files.sorted(Comparator.reverseOrder()).forEach(f -> f.toFile().delete());
        } catch (IOException e) {
            Log.ignored(Folders.class, e, "The folder cannot be removed completely.");
        }
    }
}
