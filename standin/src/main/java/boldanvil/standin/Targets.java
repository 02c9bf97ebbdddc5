package boldanvil.standin;

import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.instance.Instance;
import boldanvil.core.peripheral.Fact;
import boldanvil.core.review.Review;
import boldanvil.core.simulate.ExecutionTimes;
import boldanvil.core.target.TargetCore;
import boldanvil.core.target.TargetInstance;
import boldanvil.core.target.TargetPart;
import java.util.ArrayList;
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

    private final Review review;
    private final Rig rig;
    private final Map<String, TargetCore> cores = new HashMap<>();
    private final Map<String, TargetInstance> parts = new LinkedHashMap<>();
    private final Set<String> reported = new HashSet<>();

    Targets(Review review, Rig rig) {
        this.review = review;
        this.rig = rig;
    }

    /** A part on its core; parts with the same core share its time. */
    Instance start(String part, Instance computed) {
        var seat = rig.place(part).seat();
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
