package boldanvil.core.bench;

import boldanvil.core.control.BenchHost;
import boldanvil.core.control.ControlClient;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.Access;
import boldanvil.core.link.Endpoint;
import boldanvil.core.user.Log;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.concurrent.TimeUnit;
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
        String token = StandinProcess.secret();
        String password = StandinProcess.secret();
        Map<String, Object> all = new LinkedHashMap<>(settings);
        all.put("token", token);
        Map<String, Object> users = new LinkedHashMap<>();
        if (settings.get("users") instanceof Map<?, ?> given) {
            given.forEach((name, word) -> users.put(name.toString(), word));
        }
        users.put(USER, password);
        all.put("users", users);
        Process process = StandinProcess.start("PLC stand-in", BenchHost::plcClass, new JsonMapper().writeValueAsString(all));
        return new PlcProcess(process, token, password, ports(process));
    }

    private static String[] ports(Process process) {
        String text = StandinProcess.firstLine(process, "PLC stand-in", START_SECONDS);
        if (text != null && text.startsWith("READY ")) {
            return text.split(" ");
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
