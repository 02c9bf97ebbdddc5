package boldanvil.standin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.link.xcp.Xcp;
import boldanvil.core.link.xcp.XcpAccess;
import boldanvil.core.link.xcp.XcpClient;
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
import java.util.Arrays;
import java.util.List;
import java.util.Map;
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
        server = new XcpServer(program, instance, Runnable::run, this::write, true, "token");
    }

    private void write(Map<Slot, Double> values) {
        values.forEach(instance::set);
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
        try (var client = new XcpClient(Place.named("dev"), server.port(), "token")) {
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
        try (var client = new XcpClient(Place.named("dev"), server.port(), "token")) {
            var state = program.slots().stream().filter(s -> s.role() == Slot.Role.STATE && s != program.fault()).findFirst().orElseThrow();
            assertThatThrownBy(() -> client.write(address(state), state.type(), 1)).isInstanceOf(FindingException.class)
                    .hasMessageContaining("access is denied");
            assertThatThrownBy(() -> client.read(99_999, Type.FLOAT64)).hasMessageContaining("out of range");
        }
    }

    private XcpClient.MeasureList list(int event, int everyNth, Slot s) {
        return new XcpClient.MeasureList(event, everyNth, List.of(new XcpClient.Variable(address(s), s.type())));
    }

    @Test
    void measurementBringsEverySampleWithItsTime() {
        record Sample(int signal, long nanos, double value) {}
        var seen = new ConcurrentLinkedQueue<Sample>();
        try (var client = new XcpClient(Place.named("dev"), server.port(), "token")) {
            var b = program.tap("b").orElseThrow().slot();
            var c = program.tap("c").orElseThrow().slot();
            client.measure(List.of(list(1, 1, b), list(2, 1, c), list(1, 10, b)), (s, nanos, v) -> seen.add(new Sample(s, nanos, v[0])));
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
        var seen = new ConcurrentLinkedQueue<double[]>();
        var t = tunable("t");
        var many = new XcpClient.MeasureList(1, 1, java.util.Collections.nCopies(500, new XcpClient.Variable(address(t), Type.FLOAT64)));
        try (var client = new XcpClient(Place.named("dev"), server.port(), "token")) {
            client.measure(List.of(many), (_, _, v) -> seen.add(v.clone()));
            tick(0);
            tick(1);
            client.drain();
            assertThat(client.lost()).isZero();
        }
        assertThat(seen).hasSize(2).allSatisfy(row -> assertThat(row).hasSize(500).containsOnly(2.5));
    }

    @Test
    void timeGoesOnWhenTheTimestampWraps() {
        var times = new ConcurrentLinkedQueue<Long>();
        var b = program.tap("b").orElseThrow().slot();
        long wrap = (1L << 32) * 1_000;
        try (var client = new XcpClient(Place.named("dev"), server.port(), "token")) {
            client.measure(List.of(list(1, 1, b)), (_, nanos, _) -> times.add(nanos));
            server.event(1, wrap - 2_000_000);
            server.event(1, wrap + 3_000_000);
            client.drain();
        }
        assertThat(times).containsExactly(wrap - 2_000_000, wrap + 3_000_000);
    }

    @Test
    void aLostDeviceIsNoticed() throws Exception {
        var lost = new CountDownLatch(1);
        try (var client = new XcpClient(Place.named("dev"), server.port(), "token")) {
            client.onLost(lost::countDown);
            server.close();
            assertThat(lost.await(5, TimeUnit.SECONDS)).isTrue();
            assertThat(client.isOpen()).isFalse();
            assertThatThrownBy(() -> client.read(0, Type.FLOAT64)).isInstanceOf(FindingException.class).hasMessageContaining("is lost");
        }
    }

    @Test
    void nobodyThereIsAFinding() {
        int port = server.port();
        server.close();
        assertThatThrownBy(() -> new XcpClient(Place.named("dev"), port, "token")).isInstanceOf(FindingException.class)
                .hasMessageContaining("does not respond");
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
            assertThatThrownBy(() -> new XcpClient(Place.named("dev"), nonsense.getLocalPort(), "token"))
                    .isInstanceOf(FindingException.class);
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

    private void unlock(Socket s, int resource) throws IOException {
        byte[] seed = raw(s, 0xF8, 0, resource);
        assertThat(seed).hasSize(2 + XcpAccess.SEED_BYTES);
        byte[] key = XcpAccess.key("token", resource, Arrays.copyOfRange(seed, 2, seed.length));
        int[] command = new int[2 + key.length];
        command[0] = 0xF7;
        command[1] = key.length;
        for (int i = 0; i < key.length; i++) {
            command[2 + i] = key[i];
        }
        assertThat(raw(s, command)[0]).isEqualTo((byte) 0xFF);
    }

    @Test
    void aWrongKeyEndsTheConnection() {
        assertThatThrownBy(() -> new XcpClient(Place.named("dev"), server.port(), "another")).isInstanceOf(FindingException.class);
        try (var client = new XcpClient(Place.named("dev"), server.port(), "token")) {
            assertThat(client.isOpen()).isTrue();
        }
    }

    @Test
    void listsDoNotChangeWhileTheyRunAndStayWithinAPacket() throws IOException {
        try (var s = new Socket(InetAddress.getLoopbackAddress(), server.port())) {
            unlock(s, XcpAccess.MEASUREMENT);
            int at = address(tunable("t"));
            assertThat(raw(s, 0xD5, 0, 1, 0)[0]).isEqualTo((byte) 0xFF);
            assertThat(raw(s, 0xD4, 0, 0, 0, 1)[0]).isEqualTo((byte) 0xFF);
            assertThat(raw(s, 0xE2, 0, 0, 0, 0, 0)[0]).isEqualTo((byte) 0xFF);
            int[] write = {0xE1, 0xFF, 8, 0, at, at >> 8, 0, 0};
            byte[] answer = raw(s, write);
            for (int i = 0; i < 200 && answer[0] == (byte) 0xFF; i++) {
                answer = raw(s, write);
            }
            assertThat(answer).containsExactly((byte) 0xFE, (byte) Xcp.ERR_MEMORY_OVERFLOW);
            assertThat(raw(s, 0xE0, 0x10, 0, 0, 1, 0, 1, 0)[0]).isEqualTo((byte) 0xFF);
            assertThat(raw(s, 0xDE, 1, 0, 0)[0]).isEqualTo((byte) 0xFF);
            assertThat(raw(s, write)).containsExactly((byte) 0xFE, (byte) Xcp.ERR_DAQ_ACTIVE);
            assertThat(raw(s, 0xD5, 0, 1, 0)).containsExactly((byte) 0xFE, (byte) Xcp.ERR_DAQ_ACTIVE);
        }
    }

    @Test
    void theWireFormatIsThatOfTheStandard() throws IOException {
        try (var s = new Socket(InetAddress.getLoopbackAddress(), server.port())) {
            byte[] connect = raw(s, 0xFF, 0x00);
            assertThat(connect).hasSize(8);
            assertThat(connect[0]).isEqualTo((byte) 0xFF);
            assertThat(connect[1] & 0x05).as("calibration and measurement").isEqualTo(0x05);
            assertThat(ByteBuffer.wrap(connect).order(ByteOrder.LITTLE_ENDIAN).getShort(4)).isEqualTo((short) Xcp.MAX_DTO);
            assertThat(raw(s, 0xD5, 0, 1, 0)).as("locked").containsExactly((byte) 0xFE, (byte) Xcp.ERR_ACCESS_LOCKED);
            unlock(s, XcpAccess.CALIBRATION);
            unlock(s, XcpAccess.MEASUREMENT);
            assertThat(raw(s, 0xFD)[2]).as("nothing is locked any more").isZero();
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

    @Test
    void severalValuesTakeEffectTogether() throws Exception {
        var pending = new ConcurrentLinkedQueue<Runnable>();
        try (var slow = new XcpServer(program, instance, pending::add, this::write, true, "token"); var client =
                new XcpClient(Place.named("dev"), slow.port(), "token")) {
            var t = tunable("t");
            var flag = tunable("flag");
            client.write(List.of(new XcpClient.Write(address(t), t.type(), 7), new XcpClient.Write(address(flag), flag.type(), 0)));
            // Nothing has changed, and one action waits for the next gap between two ticks.
            assertThat(instance.get(t)).isEqualTo(2.5);
            assertThat(pending).hasSize(1);
            pending.remove().run();
            assertThat(instance.get(t)).isEqualTo(7);
            assertThat(instance.get(flag)).isZero();
            client.write(List.of(new XcpClient.Write(address(t), t.type(), -3)));
            pending.remove().run();
            assertThat(instance.get(t)).isEqualTo(-3);
            assertThat(instance.get(flag)).isZero();
            // A single value goes its plain way again.
            client.write(address(t), t.type(), 1);
            pending.remove().run();
            assertThat(instance.get(t)).isEqualTo(1);
        }
    }

    @Test
    void aRowOfWhichAPartIsMissingIsCountedAndNotGivenOn() throws Exception {
        try (var fake = new java.net.ServerSocket(0, 1, java.net.InetAddress.getLoopbackAddress())) {
            var packets = List.of(packet(0, 100), packet(1, 0), packet(0, 200), packet(0, 300), packet(1, 0), packet(1, 0));
            Thread.ofPlatform().daemon().start(() -> serve(fake, packets));
            var seen = new ConcurrentLinkedQueue<Long>();
            var list = new XcpClient.MeasureList(1, 1, java.util.Collections.nCopies(180, new XcpClient.Variable(0, Type.FLOAT64)));
            try (var client = new XcpClient(Place.named("dev"), fake.getLocalPort(), "token")) {
                client.measure(List.of(list), (_, nanos, _) -> seen.add(nanos));
                client.drain();
                assertThat(seen).containsExactly(100_000L, 300_000L);
                assertThat(client.lost()).isEqualTo(2);
            }
        }
    }

    /** A measurement packet: 174 values of 8 bytes fit into the first, 6 are in the second. */
    private static byte[] packet(int id, int micros) {
        var b = java.nio.ByteBuffer.allocate(id == 0 ? 5 + 174 * 8 : 1 + 6 * 8).order(java.nio.ByteOrder.LITTLE_ENDIAN);
        b.put((byte) id);
        if (id == 0) {
            b.putInt(micros);
        }
        return b.array();
    }

    /** Says yes to everything; before the answer to the status request, it sends packets. */
    private static void serve(java.net.ServerSocket server, List<byte[]> packets) {
        try (var socket = server.accept()) {
            var in = new java.io.DataInputStream(socket.getInputStream());
            var out = socket.getOutputStream();
            for (byte[] p = boldanvil.core.link.xcp.Xcp.read(in); p != null; p = boldanvil.core.link.xcp.Xcp.read(in)) {
                if ((p[0] & 0xFF) == boldanvil.core.link.xcp.Xcp.GET_STATUS) {
                    for (byte[] m : packets) {
                        boldanvil.core.link.xcp.Xcp.write(out, m, 0);
                    }
                }
                boldanvil.core.link.xcp.Xcp.write(out, new byte[] {(byte) 0xFF, 1, 8, 1, 8, 0x34, 1, 0}, 0);
                out.flush();
            }
        } catch (IOException e) {
            // The master has gone.
        }
    }
}
