package boldanvil.core.estimate;

import boldanvil.core.board.Board;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.peripheral.Line;
import boldanvil.core.peripheral.Peripherals;
import boldanvil.core.program.Tap;
import boldanvil.core.program.Terminal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** What is asked of the ways out of a board: measuring all taps at their tasks' rates, packets, buses. */
public final class LinkBudget {
    /**
     * A link.
     *
     * @param what is carried
     * @param asked bytes per second
     * @param possible bytes per second
     */
    public record Row(String link, String what, double asked, double possible) {
        public boolean isEnough() {
            return asked <= possible;
        }
    }

    private LinkBudget() {}

    /** A row for each way to measure, and for each line that terminals use. */
    public static List<Row> of(BoardSetup setup) {
        List<Row> rows = new ArrayList<>();
        int taps = setup.program().taps().size();
        for (Board.Link l : setup.board().links()) {
            rows.add(new Row(l.name(), taps == 1 ? "measuring 1 tap" : "measuring " + taps + " taps", measuring(setup, l),
                    l.bytesPerSecond()));
        }
        Map<String, Row> lines = new LinkedHashMap<>();
        double tick = setup.program().tickSeconds();
        for (Terminal t : setup.program().terminals()) {
            var channel = setup.channel(t);
            if (!(Peripherals.of(t) instanceof Line line) || channel.isEmpty()) {
                continue;
            }
            var rate = line.rate(setup, t);
            if (rate.isEmpty()) {
                continue;
            }
            // Point to point, each direction has the whole rate; a bus is shared, and each byte costs what its frame costs.
            String name = line.isPointToPoint() ? channel.get().id() : channel.get().unit();
            double bytes = line.codec(t).bytes();
            double possible = line.possible(t, rate.get());
            lines.merge(name, new Row(name, "a transfer in each step", bytes / tick, possible),
                    (a, b) -> new Row(name, a.what(), a.asked() + b.asked(),
                    (a.asked() + b.asked()) / (a.asked() / a.possible() + b.asked() / b.possible())));
        }
        rows.addAll(lines.values());
        return rows;
    }

    /** Values of each rate travel in packets of their own. */
    private static double measuring(BoardSetup setup, Board.Link link) {
        Map<Integer, Integer> bytes = new LinkedHashMap<>();
        for (Tap t : setup.program().taps()) {
            bytes.merge(t.continuous() ? 0 : t.periodTicks(), t.slot().type().bytes(), Integer::sum);
        }
        return bytes.entrySet().stream().mapToDouble(e -> (link.overheadBytes() + e.getValue()) / (
                Math.max(1, e.getKey()) * setup.program().tickSeconds())).sum();
    }
}
