package boldanvil.app.model;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.app.model.Examples.Example;
import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.review.Review;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

class ExamplesTest {
    @TempDir
    private Path folder;

    static Stream<Example> all() {
        return Stream.concat(Examples.all().stream(), Examples.templates().stream());
    }

    @ParameterizedTest
    @MethodSource("all")
    void eachBecomesAProjectThatRunsOnTheDesk(Example e) throws InterruptedException {
        Path mine = folder.resolve("mine");
        Examples.create(e, "Mine", mine);
        var project = ProjectReader.read(mine);
        assertThat(project.name()).isEqualTo("Mine");
        assertThat(Review.of(project).hasErrors()).isFalse();
        try (var run = RigStarter.prepare(project, "desk", new RunOptions(20_000_000, Double.POSITIVE_INFINITY, List.of(),
                folder.resolve("build")),
                Progress.NONE)) {
            run.start();
            run.awaitEnd();
            assertThat(run.seconds()).isEqualTo(0.02);
        }
    }

    @Test
    void everyExampleHasAPictureAndAnotherLesson() throws IOException {
        assertThat(Examples.all()).extracting(Example::lesson).doesNotHaveDuplicates();
        for (Example e : Examples.all()) {
            try (var in = e.open().orElseThrow(() -> new AssertionError(e.title()))) {
                assertThat(in.read()).isEqualTo(0x89);
            }
        }
    }

    @Test
    void anExampleKeepsEveryFileAndItsName() throws IOException {
        Path mine = folder.resolve("lock");
        Examples.create(Examples.all().get(1), "", mine);
        Path original = Path.of("../demo/larkmere-lock");
        for (String f : new String[] {"project.json", "parts/controller.json", "boards/patch.json", "bench/bench.json"}) {
            assertThat(mine.resolve(f)).hasSameBinaryContentAs(original.resolve(f));
        }
    }

    @Test
    void aFolderWithSomethingInItIsRefused() throws IOException {
        Files.writeString(Files.createDirectories(folder.resolve("full")).resolve("note.txt"), "mine");
        assertThatThrownBy(() -> Examples.create(Examples.templates().getFirst(), "x", folder.resolve("full")))
                .isInstanceOf(FindingException.class).hasMessageContaining("not empty");
        assertThat(folder.resolve("full/note.txt")).hasContent("mine");
        assertThatThrownBy(() -> Examples.create(Examples.templates().getFirst(), "x", folder.resolve("full/note.txt/inside")))
                .isInstanceOf(FindingException.class).hasMessageContaining("cannot be written");
    }
}
