package boldanvil.core.bench;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.estimate.StepCost;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.runs.Comparison;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import boldanvil.core.simulate.Change;
import boldanvil.core.simulate.Conductor;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * Whether the step of a rig's continuous parts is short enough, by a run with half of it, and what a step costs.
 *
 * @param costs of each continuous part
 * @param taps by how much each tap deviates between the two runs
 */
public record StepCheck(Map<String, Cost> costs, List<Deviation> taps) {
    /** Share of its step that a part may take so that a machine keeps up. */
    private static final double SHARE = 0.5;
    private static final int WARM_TICKS = 1_000_000;
    private static final long WARM_NANOS = 3_000_000_000L;

    /**
     * What a step costs.
     *
     * @param counted by the program alone
     * @param mean time of a step on this machine, as a Java class, in seconds
     * @param longest longest time of a step of those that were measured
     */
    public record Cost(StepCost counted, double mean, double longest) {
        /** The shortest step that this machine keeps in step with the wall clock, in the mean, in seconds. */
        public double shortest() {
            return mean / SHARE;
        }
    }

    /**
     * One tap.
     *
     * @param largest largest deviation
     * @param seconds when that was
     * @param rms root of the mean square of the deviation
     * @param range from the least to the greatest value of the tap
     */
    public record Deviation(String tap, String unit, double largest, double seconds, double rms, double range) {
        /** The root of the mean square as a share of the range; 0 where there is no deviation. */
        public double share() {
            return rms == 0 ? 0 : range == 0 ? Double.POSITIVE_INFINITY : rms / range;
        }
    }

    /** The deviation that is largest for its range; null without taps. */
    public Deviation worst() {
        return taps.stream().max(Comparator.comparingDouble(Deviation::share)).orElse(null);
    }

    /**
     * Runs a rig as models twice.
     *
     * @param seconds simulated time of each run
     * @param changes changes planned beforehand
     * @throws FindingException when the project has errors, or no part is continuous
     */
    public static StepCheck of(Project project, Rig rig, double seconds, List<Change> changes) throws InterruptedException {
        Project whole = asModels(project, rig);
        Map<String, Cost> costs = new LinkedHashMap<>();
        try (LiveRun first = run(whole, rig, seconds, changes); LiveRun second = run(halved(whole), rig, seconds, changes)) {
            costs.putAll(costs(first.review().system()));
            if (costs.isEmpty()) {
                throw FindingException.of(Place.rig(rig.name()), "No part is continuous, so there is no step to check.",
                        "Choose a rig of a project with a plant.");
            }
            return new StepCheck(costs, deviations(first.store(), second.store()));
        }
    }

    /** Times are taken when the machine has compiled what it runs. */
    private static Map<String, Cost> costs(LoweredSystem system) {
        Map<String, Instance> instances = new LinkedHashMap<>();
        system.parts().keySet().forEach(id -> instances.put(id, JvmCompiler.compile(system.program(id).orElseThrow()).instantiate()));
        var conductor = new Conductor(system, instances);
        conductor.warmUp(WARM_TICKS, WARM_NANOS);
        long end = System.nanoTime() + WARM_NANOS;
        for (int k = 0; k < WARM_TICKS && System.nanoTime() < end; k++) {
            conductor.tick();
        }
        Map<String, Cost> costs = new LinkedHashMap<>();
        for (String part : instances.keySet()) {
            var program = system.program(part).orElseThrow();
            if (program.continuous()) {
                costs.put(part, new Cost(StepCost.of(program), conductor.times(part).mean(), conductor.times(part).longest()));
            }
        }
        return costs;
    }

    /** The project with the rig's parts as models. */
    private static Project asModels(Project p, Rig rig) {
        Rig models = rig.withPlaces(Map.of());
        return p.withRigs(p.rigs().stream().map(r -> r.name().equals(rig.name()) ? models : r).toList());
    }

    /** A project with half the step in each part. */
    public static Project halved(Project p) {
        return p.withParts(p.parts().stream().map(q -> q.stepping("(" + q.step() + ") / 2")).toList());
    }

    private static LiveRun run(Project p, Rig rig, double seconds, List<Change> changes) throws InterruptedException {
        var options = new RunOptions(Math.round(seconds * 1e9), Double.POSITIVE_INFINITY, changes, Path.of("."));
        LiveRun run = RigStarter.prepare(p, rig.name(), options, Progress.NONE);
        run.start();
        run.awaitEnd();
        return run;
    }

    private static List<Deviation> deviations(Samples first, Samples second) {
        List<Deviation> all = new ArrayList<>();
        for (Comparison.Row r : Comparison.of(first, second, Map.of("*", Double.POSITIVE_INFINITY)).rows()) {
            Series s = first.series(first.indexOf(r.name()));
            double least = Double.POSITIVE_INFINITY;
            double most = Double.NEGATIVE_INFINITY;
            for (double v : s.values()) {
                least = Math.min(least, v);
                most = Math.max(most, v);
            }
            all.add(new Deviation(r.name(), r.unit(), r.largest(), r.largestAt(), r.rms(), most - least));
        }
        return all;
    }
}
