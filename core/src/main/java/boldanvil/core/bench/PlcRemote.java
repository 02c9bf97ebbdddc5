package boldanvil.core.bench;

import boldanvil.core.control.ControlClient;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tools.jackson.databind.JsonNode;

/** The stand-in of a PLC as its engineer sees it: values, forced values, tasks, and changes of the running program. */
public final class PlcRemote {
    /**
     * How a task runs.
     *
     * @param interval seconds
     * @param mean seconds of a scan
     * @param longest seconds of the longest scan
     * @param counts how many scans took how long, in the classes of {@link boldanvil.core.simulate.ExecutionTimes}
     */
    public record Task(String name, double interval, long scans, long overruns, double mean, double longest, List<Long> counts) {
        public Task {
            counts = List.copyOf(counts);
        }
    }

    /**
     * How a PLC does.
     *
     * @param mode such as RUN, STOP or FAULT
     * @param reason why it is in FAULT; else empty
     * @param forces values by path
     */
    public record Status(String mode, String reason, Map<String, Object> forces, List<Task> tasks) {}

    /**
     * What a change of the program does.
     *
     * @param kept how many variables keep their values
     * @param fresh variables that begin anew, with the reason where there is one
     */
    public record Plan(int kept, Map<String, String> fresh, List<String> removed) {}

    /**
     * An interlock blocked, or became free.
     *
     * @param seconds time of the PLC
     * @param by the conditions that blocked first; empty when it became free
     */
    public record InterlockEvent(double seconds, List<String> by) {
        public InterlockEvent {
            by = List.copyOf(by);
        }
    }

    /**
     * What an interlock has done while it was watched.
     *
     * @param path of its variable
     * @param events oldest first
     */
    public record InterlockTrace(String path, List<InterlockEvent> events) {
        public InterlockTrace {
            events = List.copyOf(events);
        }
    }

    private final ControlClient control;

    PlcRemote(ControlClient control) {
        this.control = control;
    }

    /** The values of variables by path: a {@link Boolean}, a {@link Long}, a {@link Double} or a {@link String}. */
    public Map<String, Object> read(List<String> paths) {
        return values(control.ask("read", Map.of("paths", paths)).path("values"));
    }

    private static Map<String, Object> values(JsonNode n) {
        Map<String, Object> values = new LinkedHashMap<>();
        n.properties().forEach(e -> values.put(e.getKey(), value(e.getValue())));
        return values;
    }

    /**
     * A value as the control channel of a PLC carries it: a {@link Boolean}, a {@link Long} or a larger integer, a {@link Double} or a
     * {@link String}.
     */
    public static Object value(JsonNode n) {
        return n.isBoolean() ? (Object) n.booleanValue() : n.isBigInteger() ? n.bigIntegerValue() : n.isIntegralNumber()
                ? (Object) n.longValue()
                : n.isNumber() ? (Object) n.doubleValue() : n.asString("");
    }

    public Status status() {
        JsonNode s = control.ask("status", Map.of());
        List<Task> tasks = new ArrayList<>();
        s.path("tasks").forEach(t -> {
            List<Long> counts = new ArrayList<>();
            t.path("counts").forEach(c -> counts.add(c.asLong()));
            tasks.add(new Task(t.path("name").asString(""), t.path("interval").asLong() / 1e9, t.path("scans").asLong(),
                    t.path("overruns").asLong(), t.path("mean").asDouble(), t.path("longest").asDouble(), counts));
        });
        return new Status(s.path("mode").asString(""), s.path("reason").asString(""), values(s.path("forces")), tasks);
    }

    /** Holds a variable at a value, whatever the program or its wire says. */
    public void force(String path, Object value) {
        control.ask("force", Map.of("path", path, "value", value));
    }

    public void release(String path) {
        control.ask("release", Map.of("path", path));
    }

    /** What another text would do to the running program. */
    public Plan plan(String text) {
        return plan(control.ask("plan", Map.of("text", text)));
    }

    /** Replaces the running program between two scans. */
    public Plan change(String text) {
        return plan(control.ask("change", Map.of("text", text)));
    }

    /** Goes back to the program before the last change. */
    public Plan takeBack() {
        return plan(control.ask("takeBack", Map.of()));
    }

    private static Plan plan(JsonNode n) {
        Map<String, String> fresh = new LinkedHashMap<>();
        n.path("fresh").properties().forEach(e -> fresh.put(e.getKey(), e.getValue().asString("")));
        List<String> removed = new ArrayList<>();
        n.path("removed").forEach(r -> removed.add(r.asString("")));
        return new Plan(n.path("kept").asInt(), fresh, removed);
    }

    /**
     * Watches an interlock of the running program, in the place of the one before.
     *
     * @param instance what the paths of its variables begin with
     * @param line of the text, from 1; 0 ends watching
     */
    public void watchInterlock(String instance, int line) {
        control.ask("watchInterlock", Map.of("instance", instance, "line", line));
    }

    /** What the interlock that is watched has done so far; empty where none is. */
    public Optional<InterlockTrace> interlock() {
        JsonNode n = control.ask("interlock", Map.of());
        List<InterlockEvent> events = new ArrayList<>();
        n.path("events").forEach(e -> {
            List<String> by = new ArrayList<>();
            e.path("by").forEach(b -> by.add(b.asString("")));
            events.add(new InterlockEvent(e.path("nanos").asLong() / 1e9, by));
        });
        return n.has("target") ? Optional.of(new InterlockTrace(n.path("instance").asString("") + n.path("target").asString(""), events))
                : Optional.empty();
    }

    /** The program that runs. */
    public String text() {
        return control.ask("text", Map.of()).path("text").asString("");
    }
}
