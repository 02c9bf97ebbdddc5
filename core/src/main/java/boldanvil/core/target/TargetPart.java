package boldanvil.core.target;

import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import boldanvil.core.diagram.Mapping;
import boldanvil.core.diagram.Patch;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.estimate.LoadEstimate;
import boldanvil.core.finding.Place;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A part as a rig puts it on a target.
 *
 * @param mapped its signals that have a channel
 * @param costs seconds of each of its tasks on the core
 */
public record TargetPart(String rig, String name, Board board, Rig.Seat seat, Program program, Mapping mapping, List<Mapped> mapped,
        List<LoadEstimate.Row> costs) {
    /** A signal at its channel. */
    public record Mapped(Port port, TargetChannel channel, Mapping.Row row) {}

    public TargetPart {
        mapped = List.copyOf(mapped);
        costs = List.copyOf(costs);
    }

    /** @throws boldanvil.core.finding.FindingException when there is no such board */
    public static TargetPart of(Project project, LoweredSystem system, Rig rig, String part) {
        var place = rig.place(part);
        Board board = Boards.of(project).require(Place.rig(rig.name(), part), place.device());
        Mapping mapping = project.mappings().getOrDefault(part, new Mapping(board.name(), List.of()));
        Program program = system.program(part).orElseThrow();
        List<Mapped> mapped = new ArrayList<>();
        for (Crossing c : Crossing.of(system, rig, part)) {
            mapping.row(c.port().name()).ifPresent(row -> TargetChannel.find(board, row.channel())
                    .ifPresent(ch -> mapped.add(new Mapped(c.port(), ch, row))));
        }
        return new TargetPart(rig.name(), part, board, place.seat(), program, mapping, mapped,
                LoadEstimate.usual(new BoardSetup(board, new Patch(board.name(), List.of()), program)));
    }

    Optional<Mapped> mapped(Port port) {
        return mapped.stream().filter(m -> m.port() == port).findFirst();
    }

    /** How long the core computes in one of its ticks, in seconds. */
    double seconds(long tick) {
        double sum = 0;
        for (var c : costs) {
            sum += tick % Math.max(1, Math.round(c.periodSeconds() / program.tickSeconds())) == 0 ? c.seconds() : 0;
        }
        return sum;
    }

    /** How long its inputs are converted before a step can be computed, in seconds. */
    double conversionSeconds() {
        return mapped.stream().filter(m -> m.port().isInput()).mapToDouble(m -> m.channel().group().delayNanos() / 1e9).max().orElse(0);
    }

    /** Share of its core that it takes. */
    public double load() {
        return LoadEstimate.load(costs);
    }

    /** Load of each core that some parts are on, by {@link Rig.Seat#coreText}. */
    public static Map<String, Double> coreLoads(List<TargetPart> parts) {
        Map<String, Double> loads = new LinkedHashMap<>();
        parts.forEach(p -> loads.merge(p.seat().coreText(), p.load(), Double::sum));
        return loads;
    }

    /** The longest time from an edge at an input to the outputs that follow from it, in seconds, where no step ends late. */
    public double longestLatency() {
        double settling = mapped.stream().filter(m -> !m.port().isInput()).mapToDouble(m -> m.channel().group().delayNanos() / 1e9).max()
                .orElse(0);
        double step = program.tickSeconds();
        return settling + (program.continuous() ? 2 * step : step + conversionSeconds() + seconds(0));
    }
}
