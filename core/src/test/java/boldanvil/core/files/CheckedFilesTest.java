package boldanvil.core.files;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class CheckedFilesTest {
    @TempDir
    private Path folder;

    @Test
    void whatFitsIsKnownToTheNextProgram() {
        Path file = folder.resolve("state/checked");
        String key = CheckedFiles.key("part", "{}");
        var first = new CheckedFiles(Optional.of(file));
        assertThat(first.contains(key)).isFalse();
        first.add(key);
        assertThat(new CheckedFiles(Optional.of(file)).contains(key)).isTrue();
        assertThat(new CheckedFiles(Optional.of(file)).contains(CheckedFiles.key("part", "{ }"))).as("another text").isFalse();
        assertThat(new CheckedFiles(Optional.of(file)).contains(CheckedFiles.key("bench", "{}"))).as("another schema").isFalse();
    }

    @Test
    void theListIsBounded() throws Exception {
        Path file = folder.resolve("checked");
        var list = new CheckedFiles(Optional.of(file));
        for (int i = 0; i < 4_100; i++) {
            list.add(String.format("%064d", i));
        }
        assertThat(Files.readAllLines(file)).hasSizeLessThan(4_001);
        assertThat(new CheckedFiles(Optional.of(file)).contains(String.format("%064d", 4_099))).isTrue();
    }

    @Test
    void damagedOrMissingListsOnlyCostTime() throws Exception {
        Path file = folder.resolve("checked");
        Files.writeString(file, "nonsense\n\0\n");
        assertThat(new CheckedFiles(Optional.of(file)).contains(CheckedFiles.key("part", "{}"))).isFalse();
        var none = new CheckedFiles(Optional.empty());
        none.add(CheckedFiles.key("part", "{}"));
        assertThat(none.contains(CheckedFiles.key("part", "{}"))).isFalse();
    }
}
