package boldanvil.standin;

import boldanvil.core.control.DeviceFault;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.instance.Instance;
import boldanvil.core.peripheral.Fact;
import boldanvil.core.program.Tap;
import boldanvil.core.review.Review;
import boldanvil.core.simulate.ExecutionTimes;
import boldanvil.core.target.TargetCore;
import boldanvil.core.target.TargetInstance;
import boldanvil.core.target.TargetLog;
import boldanvil.core.target.TargetPart;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.LongSupplier;

/** The stand-ins of real-time targets in a rig. */
final class Targets {
    /** Version of the firmware that stand-ins play. */
    private static final String FIRMWARE = "1.0";
    /** Most rows of a log in one message. */
    private static final int MOST_ROWS = 100_000;

    private final Review review;
    private final Rig rig;
    private final Map<String, TargetCore> cores = new HashMap<>();
    private final Map<String, TargetInstance> parts = new LinkedHashMap<>();
    private final Set<String> reported = new HashSet<>();
    /** By name of the target. */
    private final Map<String, DeviceFault> faults = new HashMap<>();

    Targets(Review review, Rig rig) {
        this.review = review;
        this.rig = rig;
    }

    /** Lets the target of a part play a fault while the rig is prepared. */
    void fault(String part, DeviceFault fault) {
        faults.put(rig.place(part).seat().target(), fault);
    }

    /**
     * A part on its core; parts with the same core share its time.
     *
     * @throws FindingException when the target does not answer, or another board does
     */
    Instance start(String part, Instance computed) {
        var place = rig.place(part);
        var seat = place.seat();
        var fault = faults.getOrDefault(seat.target(), DeviceFault.NONE);
        if (fault == DeviceFault.UNPLUGGED) {
            throw FindingException.of(Place.rig(rig.name(), part), "The target '" + seat.target() + "' (" + place.device()
                    + ") does not answer.",
                    "Check its supply and its network cable; 'devices' lists the targets that answer. Nothing was started.");
        }
        if (fault == DeviceFault.WRONG_IDENTITY) {
            throw FindingException.of(Place.rig(rig.name(), part), "In the place of the target '" + seat.target()
                    + "' answers a board of another kind, 'stranger'; " + place.device() + " is expected.",
                    "Connect the right target, or give the part another place. Nothing was loaded.");
        }
        var core = cores.computeIfAbsent(seat.coreText(), _ -> new TargetCore());
        var instance = new TargetInstance(computed, TargetPart.of(review.project(), review.system(), rig, part), core);
        parts.put(part, instance);
        return instance;
    }

    void connect(Map<String, Instance> instances, LongSupplier now) {
        parts.values().forEach(p -> p.connect(review.system(), instances, now));
    }

    /** What there is to say about each target to whoever looks around. */
    List<Map<String, Object>> who(boolean running) {
        List<Map<String, Object>> all = new ArrayList<>();
        Set<String> named = new LinkedHashSet<>();
        rig.onTargets().forEach(part -> {
            var place = rig.place(part);
            if (named.add(place.seat().target())) {
                all.add(Map.of("part", String.join(", ", rig.onTargets().stream()
                        .filter(p -> rig.place(p).seat().target().equals(place.seat().target())).toList()), "board", place.device(),
                        "title", title(part), "serial", Device.serial(place.seat().target()), "firmware", FIRMWARE, "build", "", "running",
                                running));
            }
        });
        return all;
    }

    private String title(String part) {
        var seat = rig.place(part).seat();
        return parts.containsKey(part) ? parts.get(part).part().board().title() + " '" + seat.target() + "'" : seat.target();
    }

    Optional<String> where(String part) {
        return parts.containsKey(part) ? Optional.of(title(part) + ", core " + rig.place(part).seat().core()) : Optional.empty();
    }

    Optional<ExecutionTimes> times(String part) {
        return Optional.ofNullable(parts.get(part)).map(TargetInstance::times);
    }

    /** Further members of a part's health. */
    Map<String, Object> health(String part) {
        var p = parts.get(part);
        if (p == null) {
            return Map.of();
        }
        var latency = p.latency();
        Map<String, Object> loop = new LinkedHashMap<>();
        loop.put("mean", latency.mean());
        loop.put("usual", latency.below(0.99));
        loop.put("longest", latency.longest());
        loop.put("counts", latency.counts());
        loop.put("budget", p.part().mapping().budgetSeconds());
        loop.put("overruns", p.overruns());
        return Map.of("latency", loop);
    }

