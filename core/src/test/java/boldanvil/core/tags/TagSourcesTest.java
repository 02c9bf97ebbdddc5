package boldanvil.core.tags;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.TagTable;
import boldanvil.core.diagram.TagTable.Direction;
import boldanvil.core.diagram.TagTable.Line;
import boldanvil.core.edit.Renaming;
import boldanvil.core.export.PlcOpen;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.review.Review;
import boldanvil.core.tags.ByteLayout.Area;
import boldanvil.core.tags.ByteLayout.Field;
import boldanvil.core.text.PlcProgram;
import boldanvil.core.text.PlcProgram.Surroundings;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Where tags come from, what is made of them, and how they lie in bytes. */
class TagSourcesTest {
    private static final Project LOCK = ProjectReader.read(Path.of("../demo/lock-sequence"));
    private static final TagTable TABLE = LOCK.tagTable("sequence");
    private static final Place HERE = Place.named("here");

    @TempDir
    private Path folder;

    private static Line named(List<Line> lines, String name) {
        return lines.stream().filter(l -> l.name().equals(name)).findFirst().orElseThrow();
    }

    @Test
    void declarationsOfAProgramAreTags() {
        var read = TagSources.ofText(TABLE.program(), HERE);
        assertThat(named(read.lines(), "LT1_Level")).isEqualTo(new Line("LT1_Level", "INT", "%IW2", "", 1, 0, Direction.IN, "",
                "level transmitter, 1 mm a step"));
        assertThat(named(read.lines(), "Y5_Fill").direction()).isEqualTo(Direction.OUT);
        assertThat(named(read.lines(), "Lock.level").comment()).isEqualTo("m");
        assertThat(read.lines()).extracting(Line::name).as("memory of function blocks is not offered")
                .noneMatch(n -> n.startsWith("Lock.steps"));
        assertThat(read.lines()).extracting(Line::name).containsAll(TABLE.lines().stream().map(Line::name).toList());
        assertThatThrownBy(() -> TagSources.ofText("PROGRAM p x := 1; END_PROGRAM", HERE)).isInstanceOf(FindingException.class)
                .hasMessageContaining("no variable 'x'");
    }

    @Test
    void anExchangeFileGivesTheSameTags() {
        var text = TagSources.ofText(TABLE.program(), HERE).lines();
        var xml = TagSources.ofExchange(PlcOpen.xml(TABLE.program(), "lock"), HERE);
        assertThat(xml.lines()).extracting(l -> l.name() + " " + l.type() + " " + l.address() + " " + l.direction())
                .containsExactlyInAnyOrderElementsOf(text.stream().map(l -> l.name() + " " + l.type() + " " + l.address() + " "
                        + l.direction())
                        .toList());
        assertThat(PlcProgram.of(xml.program(), Surroundings.USUAL).isUsable()).isTrue();
    }

    @Test
    void aSkeletonCompilesAndHasThePortsOfBothSides() {
        var review = Review.of(LOCK);
        for (var part : LOCK.parts()) {
            var program = review.system().program(part.id()).orElseThrow();
            String text = Skeleton.of(program, part.kind(), 10_000_000);
            var plc = PlcProgram.of(text, Surroundings.USUAL);
            assertThat(plc.mistakes()).isEmpty();
            assertThat(plc.tasks()).singleElement().satisfies(t -> assertThat(t.intervalNanos()).isEqualTo(10_000_000));
            var tags = TagSources.ofText(text, HERE).lines();
            assertThat(tags).hasSize(program.ports().size());
            long given = program.ports().stream().filter(p -> p.isInput() == (part.kind() == Part.Kind.PLANT)).count();
            assertThat(tags).filteredOn(t -> t.direction() == Direction.OUT).hasSize((int) given);
        }
    }

