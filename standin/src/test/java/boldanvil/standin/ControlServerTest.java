package boldanvil.standin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import boldanvil.core.control.ControlClient;
import boldanvil.core.finding.FindingException;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

@Timeout(60)
class ControlServerTest {
    private static final String DEMO = Path.of("../demo/larkmere-lock").toAbsolutePath().normalize().toString();

    private ControlServer server;

    @BeforeEach
    void open() throws IOException {
        server = new ControlServer("secret");
    }

    @AfterEach
    void close() throws IOException {
        server.close();
    }

    private ControlClient client() {
        return new ControlClient(server.port(), "secret", 10_000);
    }

    @Test
    void withoutItsTokenNobodyIsServed() {
        assertThatThrownBy(() -> new ControlClient(server.port(), "guess", 10_000)).isInstanceOf(FindingException.class)
                .hasMessageContaining("without the token");
        client().close();
    }

    @Test
    void theFirstRequestMustBeTheGreeting() throws IOException {
        try (var s = new Socket(InetAddress.getLoopbackAddress(), server.port())) {
            s.getOutputStream().write("{\"do\": \"status\"}\n".getBytes(StandardCharsets.UTF_8));
            var in = new BufferedReader(new InputStreamReader(s.getInputStream(), StandardCharsets.UTF_8));
            assertThat(in.readLine()).contains("\"ok\":false");
            assertThat(in.readLine()).isNull();
        }
    }

    @Test
    void whatIsNoJsonIsRefusedAndTheServerGoesOn() throws IOException {
        try (var s = new Socket(InetAddress.getLoopbackAddress(), server.port())) {
            s.getOutputStream().write("hello there\n".getBytes(StandardCharsets.UTF_8));
            assertThat(new BufferedReader(new InputStreamReader(s.getInputStream(), StandardCharsets.UTF_8)).readLine())
                    .contains("not JSON");
        }
        client().close();
    }

    @Test
    void anEndlessLineEndsTheConnection() throws IOException {
        try (var s = new Socket(InetAddress.getLoopbackAddress(), server.port())) {
            byte[] much = new byte[1 << 16];
            java.util.Arrays.fill(much, (byte) 'a');
            assertThatThrownBy(() -> {
                for (int i = 0; i < 2_000; i++) {
                    s.getOutputStream().write(much);
                }
            }).isInstanceOf(IOException.class);
        }
        client().close();
    }

    @Test
    void requestsOutOfOrderAreRefusedInWords() {
        try (var c = client()) {
            assertThatThrownBy(() -> c.ask("status", Map.of())).hasMessageContaining("No rig is loaded");
            assertThatThrownBy(() -> c.ask("dance", Map.of())).hasMessageContaining("no request 'dance'");
            c.ask("load", Map.of("project", DEMO, "rig", "swage"));
            assertThatThrownBy(() -> c.ask("run", Map.of())).hasMessageContaining("not prepared");
            assertThatThrownBy(() -> c.ask("prepare", Map.of())).hasMessageContaining("no image");
            assertThatThrownBy(() -> c.ask("built", Map.of("sources", "", "part", "drive")))
                    .hasMessageContaining("does not run on a device");
        }
    }

    @Test
    void whoLooksAroundIsTold() {
        try (var c = client()) {
            assertThat(c.ask("who", Map.of()).path("devices").size()).isZero();
            c.ask("load", Map.of("project", DEMO, "rig", "swage"));
            try (var other = client()) {
                var who = other.ask("who", Map.of());
                assertThat(who.path("rig").asString()).isEqualTo("swage");
                assertThat(who.path("connected").asBoolean()).isTrue();
                assertThat(who.path("devices").path(0).path("board").asString()).isEqualTo("swage32");
                assertThat(who.path("devices").path(0).path("build").asString()).isEmpty();
                assertThat(who.path("devices").path(0).path("running").asBoolean()).isFalse();
                assertThatThrownBy(() -> other.ask("attach", Map.of())).hasMessageContaining("already connected to this rig");
            }
            assertThatThrownBy(() -> c.ask("fault", Map.of("part", "controller", "kind", "gremlins")))
                    .hasMessageContaining("no simulated fault 'gremlins'");
            assertThatThrownBy(() -> c.ask("attach", Map.of())).hasMessageContaining("is not running");
        }
    }

    @Test
    void aProjectThatCannotBeReadIsRefused() {
        try (var c = client()) {
            assertThatThrownBy(() -> c.ask("load", Map.of("project", "/nowhere", "rig", "desk"))).hasMessageContaining("no project.json");
            assertThatThrownBy(() -> c.ask("load", Map.of("project", DEMO, "rig", "moon"))).hasMessageContaining("no rig 'moon'");
        }
    }

