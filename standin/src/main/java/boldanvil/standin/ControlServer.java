package boldanvil.standin;

import boldanvil.core.control.DeviceFault;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.simulate.Change;
import boldanvil.core.simulate.Guard;
import boldanvil.core.simulate.Stimulus;
import boldanvil.core.simulate.WireFault;
import boldanvil.core.target.TargetLog;
import boldanvil.core.trial.Playing;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The control channel; see {@link boldanvil.core.control.ControlClient} for its form. */
final class ControlServer extends ControlChannel {
    private static final JsonMapper MAPPER = JsonMapper.builder()
            .disable(tools.jackson.databind.DeserializationFeature.FAIL_ON_NULL_FOR_PRIMITIVES).build();
    /** How long the client that drives a running rig may be silent before it counts as gone. */
    private static final long HEARTBEAT_NANOS = 5_000_000_000L;

    private final String token;
    private final CountDownLatch ending = new CountDownLatch(1);
    private volatile BenchSession session;
    private volatile Thread master;
    private volatile long heardAt = System.nanoTime();
    private volatile boolean silent;
    /** Whether someone said that the rig is to continue without a client. */
    private volatile boolean detached;
    private long quietSince = System.nanoTime();

    ControlServer(String token) throws IOException {
        super(token, "bench process", Place.bench(""));
        this.token = token;
        open();
    }

    /** A connection has ended. If it was the one that drives the rig and did not say that it leaves, devices do what the project says. */
    @Override
    protected synchronized void left() {
        if (master == Thread.currentThread()) {
            master = null;
            quietSince = System.nanoTime();
            if (session != null) {
                session.linkLost();
            }
        }
    }

    /** Whether the rig was left to itself on purpose, and someone is connected to it or may still connect. */
    synchronized boolean isWorthKeeping(long lingerNanos) {
        return detached && session != null && session.hasDevices() && (master != null || System.nanoTime() - quietSince < lingerNanos);
    }

    /** A client that drives a running rig and is not heard of any more counts as one whose line was cut. */
    void listen() {
        BenchSession s = session;
        if (s != null && master != null && s.isRunning() && System.nanoTime() - heardAt > HEARTBEAT_NANOS) {
            if (!silent) {
                silent = true;
                s.linkLost();
            }
        } else {
            silent = false;
        }
    }

    /** Waits until someone asks the process to end; false when the time is over before. */
    boolean awaitEnd(long millis) throws InterruptedException {
        return ending.await(millis, TimeUnit.MILLISECONDS);
    }

    @Override
    protected void heard() {
        heardAt = Thread.currentThread() == master ? System.nanoTime() : heardAt;
    }

    @Override
    protected boolean isUrgent(String what) {
        return what.equals("halt") || what.equals("stop") || what.equals("end");
    }

    /** What must never wait for another request. */
    @Override
    protected void urgent(String what) {
        BenchSession s = session;
        switch (what) {
            case "halt" -> session().halt();
            case "stop" -> session().stop();
            default -> {
                if (s != null) {
                    s.halt();
                }
                ending.countDown();
            }
        }
    }

