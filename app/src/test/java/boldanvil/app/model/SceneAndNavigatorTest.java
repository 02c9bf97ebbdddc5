package boldanvil.app.model;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.Demo;
import boldanvil.core.sheet.SheetScene;
import boldanvil.core.sheet.SheetScene.PortKind;
import boldanvil.core.finding.Place;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.program.Type;
import java.io.IOException;
import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class SceneAndNavigatorTest {
    @TempDir
    private Path folder;

    private final Workspace w = new Workspace(Runnable::run, Runnable::run);
    private final Navigator nav = new Navigator(w);

    @BeforeEach
    void open() throws IOException {
        w.open(Demo.copyTo(folder));
    }

    private SheetScene scene(String path) {
        nav.open(path);
        return nav.sheet().map(r -> SheetScene.of(w.source(), r, nav.path())).orElseGet(() -> SheetScene.system(w.source()));
    }

    private static SheetScene.Node node(SheetScene s, String title) {
        return s.nodes().stream().filter(n -> n.title().equals(title)).findFirst().orElseThrow();
    }

    @Test
    void theSystemSheetShowsThePartsWithTheirPorts() {
        var s = scene("");
        assertThat(s.nodes()).hasSize(4);
        var c = node(s, "Paddle controller");
        assertThat(c.inputs()).containsExactly("shunt A", "shunt B", "shaft", "enable", "reset");
        assertThat(c.outputs()).containsExactly("leg A", "leg B", "fault");
        assertThat(c.chip()).isEqualTo("every 100 µs");
        assertThat(c.opens()).isTrue();
        assertThat(s.links()).hasSize(9).allMatch(l -> l.type() != null);
    }

    @Test
    void aSubsystemShowsItsInletsAndOutletsAndItsOwnSampleTime() {
        var n = node(scene("controller"), "position loop");
        assertThat(n.inputs()).containsExactly("shaft", "run");
        assertThat(n.outputs()).containsExactly("demand");
        assertThat(n.chip()).isEqualTo("every 1 ms");
    }

    @Test
    void typesAreKnownThroughSubsystemBorders() {
        var main = scene("controller");
        assertThat(main.links()).allMatch(l -> l.type() != null);
        var run = node(main, "run").id();
        assertThat(main.links()).filteredOn(l -> l.wire().from().equals(run)).allMatch(l -> l.type() == Type.BOOL);
        var inner = scene("controller/position loop");
        var inlet = node(inner, "run").id();
        assertThat(inner.links()).filteredOn(l -> l.wire().from().equals(inlet)).isNotEmpty().allMatch(l -> l.type() == Type.BOOL);
    }

    @Test
    void aSumShowsItsSignsAtItsInputs() {
        assertThat(node(scene("controller"), "difference").ports(PortKind.INPUT)).extracting(SheetScene.Port::label)
                .containsExactly("+", "−");
        assertThat(node(scene("controller/position loop"), "goal").ports(PortKind.INPUT)).extracting(SheetScene.Port::label)
                .containsExactly("yes", "if", "no");
    }

    @Test
    void aLiveParameterMarksItsPlate() {
        var s = scene("controller/position loop");
        assertThat(node(s, "target").live()).isTrue();
        assertThat(node(s, "lag").live()).isFalse();
    }

    @Test
    void aFindingShowsAtTheBlockAndAtWhatItIsWithin() {
        w.edit("break", p -> p.change(new SheetRef("controller", "position-loop"), s -> s.change("b3", b -> b.with("k", "nope"))));
        assertThat(node(scene(""), "Paddle controller").flagged()).isTrue();
        assertThat(node(scene("controller"), "position loop").flagged()).isTrue();
        assertThat(node(scene("controller"), "current loop").flagged()).isFalse();
        assertThat(node(scene("controller/position loop"), "scale").flagged()).isTrue();
    }

    @Test
    void portsLieOnTheEdgesInOrder() {
        var n = node(scene("controller/position loop"), "goal");
        var inputs = n.ports(PortKind.INPUT).stream().map(n::at).toList();
        assertThat(inputs).extracting(SheetScene.Point::x).containsOnly(n.x());
        assertThat(n.at(n.ports(PortKind.OUTPUT).getFirst()).x()).isEqualTo(n.x() + n.width());
        assertThat(inputs.get(0).y()).isLessThan(inputs.get(1).y());
        assertThat(inputs.get(2).y()).isLessThan(n.y() + n.height());
        assertThat(n.contains(n.x() + 5, n.y() + 5)).isTrue();
        assertThat(n.contains(n.x() - 5, n.y() + 5)).isFalse();
        assertThat(n.moved(10, 20).at(n.ports().getFirst()).x()).isEqualTo(inputs.getFirst().x() + 10);
    }

    @Test
    void theWayIsShownAsCrumbs() {
        nav.open("controller/position loop");
        assertThat(nav.crumbs()).extracting(Navigator.Crumb::title).containsExactly("Larkmere Lock", "Paddle controller", "position loop");
        assertThat(nav.crumbs()).extracting(Navigator.Crumb::path).containsExactly("", "controller", "controller/position loop");
        nav.up();
        assertThat(nav.path()).isEqualTo("controller");
        nav.up();
        nav.up();
        assertThat(nav.path()).isEmpty();
    }

    @Test
    void enteringGoesIn() {
        nav.enter("controller");
        assertThat(nav.sheet()).hasValue(new SheetRef("controller", "main"));
        var loop = node(SheetScene.of(w.source(), nav.sheet().orElseThrow(), nav.path()), "position loop");
        nav.enter(loop.id());
        assertThat(nav.path()).isEqualTo("controller/position loop");
    }

    @Test
    void aPathThatIsGoneOpensWhatIsLeftOfIt() {
        nav.open("controller/nothing/deeper");
        assertThat(nav.path()).isEqualTo("controller");
        nav.open("ghost");
        assertThat(nav.path()).isEmpty();
    }

    @Test
    void aFindingsPlaceOpensItsSheetAndNamesItsBlock() {
        nav.show(Place.sheet("controller/position loop/scale", "k"));
        assertThat(nav.path()).isEqualTo("controller/position loop");
        assertThat(nav.takeWanted()).isEqualTo("scale");
        assertThat(nav.takeWanted()).isEmpty();
    }
}
