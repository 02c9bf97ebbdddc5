package boldanvil.core.user;

import java.io.IOException;
import java.nio.file.FileStore;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Optional;

/** The folder for the program's own state (XDG Base Directory Specification 0.8); only this user can read it. */
public final class UserFolder {
    /** System property that names the folder; for tests, and for machines shared in unusual ways. */
    public static final String PROPERTY = "boldanvil.state";

    private UserFolder() {}

    /** The folder, made where it is missing; empty where it cannot be made. */
    public static Optional<Path> find() {
        Path folder = place();
        try {
            Files.createDirectories(folder);
            restrict(folder, "rwx------");
            return Files.isWritable(folder) ? Optional.of(folder) : Optional.empty();
        } catch (IOException | SecurityException e) {
            return Optional.empty();
        }
    }

    private static Path place() {
        String named = System.getProperty(PROPERTY);
        if (named != null) {
            return Path.of(named);
        }
        String state = System.getenv("XDG_STATE_HOME");
        Path base = state == null || state.isBlank() || !Path.of(state).isAbsolute()
                ? Path.of(System.getProperty("user.home"), ".local", "state") : Path.of(state);
        return base.resolve("bold-anvil");
    }

    /** Leaves a file or folder to its owner alone, where the file system knows owners. */
    public static void restrict(Path file, String permissions) throws IOException {
        FileStore store = Files.getFileStore(file);
        if (store.supportsFileAttributeView("posix")) {
            Files.setPosixFilePermissions(file, PosixFilePermissions.fromString(permissions));
        }
    }
}
