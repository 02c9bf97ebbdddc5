package boldanvil.core.bench;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.review.Review;
import boldanvil.core.testing.PartBuilder;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A rig may choose another body for a subsystem. */
class BodiesTest {
    private static Project project() {
        var part = new PartBuilder("p").block("one", "constant", "value=1").block("model", "subsystem", "sheet=exact").block("y", "tap")
                .wire("one.y", "model.u")
                .wire("model.y", "y.u").sheet("exact").block("u", "inlet").block("g", "gain", "k=2").block("y", "outlet").wire("u.y", "g.u")
                .wire("g.y", "y.u")
                .sheet("rough").block("u", "inlet").block("g", "gain", "k=3").block("y", "outlet").wire("u.y", "g.u").wire("g.y", "y.u")
                .part();
        return PartBuilder.project(List.of(part)).withRigs(List.of(new Rig("desk", "", Rig.Terminals.IDEAL, Map.of()),
                new Rig("rough", "", Rig.Terminals.IDEAL, Map.of(), Map.of("p/model", "rough"))));
    }

    private static double last(Project p, String rig) throws InterruptedException {
        try (var run = RigStarter.prepare(p, rig, new RunOptions(2_000_000, Double.POSITIVE_INFINITY, List.of(), Path.of("build")),
                Progress.NONE)) {
            run.start();
            run.awaitEnd();
            return run.store().latest(0);
        }
    }

    @Test
    void eachRigRunsTheBodyItChooses() throws InterruptedException {
        assertThat(last(project(), "desk")).isEqualTo(2);
        assertThat(last(project(), "rough")).isEqualTo(3);
    }

    @Test
    void theChoiceIsKeptInTheProjectFile(@TempDir Path folder) {
        ProjectWriter.write(project(), folder);
        assertThat(ProjectReader.read(folder).rig("rough").orElseThrow().bodies()).containsEntry("p/model", "rough");
    }

    @Test
    void mistakesAreFindingsOfTheRig() {
        var stray = project().withRigs(List.of(new Rig("odd", "", Rig.Terminals.IDEAL, Map.of(), Map.of("p/modle", "rough"))));
        assertThat(Review.of(stray).findings()).anyMatch(f -> f.place().text().equals("rig odd · p/modle"));
        var missing = project().withRigs(List.of(new Rig("odd", "", Rig.Terminals.IDEAL, Map.of(), Map.of("p/model", "nosheet"))));
        assertThat(Review.of(missing).findings()).anyMatch(f -> f.place().text().equals("rig odd · p/model")
                && f.cause().contains("nosheet"));
    }
}
