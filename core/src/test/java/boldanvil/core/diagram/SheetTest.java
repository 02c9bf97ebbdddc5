package boldanvil.core.diagram;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import org.junit.jupiter.api.Test;

class SheetTest {
    private static Block block(String id, String name) {
        return Block.of(id, "gain", name, 0, 0, Map.of());
    }

    @Property(tries = 50)
    void freshIdsAndNamesAreNew(@ForAll @IntRange(min = 1, max = 60) int n) {
        Sheet s = Sheet.empty("main");
        Set<String> ids = new HashSet<>();
        Set<String> names = new HashSet<>();
        for (int i = 0; i < n; i++) {
            String id = s.freshId();
            String name = s.freshName("Gain");
            assertThat(ids.add(id)).isTrue();
            assertThat(names.add(name)).isTrue();
            s = s.add(block(id, name));
        }
        assertThat(s.blocks()).hasSize(n);
        assertThat(s.freshName("Other")).isEqualTo("Other");
    }

    @Test
    void anInputHasOneWire() {
        Sheet s = Sheet.empty("main").add(block("a", "a")).add(block("b", "b")).add(block("c", "c")).add(new Wire("a", "y", "c", "u"))
                .add(new Wire("b", "y", "c", "u"));
        assertThat(s.wires()).containsExactly(new Wire("b", "y", "c", "u"));
        assertThat(s.wireInto("c", "u")).hasValue(new Wire("b", "y", "c", "u"));
        assertThat(s.wireInto("c", "v")).isEmpty();
    }

    @Test
    void removedBlocksTakeTheirWiresAlong() {
        Sheet s = Sheet.empty("main").add(block("a", "a")).add(block("b", "b")).add(block("c", "c")).add(new Wire("a", "y", "b", "u"))
                .add(new Wire("b", "y", "c", "u"));
        Sheet without = s.removeBlocks(Set.of("b"));
        assertThat(without.blocks()).extracting(Block::id).containsExactly("a", "c");
        assertThat(without.wires()).isEmpty();
        assertThat(s.blocks()).as("what was there stays as it was").hasSize(3);
        assertThat(s.remove(new Wire("a", "y", "b", "u")).wires()).hasSize(1);
    }

    @Test
    void aChangeReachesOneBlockOfOneSheetOfOnePart() {
        var part = new Part("p", "P", Part.Kind.CONTROLLER, "1 ms", "1 ms", "rk4", "float64", 0, 0,
                List.of(Sheet.empty("main").add(block("a", "a")).add(block("b", "b")), Sheet.empty("inner").add(block("a", "x"))));
        Project project = Project.empty("q").withParts(List.of(part));
        Project changed = project.change(new SheetRef("p", "main"), s -> s.change("a",
                b -> b.named("new").with("k", "3").tune("k", true).at(5, 6)));
        Block a = changed.sheet(new SheetRef("p", "main")).orElseThrow().block("a").orElseThrow();
        assertThat(a.name()).isEqualTo("new");
        assertThat(a.settings()).containsEntry("k", "3");
        assertThat(a.tunable()).containsExactly("k");
        assertThat(a.x()).isEqualTo(5);
        assertThat(changed.sheet(new SheetRef("p", "inner"))).isEqualTo(project.sheet(new SheetRef("p", "inner")));
        assertThat(a.tune("k", false).tunable()).isEmpty();
        assertThat(project.part("p").orElseThrow().main().block("a").orElseThrow().name()).isEqualTo("a");
        assertThat(project.sheet(new SheetRef("none", "main"))).isEmpty();
        assertThat(Places.find(changed, "p/new")).hasValueSatisfying(p -> assertThat(p.block().id()).isEqualTo("a"));
        assertThat(Places.find(changed, "p/none")).isEmpty();
    }
}
