package boldanvil.core.diagram;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Which peripheral and pin each terminal of a part has.
 *
 * @param board name of the board
 */
public record Patch(String board, List<Row> rows) {
    /**
     * One terminal's way out.
     *
     * @param terminal its name on the sheet
     * @param peripheral a channel of the board, such as {@code ADC1.3}
     * @param pin the board's pin, as printed
     * @param wire what the wire is called and where it goes, for people
     */
    public record Row(String terminal, String peripheral, String pin, String wire) {}

    public Patch {
        rows = List.copyOf(rows);
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
        return new Patch(board, next);
    }
}