    @Override
    protected Map<String, Object> handle(String what, JsonNode r) throws IOException {
        switch (what) {
            case "hello" -> { }
            case "load" -> {
                onlyMaster();
                if (session != null) {
                    session.close();
                }
                String flash = text(r, "flash");
                session = new BenchSession(Path.of(text(r, "project")), text(r, "rig"), flash.isEmpty() ? null : Path.of(flash), token);
                master = Thread.currentThread();
                return Map.of("boot", session.bootPorts());
            }
            case "fault" -> {
                var fault = DeviceFault.labelled(text(r, "part"), text(r, "kind"));
                session().fault(text(r, "part"), fault);
            }
            case "built" -> session().device(text(r, "part")).note(text(r, "sources"));
            case "who" -> {
                var who = new LinkedHashMap<String, Object>(session == null ? Map.of() : session.who());
                who.put("connected", master != null);
                return who;
            }
            case "attach" -> {
                onlyMaster();
                master = Thread.currentThread();
                heardAt = System.nanoTime();
                return session().attach();
            }
            case "detach" -> {
                master = null;
                detached = true;
                quietSince = System.nanoTime();
                return Map.of();
            }
            case "prepare" -> {
                Map<String, Built> images = new LinkedHashMap<>();
                r.path("images").properties().forEach(e -> images.put(e.getKey(),
                        new Built(Path.of(text(e.getValue(), "file")), text(e.getValue(), "sha256"))));
                Map<String, PlcReach> plcs = new LinkedHashMap<>();
                r.path("plcs").properties().forEach(e -> plcs.put(e.getKey(), PlcReach.of(e.getValue())));
                return Map.of("xcp", session().prepare(images, plcs, r.path("lossless").asBoolean(false)));
            }
            case "run" -> session().run(r.path("endNanos").asLong(Long.MAX_VALUE),
                    r.path("speed").asDouble(1) <= 0 ? Double.POSITIVE_INFINITY : r.path("speed").asDouble(1), changes(r));
            case "drive" -> session().drive(text(r, "address"), stimulus(r.path("stimulus")));
            case "release" -> session().release(text(r, "address"));
            case "play" -> session().play(order(r));
            case "answer" -> session().answer(r.path("yes").asBoolean(false));
            case "insert" -> session().insert(text(r, "address"), fault(r.path("fault")));
            case "clear" -> session().clear(text(r, "address"));
            case "log" -> {
                List<String> signals = new ArrayList<>();
                r.path("signals").forEach(s -> signals.add(s.asString("")));
                session().targets().log(text(r, "part"), signals, r.path("every").asInt(1), keep(r));
            }
            case "endLog" -> session().targets().endLog(text(r, "part"));
            case "readLog" -> {
                return Map.of("rows", session().targets().readLog(text(r, "part"), r.path("from").asLong(0), r.path("count").asInt(0)));
            }
            case "guard" -> session().guard(guards(r));
            case "reset" -> session().reset();
            case "pause" -> session().pause(true);
            case "resume" -> session().pause(false);
            case "step" -> session().step(r.path("nanos").asLong(1));
            case "status" -> {
                return session().status(Math.max(0, r.path("known").asInt(0)));
            }
            default -> throw FindingException.of(Place.bench(""), "There is no request '" + what + "'.", "See docs/formats.md.");
        }
        return Map.of();
    }

    private void onlyMaster() {
        if (master != null && master != Thread.currentThread()) {
            throw FindingException.of(Place.bench(""), "Another program is already connected to this rig.",
                    "Close the other connection first.");
        }
    }

    private BenchSession session() {
        if (session == null) {
            throw FindingException.of(Place.bench(""), "No rig is loaded.", "Load one first.");
        }
        return session;
    }

    private static String text(JsonNode r, String key) {
        return r.path(key).asString("");
    }

    private static Playing.Order order(JsonNode r) {
        Map<String, Boolean> answers = new LinkedHashMap<>();
        r.path("answers").properties().forEach(e -> answers.put(e.getKey(), e.getValue().asBoolean(false)));
        return new Playing.Order(text(r, "trial"), answers, r.path("attended").asBoolean(false));
    }

    private static WireFault fault(JsonNode n) {
        try {
            return MAPPER.treeToValue(n, WireFault.class);
        } catch (JacksonException e) {
            throw FindingException.of("fault", "The fault cannot be inserted: " + String.valueOf(e.getMessage()).lines().findFirst()
                    .orElse("") + ".", "Check its kind and values.");
        }
    }

    private static TargetLog.Keep keep(JsonNode r) {
        return text(r, "keep").equals(TargetLog.Keep.LAST.name()) ? TargetLog.Keep.LAST : TargetLog.Keep.FIRST;
    }

    private static Stimulus stimulus(JsonNode n) {
        try {
            return MAPPER.treeToValue(n, Stimulus.class);
        } catch (JacksonException e) {
            throw FindingException.of("stimulus", "The stimulus cannot be applied: " + String.valueOf(e.getMessage()).lines().findFirst()
                    .orElse("") + ".",
                    "Check its values, duration and frequencies.");
        }
    }

    private static List<Guard> guards(JsonNode r) {
        List<Guard> guards = new ArrayList<>();
        r.path("guards").forEach(g -> {
            try {
                guards.add(new Guard(g.path("tap").asString(""), g.path("least").asDouble(Double.NEGATIVE_INFINITY),
                        g.path("most").asDouble(Double.POSITIVE_INFINITY),
                        g.path("rate").asDouble(Double.POSITIVE_INFINITY), g.path("seconds").asDouble(0)));
            } catch (IllegalArgumentException e) {
                throw FindingException.of(g.path("tap").asString(""), e.getMessage(), "Check the limits.");
            }
        });
        return guards;
    }

    private static List<Change> changes(JsonNode r) {
        List<Change> changes = new ArrayList<>();
        r.path("changes").forEach(c -> changes.add(new Change(c.path("address").asString(""), c.path("value").asDouble(0),
                c.path("atNanos").asLong(0))));
        return changes;
    }

    @Override
    public void close() throws IOException {
        super.close();
        if (session != null) {
            session.close();
        }
    }
}
