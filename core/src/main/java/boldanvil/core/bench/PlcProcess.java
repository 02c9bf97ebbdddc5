package boldanvil.core.bench;

import boldanvil.core.control.BenchHost;
import boldanvil.core.control.ControlClient;
import boldanvil.core.control.DeviceRegistry;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.Access;
import boldanvil.core.link.Endpoint;
import boldanvil.core.user.Log;
import boldanvil.core.user.UserFolder;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import tools.jackson.databind.json.JsonMapper;

/** A PLC stand-in started by this process; it ends when this one does. */
public final class PlcProcess implements AutoCloseable {
    /** Its user, whose password is made for each process. */
    public static final String USER = "commissioning";
    private static final int START_SECONDS = 40;

    private final Process process;
    private final String password;
    private final String token;
    private final int controlPort;
    private final ControlClient control;
    private final int opcUaPort;
    private final int modbusPort;

    private PlcProcess(Process process, String token, String password, String[] ports) {
        this.process = process;
        this.password = password;
        this.token = token;
        controlPort = Integer.parseInt(ports[1]);
        control = new ControlClient(controlPort, token, 30_000);
        opcUaPort = Integer.parseInt(ports[2]);
        modbusPort = Integer.parseInt(ports[3]);
    }

    /**
     * Starts a PLC.
     *
     * @param settings as the stand-in reads them, see docs/formats.md; token and user are added
     * @throws FindingException when it cannot be started
     */
    public static PlcProcess start(Map<String, ?> settings) {
        var host = BenchHost.installed().orElseThrow(() -> FindingException.of(Place.bench(""), "The stand-ins are not installed.",
                "Check the installation; models run without them."));
        String token = secret();
        String password = secret();
        Map<String, Object> all = new LinkedHashMap<>(settings);
        all.put("token", token);
        Map<String, Object> users = new LinkedHashMap<>();
        if (settings.get("users") instanceof Map<?, ?> given) {
            given.forEach((name, word) -> users.put(name.toString(), word));
        }
        users.put(USER, password);
        all.put("users", users);
        try {
            List<String> command = new ArrayList<>(List.of(Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                    "-XX:+UseSerialGC", "-XX:TieredStopAtLevel=1", "-Xshare:auto", "--enable-native-access=ALL-UNNAMED",
                    "--sun-misc-unsafe-memory-access=allow"));
            for (String own : List.of(DeviceRegistry.FOLDER, UserFolder.PROPERTY, "java.io.tmpdir")) {
                if (System.getProperty(own) != null) {
                    command.add("-D" + own + "=" + System.getProperty(own));
                }
            }
            command.addAll(List.of("-cp", System.getProperty(BenchProcess.CLASS_PATH, System.getProperty("java.class.path")),
                    host.plcClass()));
            Process process = new ProcessBuilder(command).redirectError(ProcessBuilder.Redirect.DISCARD).start();
            process.getOutputStream().write((new JsonMapper().writeValueAsString(all) + "\n").getBytes(StandardCharsets.UTF_8));
            process.getOutputStream().flush();
            return new PlcProcess(process, token, password, ports(process));
        } catch (IOException e) {
            throw FindingException.of(Place.bench(""), "The PLC stand-in cannot be started: " + e.getMessage() + ".",
                    "Check the installation.");
        }
    }

    private static String secret() {
        byte[] bytes = new byte[16];
        new SecureRandom().nextBytes(bytes);
        return HexFormat.of().formatHex(bytes);
    }

    private static String[] ports(Process process) {
        var line = CompletableFuture.supplyAsync(() -> {
            try {
                return new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8)).readLine();
            } catch (IOException e) {
                return null;
            }
        });
        String text = null;
        try {
            text = line.get(START_SECONDS, TimeUnit.SECONDS);
            if (text != null && text.startsWith("READY ")) {
                return text.split(" ");
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (ExecutionException | TimeoutException e) {
            Log.ignored(PlcProcess.class, e, "The PLC stand-in did not start; a finding follows.");
        }
        process.destroyForcibly();
        throw FindingException.of(Place.bench(""), text != null && text.startsWith("FAILED ") ? text.substring("FAILED ".length())
                : "The PLC stand-in did not start.", "Check the ports, and the installation, then try again.");
    }

    /** The channel for programs, time and forced values. */
    public ControlClient control() {
        return control;
    }

    /** What its engineer does with it. */
    public PlcRemote remote() {
        return new PlcRemote(control);
    }

    public Endpoint opcUa() {
        return Endpoint.local("opcua", opcUaPort);
    }

    public Endpoint modbus() {
        return Endpoint.local("modbus", modbusPort);
    }

    /** What a process needs to reach the PLC: ports, user and the secrets. */
    public Map<String, Object> reach() {
        return Map.of("control", controlPort, "token", token, "opcua", opcUaPort, "modbus", modbusPort, "user", USER, "password", password);
    }

    /** How this process signs in. */
    public Access access() {
        return new Access(USER, password, false);
    }

    public boolean isAlive() {
        return process.isAlive();
    }

    /** Ends it at once, as pulling the plug would. */
    public void kill() {
        process.destroyForcibly();
    }

    @Override
    public void close() {
        try {
            control.ask("end", Map.of());
            process.waitFor(3, TimeUnit.SECONDS);
        } catch (FindingException e) {
            Log.ignored(PlcProcess.class, e, "The PLC stand-in has already ended.");
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        control.close();
        process.destroyForcibly();
    }
}
