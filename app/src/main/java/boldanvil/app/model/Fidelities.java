package boldanvil.app.model;

import boldanvil.core.bench.RunOptions;
import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.edit.Paths;
import boldanvil.core.simulate.Change;
import boldanvil.core.simulate.Intervention;
import boldanvil.core.stock.Parameter;
import boldanvil.core.stock.Stock;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** The same run with power stages of each fidelity, to be overlaid. */
public final class Fidelities {
    private Fidelities() {}

    /** Paths of the power stages of a project, each with the fidelities it offers. */
    public static Map<String, List<String>> stages(Project p) {
        Map<String, List<String>> all = new LinkedHashMap<>();
        Paths.of(p).forEach((sheet, paths) -> p.sheet(sheet).ifPresent(s -> {
            for (Block b : s.blocks()) {
                var offered = Stock.find(b.type()).stream().flatMap(t -> t.parameters().stream()).filter(x -> x.name().equals(Rig.FIDELITY))
                        .map(Parameter::choices).findFirst().orElse(List.of());
                if (!offered.isEmpty()) {
                    paths.forEach(path -> all.put(path + "/" + b.name(), offered));
                }
            }
        }));
        return all;
    }

    /**
     * Runs a project once for each fidelity, as models, and records the runs. Takes as long as that takes.
     *
     * @param rig whose choices hold for all else
     * @param seconds length of each run
     * @param repeated changes to make again
     * @param shelf folder of the runs
     * @return ids of the runs
     * @throws boldanvil.core.finding.FindingException when the project has errors, or runs cannot be written
     */
    public static Set<String> run(Project project, Rig rig, double seconds, List<Intervention> repeated, Path shelf)
            throws InterruptedException {
        var stages = stages(project);
        Set<String> choices = new LinkedHashSet<>();
        stages.values().forEach(choices::addAll);
        List<Change> changes = repeated.stream().filter(i -> i.kind() == Intervention.Kind.SET)
                .map(i -> new Change(i.address(), i.value(), i.atNanos())).toList();
        Set<String> ids = new LinkedHashSet<>();
        for (String choice : choices) {
            Rig mine = rig.withPlaces(Map.of());
            for (var s : stages.entrySet()) {
                mine = s.getValue().contains(choice) ? mine.withFidelity(s.getKey(), choice) : mine;
            }
            Rig chosen = mine;
            Project as = project.withRigs(project.rigs().stream().map(r -> r.name().equals(rig.name()) ? chosen : r).toList());
            ids.add(ShelfRuns.record(as, chosen.name(), choice, new RunOptions(Math.round(seconds * 1e9), Double.POSITIVE_INFINITY,
                    changes, shelf), shelf));
        }
        return ids;
    }
}
