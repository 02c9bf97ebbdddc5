package boldanvil.core.bench;

import boldanvil.core.control.ControlClient;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Tap;
import boldanvil.core.samples.RunData;
import boldanvil.core.target.TargetLog;
import java.io.ByteArrayOutputStream;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import tools.jackson.databind.JsonNode;

/** Logs in the memory of the targets of a rig that runs. */
public final class TargetLogs {
    private static final int ROWS_AT_ONCE = 20_000;

    private final LoweredSystem system;
    private final String rig;
    private final ControlClient control;
    private final Map<String, List<Tap>> taps = new LinkedHashMap<>();
    private volatile Map<String, State> states = Map.of();

    /**
     * How far a log is.
     *
     * @param capacity most rows
     * @param rowBytes memory of a row
     * @param fullSeconds when the memory was full; NaN where it was not
     */
    public record State(long rows, long capacity, int rowBytes, boolean ended, double fullSeconds) {}

    TargetLogs(LoweredSystem system, String rig, ControlClient control) {
        this.system = system;
        this.rig = rig;
        this.control = control;
    }

    /**
     * Begins a log of a part; one that is there is forgotten.
     *
     * @param signals names of taps; empty for all of the part
     * @param every steps of the part from row to row
     * @throws FindingException when there is no such signal, or the target has no memory left
     */
    public void start(String part, List<String> signals, int every, TargetLog.Keep keep) {
        List<Tap> all = system.program(part).orElseThrow(() -> FindingException.of(Place.rig(rig, part), "There is no such part.",
                "Name a part that runs on a target.")).taps();
        for (String s : signals) {
            if (all.stream().noneMatch(t -> t.name().equals(s))) {
                throw FindingException.of(Place.rig(rig, part), "There is no tap '" + s + "'.", all.isEmpty() ? "Add taps to the sheet."
                        : "Taps are: " + String.join(", ", all.stream().map(Tap::name).toList()) + ".");
            }
        }
        List<Tap> chosen = all.stream().filter(t -> signals.isEmpty() || signals.contains(t.name())).toList();
        if (chosen.isEmpty()) {
            throw FindingException.of(Place.rig(rig, part), "The part has no taps to log.", "Add taps to the sheet.");
        }
        control.ask("log", Map.of("part", part, "signals", chosen.stream().map(Tap::name).toList(), "every", every, "keep", keep.name()));
        taps.put(part, chosen);
    }

    /** Ends a log; what it has stays on the target. */
    public void end(String part) {
        control.ask("endLog", Map.of("part", part));
    }

    /** Logs that are there, by part. */
    public Map<String, State> states() {
        return states;
    }

    void note(JsonNode logs) {
        Map<String, State> now = new LinkedHashMap<>();
        logs.properties().forEach(e -> now.put(e.getKey(), state(e.getValue())));
        states = now;
    }

    private static State state(JsonNode n) {
        return new State(n.path("rows").asLong(0), n.path("capacity").asLong(0), n.path("rowBytes").asInt(1), n.path("ended").asBoolean(
                false), n.path("full").asDouble(Double.NaN));
    }

    /**
     * Ends a log and reads what it has.
     *
     * @throws FindingException when the part has no log, or the target cannot be reached any more
     */
    public RunData upload(String part) {
        if (!taps.containsKey(part)) {
            throw FindingException.of(Place.rig(rig, part), "The target has no log of this part.", "Start one first.");
        }
        end(part);
        var rows = new ByteArrayOutputStream();
        long at = 0;
        while (true) {
            byte[] some = Base64.getDecoder().decode(control.ask("readLog", Map.of("part", part, "from", at, "count", ROWS_AT_ONCE))
                    .path("rows").asString(""));
            if (some.length == 0) {
                return TargetLog.decode(part, taps.get(part), rows.toByteArray());
            }
            rows.writeBytes(some);
            at += some.length / TargetLog.rowBytes(taps.get(part));
        }
    }
}
