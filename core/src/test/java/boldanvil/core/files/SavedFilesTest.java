package boldanvil.core.files;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.diagram.Project;
import boldanvil.core.testing.Killed;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

@Timeout(120)
class SavedFilesTest {
    @TempDir
    private Path folder;

    private static Map<String, String> files(String text) {
        Map<String, String> files = new LinkedHashMap<>();
        IntStream.range(0, 20).forEach(i -> files.put((i % 2 == 0 ? "" : "sub/") + i + ".json", text));
        return files;
    }

    private Map<String, String> onDisk() throws IOException {
        Map<String, String> found = new LinkedHashMap<>();
        for (String name : files("").keySet()) {
            if (Files.exists(folder.resolve(name))) {
                found.put(name, Files.readString(folder.resolve(name)));
            }
        }
        return found;
    }

    @Test
    void filesAreWrittenAndNothingIsLeftBeside() throws IOException {
        SavedFiles.write(folder, files("a"));
        assertThat(onDisk()).isEqualTo(files("a"));
        assertThat(folder.resolve(".saving")).doesNotExist();
        var time = Files.getLastModifiedTime(folder.resolve("0.json"));
        var next = files("a");
        next.put("1.json", "b");
        SavedFiles.write(folder, next);
        assertThat(Files.getLastModifiedTime(folder.resolve("0.json"))).as("what is as wanted is left alone").isEqualTo(time);
    }

    @Test
    void aSaveThatCountsAsDoneIsCompletedByWhoeverComesNext() throws IOException {
        SavedFiles.write(folder, files("old"));
        // As if the program had ended after the third file.
        Path beside = Files.createDirectories(folder.resolve(".saving/sub")).getParent();
        for (String name : files("").keySet()) {
            Files.writeString(beside.resolve(name), "new");
        }
        Files.writeString(beside.resolve("list"), String.join("\n", files("").keySet()) + "\n");
        for (String name : List.of("0.json", "sub/1.json", "2.json")) {
            Files.move(beside.resolve(name), folder.resolve(name), java.nio.file.StandardCopyOption.REPLACE_EXISTING);
        }
        assertThat(SavedFiles.isPending(folder)).isTrue();
        SavedFiles.complete(folder);
        assertThat(onDisk()).isEqualTo(files("new"));
        assertThat(beside).doesNotExist();
    }

    @Test
    void aSaveThatDoesNotCountIsForgotten() throws IOException {
        SavedFiles.write(folder, files("old"));
        Path beside = Files.createDirectories(folder.resolve(".saving"));
        Files.writeString(beside.resolve("0.json"), "new");
        Files.writeString(beside.resolve("list.part"), "0.json\n");
        SavedFiles.complete(folder);
        assertThat(onDisk()).isEqualTo(files("old"));
        assertThat(beside).doesNotExist();
    }

    @Test
    void aListOrALinkThatLeadsOutMovesNothingThere(@TempDir Path elsewhere) throws IOException {
        Path beside = Files.createDirectories(folder.resolve(".saving"));
        Files.writeString(beside.resolve("list"), "../escaped.json\n");
        assertThatThrownBy(() -> SavedFiles.complete(folder)).hasMessageContaining("outside");
        assertThat(folder.resolveSibling("escaped.json")).doesNotExist();
        Folders.delete(beside);
        Files.createSymbolicLink(folder.resolve("sub"), elsewhere);
        assertThatThrownBy(() -> SavedFiles.write(folder, files("x"))).isInstanceOf(IOException.class)
                .hasMessageContaining("'sub' is a link");
        Files.delete(folder.resolve("sub"));
        Files.createSymbolicLink(folder.resolve(".saving"), elsewhere);
        SavedFiles.write(folder, files("y"));
        assertThat(elsewhere).isEmptyDirectory();
        assertThat(onDisk()).isEqualTo(files("y"));
    }

    @Test
    void aProcessThatIsKilledWhileItSavesLeavesOneWholeProject() throws Exception {
        ProjectWriter.write(Killed.project(0), folder);
        List<String> seen = new ArrayList<>();
        for (int kill = 0; kill < 8; kill++) {
            var p = Killed.start(Killed.Saver.class, folder.toString(), Integer.toString(1 + 1_000 * kill));
            var out = new java.io.BufferedReader(new java.io.InputStreamReader(p.getInputStream(),
                    java.nio.charset.StandardCharsets.UTF_8));
            for (int i = 0; i < 3 + kill; i++) {
                assertThat(out.readLine()).isNotNull();
            }
            Thread.sleep(kill * 3L);
            String last = "0";
            while (out.ready()) {
                last = out.readLine();
            }
            p.destroyForcibly().onExit().join();
            Project read = ProjectReader.read(folder);
            String number = read.variableTexts().get("n");
            seen.add(number);
            assertThat(read).isEqualTo(Killed.project(Integer.parseInt(number)));
            assertThat(Integer.parseInt(number)).as("nothing that was committed is lost").isGreaterThanOrEqualTo(Integer.parseInt(last));
            assertThat(folder.resolve(".saving")).doesNotExist();
        }
        assertThat(seen).isNotEmpty();
    }
}
