package boldanvil.core.diagram;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * The tags of a PLC that has a program of its own, and what of a part each of them is.
 *
 * @param lines one for each tag
 * @param bindings names of tags by port, and by addresses of tunables and recorded signals
 * @param program text of the program its stand-in runs; empty where only the real PLC has it
 */
public record TagTable(List<Line> lines, Map<String, String> bindings, String program) {
    /** No tag. */
    public static final TagTable EMPTY = new TagTable(List.of(), Map.of(), "");

    /** Which way a value goes, seen from the PLC. */
    public enum Direction {
        IN, OUT, BOTH;

        /** The word in files and in the window. */
        public String label() {
            return name().toLowerCase(Locale.ROOT);
        }

        /** The direction with a label; empty for another word. */
        public static Optional<Direction> of(String label) {
            for (Direction d : values()) {
                if (d.label().equalsIgnoreCase(label.strip())) {
                    return Optional.of(d);
                }
            }
            return Optional.empty();
        }
    }

    /**
     * A tag. Its value, in its unit, is what the PLC holds times the factor plus the offset.
     *
     * @param type name of an elementary type of IEC 61131-3
     * @param address a node of OPC UA, a register of Modbus, or a direct address such as {@code %MW4}; empty for the node or variable that
     *     has the name of the tag
     * @param unit empty for a value that has none, or is in SI
     * @param rate how often it is read, such as {@code 100 ms}; empty for as often as the others
     */
    public record Line(String name, String type, String address, String unit, double factor, double offset, Direction direction,
            String rate,
            String comment) {
        /** A tag that is not scaled. */
        public Line(String name, String type, String address) {
            this(name, type, address, "", 1, 0, Direction.BOTH, "", "");
        }

        public boolean isScaled() {
            return factor != 1 || offset != 0;
        }
    }

    public TagTable {
        lines = List.copyOf(lines);
        bindings = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(bindings));
    }

    /** Whether there is nothing to keep. */
    public boolean isEmpty() {
        return equals(EMPTY);
    }

    /** Whether its stand-in has a program to run. */
    public boolean hasProgram() {
        return !program.isBlank();
    }

    /** The tags by their names; capital and small letters are the same, as in a PLC. Of two with the same name the first counts. */
    public Map<String, Line> byName() {
        Map<String, Line> all = new TreeMap<>(String.CASE_INSENSITIVE_ORDER);
        lines.forEach(l -> all.putIfAbsent(l.name(), l));
        return all;
    }

    public TagTable withLines(List<Line> next) {
        return new TagTable(next, bindings, program);
    }

    public TagTable withBindings(Map<String, String> next) {
        return new TagTable(lines, next, program);
    }

    public TagTable withProgram(String next) {
        return new TagTable(lines, bindings, next);
    }
}
