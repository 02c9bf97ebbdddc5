package boldanvil.standin.plc;

import boldanvil.core.finding.Finding;
import boldanvil.core.text.PlcProgram;
import boldanvil.core.user.Log;
import boldanvil.core.user.TemporaryFiles;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Entry of the PLC's process. It reads one line of JSON with its token and settings from its standard input, prints
 * {@code READY control opcua modbus} with the ports, -1 for what it does not have, and serves until its standard input ends.
 */
public final class PlcMain {
    private static final long LOOK_MILLIS = 300;

    private PlcMain() {}

    public static void main(String[] args) throws IOException, InterruptedException {
        Thread.setDefaultUncaughtExceptionHandler((_, e) -> {
            Log.failed(PlcMain.class, e);
            System.err.println("The PLC failed: " + Finding.reason(e) + ".");
        });
        Log.begin();
        TemporaryFiles.sweep();
        var in = new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8));
        String line = in.readLine();
        if (line == null || line.isBlank()) {
            System.err.println("The PLC needs its settings on its standard input.");
            System.exit(2);
        }
        JsonNode r = new JsonMapper().readTree(line);
        var device = new PlcDevice(settings(r));
        try (var clock = new PlcClock(device);
                var opcUa = device.settings().opcUaPort() < 0 ? null : new PlcOpcUaServer(device);
                var modbus = device.settings().modbusPort() < 0 ? null : new PlcModbusServer(device);
                var control = new PlcControl(r.path("token").asString(""), device, clock, opcUa, modbus)) {
            device.powerOn();
            System.out.println("READY " + control.port() + " " + (opcUa == null ? -1 : opcUa.port()) + " "
                    + (modbus == null ? -1 : modbus.port()));
            System.out.flush();
            var parent = Thread.ofPlatform().daemon().name("parent").start(() -> {
                try {
                    while (in.readLine() != null) {
                        // Nothing else is said on this way; its end is what counts.
                    }
                } catch (IOException e) {
                    Log.ignored(PlcMain.class, e, "The standard input ended.");
                }
            });
            while (!control.awaitEnd(LOOK_MILLIS) && parent.isAlive()) {
                // Time goes on in the thread of the clock.
            }
            device.powerOff();
        } catch (IOException e) {
            System.out.println("FAILED " + e.getMessage());
        }
        System.exit(0);
    }

    private static PlcSettings settings(JsonNode r) {
        Map<String, String> users = new LinkedHashMap<>();
        r.path("users").properties().forEach(e -> users.put(e.getKey(), e.getValue().asString("")));
        String folder = r.path("folder").asString("");
        var usual = PlcProgram.Surroundings.USUAL;
        return new PlcSettings(new PlcProgram.Surroundings(r.path("inputBytes").asInt(usual.inputBytes()),
                r.path("outputBytes").asInt(usual.outputBytes()), r.path("memoryBytes").asInt(usual.memoryBytes()),
                r.path("intervalNanos").asLong(usual.intervalNanos()), r.path("loopRounds").asInt(usual.loopRounds())),
                r.path("bind").asString(PlcSettings.LOOPBACK), r.path("opcua").asInt(0), r.path("modbus").asInt(0), users,
                r.path("anonymousWrites").asBoolean(false), folder.isEmpty() ? null : Path.of(folder));
    }
}
