package boldanvil.core.target;

import boldanvil.core.board.Board;
import boldanvil.core.diagram.Mapping;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.lower.LoweredSystem;
import java.util.HashSet;
import java.util.Optional;
import java.util.Set;

/** Assigns channels to signals that have none. */
public final class MappingPlan {
    private MappingPlan() {}

    /**
     * Gives each signal that leaves its target the next free channel of its kind; rows that have a channel stay. An encoder takes the
     * lines of its terminal. A signal stays without a channel where none is left.
     *
     * @param system of the project as the rig has it
     * @param board of the target
     */
    public static Mapping assigned(Project project, LoweredSystem system, Rig rig, String part, Board board) {
        Mapping mapping = Optional.ofNullable(project.mappings().get(part)).filter(m -> m.board().equals(board.name()))
                .orElse(new Mapping(board.name(), java.util.List.of()));
        Set<String> used = new HashSet<>();
        mapping.rows().forEach(r -> used.add(r.channel()));
        rig.onTargets().stream().filter(p -> !p.equals(part) && rig.place(p).seat().target().equals(rig.place(part).seat().target()))
                .forEach(p -> Optional.ofNullable(project.mappings().get(p)).ifPresent(m -> m.rows().forEach(r -> used.add(r.channel()))));
        for (Crossing c : Crossing.of(system, rig, part)) {
            var row = mapping.rowOf(c.port().name());
            if (row.channel().isEmpty() && c.kind().isPresent()) {
                ChannelKind kind = c.kind().get();
                String id = TargetChannel.of(board).stream().filter(x -> x.kind() == kind && !used.contains(x.id()))
                        .map(TargetChannel::id).findFirst().orElse("");
                used.add(id);
                mapping = mapping.with(kind.isEncoder() && row.lines() == 0
                        ? row.on(id).withLines(c.encoderLines()) : row.on(id));
            }
        }
        return mapping;
    }
}
