package boldanvil.core.tags;

import boldanvil.core.diagram.TagTable;
import boldanvil.core.diagram.TagTable.Line;
import boldanvil.core.finding.FindingException;
import boldanvil.core.link.TagType;
import boldanvil.core.link.modbus.ModbusAddress;
import boldanvil.core.text.Address;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;

/** How the tags of a table lie in the bytes of a PLC: those with a direct address or a register. */
public final class ByteLayout {
    private static final int ROW_UNITS = 8;

    private ByteLayout() {}

    /**
     * Tags that lie in the same bytes.
     *
     * @param name such as {@code memory} or {@code holding registers}
     * @param unit what a number in its addresses counts, such as {@code byte} or {@code register}
     * @param fields by the place where they begin
     */
    public record Area(String name, String unit, int bitsPerUnit, List<Field> fields) {}

    /**
     * A tag in its bytes.
     *
     * @param bit first bit, from the beginning of the area
     * @param bits its width
     * @param order in words, such as {@code low word first}; empty for one unit
     * @param overlaps whether another tag has some of its bits
     */
    public record Field(Line tag, int bit, int bits, String order, boolean overlaps) {}

    /** The areas of a table, without tags that are known by name only. */
    public static List<Area> of(TagTable table) {
        Map<String, List<Field>> areas = new LinkedHashMap<>();
        for (Line l : table.lines()) {
            var direct = Address.parse(l.address());
            if (direct != null) {
                areas.computeIfAbsent(switch (direct.area()) {
                    case 'I' -> "inputs";
                    case 'Q' -> "outputs";
                    default -> "memory";
                }, _ -> new ArrayList<>()).add(new Field(l, direct.bit(), direct.bits(), direct.bits() > 8 ? "low byte first" : "", false));
            } else {
                register(l, areas);
            }
        }
        return areas.entrySet().stream().map(e -> area(e.getKey(), e.getValue())).toList();
    }

    private static void register(Line l, Map<String, List<Field>> areas) {
        if (!l.address().matches("(?i)(coil|discrete|holding|input) .*") || TagType.named(l.type()).isEmpty()) {
            return;
        }
        try {
            var a = ModbusAddress.of(TagAddress.of(l, PartTags.MODBUS));
            boolean bits = TagType.named(l.type()).get() == TagType.BOOL;
            areas.computeIfAbsent(switch (a.table()) {
                case COIL -> "coils";
                case DISCRETE -> "discrete inputs";
                case HOLDING -> "holding registers";
                case INPUT -> "input registers";
            }, _ -> new ArrayList<>()).add(new Field(l, bits ? a.number() : 16 * a.number(), bits ? 1 : 16 * a.words(),
                    a.words() < 2 ? "" : a.swapped() ? "low word first" : "high word first", false));
        } catch (FindingException e) {
            // What is wrong with an address is found where the table is checked.
        }
    }

    private static Area area(String name, List<Field> found) {
        found.sort(Comparator.comparingInt(Field::bit).thenComparingInt(Field::bits));
        boolean[] twice = new boolean[found.size()];
        // The one that reaches furthest of those before overlaps whatever begins before its end.
        int furthest = -1;
        for (int i = 0; i < found.size(); i++) {
            if (furthest >= 0 && found.get(i).bit() < end(found.get(furthest))) {
                twice[i] = true;
                twice[furthest] = true;
            }
            if (furthest < 0 || end(found.get(i)) > end(found.get(furthest))) {
                furthest = i;
            }
        }
        List<Field> fields = new ArrayList<>();
        for (int i = 0; i < twice.length; i++) {
            Field f = found.get(i);
            fields.add(new Field(f.tag(), f.bit(), f.bits(), f.order(), twice[i]));
        }
        return switch (name) {
            case "coils", "discrete inputs" -> new Area(name, "bit", 1, fields);
            case "holding registers", "input registers" -> new Area(name, "register", 16, fields);
            default -> new Area(name, "byte", 8, fields);
        };
    }

    /**
     * A row of a picture of an area: one unit where that is divided into bits, else several.
     *
     * @param first number of its first unit
     * @param units how many it has
     */
    public record Row(int first, int units, List<Piece> pieces) {}

    /**
     * What a row shows of a field.
     *
     * @param from first bit within the row
     * @param to first bit behind it
     */
    public record Piece(Field field, int from, int to) {}

    /** The rows of an area that hold something. */
    public static List<Row> rows(Area area) {
        Map<Integer, List<Field>> byUnit = new TreeMap<>();
        for (Field f : area.fields()) {
            for (int u = f.bit() / area.bitsPerUnit(); u * area.bitsPerUnit() < end(f); u++) {
                byUnit.computeIfAbsent(u, _ -> new ArrayList<>()).add(f);
            }
        }
        List<Row> rows = new ArrayList<>();
        int done = -1;
        for (int unit : byUnit.keySet()) {
            if (unit <= done) {
                continue;
            }
            boolean divided = area.bitsPerUnit() > 1 && byUnit.get(unit).stream().anyMatch(f -> f.bits() < area.bitsPerUnit());
            int first = divided ? unit : unit / ROW_UNITS * ROW_UNITS;
            int last = divided ? unit : first + ROW_UNITS - 1;
            for (int u = first; u <= last && !divided; u++) {
                // A row ends before a unit that is divided, and begins behind one.
                if (u != unit && byUnit.getOrDefault(u, List.of()).stream().anyMatch(f -> f.bits() < area.bitsPerUnit())) {
                    first = u < unit ? u + 1 : first;
                    last = u > unit ? u - 1 : last;
                    if (u > unit) {
                        break;
                    }
                }
            }
            rows.add(row(area, first, last, byUnit));
            done = last;
        }
        return rows;
    }

    private static Row row(Area area, int first, int last, Map<Integer, List<Field>> byUnit) {
        int begin = first * area.bitsPerUnit();
        int end = (last + 1) * area.bitsPerUnit();
        Set<Field> fields = new LinkedHashSet<>();
        for (int u = first; u <= last; u++) {
            fields.addAll(byUnit.getOrDefault(u, List.of()));
        }
        return new Row(first, last - first + 1, fields.stream().map(f -> new Piece(f, Math.max(f.bit(), begin) - begin,
                Math.min(end(f), end) - begin)).toList());
    }

    private static int end(Field f) {
        return f.bit() + f.bits();
    }
}