    @Test
    void aModelRigRunsHereToo() throws Exception {
        try (var c = client()) {
            c.ask("load", Map.of("project", DEMO, "rig", "desk"));
            var ports = c.ask("prepare", Map.of("lossless", true)).path("xcp");
            assertThat(ports.propertyNames()).containsExactlyInAnyOrder("controller", "drive", "panel", "chamber");
            c.ask("run", Map.of("endNanos", 100_000_000L, "speed", 0.0));
            await().atMost(Duration.ofSeconds(20)).until(() -> c.ask("status", Map.of()).path("ended").asBoolean());
            assertThat(c.ask("status", Map.of()).path("time").asDouble()).isEqualTo(0.1);
            c.ask("stop", Map.of());
        }
    }

    @Test
    void stimuliAndLimitsThatMakeNoSenseAreRefusedInWords() {
        try (var c = client()) {
            assertThatThrownBy(() -> c.ask("drive", Map.of())).hasMessageContaining("No rig is loaded");
            c.ask("load", Map.of("project", DEMO, "rig", "desk"));
            var ramp = Map.of("shape", "RAMP", "from", 0.0, "to", 1.0, "seconds", 1.0);
            assertThatThrownBy(() -> c.ask("guard", Map.of("guards", java.util.List.of()))).hasMessageContaining("not prepared");
            c.ask("prepare", Map.of("lossless", true));
            assertThatThrownBy(() -> c.ask("drive", Map.of("address", "panel.none", "stimulus", ramp)))
                    .hasMessageContaining("no tunable 'none'");
            assertThatThrownBy(() -> c.ask("drive", Map.of("address", "panel.enable", "stimulus", Map.of("shape", "WOBBLE"))))
                    .hasMessageContaining("cannot be applied");
            assertThatThrownBy(() -> c.ask("drive", Map.of("address", "panel.enable", "stimulus", Map.of("shape", "SINE", "seconds", 1.0))))
                    .hasMessageContaining("cannot be applied");
            assertThatThrownBy(() -> c.ask("guard", Map.of("guards", java.util.List.of(
                    Map.of("tap", "drive.position", "least", 2.0, "most", 1.0))))).hasMessageContaining("allow no value");
            assertThatThrownBy(() -> c.ask("guard", Map.of("guards", java.util.List.of(Map.of("tap", "drive.none", "most", 1.0)))))
                    .hasMessageContaining("no tap");
            c.ask("drive", Map.of("address", "controller.position_loop.target", "stimulus", ramp));
            assertThat(c.ask("status", Map.of()).path("driven").path(0).asString()).isEqualTo("controller.position_loop.target");
            c.ask("release", Map.of("address", "controller.position_loop.target"));
            assertThat(c.ask("status", Map.of()).path("driven").size()).isZero();
            c.ask("halt", Map.of());
        }
    }

    @Test
    void halfOpenConnectionsAreFewAndDoNotStay() throws Exception {
        List<Socket> strangers = new ArrayList<>();
        long before = Thread.getAllStackTraces().size();
        try {
            for (int i = 0; i < 300; i++) {
                strangers.add(new Socket(InetAddress.getLoopbackAddress(), server.port()));
            }
            assertThat((long) Thread.getAllStackTraces().size()).as("each takes no thread of the machine").isLessThan(before + 50);
            await("who says nothing is dropped after two seconds").atMost(Duration.ofSeconds(20)).ignoreException(FindingException.class)
                    .until(() -> {
                        try (var c = client()) {
                            return c.ask("who", Map.of()).path("ok").asBoolean();
                        }
                    });
            strangers.getFirst().setSoTimeout(5_000);
            assertThat(strangers.getFirst().getInputStream().read()).isEqualTo(-1);
        } finally {
            for (Socket s : strangers) {
                s.close();
            }
        }
    }

    @Test
    void stoppingWaitsForNobody() throws Exception {
        try (var busy = client(); var urgent = client()) {
            busy.ask("load", Map.of("project", DEMO, "rig", "desk"));
            busy.ask("prepare", Map.of());
            synchronized (server) {
                // Whoever serves a request holds the server; the urgent ones must come through all the same.
                urgent.ask("stop", Map.of());
                urgent.ask("halt", Map.of());
                urgent.ask("end", Map.of());
            }
            assertThat(server.awaitEnd(1_000)).isTrue();
        }
    }

    @Test
    void aRigIsPreparedOnce() {
        try (var c = client()) {
            c.ask("load", Map.of("project", DEMO, "rig", "desk"));
            c.ask("prepare", Map.of());
            assertThatThrownBy(() -> c.ask("prepare", Map.of())).isInstanceOf(FindingException.class).hasMessageContaining("prepared");
        }
    }
}
