package boldanvil.core.edit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Variable;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.Variables;
import boldanvil.core.review.Review;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** Names are changed everywhere they are used, and nowhere else. */
class RenamingTest {
    private static final Project LOCK = ProjectReader.read(Path.of("../demo/larkmere-lock"));
    private static final Project DRIVE = ProjectReader.read(Path.of("../demo/gate-drive"));

    private static List<String> causes(Project p) {
        return Review.of(p).findings().stream().map(f -> f.cause()).sorted().toList();
    }

    @Test
    void everyVariableCanBeRenamedAndBack() {
        for (Project p : List.of(LOCK, DRIVE)) {
            for (Variable v : p.variables()) {
                Project next = Renaming.variable(p, v.name(), "renamed_variable");
                assertThat(Variables.resolve(next.variableTexts()).errors()).as(v.name()).isEmpty();
                assertThat(Usages.variable(next, "renamed_variable")).as(v.name()).hasSameSizeAs(Usages.variable(p, v.name()));
                assertThat(Renaming.variable(next, "renamed_variable", v.name())).isEqualTo(p);
            }
        }
        assertThat(causes(Renaming.variable(LOCK, "Kp_x", "gain_x"))).isEqualTo(causes(LOCK));
    }

    @Test
    void unitsAndFunctionsOfTheSameNameStay() {
        assertThat(Formula.replaced("3 mm + m * abs(m)", Map.of("m", "mass"), Set.of("m"))).isEqualTo("3 mm + mass * abs(mass)");
        assertThat(Formula.replaced("min(min, a)", Map.of("min", "low"), Set.of("min", "a"))).isEqualTo("min(low, a)");
        assertThat(Formula.replaced("[a, b; a]", Map.of("a", "x"), Set.of("a", "b"))).startsWith("[x, b");
        assertThat(Formula.replaced("a.b", Map.of("z", "x"), Set.of())).isEqualTo("a.b");
    }

    @Test
    void everyBlockCanBeRenamedAndBack() {
        for (Project p : List.of(LOCK, DRIVE)) {
            for (var part : p.parts()) {
                for (var sheet : part.sheets()) {
                    var ref = new SheetRef(part.id(), sheet.id());
                    for (var b : sheet.blocks()) {
                        Project next = Renaming.block(p, ref, b.id(), "renamed block");
                        assertThat(Renaming.block(next, ref, b.id(), b.name())).as("%s %s", ref, b.name()).isEqualTo(p);
                    }
                }
            }
        }
    }

    @Test
    void aTapKeepsItsPlacesOnTheBench() {
        var ref = new SheetRef("controller", "current-loop");
        String id = LOCK.sheet(ref).orElseThrow().blocks().stream().filter(b -> b.name().equals("current demand")).findFirst().orElseThrow()
                .id();
        Project next = Renaming.block(LOCK, ref, id, "wanted current");
        assertThat(causes(next)).isEqualTo(causes(LOCK));
        assertThat(ProjectWriter.files(next).get("bench/bench.json")).contains("controller.current_loop.wanted_current")
                .doesNotContain("current_loop.current_demand");
    }

    @Test
    void aPartIsRenamedInRigsPatchesAndOnTheBench() {
        Project next = Renaming.part(LOCK, "controller", "brain");
        assertThat(causes(next)).isEqualTo(causes(LOCK));
        assertThat(next.patches()).containsKey("brain").doesNotContainKey("controller");
        assertThat(ProjectWriter.files(next).get("project.json")).doesNotContain("\"controller");
        assertThat(Renaming.part(next, "brain", "controller")).isEqualTo(LOCK);
    }

    @Test
    void namesThatAreTakenOrNoNamesAreRefused() {
        assertThatThrownBy(() -> Renaming.variable(LOCK, "R", "L")).isInstanceOf(FindingException.class);
        assertThatThrownBy(() -> Renaming.variable(LOCK, "R", "2x")).isInstanceOf(FindingException.class);
        assertThatThrownBy(() -> Renaming.part(LOCK, "drive", "controller")).isInstanceOf(FindingException.class);
        assertThatThrownBy(() -> Renaming.part(LOCK, "drive", "Drive!")).isInstanceOf(FindingException.class);
        var ref = new SheetRef("controller", "current-loop");
        String id = LOCK.sheet(ref).orElseThrow().blocks().getFirst().id();
        assertThatThrownBy(() -> Renaming.block(LOCK, ref, id, "error")).isInstanceOf(FindingException.class);
        assertThatThrownBy(() -> Renaming.block(LOCK, ref, id, "a/b")).isInstanceOf(FindingException.class);
    }

    @Test
    void textsAreFoundAndReplaced() {
        var search = new Search("Kp_x", true, true);
        var hits = search.in(LOCK);
        assertThat(hits).extracting(Search.Hit::place).contains(new Place.Variable("Kp_x"));
        assertThat(hits).anyMatch(h -> h.field() == Search.Field.VALUE && h.place().text().startsWith("controller/position loop"));
        Project next = search.replace(LOCK, hits.stream().filter(h -> h.field() == Search.Field.NAME).toList(), "Kp_pos");
        assertThat(new Search("Kp_x", true, true).in(next)).isEmpty();
        assertThat(causes(next)).isEqualTo(causes(LOCK));
        assertThat(new Search("kP_X", false, false).in(LOCK)).isNotEmpty();
        assertThat(new Search("kP_X", true, false).in(LOCK)).isEmpty();
        assertThat(new Search("saturation", false, false).in(LOCK)).anyMatch(h -> h.field() == Search.Field.TYPE);
    }
}
