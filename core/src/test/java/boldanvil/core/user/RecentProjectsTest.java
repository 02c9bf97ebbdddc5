package boldanvil.core.user;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class RecentProjectsTest {
    @TempDir
    private Path folder;

    private Path file;

    @BeforeEach
    void file() {
        file = folder.resolve("recent-projects");
    }

    private RecentProjects recent() {
        return new RecentProjects(file);
    }

    @Test
    void theNewestIsFirstAndEachIsThereOnce() {
        for (String name : new String[] {"a", "b", "a", "c/../d"}) {
            recent().opened(folder.resolve(name));
        }
        assertThat(recent().list()).containsExactly(folder.resolve("d"), folder.resolve("a"), folder.resolve("b"));
        recent().forget(folder.resolve("a"));
        assertThat(recent().list()).containsExactly(folder.resolve("d"), folder.resolve("b"));
    }

    @Test
    void twelveAreKept() {
        for (int i = 0; i < 20; i++) {
            recent().opened(folder.resolve("p" + i));
        }
        assertThat(recent().list()).hasSize(12).first().isEqualTo(folder.resolve("p19"));
    }

    @Test
    void aDamagedListCountsAsEmptyAndIsReplaced() throws IOException {
        Files.write(file, new byte[] {0, (byte) 0xff, 7, '\n', 'x', '\n', 0});
        assertThat(recent().list()).isEmpty();
        recent().opened(folder.resolve("a"));
        assertThat(recent().list()).containsExactly(folder.resolve("a"));
        Files.writeString(file, "/x\n".repeat(40_000));
        assertThat(recent().list()).isEmpty();
        Files.delete(file);
        Files.createDirectory(file);
        assertThat(recent().list()).isEmpty();
    }

    @Test
    void whereNothingCanBeKeptNothingFails() {
        var nowhere = new RecentProjects(null);
        nowhere.opened(folder);
        assertThat(nowhere.list()).isEqualTo(List.of());
    }
}
