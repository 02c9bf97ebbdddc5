package boldanvil.standin.plc;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import boldanvil.core.bench.PlcProcess;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The PLC stand-in seen by clients of other makers, which the launcher installs for the tests. */
class IndependentReadersTest {
    private static final Path READERS = Path.of("target/readers/node_modules");
    private static PlcProcess plc;

    @BeforeAll
    static void start() {
        assumeTrue(Files.isDirectory(READERS), "clients of other makers are not installed; './bold-anvil test' installs them");
        plc = PlcProcess.start(Map.of());
        plc.control().ask("download", Map.of("text", PlcNetworkTest.PROGRAM));
        plc.control().ask("run", Map.of());
    }

    @AfterAll
    static void end() {
        if (plc != null) {
            plc.close();
        }
    }

    private static JsonNode seen(String script, String... arguments) throws IOException, InterruptedException {
        List<String> command = new ArrayList<>(List.of("node", "src/test/resources/boldanvil/standin/plc/" + script));
        command.addAll(List.of(arguments));
        var builder = new ProcessBuilder(command).redirectErrorStream(true);
        builder.environment().put("NODE_PATH", READERS.toAbsolutePath().toString());
        var process = builder.start();
        String output = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(process.waitFor(60, TimeUnit.SECONDS)).isTrue();
        String result = output.lines().filter(l -> l.startsWith("RESULT ")).findFirst().orElseThrow(() -> new AssertionError(output));
        return new JsonMapper().readTree(result.substring("RESULT ".length()));
    }

    @Test
    void anotherOpcUaClientBrowsesReadsWritesAndSubscribes() throws Exception {
        var seen = seen("opcua-client.js", "opc.tcp://127.0.0.1:" + plc.opcUa().port(), plc.access().user(), plc.access().password());
        assertThat(seen.path("browsed").toString()).contains("level", "seq", "device");
        assertThat(seen.path("level").asDouble()).isEqualTo(2.5);
        assertThat(seen.path("written").asString()).isEqualTo("Good");
        assertThat(seen.path("count").asInt()).isEqualTo(77);
        assertThat(seen.path("wrongType").asString()).isEqualTo("BadTypeMismatch");
        assertThat(seen.path("rising").asBoolean()).isTrue();
    }

    @Test
    void anotherModbusClientReadsAndWritesRegisters() throws Exception {
        var seen = seen("modbus-client.js", Integer.toString(plc.modbus().port()));
        assertThat(seen.path("level").asDouble()).isEqualTo(2.5);
        assertThat(seen.path("count").asInt()).isEqualTo(4_321);
        assertThat(seen.path("coil").asBoolean()).isTrue();
        assertThat(seen.path("lamp").asBoolean()).isTrue();
        assertThat(seen.path("beyond").asInt()).isEqualTo(2);
    }
}
