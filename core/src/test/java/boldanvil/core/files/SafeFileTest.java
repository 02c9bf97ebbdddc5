package boldanvil.core.files;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

@Timeout(30)
class SafeFileTest {
    @TempDir
    private Path temporary;

    private Path folder;

    @BeforeEach
    void folder() throws IOException {
        folder = Files.createDirectory(temporary.resolve("project"));
        Files.writeString(temporary.resolve("outside.txt"), "secret");
    }

    @ParameterizedTest
    @ValueSource(strings = {"../outside.txt", "a/../../outside.txt", "/etc/hostname", "", ".", "a\0b"})
    void namesThatLeadOutAreRefused(String name) {
        assertThatThrownBy(() -> SafeFile.within(folder, name)).isInstanceOf(FindingException.class);
    }

    @Test
    void namesInsideArePaths() {
        assertThat(SafeFile.within(folder, "parts/a.json")).isEqualTo(folder.resolve("parts").resolve("a.json"));
        assertThat(SafeFile.within(folder, "parts/../a.json")).isEqualTo(folder.resolve("a.json"));
    }

    @Test
    void theFolderMayBeTheCurrentOneOrGoBack() {
        assertThat(SafeFile.within(Path.of("."), "parts/a.json")).isEqualTo(Path.of("./parts/a.json"));
        assertThat(SafeFile.within(Path.of(""), "parts/a.json")).isEqualTo(Path.of("parts/a.json"));
        assertThat(SafeFile.within(Path.of("x/../y"), "a.json")).isEqualTo(Path.of("x/../y/a.json"));
        assertThat(SafeFile.within(Path.of(".."), "a.json")).isEqualTo(Path.of("../a.json"));
        assertThatThrownBy(() -> SafeFile.within(Path.of("."), "../a.json")).isInstanceOf(FindingException.class);
        assertThatThrownBy(() -> SafeFile.within(Path.of(".."), "../a.json")).isInstanceOf(FindingException.class);
    }

    @Test
    void aLinkOutOfTheFolderIsNotFollowed() throws IOException {
        Path link = Files.createSymbolicLink(folder.resolve("link.txt"), temporary.resolve("outside.txt"));
        assertThatThrownBy(() -> SafeFile.text(folder, link, 100)).isInstanceOf(FindingException.class)
                .hasMessageContaining("link to a place outside");
        assertThat(SafeFile.exists(folder, link)).isFalse();
        Path inside = Files.writeString(folder.resolve("inside.txt"), "mine");
        Path good = Files.createSymbolicLink(folder.resolve("good.txt"), inside);
        assertThat(SafeFile.text(folder, good, 100)).isEqualTo("mine");
        Path dangling = Files.createSymbolicLink(folder.resolve("dangling"), folder.resolve("nothing"));
        assertThatThrownBy(() -> SafeFile.text(folder, dangling, 100)).isInstanceOf(FindingException.class);
    }

    @Test
    void pipesDevicesAndFoldersAreNotRead() throws Exception {
        Path pipe = folder.resolve("pipe");
        assertThat(new ProcessBuilder("mkfifo", pipe.toString()).start().waitFor()).isZero();
        assertThatThrownBy(() -> SafeFile.bytes(folder, pipe, 100)).isInstanceOf(FindingException.class)
                .hasMessageContaining("not a regular file");
        assertThatThrownBy(() -> SafeFile.bytes(Path.of("/dev/zero"), 100)).isInstanceOf(FindingException.class)
                .hasMessageContaining("not a regular file");
        assertThatThrownBy(() -> SafeFile.bytes(folder, 100)).isInstanceOf(FindingException.class)
                .hasMessageContaining("not a regular file");
        assertThatThrownBy(() -> SafeFile.bytes(folder.resolve("none"), 100)).isInstanceOf(FindingException.class)
                .hasMessageContaining("no such file");
    }

    @Test
    void aFileThatIsTooLargeOrNoTextIsRefused() throws IOException {
        Path large = Files.write(folder.resolve("large"), new byte[101]);
        assertThatThrownBy(() -> SafeFile.bytes(folder, large, 100)).isInstanceOf(FindingException.class);
        assertThat(SafeFile.bytes(folder, large, 101)).hasSize(101);
        Path latin = Files.write(folder.resolve("latin"), "M\u00fchle".getBytes(StandardCharsets.ISO_8859_1));
        assertThatThrownBy(() -> SafeFile.text(folder, latin, 100)).isInstanceOf(FindingException.class).hasMessageContaining("UTF-8");
    }

    @Test
    void aPipeInAProjectIsAFinding() throws Exception {
        var project = boldanvil.core.diagram.Project.empty("p").withParts(java.util.List.of(
                new boldanvil.core.testing.PartBuilder("p").block("c", "constant").part()));
        ProjectWriter.write(project, folder);
        Path part = folder.resolve("parts/p.json");
        Files.delete(part);
        assertThat(new ProcessBuilder("mkfifo", part.toString()).start().waitFor()).isZero();
        assertThatThrownBy(() -> ProjectReader.read(folder)).isInstanceOf(FindingException.class).hasMessageContaining("regular file");
        Files.delete(part);
        Files.createSymbolicLink(part, Path.of("/dev/zero"));
        assertThatThrownBy(() -> ProjectReader.read(folder)).isInstanceOf(FindingException.class).hasMessageContaining("regular file");
        ProjectWriter.write(project, folder);
        Files.deleteIfExists(folder.resolve("boards/patch.json"));
        assertThat(new ProcessBuilder("mkfifo", Files.createDirectories(folder.resolve("boards")).resolve("patch.json").toString()).start()
                .waitFor()).isZero();
        assertThatThrownBy(() -> ProjectReader.read(folder)).isInstanceOf(FindingException.class);
    }
}