    /**
     * Begins a log of a part in the memory of its target.
     *
     * @throws FindingException when that has no room for a row
     */
    void log(String part, List<String> signals, int every, TargetLog.Keep keep) {
        var p = part(part);
        List<Tap> taps = p.part().program().taps().stream().filter(t -> signals.contains(t.name())).toList();
        String target = rig.place(part).seat().target();
        long used = parts.entrySet().stream().filter(e -> !e.getKey().equals(part) && rig.place(e.getKey()).seat().target().equals(target))
                .mapToLong(e -> e.getValue().log().map(TargetLog::bytes).orElse(0L)).sum();
        var log = new TargetLog(taps, Math.max(1, every), keep, p.part().board().target().logBytes() - used);
        if (log.capacity() == 0) {
            throw FindingException.of(Place.rig(rig.name(), part), "The memory of the target '" + target + "' for logs, "
                    + p.part().board().target().logBytes() + " bytes, has no room: logs of other parts take " + used + " bytes.",
                    "End the other log and upload it, or log that part on another target.");
        }
        reported.remove("log " + part);
        p.log(log);
    }

    void endLog(String part) {
        part(part).log().ifPresent(TargetLog::end);
    }

    /** Rows of a log, coded for a text. */
    String readLog(String part, long from, int count) {
        return part(part).log().map(l -> Base64.getEncoder().encodeToString(l.read(Math.max(0, from), Math.clamp(count, 0, MOST_ROWS))))
                .orElse("");
    }

    private TargetInstance part(String part) {
        var p = parts.get(part);
        if (p == null) {
            throw FindingException.of(Place.rig(rig.name(), part), "The part does not run on a target.", "Choose a part that does.");
        }
        return p;
    }

    /** How far each log is. */
    Map<String, Object> logs() {
        Map<String, Object> all = new LinkedHashMap<>();
        parts.forEach((name, p) -> p.log().ifPresent(l -> {
            Map<String, Object> one = new LinkedHashMap<>(Map.of("rows", l.rows(), "capacity", l.capacity(), "rowBytes",
                    TargetLog.rowBytes(l.taps()), "ended", l.isEnded()));
            if (!Double.isNaN(l.fullSeconds())) {
                one.put("full", l.fullSeconds());
            }
            all.put(name, one);
        }));
        return all;
    }

    long overruns() {
        return parts.values().stream().mapToLong(TargetInstance::overruns).sum();
    }

    boolean isStopped() {
        return parts.values().stream().anyMatch(p -> p.stopped().isPresent());
    }

    /** What has gone wrong on targets and was not reported yet; each once. */
    List<Finding> takeFindings() {
        List<Finding> fresh = new ArrayList<>();
        parts.forEach((name, p) -> {
            var at = Place.rig(rig.name(), name);
            p.stopped().filter(_ -> reported.add("stop " + name)).ifPresent(fresh::add);
            if (p.overruns() > 0 && p.stopped().isEmpty() && reported.add("overrun " + name)) {
                fresh.add(Finding.warning(at, "The core did not end a step in time, for the first time at " + p.firstOverrunSeconds()
                        + " s. " + (p.leftOut() > 0 ? "Such steps are left out." : "Outputs hold until it has."),
                        "Choose a longer step, or move another part to another core."));
            }
            p.log().filter(l -> !Double.isNaN(l.fullSeconds()) && l.keep() == TargetLog.Keep.FIRST && reported.add("log " + name))
                    .ifPresent(l -> fresh.add(Finding.warning(at, "The memory of the target '" + rig.place(name).seat().target()
                            + "' for logs is full since " + l.fullSeconds() + " s; later steps are not logged.",
                            "Upload the log and start another, log fewer signals or fewer steps, or keep the last steps.")));
            double budget = p.part().mapping().budgetSeconds();
            if (budget > 0 && p.latency().longest() > budget && reported.add("budget " + name)) {
                fresh.add(Finding.warning(Place.mapping(name, ""), "From an edge to the outputs that follow it took "
                        + Fact.sig(p.latency().longest() * 1e6) + " µs; the budget is " + Fact.sig(budget * 1e6) + " µs.",
                        "Choose a shorter step, or a larger budget."));
            }
        });
        return fresh;
    }
}
