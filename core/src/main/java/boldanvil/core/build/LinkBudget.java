package boldanvil.core.build;

import boldanvil.core.board.Board;
import boldanvil.core.board.BoardSetup;
import boldanvil.core.board.Lines;
import boldanvil.core.program.Tap;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** What is asked of the ways out of a board: measuring all taps at their tasks' rates, packets, buses. */
public final class LinkBudget {
    /** Bits a byte takes on a serial line. */
    private static final double SERIAL_BITS = 10;

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
            rows.add(new Row(l.name(), taps == 1 ? "measuring 1 tap" : "measuring " + taps + " taps", measuring(setup, l), l.bytesPerSecond()));
        }
        Map<String, Row> lines = new LinkedHashMap<>();
        double tick = setup.program().tickSeconds();
        for (Terminal t : setup.program().terminals()) {
            var rate = Lines.isLine(t.kind()) ? setup.rate(t) : Optional.<Double>empty();
            var channel = setup.channel(t);
            if (rate.isEmpty() || channel.isEmpty()) {
                continue;
            }
            boolean serial = t.kind() == TerminalKind.PACKET_IN || t.kind() == TerminalKind.PACKET_OUT;
            // On a serial line each direction has the whole rate; a bus is shared, and each byte costs what its frame costs.
            String name = serial ? channel.get().id() : channel.get().unit();
            double bytes = Lines.codec(t).bytes();
            double possible = serial ? rate.get() / SERIAL_BITS : bytes / Lines.seconds(t, rate.get());
            lines.merge(name, new Row(name, "a transfer in each step", bytes / tick, possible),
                    (a, b) -> new Row(name, a.what(), a.asked() + b.asked(), (a.asked() + b.asked()) / (a.asked() / a.possible() + b.asked() / b.possible())));
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
        return bytes.entrySet().stream().mapToDouble(e -> (link.overheadBytes() + e.getValue()) / (Math.max(1, e.getKey()) * setup.program().tickSeconds())).sum();
    }
}
