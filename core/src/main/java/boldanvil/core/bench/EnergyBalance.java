package boldanvil.core.bench;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.edit.Paths;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.lower.Names;
import boldanvil.core.samples.Series;
import boldanvil.core.simulate.Change;
import boldanvil.core.stock.Elements;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * Where the energy of a rig's networks goes: what each element takes in, found by running the rig as models with each element's energy
 * measured.
 *
 * @param from instant from which energies count, in seconds
 * @param to instant up to which they do
 * @param rows most taken in first; elements that supply have negative energies
 */
public record EnergyBalance(double from, double to, List<Row> rows) {
    private static final String STEM = "zz energy ";
    /** Share of what is supplied that counts as none. */
    private static final double NOTHING = 1e-12;

    /**
     * One element.
     *
     * @param path diagram path
     * @param joules energy taken in between the two instants; of one that supplies below 0
     * @param watts mean power
     */
    public record Row(String path, double joules, double watts) {}

    /** Energy that elements supply between the two instants, J. */
    public double supplied() {
        return -rows.stream().mapToDouble(Row::joules).filter(j -> j < 0).sum();
    }

    /** What is left when all elements are added up, as a share of what is supplied: the error of the computation. */
    public double error() {
        double sum = rows.stream().mapToDouble(Row::joules).sum();
        return sum == 0 ? 0 : Math.abs(sum) / Math.max(supplied(), Double.MIN_NORMAL);
    }

    /** The rows of elements that take in or supply anything; meters and references do not. */
    public List<Row> active() {
        return rows.stream().filter(r -> Math.abs(share(r)) > NOTHING).toList();
    }

    /** What an element takes in as a share of all that is supplied. */
    public double share(Row r) {
        return supplied() == 0 ? 0 : r.joules() / supplied();
    }

    /**
     * Runs a rig and measures.
     *
     * @param from instant from which energies count, in seconds
     * @param to end of the run, in seconds
     * @param changes changes planned beforehand
     * @throws FindingException when the project has errors, or no network
     */
    public static EnergyBalance of(Project project, Rig rig, double from, double to, List<Change> changes) throws InterruptedException {
        Map<String, String> taps = new LinkedHashMap<>();
        Project measured = measured(project.as(rig), taps);
        if (taps.isEmpty()) {
            throw FindingException.of(Place.rig(rig.name()), "The project has no physical network.",
                    "Draw one; the elements are in the groups of their domains.");
        }
        Rig models = rig.withPlaces(Map.of());
        Project whole = measured.withRigs(project.rigs().stream().map(r -> r.name().equals(rig.name()) ? models : r).toList());
        var options = new RunOptions(Math.round(to * 1e9), Double.POSITIVE_INFINITY, changes, Path.of("."));
        try (LiveRun run = RigStarter.prepare(whole, rig.name(), options, Progress.NONE)) {
            run.start();
            run.awaitEnd();
            List<Row> rows = new ArrayList<>();
            // The last sample is a step before the end.
            double last = run.store().end();
            taps.forEach((path, address) -> {
                Series s = run.store().series(run.store().indexOf(address));
                double joules = s.values()[s.size() - 1] - s.at(from);
                rows.add(new Row(path, joules, joules / (s.times()[s.size() - 1] - from)));
            });
            rows.sort(Comparator.comparingDouble(Row::joules).reversed());
            return new EnergyBalance(from, last, rows);
        }
    }

    /** A project in which each element gives its energy to a tap; {@code taps} gets the addresses by the element's path. */
    private static Project measured(Project project, Map<String, String> taps) {
        Project p = project;
        int n = 0;
        for (var e : Paths.of(project).entrySet()) {
            if (e.getValue().isEmpty()) {
                continue;
            }
            SheetRef ref = e.getKey();
            for (Block b : project.sheet(ref).orElseThrow().blocks()) {
                if (Elements.contacts(b).isEmpty()) {
                    continue;
                }
                String name = STEM + ++n;
                p = p.change(ref, s -> s.change(b.id(), d -> Elements.measuring(d, Elements.ENERGY)));
                p = p.change(ref, s -> {
                    String id = s.freshId();
                    return s.add(Block.of(id, "tap", name, 0, 0, Map.of("unit", "J"))).add(new Wire(b.id(), Elements.ENERGY, id, "u"));
                });
                e.getValue().forEach(path -> taps.put(path + "/" + b.name(), Names.addressOf(path + "/" + name)));
            }
        }
        return p;
    }
}
