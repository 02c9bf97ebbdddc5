package boldanvil.core.compare;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Lane;
import boldanvil.core.diagram.Library;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.FindingException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.eclipse.jgit.api.Git;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What differs is said once, at its place, with what it was and what it is. */
class ProjectDiffTest {
    private static final Project LOCK = ProjectReader.read(Path.of("../demo/larkmere-lock"));
    private static final SheetRef LOOP = new SheetRef("controller", "current-loop");

    private static List<String> texts(Project a, Project b) {
        return ProjectDiff.of(a, b).stream().map(c -> c.place().text() + ": " + c.text()).toList();
    }

    private static Block named(Project p, String name) {
        return p.sheet(LOOP).orElseThrow().blocks().stream().filter(b -> b.name().equals(name)).findFirst().orElseThrow();
    }

    @Test
    void aProjectDoesNotDifferFromItself() {
        assertThat(ProjectDiff.of(LOCK, LOCK)).isEmpty();
        assertThat(ProjectDiff.sameFiles(LOCK, LOCK)).isTrue();
    }

    @Test
    void valuesBlocksAndWiresAreCompared() {
        Block error = named(LOCK, "error");
        Block off = named(LOCK, "off");
        Project next = LOCK.change(LOOP, s -> s.change(off.id(), b -> b.with("value", "1 V").named("low"))
                .add(Block.of("b99", "gain", "more", 0, 0, Map.of("k", "2"))).add(new Wire(error.id(), "y", "b99", "u")));
        assertThat(texts(LOCK, next)).containsExactlyInAnyOrder(
                "controller/current loop/low: name: off → low",
                "controller/current loop/low: value: " + off.settings().get("value") + " → 1 V",
                "controller/current loop/more: block added: more (Gain)",
                "controller/current loop: wire added: error.y → more.u");
        assertThat(texts(next, LOCK)).anyMatch(t -> t.contains("block removed: more (Gain)")).anyMatch(t -> t.contains("wire removed"));
    }

    @Test
    void aDefaultThatIsWrittenDownIsNoDifference() {
        Block off = named(LOCK, "off");
        Project next = LOCK.change(LOOP, s -> s.change(off.id(), b -> b.with("type", "real")));
        assertThat(ProjectDiff.of(LOCK, next)).isEmpty();
        assertThat(ProjectDiff.sameFiles(LOCK, next)).isFalse();
    }

    @Test
    void whatOnlyMovesIsLayout() {
        Block off = named(LOCK, "off");
        Wire wire = LOCK.sheet(LOOP).orElseThrow().wires().getFirst();
        Project next = LOCK.change(LOOP, s -> s.change(off.id(), b -> b.at(0, 0)).remove(wire).add(wire.laid(List.of(new Lane(true, 5)))));
        assertThat(ProjectDiff.of(LOCK, next)).hasSize(2).allMatch(Change::layout);
    }

    @Test
    void everythingElseIsComparedToo() {
        Project next = LOCK.named("Other").withVariables(LOCK.variables().subList(1, LOCK.variables().size()))
                .withRigs(LOCK.rigs().subList(1, LOCK.rigs().size())).change("drive", p -> p.titled("Drive of the paddle"))
                .withBench(LOCK.bench().withCharts(List.of()));
        assertThat(ProjectDiff.of(LOCK, next)).extracting(Change::what).contains("project", "variable", "rig", "part", "chart");
    }

    @Test
    void everyDifferenceOfTheFilesIsFound() {
        // Each block removed in turn.
        for (Block b : LOCK.sheet(LOOP).orElseThrow().blocks()) {
            Project next = LOCK.change(LOOP, s -> s.removeBlocks(Set.of(b.id())));
            assertThat(ProjectDiff.of(LOCK, next)).as(b.name()).anyMatch(c -> c.kind() == Change.Kind.REMOVED && c.id().equals(b.id()));
        }
    }

    @Test
    void revisionsAreReadFromTheRepository(@TempDir Path folder) throws Exception {
        Path project = folder.resolve("lock");
        var own = Library.EMPTY.with(new OwnBlock("ramp", "Ramp", "", "", "", "", "", List.of(), List.of(Sheet.empty("@ramp"))));
        ProjectWriter.write(LOCK, project);
        try (var git = Git.init().setDirectory(folder.toFile()).call()) {
            git.add().addFilepattern(".").call();
            git.commit().setMessage("first").setAuthor("A", "a@example.org").setCommitter("A", "a@example.org").setSign(false).call();
            ProjectWriter.write(LOCK.named("Second").withLibrary(own), project);
            git.add().addFilepattern(".").call();
            git.commit().setMessage("second").setAuthor("A", "a@example.org").setCommitter("A", "a@example.org").setSign(false).call();
        }
        assertThat(Revisions.of(project, 10)).extracting(Revisions.Revision::message).containsExactly("second", "first");
        assertThat(Revisions.read(project, "HEAD~1")).isEqualTo(LOCK);
        assertThat(Revisions.read(project, "HEAD").name()).isEqualTo("Second");
        assertThat(Revisions.read(project, "HEAD").library()).isEqualTo(own);
        for (String none : new String[] {"no-such", "HEAD~9", "", "..", "HEAD^{tree}^"}) {
            assertThatThrownBy(() -> Revisions.read(project, none)).as(none).isInstanceOf(FindingException.class);
        }
    }

    @Test
    void aFolderWithoutVersionControlIsAFinding(@TempDir Path folder) {
        assertThatThrownBy(() -> Revisions.of(folder, 1)).isInstanceOf(FindingException.class).hasMessageContaining("version control");
    }
}
