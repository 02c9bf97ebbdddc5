package boldanvil.core.control;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.Connections;
import boldanvil.core.user.Log;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The control channel to a bench process: one JSON object a line, each answered by one. A request names what to {@code do};
 * an answer has {@code ok}, and where that is false the words of a finding.
 */
public final class ControlClient implements AutoCloseable {
    private static final JsonMapper MAPPER = new JsonMapper();

    private final String token;
    private final Socket socket;
    private final BufferedReader in;
    private final OutputStream out;

    /** Connects and proves with the token that it may. */
    public ControlClient(int port, String token, int timeoutMillis) {
        this.token = token;
        try {
            socket = new Socket();
            Connections.open(socket, new InetSocketAddress(InetAddress.getLoopbackAddress(), port), timeoutMillis);
            socket.setSoTimeout(timeoutMillis);
            in = new BufferedReader(new InputStreamReader(socket.getInputStream(), StandardCharsets.UTF_8));
            out = socket.getOutputStream();
        } catch (IOException e) {
            throw gone(e);
        }
        ask("hello", Map.of("token", token));
    }

    /**
     * Asks for something and waits for the answer.
     *
     * @throws FindingException when the answer is a refusal, or when there is none
     */
    public synchronized JsonNode ask(String what, Map<String, ?> with) {
        try {
            var request = new java.util.LinkedHashMap<String, Object>();
            request.put("do", what);
            request.putAll(with);
            out.write((MAPPER.writeValueAsString(request) + "\n").getBytes(StandardCharsets.UTF_8));
            out.flush();
            String line = in.readLine();
            if (line == null) {
                throw gone(null);
            }
            JsonNode answer = MAPPER.readTree(line);
            if (!answer.path("ok").asBoolean(false)) {
                throw new FindingException(FindingMessage.read(answer));
            }
            return answer;
        } catch (IOException | JacksonException e) {
            throw gone(e);
        }
    }

    /**
     * Asks for something over a connection of its own, so that it waits for no other request.
     *
     * @throws FindingException when the answer is a refusal, or when there is none in time
     */
    public void urge(String what, int timeoutMillis) {
        try (var own = new ControlClient(socket.getPort(), token, timeoutMillis)) {
            own.ask(what, Map.of());
        }
    }

    private static FindingException gone(Exception e) {
        return FindingException.of(Place.bench(""), "The bench process does not respond" + (e == null ? "" : ": " + e.getMessage()) + ".",
                "Start the rig again; a new bench process is started with it.");
    }

    @Override
    public void close() {
        try {
            socket.close();
        } catch (IOException e) {
            Log.ignored(ControlClient.class, e, "The socket cannot be closed.");
        }
    }
}
