package boldanvil.standin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.finding.FindingException;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.link.Xcp;
import boldanvil.core.link.XcpClient;
import boldanvil.core.program.Instance;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Type;
import boldanvil.core.testing.PartBuilder;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Master and slave against each other, and the slave against raw bytes of the standard. */
@Timeout(60)
class XcpServerTest {
    private final Program program = new PartBuilder("dev").block("t", "tunable", "value=2.5", "low=-9", "high=9")
            .block("flag", "tunable", "value=on", "type=bool").block("n", "counter", "limit=60000").block("slow", "counter",
            "sample time=5 ms").block("a", "tap").block("b", "tap").block("c", "tap", "sample time=5 ms").block("d", "tap")
            .wire("t.y", "a.u").wire("n.y", "b.u").wire("slow.y", "c.u").wire("flag.y", "d.u").program();
    private final Layout layout = Layout.of(program);
    private final Instance instance = JvmCompiler.compile(program).instantiate();
    private XcpServer server;

    @BeforeEach
    void open() throws IOException {
        server = new XcpServer(program, instance, Runnable::run, true);
    }

    @AfterEach
    void close() {
        server.close();
    }

    private int address(Slot s) {
        return layout.offset(s);
    }

    private Slot tunable(String name) {
        return program.tunable(name).orElseThrow().slot();
    }

    private void tick(long n) {
        instance.sample();
        server.event(0, n * 1_000_000);
        instance.step();
        server.event(1, n * 1_000_000);
        if (n % 5 == 0) {
            server.event(2, n * 1_000_000);
        }
        instance.advance();
    }

    @Test
    void valuesAreReadAndWritten() {
        try (var client = new XcpClient("dev", server.port())) {
            assertThat(client.identify()).contains("Bold Anvil stand-in").contains("Part dev");
            var t = tunable("t");
            assertThat(client.read(address(t), Type.FLOAT64)).isEqualTo(2.5);
            client.write(address(t), Type.FLOAT64, -1.25);
            assertThat(instance.get(t)).isEqualTo(-1.25);
            client.write(address(tunable("flag")), Type.BOOL, 0);
            assertThat(instance.get(tunable("flag"))).isZero();
        }
    }

    @Test
    void onlyTunablesCanBeWritten() {
        try (var client = new XcpClient("dev", server.port())) {
            var state = program.slots().stream().filter(s -> s.role() == Slot.Role.STATE && s != program.fault()).findFirst().orElseThrow();
            assertThatThrownBy(() -> client.write(address(state), state.type(), 1)).isInstanceOf(FindingException.class)
                    .hasMessageContaining("access is denied");
            assertThatThrownBy(() -> client.read(99_999, Type.FLOAT64)).hasMessageContaining("out of range");
        }
    }

    @Test
    void measurementBringsEverySampleWithItsTime() {
        record Sample(int signal, long nanos, double value) {}
        var seen = new ConcurrentLinkedQueue<Sample>();
        try (var client = new XcpClient("dev", server.port())) {
            var b = program.tap("b").orElseThrow().slot();
            var c = program.tap("c").orElseThrow().slot();
            client.measure(List.of(new XcpClient.Signal(address(b), b.type(), 1, 1), new XcpClient.Signal(address(c), c.type(), 2, 1),
                    new XcpClient.Signal(address(b), b.type(), 1, 10)), (s, nanos, v) -> seen.add(new Sample(s, nanos, v)));
            for (long k = 0; k < 100; k++) {
                tick(k);
            }
            client.drain();
            assertThat(client.lost()).isZero();
        }
        assertThat(seen).filteredOn(s -> s.signal() == 0).hasSize(100).allSatisfy(s ->
                assertThat(s.value()).isEqualTo(s.nanos() / 1e6));
        assertThat(seen).filteredOn(s -> s.signal() == 1).hasSize(20).allSatisfy(s ->
                assertThat(s.value()).isEqualTo(s.nanos() / 5e6));
        assertThat(seen).filteredOn(s -> s.signal() == 2).hasSize(10);
        assertThat(server.dropped()).isZero();
    }

    @Test
    void manySignalsAreSplitOverTables() {
        var seen = new ConcurrentLinkedQueue<Integer>();
        var t = tunable("t");
        List<XcpClient.Signal> many = new ArrayList<>();
        for (int i = 0; i < 500; i++) {
            many.add(new XcpClient.Signal(address(t), Type.FLOAT64, 1, 1));
        }
        try (var client = new XcpClient("dev", server.port())) {
            client.measure(many, (s, _, v) -> {
                if (v == 2.5) {
                    seen.add(s);
                }
            });
            tick(0);
            tick(1);
            client.drain();
        }
        assertThat(seen).hasSize(1_000);
        assertThat(seen.stream().distinct()).hasSize(500);
    }

    @Test
    void timeGoesOnWhenTheTimestampWraps() {
        var times = new ConcurrentLinkedQueue<Long>();
        var b = program.tap("b").orElseThrow().slot();
        long wrap = (1L << 32) * 1_000;
        try (var client = new XcpClient("dev", server.port())) {
            client.measure(List.of(new XcpClient.Signal(address(b), b.type(), 1, 1)), (_, nanos, _) -> times.add(nanos));
            server.event(1, wrap - 2_000_000);
            server.event(1, wrap + 3_000_000);
            client.drain();
        }
        assertThat(times).containsExactly(wrap - 2_000_000, wrap + 3_000_000);
    }

