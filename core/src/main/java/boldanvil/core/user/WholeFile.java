package boldanvil.core.user;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;

/** Files that are replaced only when all is written: whoever reads one finds its former content or the new one, never a piece. */
public final class WholeFile {
    private WholeFile() {}

    /** Writes the file it is given. */
    @FunctionalInterface
    public interface Content {
        void to(Path file) throws IOException;
    }

    /** Has a file written beside this one and moves it here; on failure nothing of it is left. */
    public static void write(Path file, Content content) throws IOException {
        Path beside = file.resolveSibling("." + file.getFileName() + "." + ProcessHandle.current().pid() + ".part");
        try {
            content.to(beside);
            Files.move(beside, file, StandardCopyOption.REPLACE_EXISTING);
        } finally {
            Files.deleteIfExists(beside);
        }
    }
}
