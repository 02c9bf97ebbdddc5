package boldanvil.core.patch;

import boldanvil.core.peripheral.Fact;
import boldanvil.core.peripheral.Peripherals;
import boldanvil.core.board.Boards;
import boldanvil.core.diagram.Patch;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.program.Program;
import boldanvil.core.program.Terminal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * What becomes of a part's patch on another board.
 *
 * @param patch for the other board; the present one is kept among its others
 * @param rows a row for each terminal
 * @param findings what has no place there
 */
public record BoardChange(Patch patch, List<Row> rows, List<Finding> findings) {
    /**
     * A terminal here and there.
     *
     * @param from channel and pins now
     * @param to channel and pins there; empty when there is no place
     * @param values numbers that change, as {@code name old → new unit}
     */
    public record Row(String terminal, String from, String to, List<String> values) {
        public Row {
            values = List.copyOf(values);
        }
    }

    public BoardChange {
        rows = List.copyOf(rows);
        findings = List.copyOf(findings);
    }

    /** Plans the change. A patch the part has had for that board comes back as it was. */
    public static BoardChange plan(Boards boards, Program program, Patch patch, String board) {
        var target = boards.require(Place.patch(program.name()), board);
        Patch start = patch.on(board).orElseGet(() -> new Patch(board, Map.of(), patch.safeOnLinkLoss(),
                patch.rows().stream().map(r -> new Patch.Row(r.terminal(), "", "", r.wire())).toList(), List.of()));
        var done = AutoPatch.complete(target, program, new Patch(start.board(), start.clock(), start.safeOnLinkLoss(), start.rows(),
                List.of()));
        List<Finding> findings = new ArrayList<>(done.findings());
        PatchCheck.check(boards, program, done.patch(), true).stream().filter(
                f -> findings.stream().noneMatch(x -> x.place().equals(f.place()))).forEach(findings::add);
        List<Row> rows = new ArrayList<>();
        var from = boards.find(patch.board()).map(b -> new BoardSetup(b, patch, program));
        var to = new BoardSetup(target, done.patch(), program);
        for (Terminal t : program.terminals()) {
            rows.add(new Row(t.name(), place(patch, t), place(done.patch(), t), from.map(f -> values(f, to, t)).orElse(List.of())));
        }
        return new BoardChange(patch.turnedTo(done.patch()), rows, findings);
    }

    private static String place(Patch patch, Terminal t) {
        return patch.row(t.name()).filter(Patch.Row::isPlaced).map(r -> r.peripheral() + " " + r.pin()).orElse("");
    }

    private static List<String> values(BoardSetup from, BoardSetup to, Terminal t) {
        Map<String, Fact> before = new LinkedHashMap<>();
        Peripherals.figures(from, t).forEach(f -> before.put(f.name(), f));
        List<String> changed = new ArrayList<>();
        for (var f : Peripherals.figures(to, t)) {
            var old = before.get(f.name());
            if (old != null && !old.equals(f)) {
                changed.add(f.name() + " " + old.value() + (old.unit().equals(f.unit()) ? "" : " " + old.unit()) + " → " + f.value()
                        + (f.unit().isEmpty() ? "" : " " + f.unit()));
            }
        }
        return changed;
    }
}
