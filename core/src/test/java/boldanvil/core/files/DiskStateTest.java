package boldanvil.core.files;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Variable;
import boldanvil.core.testing.PartBuilder;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class DiskStateTest {
    @TempDir
    private Path folder;

    private DiskState before;

    @BeforeEach
    void project() {
        ProjectWriter.write(Project.empty("p").withParts(List.of(new PartBuilder("a").block("c", "constant").part(),
                new PartBuilder("b").block("c", "constant").part())), folder);
        before = DiskState.of(folder);
    }

    @Test
    void itHoldsTheFilesOfTheProjectAndNothingElse() throws IOException {
        assertThat(before.files()).containsKeys("project.json", "parts/a.json", "parts/b.json");
        Files.createDirectories(folder.resolve(".journal"));
        Files.writeString(folder.resolve(".journal/project.json"), "{}");
        Files.createDirectories(folder.resolve("runs/1"));
        Files.writeString(folder.resolve("runs/1/run.json"), "{}");
        Files.writeString(folder.resolve("notes.txt"), "x");
        assertThat(DiskState.of(folder)).isEqualTo(before);
    }

    @Test
    void aSaveOfTheSameLeavesIt() {
        ProjectWriter.write(ProjectReader.read(folder), folder);
        assertThat(DiskState.of(folder)).isEqualTo(before);
    }

    @Test
    void anyOtherFileChangesIt() throws IOException {
        ProjectWriter.write(ProjectReader.read(folder).withVariables(List.of(new Variable("k", "1", ""))), folder);
        DiskState changed = DiskState.of(folder);
        assertThat(changed).isNotEqualTo(before);
        Files.delete(folder.resolve("parts/b.json"));
        assertThat(DiskState.of(folder)).isNotEqualTo(changed);
        assertThat(DiskState.of(folder.resolve("none"))).isEqualTo(DiskState.NONE);
    }
}
