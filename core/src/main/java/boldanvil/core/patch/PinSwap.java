package boldanvil.core.patch;

import boldanvil.core.peripheral.Peripherals;
import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import boldanvil.core.board.Channel;
import boldanvil.core.diagram.Patch;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.program.Program;
import boldanvil.core.program.Terminal;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Moves a terminal from one pin to another; a terminal that is there changes places with it, or finds another. */
public final class PinSwap {
    private PinSwap() {}

    /**
     * Plans the move.
     *
     * @throws FindingException when nothing is at the first pin, or the second cannot do what the terminal needs
     */
    public static Patch plan(Boards boards, Program program, Patch patch, String from, String to) {
        var board = boards.require(Place.patch(program.name()), patch.board());
        Place place = Place.patch(program.name(), from);
        Terminal moved = owner(program, patch, from).orElseThrow(() -> FindingException.of(place, "No terminal is at pin " + from + ".",
                "Drag a pin that is in use."));
        Optional<Terminal> other = owner(program, patch, to).filter(o -> !o.name().equals(moved.name()));
        long before = errors(boards, program, patch);
        for (Patch.Row row : rowsAt(board, patch, moved, to)) {
            Patch next = patch.with(row);
            if (other.isPresent()) {
                List<Patch.Row> ways = new ArrayList<>(rowsAt(board, patch, other.get(), from));
                Patch freed = next.with(new Patch.Row(other.get().name(), "", "", patch.row(other.get().name()).orElseThrow().wire()));
                AutoPatch.complete(board, program, freed).patch().row(other.get().name()).filter(Patch.Row::isPlaced).ifPresent(ways::add);
                for (Patch.Row way : ways) {
                    if (errors(boards, program, next.with(way)) <= before) {
                        return next.with(way);
                    }
                }
            } else if (errors(boards, program, next) <= before) {
                return next;
            }
        }
        List<String> functions = board.functionsOf(to);
        throw new FindingException(List.of(Finding.error(Place.patch(program.name(), moved.name()),
                "'" + moved.name() + "' cannot use pin " + to + ": it would be "
                + moved.kind().label() + ", and the pin is " + (functions.isEmpty() ? "digital only" : String.join(", ", functions))
                + other.map(o -> ", used by '" + o.name() + "'").orElse("")
                + ".", "Choose a pin of the right kind.")));
    }

    private static Optional<Terminal> owner(Program program, Patch patch, String pin) {
        return program.terminals().stream().filter(t -> patch.row(t.name()).map(r -> r.pins().contains(pin)).orElse(false)).findFirst();
    }

    /** Every way a terminal could come out at a pin; those that leave its other pins where they are come first. */
    private static List<Patch.Row> rowsAt(Board board, Patch patch, Terminal t, String pin) {
        List<Patch.Row> rows = new ArrayList<>();
        String wire = patch.row(t.name()).map(Patch.Row::wire).orElse("");
        List<String> now = patch.row(t.name()).map(Patch.Row::pins).orElse(List.of());
        for (Channel c : Peripherals.channels(board, t.kind())) {
            for (String way : c.pins()) {
                if (List.of(way.split(",")).contains(pin)) {
                    rows.add(new Patch.Row(t.name(), c.id(), way, wire));
                }
            }
        }
        rows.sort(java.util.Comparator.comparingLong(r -> -r.pins().stream().filter(now::contains).count()));
        return rows;
    }

    private static long errors(Boards boards, Program program, Patch patch) {
        return PatchCheck.check(boards, program, patch, true).stream().filter(Finding::isError).count();
    }
}
