package boldanvil.core.files;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.review.Review;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ProjectFilesTest {
    private static final Path DEMO = Path.of("../demo/larkmere-lock");

    @TempDir
    private Path folder;

    @BeforeEach
    void copyTheDemo() throws IOException {
        for (String f : ProjectWriter.files(ProjectReader.read(DEMO)).keySet()) {
            Path target = folder.resolve(f);
            Files.createDirectories(target.getParent());
            Files.copy(DEMO.resolve(f), target);
        }
    }

    private static Map<Path, String> contents(Path folder) throws IOException {
        Map<Path, String> all = new TreeMap<>();
        try (var files = Files.walk(folder)) {
            for (Path f : files.filter(Files::isRegularFile).toList()) {
                all.put(folder.relativize(f), Files.readString(f));
            }
        }
        return all;
    }

    /** Reads a folder that cannot be read: one finding, nothing touched. */
    private Finding broken() throws IOException {
        var before = contents(folder);
        Finding[] found = new Finding[1];
        assertThatThrownBy(() -> Review.of(ProjectReader.read(folder)).orThrow()).isInstanceOfSatisfying(FindingException.class, e -> {
            assertThat(e.findings()).hasSize(1);
            found[0] = e.findings().getFirst();
        });
        assertThat(contents(folder)).isEqualTo(before);
        assertThat(found[0].cure()).isNotBlank();
        assertThat(found[0].toString()).doesNotContain("Exception").doesNotContain("tools.jackson");
        return found[0];
    }

    @Test
    void theDemoIsWrittenAsItWasRead() throws IOException {
        var before = contents(folder);
        ProjectWriter.write(ProjectReader.read(folder), folder);
        assertThat(contents(folder)).isEqualTo(before);
    }

    @Test
    void readingWhatWasWrittenGivesTheSameProject() {
        Project p = ProjectReader.read(DEMO);
        ProjectWriter.write(p, folder.resolve("copy"));
        assertThat(ProjectReader.read(folder.resolve("copy"))).isEqualTo(p);
    }

    @Test
    void aSaveTouchesOnlyTheFileThatChanged() throws IOException {
        FileTime old = FileTime.fromMillis(1_000_000);
        for (Path f : contents(folder).keySet()) {
            Files.setLastModifiedTime(folder.resolve(f), old);
        }
        Project p = ProjectReader.read(folder);
        ProjectWriter.write(p.change(new SheetRef("controller", "main"), s -> s.change("b7", b -> b.at(330, 40))), folder);
        for (Path f : contents(folder).keySet()) {
            boolean changed = !Files.getLastModifiedTime(folder.resolve(f)).equals(old);
            assertThat(changed).as(f.toString()).isEqualTo(f.endsWith("controller.json"));
        }
    }

    @Test
    void oneMovedBlockIsOneChangedLine() throws IOException {
        var before = Files.readAllLines(folder.resolve("parts/controller.json"));
        Project p = ProjectReader.read(folder);
        ProjectWriter.write(p.change(new SheetRef("controller", "main"), s -> s.change("b7", b -> b.at(330, 40))), folder);
        var after = Files.readAllLines(folder.resolve("parts/controller.json"));
        assertThat(after).hasSameSizeAs(before);
        int different = 0;
        for (int i = 0; i < after.size(); i++) {
            different += after.get(i).equals(before.get(i)) ? 0 : 1;
        }
        assertThat(different).isEqualTo(1);
    }

    @Test
    void noTemporaryFileIsLeft() throws IOException {
        ProjectWriter.write(ProjectReader.read(folder).withVariables(java.util.List.of()), folder);
        assertThat(contents(folder).keySet()).noneMatch(f -> f.toString().endsWith(".part"));
    }

    @Test
    void aFolderWithoutAProject() {
        assertThatThrownBy(() -> ProjectReader.read(folder.resolve("nothing"))).isInstanceOf(FindingException.class)
                .hasMessageContaining("no project.json");
    }

    @Test
    void aTruncatedFile() throws IOException {
        Path f = folder.resolve("parts/controller.json");
        String text = Files.readString(f);
        Files.writeString(f, text.substring(0, text.length() / 2));
        Finding found = broken();
        assertThat(found.place().text()).contains("controller.json:");
        assertThat(found.cause()).contains("not valid JSON");
    }

    @Test
    void anEmptyFile() throws IOException {
        Files.writeString(folder.resolve("project.json"), "");
        assertThat(broken().place().text()).contains("project.json");
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', quoteCharacter = '`', textBlock = """
            "kind": "controller"        | "kind": 7                     | kind
            "kind": "controller"        | "kind": "robot"               | kind
            "sampleTime": "100 µs"      | "sampleTime": 0.0001          | sampleTime
            "id": "b1", "type"          | "id": ["b1"], "type"          | blocks
            "step": "100 µs"            | "stepp": "100 µs"             | stepp
            "from": "b1.y"              | "from": "b1"                  | wires
            """)
    void aWrongEntry(String right, String wrong, String place) throws IOException {
        Path f = folder.resolve("parts/controller.json");
        String text = Files.readString(f);
        assertThat(text).contains(right);
        Files.writeString(f, text.replaceFirst(java.util.regex.Pattern.quote(right), wrong));
        Finding found = broken();
        assertThat(found.cause()).contains("does not fit its format");
        assertThat(found.place().text() + found.cause()).contains(place);
    }

    @Test
    void anUnknownBlock() throws IOException {
        Path f = folder.resolve("parts/panel.json");
        Files.writeString(f, Files.readString(f).replace("\"type\": \"step\", \"name\": \"after power-up\"",
                "\"type\": \"warp\", \"name\": \"after power-up\""));
        Finding found = broken();
        assertThat(found.place().text()).isEqualTo("panel/after power-up");
        assertThat(found.cause()).contains("'warp'");
    }

    @Test
    void aSubsystemThatContainsItself() throws IOException {
        Path f = folder.resolve("parts/controller.json");
        Files.writeString(f, Files.readString(f).replace("\"name\": \"half\", \"at\"",
                "\"name\": \"half\", \"at\"")
                .replace("{\"id\": \"b3\", \"type\": \"constant\", \"name\": \"half\", \"at\": [170, 170], \"set\": {\"value\": \"0.5\"}}",
                "{\"id\": \"b3\", \"type\": \"constant\", \"name\": \"half\", \"at\": [170, 170], \"set\": {\"value\": \"0.5\"}},\n      "
                + "{\"id\": \"b99\", \"type\": \"subsystem\", \"name\": \"mirror\", \"at\": [170, 300], \"set\": {\"sheet\": "
                + "\"bridge\"}}"));
        assertThat(broken().cause()).contains("contains itself: bridge → bridge");
    }

    @Test
    void twoHundredMegabytesOfNesting() throws IOException {
        Path f = folder.resolve("parts/panel.json");
        byte[] brackets = new byte[1 << 20];
        java.util.Arrays.fill(brackets, (byte) '[');
        try (var out = Files.newOutputStream(f)) {
            for (int i = 0; i < 200; i++) {
                out.write(brackets);
            }
        }
        assertThatThrownBy(() -> ProjectReader.read(folder)).isInstanceOf(FindingException.class).hasMessageContaining("200 MiB");
        assertThat(Files.size(f)).isEqualTo(200L << 20);
    }

    @Test
    void deepNestingInASmallFile() throws IOException {
        Files.writeString(folder.resolve("parts/panel.json"), "[".repeat(100_000));
        assertThat(broken().cause()).contains("not valid JSON");
    }

    @Test
    void aKeyThatStandsTwice() throws IOException {
        Files.writeString(folder.resolve("project.json"), "{\"format\": 1, \"format\": 1, \"name\": \"x\"}");
        assertThat(broken().cause()).containsIgnoringCase("duplicate");
    }

    @Test
    void aNewerFormat() throws IOException {
        Files.writeString(folder.resolve("project.json"), "{\"format\": 2, \"name\": \"x\"}");
        Finding found = broken();
        assertThat(found.cause()).contains("format 2");
        assertThat(found.cure()).contains("newer version");
    }

    @Test
    void somethingThatIsNoObject() throws IOException {
        Files.writeString(folder.resolve("project.json"), "[1, 2]");
        assertThat(broken().cause()).contains("not contain a JSON object");
    }

    @Test
    void aPartThatIsMissingOrUnderAnotherName() throws IOException {
        Path f = folder.resolve("parts/panel.json");
        Files.move(f, folder.resolve("parts/other.json"));
        assertThat(broken().cause()).contains("no such file");
        Files.copy(folder.resolve("parts/drive.json"), f);
        assertThat(broken().cause()).contains("contains part 'drive'");
    }

    @Test
    void aPartNameCannotLeaveTheFolder() throws IOException {
        Path f = folder.resolve("project.json");
        Files.writeString(f, Files.readString(f).replace("\"part\": \"panel\"", "\"part\": \"../../panel\""));
        assertThat(broken().cause()).contains("does not fit its format");
    }

    @Test
    void numbersAreWrittenWithoutNeedlessDigits() {
        assertThat(JsonLines.number(40)).isEqualTo("40");
        assertThat(JsonLines.number(0.5)).isEqualTo("0.5");
        assertThat(JsonLines.line("a", "1", "b", null, "c", "2")).isEqualTo("{\"a\": 1, \"c\": 2}");
    }

    @org.junit.jupiter.params.ParameterizedTest
    @org.junit.jupiter.params.provider.ValueSource(strings = {"1e400", "-1e999"})
    void aNumberThatIsOutOfRangeIsAFindingWithItsPlace(String number) throws Exception {
        assertOutOfRange(number);
    }

    @Test
    void aWholeNumberOfFourHundredDigitsIsAFindingWithItsPlace() throws Exception {
        assertOutOfRange("9".repeat(400));
    }

    private static void assertOutOfRange(String number) throws Exception {
        Path folder = Files.createTempDirectory("numbers");
        try {
            ProjectWriter.write(Project.empty("p").withParts(List.of(new boldanvil.core.testing.PartBuilder("p").block("c", "constant")
                    .part())), folder);
            Path part = folder.resolve("parts/p.json");
            Files.writeString(part, Files.readString(part).replaceFirst("\"at\": \\[[^,]*", "\"at\": [" + number));
            assertThatThrownBy(() -> ProjectReader.read(folder)).isInstanceOf(FindingException.class).hasMessageContaining("out of range")
                    .hasMessageContaining("/at/0");
        } finally {
            Folders.delete(folder);
        }
    }

    @Test
    void aNetIsKeptInTheFile() {
        var part = new boldanvil.core.testing.PartBuilder("p").block("a", "constant").block("b", "constant").part();
        var net = Wire.net("a", "p", "b", "n");
        var project = Project.empty("p").withParts(List.of(part)).change(new SheetRef("p", "main"), s -> s.add(net).add(net));
        ProjectWriter.write(project, folder.resolve("nets"));
        assertThat(folder.resolve("nets/parts/p.json")).content().contains("{\"net\": [\"a.p\", \"b.n\"]}");
        assertThat(ProjectReader.read(folder.resolve("nets")).parts().getFirst().main().wires()).containsExactly(net);
    }

    @Test
    void aWireIsEitherDirectedOrANet() throws IOException {
        var part = new boldanvil.core.testing.PartBuilder("p").block("a", "constant").block("b", "gain").wire("a.y", "b.u").part();
        ProjectWriter.write(Project.empty("p").withParts(List.of(part)), folder.resolve("both"));
        Path file = folder.resolve("both/parts/p.json");
        Files.writeString(file, Files.readString(file).replace("{\"from\"", "{\"net\": [\"a.p\", \"b.n\"], \"from\""));
        assertThatThrownBy(() -> ProjectReader.read(folder.resolve("both"))).isInstanceOf(FindingException.class)
                .hasMessageContaining("wires");
    }
}
