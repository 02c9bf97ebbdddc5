package boldanvil.app.model;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.app.Demo;
import boldanvil.core.sheet.SheetScene;
import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.finding.FindingException;
import boldanvil.core.stock.Stock;
import java.io.IOException;
import java.nio.file.Path;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class SheetEditsTest {
    private static final SheetRef LOOP = new SheetRef("controller", "current-loop");
    private static final SheetRef MAIN = new SheetRef("controller", "main");

    @TempDir
    private Path folder;

    private final Workspace w = new Workspace(Runnable::run, Runnable::run);
    private final SheetEdits edits = new SheetEdits(w);

    @BeforeEach
    void open() throws IOException {
        w.open(Demo.copyTo(folder));
    }

    private Sheet sheet(SheetRef ref) {
        return w.project().sheet(ref).orElseThrow();
    }

    private Block named(SheetRef ref, String name) {
        return sheet(ref).blocks().stream().filter(b -> b.name().equals(name)).findFirst().orElseThrow();
    }

    @Test
    void aNewBlockSnapsToTheGridAndHasANameOfItsOwn() {
        String first = edits.add(LOOP, Stock.find("gain").orElseThrow(), 1123.4, 77);
        String second = edits.add(LOOP, Stock.find("gain").orElseThrow(), 0, 0);
        assertThat(sheet(LOOP).block(first).orElseThrow()).satisfies(b -> {
            assertThat(b.x()).isEqualTo(1120);
            assertThat(b.y()).isEqualTo(80);
            assertThat(b.name()).isEqualTo("Gain");
        });
        assertThat(sheet(LOOP).block(second).orElseThrow().name()).isEqualTo("Gain 2");
        assertThat(w.undoName()).hasValue("add Gain");
        assertThat(w.findings()).extracting(f -> f.place().text()).contains("controller/current loop/Gain · u");
    }

    @Test
    void aNewSubsystemComesWithItsSheet() {
        String id = edits.add(LOOP, Stock.find("subsystem").orElseThrow(), 0, 0);
        String inner = sheet(LOOP).block(id).orElseThrow().settings().get("sheet");
        assertThat(w.project().part("controller").orElseThrow().sheet(inner)).isPresent();
        w.undo();
        assertThat(w.project().part("controller").orElseThrow().sheet(inner)).isEmpty();
    }

    @Test
    void movingIsUndoneAsOneStep() {
        Block a = named(LOOP, "error");
        Block b = named(LOOP, "off");
        edits.move(LOOP, Set.of(a.id(), b.id()), 30, -20);
        assertThat(named(LOOP, "error").x()).isEqualTo(a.x() + 30);
        assertThat(named(LOOP, "off").y()).isEqualTo(b.y() - 20);
        assertThat(w.undoName()).hasValue("move 2 blocks");
        w.undo();
        assertThat(named(LOOP, "error")).isEqualTo(a);
    }

    @Test
    void aWireReplacesTheOneBefore() {
        Block off = named(LOOP, "off");
        Block output = named(LOOP, "output");
        edits.connect(LOOP, new Wire(off.id(), "y", output.id(), "yes"));
        assertThat(sheet(LOOP).wires().stream().filter(x -> x.to().equals(output.id()) && x.toPort().equals("yes"))).hasSize(1);
        assertThat(sheet(LOOP).wireInto(output.id(), "yes").orElseThrow().from()).isEqualTo(off.id());
    }

    @Test
    void aDeletedBlockTakesItsWiresAlong() {
        Block error = named(LOOP, "error");
        edits.delete(LOOP, Set.of(error.id()), Set.of());
        assertThat(sheet(LOOP).wires()).noneMatch(x -> x.from().equals(error.id()) || x.to().equals(error.id()));
        assertThat(w.findings()).anyMatch(f -> f.isError());
        w.undo();
        assertThat(w.findings()).noneMatch(f -> f.isError());
    }

    @Test
    void aWireAloneCanBeDeleted() {
        Wire wire = sheet(LOOP).wires().getFirst();
        edits.delete(LOOP, Set.of(), Set.of(wire));
        assertThat(sheet(LOOP).wires()).doesNotContain(wire);
        assertThat(w.undoName()).hasValue("delete wire");
    }

    @Test
    void copiesBringTheWiresBetweenThem() {
        Block error = named(LOOP, "error");
        Block pid = named(LOOP, "current controller");
        Set<String> fresh = edits.paste(LOOP, edits.copy(LOOP, Set.of(error.id(), pid.id()), Set.of()));
        assertThat(fresh).hasSize(2);
        assertThat(sheet(LOOP).wires().stream().filter(x -> fresh.contains(x.from()) && fresh.contains(x.to()))).hasSize(1);
        assertThat(named(LOOP, "error 2").settings()).isEqualTo(error.settings());
        assertThat(named(LOOP, "current controller 2").tunable()).isEqualTo(pid.tunable());
    }

    @Test
    void theTextOfAnotherProgramIsRefused() {
        for (String text : new String[] {null, "", "hello", "{}", "{\"part\": \"clip\"", "{\n  \"format\": 9, \"part\": \"clip\"}"}) {
            assertThatThrownBy(() -> edits.paste(LOOP, text)).isInstanceOf(FindingException.class).hasMessageContaining("clipboard");
        }
        assertThat(w.undoName()).isEmpty();
    }

    @Test
    void aSubsystemIsCopiedWithItsSheetIntoAnotherPart() {
        String text = edits.copy(new SheetRef("controller", "main"), Set.of(named(new SheetRef("controller", "main"), "current loop").id()),
                Set.of());
        int sheets = w.project().part("drive").orElseThrow().sheets().size();
        edits.paste(new SheetRef("drive", "main"), text);
        var drive = w.project().part("drive").orElseThrow();
        assertThat(drive.sheets()).hasSize(sheets + 1);
        Block copy = named(new SheetRef("drive", "main"), "current loop");
        assertThat(drive.sheet(copy.inner()).orElseThrow().blocks()).isEqualTo(sheet(LOOP).blocks());
        // Within the same part the copy shares the sheet.
        edits.paste(new SheetRef("controller", "main"), text);
        assertThat(named(new SheetRef("controller", "main"), "current loop 2").inner()).isEqualTo(LOOP.sheet());
    }

    @Test
    void whatIsPutBehindABlockIsWiredAndUndoneAtOnce() {
        Block error = named(LOOP, "error");
        var before = w.project();
        String id = edits.addBehind(LOOP, Stock.find("gain").orElseThrow(), error.id());
        assertThat(sheet(LOOP).wires()).contains(new Wire(error.id(), "y", id, "u"));
        assertThat(w.undoName()).hasValue("add Gain");
        w.undo();
        assertThat(w.project()).isEqualTo(before);
    }

    @Test
    void renamingAnInletTakesTheWiresOutsideAlong() {
        edits.rename(LOOP, named(LOOP, "current").id(), "measured");
        assertThat(w.findings()).noneMatch(f -> f.isError());
        assertThat(sheet(MAIN).wires()).anyMatch(x -> x.toPort().equals("measured"));
    }

    @Test
    void renamingATerminalTakesTheSystemsWiresAlong() {
        edits.rename(MAIN, named(MAIN, "shaft").id(), "motor shaft");
        assertThat(w.project().wires()).anyMatch(x -> x.toPort().equals("motor shaft"));
        // Only the patch still speaks of the old name.
        assertThat(w.findings()).filteredOn(f -> !f.place().text().startsWith("rig clinker"))
                .allMatch(f -> f.place().text().startsWith("patch"));
    }

    @Test
    void namesWithASlashOrNothingAreRefused() {
        edits.rename(MAIN, named(MAIN, "mean").id(), "a/b");
        edits.rename(MAIN, named(MAIN, "mean").id(), " ");
        assertThat(w.undoName()).isEmpty();
    }

    @Test
    void settingsAndLiveFlagsChange() {
        Block mean = named(MAIN, "mean");
        edits.set(MAIN, mean.id(), "k", "0.25");
        edits.tune(MAIN, Set.of(mean.id()), "k", true);
        assertThat(named(MAIN, "mean").settings()).containsEntry("k", "0.25");
        assertThat(w.review().system().program("controller").orElseThrow().tunable("mean.k")).isPresent();
        edits.tune(MAIN, Set.of(mean.id()), "k", false);
        assertThat(w.review().system().program("controller").orElseThrow().tunable("mean.k")).isEmpty();
    }

    @Test
    void partsAreAddedMovedRenamedWiredAndDeleted() {
        String id = edits.addPart(Part.Kind.CONTROLLER, 0, 0);
        assertThat(id).isEqualTo("controller2");
        edits.move(null, Set.of(id), 50, 60);
        edits.rename(null, id, "Spare");
        assertThat(w.project().part(id).orElseThrow().title()).isEqualTo("Spare");
        assertThat(w.project().part(id).orElseThrow().x()).isEqualTo(50);
        edits.connect(null, new Wire("drive", "shaft", "controller", "shunt A"));
        assertThat(w.project().wires().stream().filter(x -> x.toPort().equals("shunt A"))).hasSize(1);
        edits.delete(null, Set.of(id), Set.of());
        assertThat(w.project().part(id)).isEmpty();
        assertThat(edits.addPart(Part.Kind.PLANT, 0, 0)).isEqualTo("plant");
    }

    @Test
    void aNewBlockDoesNotHideTheLastOne() {
        var e = new SheetEdits(w);
        String part = e.addPart(boldanvil.core.diagram.Part.Kind.CONTROLLER, 100, 100);
        String other = e.addPart(boldanvil.core.diagram.Part.Kind.CONTROLLER, 100, 100);
        assertNothingCovered(SheetScene.system(w.source()));
        var ref = new SheetRef(part, "main");
        var type = boldanvil.core.stock.Stock.find("gain").orElseThrow();
        for (int i = 0; i < 5; i++) {
            e.add(ref, type, 203, 98);
        }
        var places = w.project().sheet(ref).orElseThrow().blocks().stream().map(b -> b.x() + " " + b.y()).toList();
        assertThat(places).doesNotHaveDuplicates().hasSize(5).first().isEqualTo("200.0 100.0");
        assertNothingCovered(SheetScene.of(w.source(), ref, part));
    }

    private static void assertNothingCovered(SheetScene scene) {
        for (var a : scene.nodes()) {
            for (var b : scene.nodes()) {
                boolean apart = a.x() + a.width() <= b.x() || b.x() + b.width() <= a.x() || a.y() + a.height() <= b.y()
                        || b.y() + b.height() <= a.y();
                assertThat(a == b || apart).as("%s and %s", a, b).isTrue();
            }
        }
    }

    @Test
    void wiresFollowATerminalWithSeveralPortsWhenItIsRenamed(@org.junit.jupiter.api.io.TempDir java.nio.file.Path folder) throws Exception {
        w.open(boldanvil.app.Demo.copyTo(folder, "gate-drive"));
        try {
            var scene = SheetScene.system(w.source());
            assertThat(scene.node("controller").orElseThrow().outputs()).contains("leg A", "leg B", "leg C").doesNotContain("leg");
            assertThat(scene.node("servo").orElseThrow().inputs()).contains("leg A", "leg B", "leg C");
            for (var link : scene.links()) {
                assertThat(scene.node(link.wire().from()).orElseThrow().outputs()).contains(link.wire().fromPort());
                assertThat(scene.node(link.wire().to()).orElseThrow().inputs()).contains(link.wire().toPort());
                assertThat(link.type()).isNotNull();
            }
            var main = w.project().part("controller").orElseThrow().main();
            String id = main.blocks().stream().filter(b -> b.name().equals("leg")).findFirst().orElseThrow().id();
            new SheetEdits(w).rename(new SheetRef("controller", main.id()), id, "inverter");
            assertThat(w.project().wires()).extracting(boldanvil.core.diagram.Wire::fromPort)
                    .contains("inverter A", "inverter B", "inverter C").doesNotContain("leg A");
        } finally {
            w.close();
        }
    }
}
