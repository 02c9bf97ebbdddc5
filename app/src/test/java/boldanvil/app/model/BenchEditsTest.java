package boldanvil.app.model;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.Demo;
import boldanvil.core.diagram.BenchLayout;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.diagram.BenchLayout.Control;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class BenchEditsTest {
    @TempDir
    Path folder;

    private final Workspace workspace = new Workspace(Runnable::run, Runnable::run);
    private final BenchEdits edits = new BenchEdits(workspace);

    @BeforeEach
    void open() throws Exception {
        workspace.open(Demo.copyTo(folder.resolve("p")));
    }

    private List<String> controls() {
        return edits.layout().controls().stream().map(Control::tunable).toList();
    }

    @Test
    void aControlMovesBeforeAnotherAndIntoItsGroup() {
        edits.move("panel.enable", "drive.paddle.water_load");
        assertThat(controls()).containsSubsequence("panel.reset", "panel.enable", "drive.paddle.water_load");
        assertThat(edits.layout().controls().stream().filter(c -> c.tunable().equals("panel.enable")).findFirst().orElseThrow().group())
                .isEqualTo("Load and gain");
        edits.move("panel.enable", "panel.enable");
        edits.move("no.such", "panel.enable");
        assertThat(controls()).hasSize(5);
        workspace.undo();
        assertThat(controls().get(1)).isEqualTo("panel.enable");
    }

    @Test
    void aTunableGetsTheControlThatSuitsIt() {
        var system = workspace.review().system();
        var logic = system.program("panel").orElseThrow().tunable("enable").orElseThrow();
        assertThat(BenchEdits.suiting("panel", logic).shape()).isEqualTo(BenchLayout.Shape.SWITCH);
        var limited = system.program("controller").orElseThrow().tunable("position_loop.target").orElseThrow();
        assertThat(BenchEdits.suiting("controller", limited).shape()).isEqualTo(BenchLayout.Shape.SLIDER);
        assertThat(BenchEdits.suiting("controller", limited).maximum()).isEqualTo(limited.maximum());
        var free = system.program("controller").orElseThrow().tunable("position_loop.Kp_position.k").orElseThrow();
        assertThat(BenchEdits.suiting("controller", free).shape()).isEqualTo(BenchLayout.Shape.NUMBER);
        assertThat(edits.addControl("panel", logic)).isFalse();
    }

    @Test
    void aBlockIsSentWithAllItHas() {
        assertThat(edits.send("controller/position loop/speed controller")).isEqualTo(2);
        assertThat(controls()).contains("controller.position_loop.speed_controller.kp", "controller.position_loop.speed_controller.ki");
        assertThat(edits.send("drive/speed")).isEqualTo(1);
        assertThat(edits.layout().charts()).anyMatch(c -> c.taps().equals(List.of("drive.speed")) && c.unit().equals("m/s")
                && c.title().equals("Speed 2"));
        assertThat(edits.send("controller/current loop/off")).isZero();
        assertThat(workspace.findings()).noneMatch(f -> f.place().text().startsWith("bench"));
    }

    @Test
    void panesAreAddedChangedAndRemoved() {
        Chart speed = edits.layout().charts().get(1);
        edits.add(speed);
        assertThat(edits.layout().charts().getLast().title()).isEqualTo("Speed 2");
        edits.replace(speed, speed.based(0.12));
        assertThat(edits.layout().charts().get(1).base()).isEqualTo(0.12);
        edits.remove(edits.layout().charts().getLast());
        assertThat(edits.layout().charts()).hasSize(4);
    }

    @Test
    void aSetOfTheSameNameIsReplaced() {
        edits.keep(new BenchLayout.ValueSet("A", Map.of("panel.enable", 1.0)));
        edits.keep(new BenchLayout.ValueSet("B", Map.of("panel.enable", 1.0)));
        edits.keep(new BenchLayout.ValueSet("A", Map.of("panel.enable", 0.0)));
        assertThat(edits.layout().sets()).extracting(BenchLayout.ValueSet::name).containsExactly("B", "A");
        assertThat(edits.layout().sets().getLast().values()).containsEntry("panel.enable", 0.0);
    }

    @Test
    void aWireIsPinnedByATapOnce() {
        var sheet = workspace.project().part("controller").orElseThrow().sheet("position-loop").orElseThrow();
        var wire = sheet.wires().stream().filter(w -> sheet.block(w.to()).filter(b -> b.type().equals("tap")).isEmpty()
                && sheet.wires().stream().filter(x -> x.from().equals(w.from()) && x.fromPort().equals(w.fromPort()))
                .allMatch(x -> sheet.block(x.to()).filter(b -> b.type().equals("tap")).isEmpty()))
                .findFirst().orElseThrow();
        var sheetEdits = new SheetEdits(workspace);
        var ref = new boldanvil.core.diagram.SheetRef("controller", "position-loop");
        String name = sheetEdits.pin(ref, wire);
        int blocks = workspace.project().part("controller").orElseThrow().sheet("position-loop").orElseThrow().blocks().size();
        assertThat(blocks).isEqualTo(sheet.blocks().size() + 1);
        assertThat(sheetEdits.pin(ref, wire)).isEqualTo(name);
        assertThat(workspace.project().part("controller").orElseThrow().sheet("position-loop").orElseThrow().blocks()).hasSize(blocks);
    }
}
