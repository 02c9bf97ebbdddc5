package boldanvil.core.diagram;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Which channel of a real-time target each signal of a part has, and how it is scaled there.
 *
 * @param board name of the target's board
 * @param budgetSeconds the longest time allowed from an edge at an input to the outputs that follow from it; 0 for no limit
 */
public record Mapping(String board, double budgetSeconds, List<Row> rows) {
    /** What is taken of a captured PWM signal. */
    public enum Mean {
        /** Its mean over each step of the part, from the instants of its edges. */
        STEP,
        /** Its duty cycle in the last whole period. */
        PERIOD
    }

    /**
     * One signal. At an analog channel there are {@code signal × scale + offset} volts, within the limits; what is wired to the channel
     * undoes that, so a signal means the same in every rig.
     *
     * @param port name of the part's port
     * @param channel such as {@code AO1}; empty for none yet
     * @param scale in volts for each unit of the signal
     * @param offset in volts
     * @param minimum least voltage, or {@link Double#NEGATIVE_INFINITY} for that of the channel
     * @param maximum greatest voltage, or {@link Double#POSITIVE_INFINITY}
     * @param filterHertz cut-off frequency of an analog input's filter; 0 for none
     * @param lines of an encoder channel
     * @param wire what the wire is called and where it goes, for people
     */
    public record Row(String port, String channel, double scale, double offset, double minimum, double maximum, double filterHertz,
            double lines, Mean mean, String wire) {
        /** A row that passes a signal as it is. */
        public static Row plain(String port, String channel) {
            return new Row(port, channel, 1, 0, Double.NEGATIVE_INFINITY, Double.POSITIVE_INFINITY, 0, 0, Mean.STEP, "");
        }

        public Row on(String other) {
            return new Row(port, other, scale, offset, minimum, maximum, filterHertz, lines, mean, wire);
        }

        public Row scaled(double by, double plus) {
            return new Row(port, channel, by, plus, minimum, maximum, filterHertz, lines, mean, wire);
        }

        public Row within(double least, double most) {
            return new Row(port, channel, scale, offset, least, most, filterHertz, lines, mean, wire);
        }

        public Row filtered(double hertz) {
            return new Row(port, channel, scale, offset, minimum, maximum, hertz, lines, mean, wire);
        }

        public Row withLines(double count) {
            return new Row(port, channel, scale, offset, minimum, maximum, filterHertz, count, mean, wire);
        }

        public Row with(Mean other) {
            return new Row(port, channel, scale, offset, minimum, maximum, filterHertz, lines, other, wire);
        }

        public Row wired(String text) {
            return new Row(port, channel, scale, offset, minimum, maximum, filterHertz, lines, mean, text);
        }
    }

    /** No channels at all. */
    public static final Mapping NONE = new Mapping("", List.of());

    public Mapping {
        rows = List.copyOf(rows);
    }

    public Mapping(String board, List<Row> rows) {
        this(board, 0, rows);
    }

    public Optional<Row> row(String port) {
        return rows.stream().filter(r -> r.port().equals(port)).findFirst();
    }

    /** The row of a port; one without a channel where it has none. */
    public Row rowOf(String port) {
        return row(port).orElse(Row.plain(port, ""));
    }

    /** The same mapping with one signal's row replaced or added. */
    public Mapping with(Row row) {
        List<Row> next = new ArrayList<>(rows);
        if (row(row.port()).isEmpty()) {
            next.add(row);
        } else {
            next.replaceAll(r -> r.port().equals(row.port()) ? row : r);
        }
        return new Mapping(board, budgetSeconds, next);
    }

    public Mapping withBudget(double seconds) {
        return new Mapping(board, seconds, rows);
    }
}
