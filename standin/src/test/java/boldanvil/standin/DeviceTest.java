package boldanvil.standin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import boldanvil.core.build.Builder;
import boldanvil.core.build.Sources;
import boldanvil.core.diagram.Patch;
import boldanvil.core.finding.FindingException;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.peripheral.PinMath;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.testing.PartBuilder;
import java.io.IOException;
import java.lang.foreign.Arena;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class DeviceTest {
    private static final Board SWAGE = Boards.shipped().find("swage32").orElseThrow();
    private static final Patch PATCH = new Patch("swage32", List.of(new Patch.Row("volts", "ADC1.0", "W1", ""),
            new Patch.Row("shaft", "Q2", "N15,N16", ""), new Patch.Row("key", "IO.E1", "E1", ""), new Patch.Row("leg", "T2.C", "N11", ""),
            new Patch.Row("lamp", "IO.S1", "S1", "")));

    @TempDir
    private Path folder;

    private final Program program = new PartBuilder("dev").block("volts", "analog in").block("shaft", "encoder in", "lines=100")
            .block("key", "digital in").block("leg", "pwm out").block("lamp", "digital out").block("v", "tap").block("angle", "tap")
            .block("third", "gain", "*k=1/3").wire("volts.y", "v.u").wire("shaft.y", "angle.u").wire("volts.y", "third.u")
            .wire("third.y", "leg.u").wire("key.y", "lamp.u").program();

    private BoardSetup setup() {
        return new BoardSetup(SWAGE, PATCH, program);
    }

    private byte[] image() throws IOException {
        return Files.readAllBytes(new Builder(folder, _ -> { }, () -> false).build(program, Sources.of(setup())).file());
    }

    private static void download(Device d, byte[] image) {
        d.erase(image.length);
        for (int at = 0; at < image.length; at += 4_096) {
            d.program(at, Arrays.copyOfRange(image, at, Math.min(image.length, at + 4_096)));
        }
    }

    private Slot slot(String port) {
        return program.port(port).orElseThrow().slot();
    }

    @Test
    void anEmptyDeviceDoesNotStart() {
        var d = new Device(SWAGE);
        assertThat(d.digest()).isEmpty();
        try (Arena arena = Arena.ofConfined()) {
            assertThatThrownBy(() -> d.start(setup(), arena)).isInstanceOf(FindingException.class)
                    .hasMessageContaining("no image");
        }
    }

    @Test
    void aDownloadIsWholeOrNothing() throws IOException {
        var d = new Device(SWAGE);
        byte[] image = image();
        d.erase(image.length);
        d.program(0, Arrays.copyOf(image, 100));
        assertThat(d.digest()).isEmpty();
        assertThatThrownBy(() -> d.program(50, new byte[10])).hasMessageContaining("out of order");
        assertThatThrownBy(() -> d.program(100, new byte[image.length])).hasMessageContaining("out of order");
        d.program(100, Arrays.copyOfRange(image, 100, image.length));
        assertThat(d.digest()).isEqualTo(Builder.sha256(image));
    }

    @Test
    void anImageLargerThanTheFlashIsRefused() {
        assertThatThrownBy(() -> new Device(SWAGE).erase(600_000)).isInstanceOf(FindingException.class).hasMessageContaining("524288");
        assertThatThrownBy(() -> new Device(SWAGE).erase(0)).isInstanceOf(FindingException.class);
    }

    @Test
    void theDownloadTakesTheTimeOfItsLink() {
        var d = new Device(SWAGE);
        d.erase(40_000);
        long begin = System.nanoTime();
        d.program(0, new byte[40_000]);
        assertThat(System.nanoTime() - begin).isGreaterThanOrEqualTo(95_000_000L);
    }

    @Test
    void whatWasDownloadedRunsBehindItsPins() throws IOException {
        var d = new Device(SWAGE);
        download(d, image());
        try (Arena arena = Arena.ofConfined()) {
            var i = d.start(setup(), arena);
            i.set(slot("volts"), 1.2345);
            i.set(slot("key"), 1);
            i.sample();
            i.step();
            i.advance();
            double lsb = 3.3 / 4096;
            double seen = i.get(program.tap("v").orElseThrow().slot());
            assertThat(seen).isEqualTo(Math.rint(1.2345 / lsb) * lsb);
            assertThat(i.get(slot("lamp"))).isEqualTo(1);
            assertThat(i.get(slot("leg"))).isCloseTo(seen / 3, within(0.5 / 8400));
            assertThat(i.get(slot("leg")) * 8400).isCloseTo(Math.rint(i.get(slot("leg")) * 8400), within(1e-9));
        }
    }

    @Test
    void theEncoderCountsOnAcrossTheWrapOfItsCounter() throws IOException {
        var d = new Device(SWAGE);
        download(d, image());
        double count = PinMath.radiansPerCount(100);
        try (Arena arena = Arena.ofConfined()) {
            var i = d.start(setup(), arena);
            var angle = program.tap("angle").orElseThrow().slot();
            // 400 counts a turn; the 16-bit counter wraps after 163.84 turns, here forwards, then back below zero.
            for (double turns = 0; turns < 200; turns += 20) {
                i.set(slot("shaft"), turns * 2 * Math.PI + 1e-6);
                i.step();
                assertThat(i.get(angle)).isCloseTo(turns * 2 * Math.PI, within(count));
            }
            for (double turns = 180; turns > -30; turns -= 20) {
                i.set(slot("shaft"), turns * 2 * Math.PI + 1e-6);
                i.step();
                assertThat(i.get(angle)).isCloseTo(turns * 2 * Math.PI, within(count));
            }
        }
    }

    @Test
    void aTunableIsChangedInTheDevicesMemory() throws IOException {
        var d = new Device(SWAGE);
        download(d, image());
        try (Arena arena = Arena.ofConfined()) {
            var i = d.start(setup(), arena);
            var k = program.tunable("third.k").orElseThrow().slot();
            assertThat(i.get(k)).isEqualTo(1.0 / 3);
            i.set(k, 0.5);
            i.set(slot("volts"), 1);
            i.step();
            assertThat(i.get(slot("leg"))).isCloseTo(0.5, within(1e-3));
            i.init();
            assertThat(i.get(k)).isEqualTo(1.0 / 3);
        }
    }

    @Test
    void aDeviceTellsWhoItIs() {
        assertThat(new Device(SWAGE).serial()).startsWith("BA-");
        assertThat(new Device(SWAGE).board().title()).isEqualTo("Swage 32");
    }
}
