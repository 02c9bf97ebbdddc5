package boldanvil.core.frame;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.HexFormat;
import java.util.List;
import java.util.Random;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Values in bytes: packets, registers and messages against vectors worked out by hand or published. */
class FrameTest {
    private static final byte[] NINE = "123456789".getBytes(java.nio.charset.StandardCharsets.US_ASCII);

    /** The check values of the nine digits are published for each of these codes. */
    @ParameterizedTest
    @CsvSource({"CRC16, 29B1", "CRC32, CBF43926", "SUM, DD"})
    void checksumsOfTheNineDigits(PacketLayout.Check check, String published) {
        assertThat(Long.toHexString(check.of(NINE, 9))).isEqualToIgnoringCase(published);
    }

    private static String hex(Codec c, double... values) {
        return HexFormat.of().formatHex(c.pack(values));
    }

    @Test
    void aPacketHasHeaderFieldsAndChecksumInItsByteOrder() {
        String fields = "level: int16, state: uint8, on: bool, ratio: float32";
        assertThat(hex(PacketLayout.of(fields, "low byte first", "AA 55", "none"), -2, 300, 1, 1))
                .isEqualTo("aa55" + "feff" + "ff" + "01" + "0000803f");
        assertThat(hex(PacketLayout.of(fields, "high byte first", "aa 55", "sum"), -2, 3, 0, 1))
                .isEqualTo("aa55" + "fffe" + "03" + "00" + "3f800000" + "be");
    }

    @Property(tries = 100)
    void aPacketComesBackAsItWasAndABitThatFlipsIsSeen(@ForAll long seed) {
        var random = new Random(seed);
        String check = List.of("sum", "CRC-16", "CRC-32").get(random.nextInt(3));
        var p = PacketLayout.of("a: int8, b: uint32, c: float64, d: bool, e: int32, f: uint16", random.nextBoolean() ? "low byte first"
                : "high byte first", "5A", check);
        double[] v = {random.nextInt(256) - 128, random.nextInt() & 0xFFFF_FFFFL, random.nextGaussian(), random.nextInt(2),
                random.nextInt(), random.nextInt(65536)};
        byte[] bytes = p.pack(v);
        assertThat(p.unpack(bytes)).isEqualTo(v);
        bytes[random.nextInt(bytes.length)] ^= (byte) (1 << random.nextInt(8));
        assertThat(p.unpack(bytes)).isNull();
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {"a: int64| AA| has the type 'int64'", "a, a| AA| Two fields are called 'a'",
            "''| AA| has no field", "a| XY| not a hexadecimal byte",
        "a: float64, b: float64, c: float64, d: float64, e: float64, f: float64, g: float64, h: float64| AA| 64 is the limit"})
    void aPacketThatMakesNoSense(String fields, String header, String cause) {
        assertThatThrownBy(() -> PacketLayout.of(fields, "low byte first", header, "none"))
                .isInstanceOfSatisfying(FrameException.class, e -> {
            assertThat(e).hasMessageContaining(cause.strip());
            assertThat(e.cure()).isNotBlank();
        });
    }

    @Test
    void aRegisterRoundsAndHolds() {
        var r = new RegisterLayout(2, true, true, 0.5, 10);
        assertThat(hex(r, 10)).isEqualTo("0000");
        assertThat(hex(r, 9.6)).isEqualTo("ffff");
        assertThat(hex(r, 1e9)).isEqualTo("7fff");
        assertThat(hex(r, Double.NaN)).isEqualTo("8000");
        assertThat(r.unpack(r.pack(new double[] {-123.3}))[0]).isCloseTo(-123.3, within(0.25));
        assertThat(hex(new RegisterLayout(4, false, false, 1, 0), 0x01020304)).isEqualTo("04030201");
    }

    private static final String TEXT = """
            VERSION ""
            BU_: controller panel

            BO_ 291 drive: 8 controller
             SG_ speed : 0|16@1- (0.01,0) [-300|300] "rad/s" panel
             SG_ torque : 23|12@0+ (0.5,-100) [-100|900] "N m" panel
             SG_ on : 35|1@1+ (1,0) [0|1] "" panel

            BO_ 2566844672 alarm: 2 panel
             SG_ code : 7|16@0+ (1,0) [0|65535] "" controller
            CM_ "passed over";
            """;

