package boldanvil.core.target;

import boldanvil.core.board.Board;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;

/**
 * A channel of a target.
 *
 * @param id as printed, such as {@code AO1}
 * @param group what it has in common with others of its kind
 */
public record TargetChannel(String id, ChannelKind kind, Board.Channels group) {
    /** All channels of a target, in the order of its board file. */
    public static List<TargetChannel> of(Board board) {
        return board.target().channels().stream().flatMap(g -> IntStream.rangeClosed(1, g.count())
                .mapToObj(i -> new TargetChannel(g.prefix() + i, ChannelKind.of(g.kind()), g))).toList();
    }

    public static Optional<TargetChannel> find(Board board, String id) {
        return of(board).stream().filter(c -> c.id().equals(id)).findFirst();
    }

    /** Voltage of one count of an analog channel. */
    public double voltsPerCount() {
        return 2 * group.volts() / Math.pow(2, group.bits());
    }
}
