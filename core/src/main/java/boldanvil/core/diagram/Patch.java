package boldanvil.core.diagram;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * Which peripheral and pin each terminal of a part has, and how its board is to be set.
 *
 * @param board name of the board
 * @param clock what is asked of the clock tree: {@code source}, and frequencies as text by domain; empty for what the board suggests
 * @param safeOnLinkLoss whether the device goes to its safe state when the link to it is lost; else it continues
 * @param others patches of the same part to other boards, which rigs can choose and to which the part can go back
 */
public record Patch(String board, Map<String, String> clock, boolean safeOnLinkLoss, List<Row> rows, List<Patch> others) {
    /** Key of the clock source in {@link #clock}. */
    public static final String SOURCE = "source";

    /**
     * One terminal's way out.
     *
     * @param terminal its name on the sheet
     * @param peripheral a channel of the board, such as {@code ADC1.3}
     * @param pin the board's pin, as printed; several with commas between
     * @param wire what the wire is called and where it goes, for people
     */
    public record Row(String terminal, String peripheral, String pin, String wire) {
        /** Whether it says where the terminal comes out. */
        public boolean isPlaced() {
            return !peripheral.isEmpty() && !pin.isEmpty();
        }

        public List<String> pins() {
            return pin.isEmpty() ? List.of() : List.of(pin.split(","));
        }
    }

    public Patch {
        clock = Collections.unmodifiableMap(new TreeMap<>(clock));
        rows = List.copyOf(rows);
        others = List.copyOf(others);
    }

    public Patch(String board, List<Row> rows) {
        this(board, Map.of(), false, rows, List.of());
    }

    public Optional<Row> row(String terminal) {
        return rows.stream().filter(r -> r.terminal().equals(terminal)).findFirst();
    }

    /** The same patch with one terminal's row replaced or added. */
    public Patch with(Row row) {
        List<Row> next = new ArrayList<>(rows);
        int at = -1;
        for (int i = 0; i < next.size(); i++) {
            if (next.get(i).terminal().equals(row.terminal())) {
                at = i;
            }
        }
        if (at < 0) {
            next.add(row);
        } else {
            next.set(at, row);
        }
        return withRows(next);
    }

    /** The part's patch to a board: this one or one of the others. */
    public Optional<Patch> on(String wanted) {
        return wanted.equals(board) ? Optional.of(this) : others.stream().filter(o -> o.board().equals(wanted)).findFirst();
    }

    /** Makes another patch of the same part the one in use; this one is kept among the others. */
    public Patch turnedTo(Patch next) {
        List<Patch> rest = new ArrayList<>(others);
        rest.removeIf(o -> o.board().equals(next.board()) || o.board().equals(board));
        if (!board.equals(next.board())) {
            rest.addFirst(new Patch(board, clock, safeOnLinkLoss, rows, List.of()));
        }
        return new Patch(next.board(), next.clock(), next.safeOnLinkLoss(), next.rows(), rest);
    }

    public Patch withRows(List<Row> next) {
        return new Patch(board, clock, safeOnLinkLoss, next, others);
    }

    public Patch withClock(Map<String, String> next) {
        return new Patch(board, next, safeOnLinkLoss, rows, others);
    }

    public Patch withSafeOnLinkLoss(boolean safe) {
        return new Patch(board, clock, safe, rows, others);
    }
}
