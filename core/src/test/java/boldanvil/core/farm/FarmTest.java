package boldanvil.core.farm;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.bench.Sweep;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Variable;
import boldanvil.core.finding.FindingException;
import boldanvil.core.study.StudyListener;
import boldanvil.core.testing.PartBuilder;
import java.io.IOException;
import java.net.ServerSocket;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CopyOnWriteArrayList;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLSocket;
import javax.net.ssl.TrustManager;
import javax.net.ssl.X509TrustManager;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

@Timeout(300)
class FarmTest {
    private static final List<Sweep.Axis> AXES = List.of(new Sweep.Axis("tau", List.of(0.1, 0.5)), new Sweep.Axis("plant.r",
            List.of(1.0, 3.0)));
    private static final long END = 20_000_000;

    @TempDir
    private Path folder;

    private static Project project() {
        var part = new PartBuilder("plant").plant("1 ms", "rk4").block("r", "tunable", "value=1").block("e", "sum", "signs=+-")
                .block("g", "gain", "k=1/tau").block("x", "integrator").block("y", "tap").wire("r.y", "e.u1").wire("x.y", "e.u2")
                .wire("e.y", "g.u").wire("g.y", "x.u").wire("x.y", "y.u").part();
        return PartBuilder.project(List.of(part)).withVariables(List.of(new Variable("tau", "0.1 s", "")));
    }

    /** A port that is free, as is the one that is 100 higher. */
    private static int port() throws IOException {
        for (int i = 0; i < 100; i++) {
            try (var a = new ServerSocket(0); var b = new ServerSocket(a.getLocalPort() + Node.MESSAGE_PORT_OFFSET)) {
                assertThat(b.isBound()).isTrue();
                return a.getLocalPort();
            } catch (IOException | IllegalArgumentException e) {
                // The other one is in use; try again.
            }
        }
        throw new IOException("no free ports");
    }

    private record Heard(List<String> notes) implements StudyListener {
        @Override
        public void done(int runs, int all) { }

        @Override
        public void note(String sentence) {
            notes.add(sentence);
        }
    }

    @Test
    void aKilledWorkerIsReplacedAndEachRunIsCountedOnce() throws Exception {
        Path file = folder.resolve("key.pem");
        FarmKey key = FarmKey.create(file);
        var points = Sweep.sample(AXES, 3_000, 7);
        int first = port();
        int second = port();
        int third = port();
        try (var a = WorkerProcess.start(file, first, 0).ready();
                var b = WorkerProcess.start(file, second, first).ready();
                var farm = Farm.join(key, "127.0.0.1", List.of("127.0.0.1:" + first))) {
            assertThat(farm.workers()).containsOnlyKeys("127.0.0.1:" + first, "127.0.0.1:" + second);
            List<WorkerProcess> late = new ArrayList<>();
            var heard = new Heard(new CopyOnWriteArrayList<>());
            List<Sweep.Outcome> outcomes = new ArrayList<>();
            farm.each(Work.sweep(project(), "desk", END), points, 60, heard, Sweep.Outcome.class, o -> {
                outcomes.add(o);
                if (outcomes.size() == 300) {
                    a.kill();
                    try {
                        // It replaces the one that is gone, and joins those that are left.
                        late.add(WorkerProcess.start(file, third, second));
                    } catch (IOException e) {
                        throw new java.io.UncheckedIOException(e);
                    }
                }
            });
            late.forEach(WorkerProcess::close);
            assertThat(outcomes).hasSize(points.size());
            assertThat(outcomes).isEqualTo(Sweep.run(project(), "desk", END, points, 2, (_, _) -> { }));
            assertThat(heard.notes()).anyMatch(n -> n.matches("Worker 127.0.0.1:" + first + " is lost; others do its \\d+ runs."));
            b.kill();
            assertThatThrownBy(() -> farm.each(Work.sweep(project(), "desk", END), points, 1, heard, Sweep.Outcome.class, _ -> { }))
                    .isInstanceOf(FindingException.class).hasMessageContaining("No worker is left");
        }
    }