    @Test
    void aLostDeviceIsNoticed() throws Exception {
        var lost = new CountDownLatch(1);
        try (var client = new XcpClient("dev", server.port())) {
            client.onLost(lost::countDown);
            server.close();
            assertThat(lost.await(5, TimeUnit.SECONDS)).isTrue();
            assertThat(client.isOpen()).isFalse();
            assertThatThrownBy(() -> client.read(0, Type.FLOAT64)).isInstanceOf(FindingException.class).hasMessageContaining("gone");
        }
    }

    @Test
    void nobodyThereIsAFinding() {
        int port = server.port();
        server.close();
        assertThatThrownBy(() -> new XcpClient("dev", port)).isInstanceOf(FindingException.class).hasMessageContaining("does not answer");
    }

    @Test
    void aPeerThatSpeaksNonsenseEndsInAFinding() throws Exception {
        try (var nonsense = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            Thread.ofPlatform().daemon().start(() -> {
                try (Socket s = nonsense.accept()) {
                    s.getOutputStream().write("HTTP/1.1 400 Bad Request\r\n\r\n".getBytes(java.nio.charset.StandardCharsets.US_ASCII));
                    s.getOutputStream().flush();
                    Thread.sleep(500);
                } catch (IOException | InterruptedException e) {
                    // The test looks at the other end.
                }
            });
            assertThatThrownBy(() -> new XcpClient("dev", nonsense.getLocalPort())).isInstanceOf(FindingException.class);
        }
    }

    /** Sends raw command bytes and returns the raw response. */
    private byte[] raw(Socket s, int... bytes) throws IOException {
        var out = new ByteArrayOutputStream();
        byte[] packet = new byte[bytes.length];
        for (int i = 0; i < bytes.length; i++) {
            packet[i] = (byte) bytes[i];
        }
        Xcp.write(out, packet, 0);
        s.getOutputStream().write(out.toByteArray());
        s.getOutputStream().flush();
        return Xcp.read(new DataInputStream(s.getInputStream()));
    }

    @Test
    void theWireFormatIsThatOfTheStandard() throws IOException {
        try (var s = new Socket(InetAddress.getLoopbackAddress(), server.port())) {
            byte[] connect = raw(s, 0xFF, 0x00);
            assertThat(connect).hasSize(8);
            assertThat(connect[0]).isEqualTo((byte) 0xFF);
            assertThat(connect[1] & 0x05).as("calibration and measurement").isEqualTo(0x05);
            assertThat(ByteBuffer.wrap(connect).order(ByteOrder.LITTLE_ENDIAN).getShort(4)).isEqualTo((short) Xcp.MAX_DTO);
            assertThat(raw(s, 0xC0)).containsExactly((byte) 0xFE, (byte) Xcp.ERR_CMD_UNKNOWN);
            assertThat(raw(s, 0xF4)).containsExactly((byte) 0xFE, (byte) Xcp.ERR_CMD_SYNTAX);
            assertThat(raw(s, 0xE2, 0, 9, 0, 0, 0)).as("no such list").containsExactly((byte) 0xFE, (byte) Xcp.ERR_CMD_SYNTAX);
            assertThat(raw(s, 0xD5, 0, 0xFF, 0xFF)).containsExactly((byte) 0xFE, (byte) Xcp.ERR_MEMORY_OVERFLOW);
            assertThat(raw(s, 0xFD)[0]).isEqualTo((byte) 0xFF);
            assertThat(raw(s, 0xFE)[0]).isEqualTo((byte) 0xFF);
        }
    }

    @Test
    void framesCarryLengthAndCounter() throws IOException {
        var out = new ByteArrayOutputStream();
        Xcp.write(out, new byte[] {1, 2, 3}, 0x1234);
        assertThat(out.toByteArray()).containsExactly(3, 0, 0x34, 0x12, 1, 2, 3);
        assertThat(Xcp.read(new DataInputStream(new ByteArrayInputStream(out.toByteArray())))).containsExactly(1, 2, 3);
        assertThat(Xcp.read(new DataInputStream(new ByteArrayInputStream(new byte[0])))).isNull();
        assertThatThrownBy(() -> Xcp.read(new DataInputStream(new ByteArrayInputStream(new byte[] {(byte) 0xFF, (byte) 0xFF, 0, 0}))))
                .isInstanceOf(IOException.class);
    }

    @Test
    void everyTypeKeepsItsValueOnTheWire() {
        for (Type t : Type.values()) {
            for (double v : new double[] {0, 1, 200, 40_000, -3.25, 1e-9}) {
                double kept = t.convert(v);
                var b = ByteBuffer.wrap(XcpClient.encode(t, v)).order(ByteOrder.LITTLE_ENDIAN);
                assertThat(b.remaining()).isEqualTo(t.bytes());
                assertThat(XcpClient.decode(b, t)).isEqualTo(kept);
            }
        }
    }
}
