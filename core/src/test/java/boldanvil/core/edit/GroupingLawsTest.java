package boldanvil.core.edit;

import static boldanvil.core.edit.GroupedSheet.values;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Lane;
import boldanvil.core.diagram.Look;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Side;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.review.Review;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.RandomSheets;
import java.nio.file.Path;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.stream.Collectors;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.LongRange;
import org.junit.jupiter.api.Test;

/** Making and dissolving subsystems changes nothing that is computed. */
class GroupingLawsTest {
    @Property(tries = 60)
    void aSubsystemOfAnySelectionComputesTheSameAndSoDoesWhatIsLeftOfIt(@ForAll @LongRange(min = 0, max = 1_000_000) long seed) {
        var random = GroupedSheet.of(seed);
        if (random.isEmpty()) {
            return;
        }
        Project before = random.get().before();
        var ref = random.get().ref();
        Project grouped = random.get().grouped();
        List<String> expected = values(before);
        assertThat(values(grouped)).isEqualTo(expected);
        Project back = Grouping.dissolve(grouped, ref, ref.part(), random.get().group());
        assertThat(values(back)).isEqualTo(expected);
        assertThat(names(back, ref)).isEqualTo(names(before, ref));
        assertThat(back.parts().getFirst().sheets()).hasSameSizeAs(before.parts().getFirst().sheets());
    }

    private static Set<String> names(Project p, SheetRef ref) {
        return p.sheet(ref).orElseThrow().blocks().stream().map(Block::name).collect(Collectors.toSet());
    }

    @Property(tries = 40)
    void howASheetIsDrawnDoesNotMatter(@ForAll @LongRange(min = 0, max = 1_000_000) long seed) {
        Project before = PartBuilder.project(List.of(RandomSheets.part(seed, 20).part()));
        var random = new Random(seed);
        Project drawn = before.change(before.parts().getFirst().id(), q -> q.withSheets(q.sheets().stream().map(s -> s
                .withBlocks(s.blocks().stream().map(b -> b.looking(new Look(random.nextInt(4), random.nextBoolean(),
                random.nextInt(3) * 100,
                        random.nextInt(3) * 100, List.of(new Look.PortSide("u", Side.values()[random.nextInt(4)]))))).toList())
                .withWires(s.wires().stream().map(w -> w.laid(List.of(new Lane(random.nextBoolean(), random.nextInt(500))))).toList()))
                .toList()));
        assertThat(values(drawn)).isEqualTo(values(before));
    }

    @Test
    void whatTheBenchSaysFollowsIntoTheSubsystemAndOut() {
        Project lock = ProjectReader.read(Path.of("../demo/larkmere-lock"));
        var ref = new SheetRef("controller", "current-loop");
        String path = "controller/current loop";
        Set<String> some = Set.of(idOf(lock, ref, "error"), idOf(lock, ref, "current controller"), idOf(lock, ref, "current demand"));
        Project grouped = Grouping.extract(lock, ref, path, some, "PI");
        assertThat(errors(grouped)).isEqualTo(errors(lock));
        assertThat(Usages.block(grouped, path + "/PI")).hasSameSizeAs(uses(lock, path, "error", "current controller", "current demand"))
                .isNotEmpty();
        Project back = Grouping.dissolve(grouped, ref, path, idOf(grouped, ref, "PI"));
        assertThat(back.bench()).isEqualTo(lock.bench());
        assertThat(errors(back)).isEqualTo(errors(lock));
    }

    private static List<Usages.Use> uses(Project p, String path, String... names) {
        return java.util.Arrays.stream(names).flatMap(n -> Usages.block(p, path + "/" + n).stream()).toList();
    }

    private static List<String> errors(Project p) {
        return Review.of(p).findings().stream().map(f -> f.cause()).sorted().toList();
    }

    private static String idOf(Project p, SheetRef ref, String name) {
        return p.sheet(ref).orElseThrow().blocks().stream().filter(b -> b.name().equals(name)).findFirst().orElseThrow().id();
    }

    @Test
    void onlyWhatCanBeMovedIsMoved() {
        Project lock = ProjectReader.read(Path.of("../demo/larkmere-lock"));
        var ref = new SheetRef("controller", "current-loop");
        assertThatThrownBy(() -> Grouping.extract(lock, ref, "controller/current loop", Set.of(idOf(lock, ref, "demand")), "x"))
                .isInstanceOf(FindingException.class).hasMessageContaining("inlets");
        assertThatThrownBy(() -> Grouping.dissolve(lock, ref, "controller/current loop", idOf(lock, ref, "error")))
                .isInstanceOf(FindingException.class).hasMessageContaining("not a subsystem");
    }
}