    @Test
    void whoHasNotTheKeyIsRefused() throws Exception {
        Path file = folder.resolve("key.pem");
        Path foreign = folder.resolve("foreign.pem");
        FarmKey.create(file);
        FarmKey foreignKey = FarmKey.create(foreign);
        int first = port();
        int second = port();
        try (var _ = WorkerProcess.start(file, first, 0).ready()) {
            assertThatThrownBy(() -> Farm.join(foreignKey, "127.0.0.1", List.of("127.0.0.1:" + first)))
                    .isInstanceOf(FindingException.class).hasMessageContaining("do not accept the key");
            try (var other = WorkerProcess.start(foreign, second, first)) {
                assertThatThrownBy(other::ready).hasMessageContaining("do not accept the key");
            }
            // Without any certificate nothing is read from a stranger, on neither port.
            var anyone = SSLContext.getInstance("TLSv1.3");
            anyone.init(null, new TrustManager[] {new Trusting()}, new SecureRandom());
            for (int p : new int[] {first, first + Node.MESSAGE_PORT_OFFSET}) {
                try (var socket = (SSLSocket) anyone.getSocketFactory().createSocket("127.0.0.1", p)) {
                    socket.setSoTimeout(10_000);
                    assertThatThrownBy(() -> {
                        socket.startHandshake();
                        socket.getOutputStream().write(new byte[64]);
                        if (socket.getInputStream().read() < 0) {
                            throw new IOException("closed");
                        }
                    }).isInstanceOf(IOException.class).isNotInstanceOf(java.net.SocketTimeoutException.class);
                }
            }
        }
    }

    @Test
    void withoutWorkersAFindingSaysHowToStartThem() throws Exception {
        FarmKey key = FarmKey.create(folder.resolve("key.pem"));
        int port = port();
        assertThatThrownBy(() -> Farm.join(key, "127.0.0.1", List.of("127.0.0.1:" + port))).isInstanceOf(FindingException.class)
                .hasMessageContaining("No worker answers");
    }

    @Test
    void aWorkerRefusesWhatIsNotWhatWasSent() {
        var bench = new Bench();
        Work work = Work.sweep(project(), "desk", END);
        assertThat(bench.open("0000", Parcel.pack(work)).findings()).singleElement().satisfies(f -> assertThat(f.cause())
                .contains("its hash is another one"));
        assertThat(bench.open(work.hash(), new byte[] {1, 2, 3}).findings()).singleElement().satisfies(f -> assertThat(f.cause())
                .contains("another build"));
        assertThat(bench.run(work.hash(), Map.of()).findings()).singleElement().satisfies(f -> assertThat(f.cause())
                .contains("does not have this study"));
        assertThat(bench.open(work.hash(), Parcel.pack(work)).findings()).isEmpty();
        assertThat(bench.run(work.hash(), Map.of("tau", 0.2)).outcome()).isInstanceOf(Sweep.Outcome.class);
        assertThat(bench.run(work.hash(), Map.of("nothing", 0.2)).findings()).isNotEmpty();
        assertThat(Work.sweep(project(), "code", END).hash()).isNotEqualTo(work.hash());
    }

    @Test
    void onlyClassesOfThisProgramAreUnpacked() {
        byte[] bytes = Parcel.pack(new java.io.File("x"));
        assertThatThrownBy(() -> Parcel.unpack(bytes)).isInstanceOf(IllegalArgumentException.class);
    }

    @Test
    void aKeyIsNotReplacedAndADamagedOneIsAFinding() throws Exception {
        Path file = folder.resolve("key.pem");
        FarmKey key = FarmKey.create(file);
        assertThat(FarmKey.read(file)).hasToString(key.toString());
        assertThat(java.nio.file.Files.getPosixFilePermissions(file)).hasToString("[OWNER_READ, OWNER_WRITE]");
        assertThatThrownBy(() -> FarmKey.create(file)).hasMessageContaining("already exists");
        java.nio.file.Files.writeString(file, java.nio.file.Files.readString(file).substring(0, 200));
        assertThatThrownBy(() -> FarmKey.read(file)).isInstanceOf(FindingException.class).hasMessageContaining("not a key file");
        assertThatThrownBy(() -> FarmKey.read(folder.resolve("none"))).isInstanceOf(FindingException.class)
                .hasMessageContaining("--new-key");
    }

    /** Accepts every server. */
    private static final class Trusting implements X509TrustManager {
        @Override
        public void checkClientTrusted(java.security.cert.X509Certificate[] chain, String kind) { }

        @Override
        public void checkServerTrusted(java.security.cert.X509Certificate[] chain, String kind) { }

        @Override
        public java.security.cert.X509Certificate[] getAcceptedIssuers() {
            return new java.security.cert.X509Certificate[0];
        }
    }
}
