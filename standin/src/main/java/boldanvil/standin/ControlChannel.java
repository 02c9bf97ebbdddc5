package boldanvil.standin;

import boldanvil.core.control.FindingMessage;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.user.Log;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.concurrent.Semaphore;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The serving end of a control channel: JSON lines on loopback, a token first; see {@link boldanvil.core.control.ControlClient} for its
 * form. Requests wait for each other, but for those that are urgent.
 */
public abstract class ControlChannel implements AutoCloseable {
    private static final JsonMapper MAPPER = JsonMapper.builder()
            .disable(tools.jackson.databind.DeserializationFeature.FAIL_ON_NULL_FOR_PRIMITIVES).build();
    private static final int MAX_LINE = 1 << 23;
    /** Connections at a time; more are closed at once. */
    private static final int MOST_CLIENTS = 32;
    /** How long a client may take to show the token. */
    private static final int STRANGER_MILLIS = 2_000;

    private final String token;
    private final String owner;
    private final Place place;
    private final ServerSocket server;
    private final Semaphore room = new Semaphore(MOST_CLIENTS);

    /**
     * @param owner whose channel it is, for people
     * @param place how findings name it
     */
    protected ControlChannel(String token, String owner, Place place) throws IOException {
        this.token = token;
        this.owner = owner;
        this.place = place;
        server = new ServerSocket(0, 8, InetAddress.getLoopbackAddress());
    }

    /** Begins to serve; the last thing a constructor does. */
    protected final void open() {
        Thread.ofPlatform().daemon().name("control").start(this::accept);
    }

    public final int port() {
        return server.getLocalPort();
    }

    /** Does what a request asks for; what it returns goes into the answer. */
    protected abstract Map<String, Object> handle(String what, JsonNode request) throws IOException;

    /** Whether a request must never wait for another one. */
    protected boolean isUrgent(String what) {
        return false;
    }

    /** Does what an urgent request asks for. */
    protected void urgent(String what) {
        throw new UnsupportedOperationException(what);
    }

    /** A client has sent something; on the thread that serves it. */
    protected void heard() { }

    /** A connection has ended; on the thread that served it. */
    protected void left() { }

    private void accept() {
        while (!server.isClosed()) {
            try {
                Socket socket = server.accept();
                if (!room.tryAcquire()) {
                    socket.close();
                    continue;
                }
                Thread.ofVirtual().name("control client").start(() -> {
                    try (socket) {
                        serve(socket);
                    } catch (IOException | RuntimeException e) {
                        Log.ignored(ControlChannel.class, e, "The client of the control channel disconnected.");
                    } finally {
                        room.release();
                        left();
                    }
                });
            } catch (IOException e) {
                Log.ignored(ControlChannel.class, e, "A connection was not accepted.");
            }
        }
    }

    private void serve(Socket socket) throws IOException {
        socket.setTcpNoDelay(true);
        socket.setSoTimeout(STRANGER_MILLIS);
        var in = new BufferedReader(new InputStreamReader(socket.getInputStream(), StandardCharsets.UTF_8));
        OutputStream out = socket.getOutputStream();
        boolean known = false;
        for (String line = readLine(in); line != null; line = readLine(in)) {
            Map<String, Object> answer = answer(line, known);
            known |= Boolean.TRUE.equals(answer.get("ok"));
            socket.setSoTimeout(0);
            out.write((MAPPER.writeValueAsString(answer) + "\n").getBytes(StandardCharsets.UTF_8));
            out.flush();
            if (!known) {
                return;
            }
        }
    }

    private static String readLine(BufferedReader in) throws IOException {
        var line = new StringBuilder();
        for (int c = in.read(); c != '\n'; c = in.read()) {
            if (c < 0 || line.length() > MAX_LINE) {
                return null;
            }
            line.append((char) c);
        }
        return line.toString();
    }

    private Map<String, Object> answer(String line, boolean known) {
        try {
            JsonNode request = MAPPER.readTree(line);
            String what = request.path("do").asString("");
            if (!known && !(what.equals("hello") && MessageDigest.isEqual(request.path("token").asString("")
                    .getBytes(StandardCharsets.UTF_8), token.getBytes(StandardCharsets.UTF_8)))) {
                throw FindingException.of(place, "A client connected without the token of the " + owner + ".",
                        "Start the rig again.");
            }
            heard();
            var answer = new LinkedHashMap<String, Object>(Map.of("ok", true));
            if (isUrgent(what)) {
                urgent(what);
            } else {
                synchronized (this) {
                    answer.putAll(handle(what, request));
                }
            }
            return answer;
        } catch (FindingException e) {
            return refusal(e.findings().getFirst());
        } catch (JacksonException e) {
            return refusal(Finding.error(place, "The request is not JSON.", "Send one object per line."));
        } catch (IOException | RuntimeException e) {
            return refusal(Finding.error(place, "The " + owner + " failed to process a request: " + e + ".",
                    "Start the rig again; if it happens again, please report it."));
        }
    }

    private static Map<String, Object> refusal(Finding f) {
        var m = FindingMessage.of(f);
        m.put("ok", false);
        return m;
    }

    @Override
    public void close() throws IOException {
        server.close();
    }
}