    @Test
    void portsAreMadeOfTagsAndAreBound() {
        var controller = new Part("cabinet", "Cabinet", Part.Kind.CONTROLLER, "10 ms", "1 ms", "rk4", "float64", 0, 0,
                List.of(Sheet.empty("main")));
        var p = Project.empty("ports").withParts(List.of(controller)).withTags("cabinet", TABLE.withBindings(Map.of()));
        var made = TagPorts.add(p, "cabinet", TABLE.lines());
        var review = Review.of(made);
        assertThat(review.findings()).filteredOn(f -> f.isError()).allMatch(f -> f.cause().equals("The input is not connected."));
        var program = review.system().program("cabinet").orElseThrow();
        assertThat(program.ports()).hasSize(TABLE.lines().size());
        assertThat(made.tagTable("cabinet").bindings()).hasSize(TABLE.lines().size()).containsEntry("B1 BoatLow", "B1_BoatLow");
        assertThat(made.part("cabinet").orElseThrow().main().blocks()).extracting(Block::name).contains("Y5 Fill off");
        var plant = TagPorts.add(Project.empty("ports").withParts(List.of(new Part("lock", "Lock", Part.Kind.PLANT, "continuous", "1 ms",
                "rk4",
                "float64", 0, 0, List.of(Sheet.empty("main"))))), "lock", TABLE.lines());
        var turned = Review.of(plant).system().program("lock").orElseThrow();
        assertThat(turned.ports()).filteredOn(x -> x.isInput()).hasSize((int) TABLE.lines().stream()
                .filter(l -> l.direction() == Direction.OUT)
                .count());
    }

    @Test
    void theBytesOfTheCabinetAreLaidOut() {
        var areas = ByteLayout.of(TABLE);
        assertThat(areas).extracting(Area::name).containsExactly("inputs", "outputs");
        var inputs = areas.getFirst();
        assertThat(inputs.fields()).noneMatch(Field::overlaps);
        assertThat(inputs.fields().getLast()).satisfies(f -> {
            assertThat(f.tag().name()).isEqualTo("LT1_Level");
            assertThat(f.bit()).isEqualTo(32);
            assertThat(f.order()).isEqualTo("low byte first");
        });
        assertThat(ByteLayout.rows(inputs)).extracting(r -> r.first() + "+" + r.units()).containsExactly("0+1", "1+1", "2+6");
        assertThat(ByteLayout.rows(inputs).getFirst().pieces()).extracting(p -> p.from() + "…" + p.to()).contains("0…1", "7…8");
    }

    @Test
    void whatOverlapsIsMarked() {
        var table = new TagTable(List.of(new Line("long", "LREAL", "%ML0"), new Line("word", "WORD", "%MW1"),
                new Line("bit", "BOOL", "%MX3.7"),
                new Line("free", "INT", "%MW4"), new Line("a", "REAL", "holding 4"), new Line("b", "INT", "holding 5"),
                new Line("c", "BOOL", "coil 5")), Map.of(), "");
        var memory = ByteLayout.of(table).getFirst();
        assertThat(memory.fields()).filteredOn(Field::overlaps).extracting(f -> f.tag().name()).containsExactly("long", "word", "bit");
        var registers = ByteLayout.of(table).get(1);
        assertThat(registers.name()).isEqualTo("holding registers");
        assertThat(registers.fields()).allMatch(Field::overlaps);
        assertThat(registers.fields().getFirst().order()).isEqualTo("high word first");
        assertThat(ByteLayout.of(table).get(2).name()).isEqualTo("coils");
    }

    @Test
    void aTableIsKeptWithItsProjectAndFollowsNames() {
        ProjectWriter.write(LOCK, folder);
        assertThat(ProjectReader.read(folder).tags()).isEqualTo(LOCK.tags());
        assertThat(folder.resolve("tags/sequence.st")).hasContent(TABLE.program());
        var renamed = Renaming.part(LOCK, "sequence", "cabinet");
        assertThat(renamed.tagTable("cabinet").bindings()).containsEntry("boat low", "B1_BoatLow").containsEntry("cabinet.first_out",
                "FirstOut");
        assertThat(renamed.tagTable("sequence").isEmpty()).isTrue();
    }

    @Test
    void aTableOfAnotherFormIsRefused() throws Exception {
        ProjectWriter.write(LOCK, folder);
        Path file = folder.resolve("tags/sequence.json");
        Files.writeString(file, Files.readString(file).replace("\"direction\": \"in\"", "\"direction\": \"inwards\""));
        assertThatThrownBy(() -> ProjectReader.read(folder)).isInstanceOf(FindingException.class).hasMessageContaining("sequence.json");
    }
}
