package boldanvil.core.user;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class TemporaryFilesTest {
    @TempDir
    private Path folder;

    private String before;

    @BeforeEach
    void ownFolder() {
        before = System.getProperty("java.io.tmpdir");
        System.setProperty("java.io.tmpdir", folder.toString());
    }

    @AfterEach
    void commonFolder() {
        System.setProperty("java.io.tmpdir", before);
    }

    private static long deadProcess() throws IOException {
        var p = new ProcessBuilder("true").start();
        p.onExit().join();
        return p.pid();
    }

    @Test
    void whatADeadProcessLeftIsRemovedAndNothingElse() throws IOException {
        long dead = deadProcess();
        Path theirs = Files.createDirectories(folder.resolve("bold-anvil-" + dead + "-image17").resolve("deep"));
        Files.writeString(theirs.resolve("part.so"), "x");
        Files.writeString(folder.resolve("bold-anvil-" + dead + "-wave"), "x");
        Path mine = TemporaryFiles.folder("image");
        Path file = TemporaryFiles.file("wave", ".bin");
        Path stranger = Files.writeString(folder.resolve("bold-anvil-notes.txt"), "x");
        Path link = Files.createSymbolicLink(folder.resolve("bold-anvil-" + dead + "-link"), stranger);
        TemporaryFiles.sweep();
        try (var left = Files.list(folder)) {
            assertThat(left).containsExactlyInAnyOrder(mine, file, stranger, link);
        }
    }

    @Test
    void namesCarryTheProcess() throws IOException {
        assertThat(TemporaryFiles.folder("image").getFileName().toString())
                .startsWith("bold-anvil-" + ProcessHandle.current().pid() + "-image");
        assertThat(TemporaryFiles.file("wave", ".bin").getFileName().toString()).endsWith(".bin");
    }

    @Test
    void aFolderThatIsMissingIsMade() throws IOException {
        System.setProperty("java.io.tmpdir", folder.resolve("not/there").toString());
        assertThat(TemporaryFiles.file("wave", ".bin")).exists();
    }
}
