package boldanvil.core.board;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.peripheral.Peripheral;
import boldanvil.core.peripheral.Peripherals;
import boldanvil.core.program.TerminalKind;
import boldanvil.core.review.Review;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class BoardTest {
    private static final Board SWAGE = Boards.shipped().find("swage32").orElseThrow();
    private static final Board CLINKER = Boards.shipped().find("clinker16").orElseThrow();

    @Test
    void swage32IsAsItsSheetSays() {
        assertThat(SWAGE.pins()).hasSize(64);
        assertThat(SWAGE.memory().flashBytes()).isEqualTo(512 * 1024);
        assertThat(SWAGE.memory().ramBytes()).isEqualTo(128 * 1024);
        assertThat(SWAGE.core().floatBits()).isEqualTo(32);
        assertThat(SWAGE.converters()).hasSize(2).allMatch(c -> c.bits() == 12);
        assertThat(Peripherals.channels(SWAGE, TerminalKind.THREE_PHASE_OUT)).hasSize(2);
        assertThat(Peripherals.channels(SWAGE, TerminalKind.PWM_PAIR_OUT)).hasSize(6);
        assertThat(Peripherals.channels(SWAGE, TerminalKind.INDEXED_ENCODER_IN)).hasSize(2);
        assertThat(Peripherals.channels(SWAGE, TerminalKind.ANALOG_OUT)).hasSize(2);
        assertThat(SWAGE.serialPorts()).hasSize(3);
        assertThat(SWAGE.buses()).extracting(Board.Bus::kind).containsExactly("I2C", "I2C", "SPI", "SPI");
        assertThat(SWAGE.cans()).hasSize(1);
    }

    @Test
    void clinker16IsAsItsSheetSays() {
        assertThat(CLINKER.pins()).hasSize(28);
        assertThat(CLINKER.memory().flashBytes()).isEqualTo(64 * 1024);
        assertThat(CLINKER.memory().ramBytes()).isEqualTo(4 * 1024);
        assertThat(CLINKER.core().floatBits()).isZero();
        assertThat(CLINKER.core().bits()).isEqualTo(16);
        assertThat(Peripherals.channels(CLINKER, TerminalKind.PWM_OUT)).hasSize(4);
        assertThat(Peripherals.channels(CLINKER, TerminalKind.PWM_PAIR_OUT)).isEmpty();
        assertThat(CLINKER.converters()).singleElement().satisfies(c -> assertThat(c.bits()).isEqualTo(10));
    }

    @ParameterizedTest
    @ValueSource(strings = {"swage32", "clinker16", "generic-m4f"})
    void everyShippedFileFitsItsFormat(String name) throws IOException {
        try (var in = Boards.class.getResourceAsStream(name + ".json")) {
            String text = new String(in.readAllBytes(), StandardCharsets.UTF_8);
            assertThat(BoardReader.read(text, name)).isEqualTo(BoardReader.readOwn(text));
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"swage32", "clinker16", "generic-m4f"})
    void everyChannelComesOutAtPinsOfTheBoard(String name) {
        var board = Boards.shipped().find(name).orElseThrow();
        for (TerminalKind kind : Peripherals.all().stream().map(Peripheral::kind).toList()) {
            for (Channel c : Peripherals.channels(board, kind)) {
                c.pins().forEach(way -> assertThat(List.of(way.split(","))).as(c.id()).allMatch(board::hasPin).doesNotHaveDuplicates());
            }
        }
    }

    @Test
    void aSupplyPinIsNoDigitalOne() {
        assertThat(Peripherals.channel(CLINKER, "IO.L13", TerminalKind.DIGITAL_OUT)).isEmpty();
        assertThat(Peripherals.channel(CLINKER, "IO.L12", TerminalKind.DIGITAL_OUT)).isPresent();
    }

    @Test
    void aPinTellsWhatItIsFor() {
        assertThat(SWAGE.functionsOf("N2")).containsExactly("T1.A complement");
        assertThat(SWAGE.functionsOf("E3")).containsExactly("DAC1");
        assertThat(SWAGE.functionsOf("S4")).containsExactly("I1 I2C");
        assertThat(SWAGE.functionsOf("E13")).isEmpty();
    }

    @Test
    void anUnknownBoardIsAFinding() {
        assertThat(Boards.shipped().find("swage33")).isEmpty();
        assertThatThrownBy(() -> Boards.shipped().require(Place.named("here"), "swage33")).isInstanceOf(FindingException.class)
                .hasMessageContaining("swage32");
    }

    private static String file(String name) throws IOException {
        try (var in = Boards.class.getResourceAsStream("swage32.json")) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8).replace("\"swage32\"", '"' + name + '"')
                    .replace("Swage 32", "My board");
        }
    }

    private static List<Finding> wrong(String text) {
        return Boards.of(Project.empty("p").withBoards(Map.of("mine", text))).findings();
    }

    @Test
    void channelsOfATargetHaveARangeAndANameOfTheirOwn() throws IOException {
        String text = new String(Boards.class.getResourceAsStream("hearth-rt8.json").readAllBytes(),
                java.nio.charset.StandardCharsets.UTF_8)
                .replace("\"name\": \"hearth-rt8\"", "\"name\": \"mine\"");
        assertThat(wrong(text)).isEmpty();
        assertThat(wrong(text.replace("\"prefix\": \"AO\", \"count\": 8, \"volts\": 10", "\"prefix\": \"AO\", \"count\": 8")))
                .singleElement().satisfies(f -> assertThat(f.cause()).contains("'AO' have no range"));
        assertThat(wrong(text.replace("\"prefix\": \"DO\"", "\"prefix\": \"DI\""))).singleElement()
                .satisfies(f -> assertThat(f.cause()).contains("named 'DI'"));
        assertThat(wrong(text.replace("\"analog in\"", "\"smoke\""))).isNotEmpty();
    }

    @Test
    void aBoardOfOnesOwnIsACopiedFile() throws IOException {
        var boards = Boards.of(Project.empty("p").withBoards(Map.of("mine",
                file("mine").replace("\"flashBytes\": 524288", "\"flashBytes\": 1000"))));
        assertThat(boards.findings()).isEmpty();
        assertThat(boards.names()).containsExactly("swage32", "clinker16", "generic-m4f", "tongs-plc-24", "hearth-rt8", "mine");
        assertThat(boards.find("mine").orElseThrow().memory().flashBytes()).isEqualTo(1000);
        assertThat(Boards.shipped().find("mine")).isEmpty();
    }

    /** What is changed in the file, the line on which the finding stands, and a word of its cause. */
    @ParameterizedTest
    @CsvSource(delimiter = '|', quoteCharacter = '`', value = {
        "\"bits\": 32,| \"bits\": 33,| at /core/bits",
        "{\"name\": \"N2\"| {\"name\": \"N1\"| Pin 'N1' exists twice",
        "\"position\": 2,| \"position\": 1,| has position 1 like another",
        "\"id\": \"A\", \"pins\": [\"N1\"]| \"id\": \"A\", \"pins\": [\"N99\"]| uses pin 'N99'",
        "\"id\": \"B\", \"pins\": [\"N3\"]| \"id\": \"A\", \"pins\": [\"N3\"]| Channel 'T1.A' exists twice",
        "\"prescalers\": [1, 2, 4, 8, 16, 32, 64, 128]| \"prescalers\": [1, 4, 2]| prescalers are not in ascending order",
        "\"name\": \"timers\", \"from\": \"core\"| \"name\": \"timers\", \"from\": \"serial\"| is not defined before it",
        "\"name\": \"ADC1\", \"clock\": \"converters\"| \"name\": \"ADC1\", \"clock\": \"moon\"| runs on the clock 'moon'",
        "\"name\": \"ADC2\"| \"name\": \"ADC1\"| Two peripherals are called 'ADC1'",
        "\"multiply\": [24, 216]| \"multiply\": [216, 24]| above its maximum",
        "\"complements\": [\"N6\"]| \"complements\": []| lacks dead time",
        "\"pins\": [\"E11,E12\"]| \"pins\": [\"E11\"]| names 1 pins where 2 are needed"})
    void aBrokenBoardFileIsAFindingWithItsLine(String good, String bad, String cause) throws IOException {
        String text = file("mine");
        int at = text.indexOf(good.strip());
        assertThat(at).as(good).isPositive();
        String broken = text.substring(0, at) + bad.strip() + text.substring(at + good.strip().length());
        long line = text.substring(0, at).lines().count();
        assertThat(wrong(broken)).anySatisfy(f -> {
            assertThat(f.place().text() + " " + f.cause()).contains(cause.strip());
            long reported = Long.parseLong(f.place().text().replaceAll("boards/mine\\.json:(\\d+).*", "$1"));
            assertThat(reported).isBetween(line - 3, line + 1);
            assertThat(f.cure()).isNotBlank();
        });
    }

    @Test
    void brokenJsonAndNamesThatAreTaken() throws IOException {
        assertThat(wrong(file("mine").replace("\"title\": \"My board\",", "\"title\": \"My board\""))).singleElement().satisfies(f -> {
            assertThat(f.place().text()).startsWith("boards/mine.json:5:");
            assertThat(f.cause()).contains("not valid JSON");
        });
        assertThat(wrong(file("other"))).anyMatch(f -> f.cause().contains("describes the board 'other'"));
        assertThat(Boards.of(Project.empty("p").withBoards(Map.of("swage32", file("swage32")))).findings())
                .anyMatch(f -> f.cause().contains("already has the name"));
    }

    @Test
    void aLoopWithTooManySettingsIsRefusedRatherThanSearched() throws IOException {
        assertThat(wrong(file("mine").replace("\"divide\": [1, 16]", "\"divide\": [1, 1000000]")))
                .anyMatch(f -> f.cause().contains("more than a million settings"));
    }

    @Test
    void aProjectKeepsItsBoardFilesAndReviewsThem(@TempDir Path folder) throws IOException {
        var project = Project.empty("p").withBoards(Map.of("mine", file("mine"), "bad", "{"));
        ProjectWriter.write(project, folder);
        assertThat(ProjectReader.read(folder)).isEqualTo(project);
        assertThat(Review.of(project).findings()).singleElement().satisfies(
                f -> assertThat(f.place().text()).startsWith("boards/bad.json:1:"));
    }

    @Test
    void aNumberThatDoesNotFitIsAFinding() {
        String text;
        try (var in = Boards.class.getResourceAsStream("/boldanvil/core/board/swage32.json")) {
            text = new String(in.readAllBytes(), java.nio.charset.StandardCharsets.UTF_8);
        } catch (java.io.IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
        for (String number : List.of("1000000000000000", "9".repeat(400), "1e400")) {
            String broken = text.replaceFirst("\"bits\": *[0-9]+", "\"bits\": " + number);
            assertThat(broken).isNotEqualTo(text);
            assertThat(Boards.of(boldanvil.core.diagram.Project.empty("p").withBoards(java.util.Map.of("own", broken))).findings())
                    .as(number).isNotEmpty();
        }
    }
}