    @Test
    void aMessageIsPackedInBothByteOrders() {
        var m = Dbc.find(TEXT, "drive");
        assertThat(m.id()).isEqualTo(291);
        // −1 rad/s: −100 = 0xFF9C, low byte first; torque 0xABC in bits 23 … 16 and 31 … 28; bit 35 of the message.
        assertThat(hex(m, -1, 0xABC * 0.5 - 100, 1)).isEqualTo("9cff" + "ab" + "c0" + "08" + "000000");
        assertThat(m.unpack(HexFormat.of().parseHex("9cffabc008000000"))).containsExactly(-1, 0xABC * 0.5 - 100, 1);
        var alarm = Dbc.find(TEXT, "alarm");
        assertThat(alarm.extended()).isTrue();
        assertThat(alarm.id()).isEqualTo(2566844672L & 0x1FFF_FFFF);
        assertThat(hex(alarm, 0x1234)).isEqualTo("1234");
        assertThat(m.worstBits()).isEqualTo(135);
    }

    @Property(tries = 100)
    void signalsKeepOutOfEachOthersWay(@ForAll long seed) {
        var random = new Random(seed);
        boolean big = random.nextBoolean();
        int a = 1 + random.nextInt(20);
        int b = 1 + random.nextInt(20);
        // The first begins at the first bit, the second in a byte of its own behind it.
        int behind = 8 * ((a + 7) / 8);
        var m = new CanMessage(1, false, "m", 8, "", List.of(new CanMessage.Signal("a", big ? 7 : 0, a, big, true, 1, 0, 0, 0, ""),
                new CanMessage.Signal("b", big ? behind + 7 : behind, b, big, false, 1, 0, 0, 0, "")));
        double[] v = {random.nextInt(1 << a) - (1 << a - 1), random.nextInt(1 << b)};
        assertThat(m.unpack(m.pack(v))).isEqualTo(v);
    }

    @Test
    void whatIsWrittenIsReadAgain() {
        var all = Dbc.read(TEXT);
        assertThat(Dbc.read(Dbc.write(all))).isEqualTo(all);
    }

    @Test
    void messagesThatMakeNoSenseAreToldWithTheirLine() {
        String[][] cases = {{"0|16@1-", "0|16@1*", "Line 5 is not a signal"}, {"SG_ speed :", "SG_ speed m1 :", "multiplexed"},
                {"(0.01,0)", "(x,0)", "not a number"},
            {"291 drive: 8", "291 drive: 9", "has 9 bytes"}, {"23|12@0+", "8|12@1+", "overlaps another"},
            {"35|1@1+", "64|1@1+", "beyond the 8 bytes"},
            {"(0.5,-100)", "(0,-100)", "factor of the signal 'torque' is 0"}, {"35|1@1+", "24|33@1+", "has 33 bits"},
            {"BO_ 291 drive: 8", "BO_ drive 8", "is not a message"}};
        for (String[] c : cases) {
            assertThatThrownBy(() -> Dbc.read(TEXT.replace(c[0], c[1]))).as(c[1]).isInstanceOfSatisfying(FrameException.class, e -> {
                assertThat(e).hasMessageStartingWith("Line ").hasMessageContaining(c[2]);
                assertThat(e.cure()).isNotBlank();
            });
        }
        assertThatThrownBy(() -> Dbc.find(TEXT, "moon")).hasMessageContaining("no message 'moon'");
        assertThatThrownBy(() -> Dbc.find("", "")).hasMessageContaining("contains no message");
    }

    @Test
    @org.junit.jupiter.api.Timeout(10)
    void longLinesOfMessagesAreReadInOneGo() {
        String blanks = " ".repeat(100_000);
        assertThatThrownBy(() -> Dbc.read("BO_ 1" + blanks + "x" + blanks + "\n")).isInstanceOf(FrameException.class);
        assertThatThrownBy(() -> Dbc.read("BO_ 1 m: 8 n\n SG_ a" + blanks + "M" + blanks + "x\n")).isInstanceOf(FrameException.class);
        assertThat(Dbc.read("BO_ 1 m: 8 n\n SG_ a" + blanks + ":" + blanks + "0|8@1+ (1,0) [0|1] \"\" x\n").getFirst().signals())
                .hasSize(1);
    }

    @Test
    void numbersThatAreTooLongAreRefused() {
        assertThatThrownBy(() -> Dbc.read("BO_ " + "9".repeat(400) + " m: 8 n\n")).isInstanceOf(FrameException.class)
                .hasMessageContaining("too large");
        assertThatThrownBy(() -> Dbc.read("BO_ 1 m: 8 n\n SG_ a : " + "9".repeat(40) + "|8@1+ (1,0) [0|1] \"\" x\n"))
                .isInstanceOf(FrameException.class);
    }
}
