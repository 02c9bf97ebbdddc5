package boldanvil.core.tags;

import boldanvil.core.diagram.TagTable;
import boldanvil.core.diagram.TagTable.Direction;
import boldanvil.core.link.Tag;
import boldanvil.core.link.TagType;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.text.Address;
import java.util.Map;
import java.util.OptionalDouble;

/** The lines of a table as tags of a link. */
public final class TagAddress {
    /** First number of a PLC's outputs in the tables of inputs. */
    public static final int OUTPUTS = 10_000;

    private static final String NODE = "ns=2;s=";

    private TagAddress() {}

    /**
     * The tag of a line.
     *
     * @param protocol {@link PartTags#OPC_UA} or {@link PartTags#MODBUS}
     */
    public static Tag of(TagTable.Line l, String protocol) {
        TagType type = TagType.named(l.type()).orElse(TagType.LREAL);
        return new Tag(l.name(), protocol.equals(PartTags.MODBUS) ? modbus(l) : node(l), type, l.direction() != Direction.OUT, l.comment());
    }

    /** How often a tag is to be read, in seconds; empty for as often as the others, and for what is not a time. */
    static OptionalDouble period(TagTable.Line l) {
        try {
            return l.rate().isEmpty() ? OptionalDouble.empty() : OptionalDouble.of(Formula.evaluate(l.rate(), Map.of(), "s"));
        } catch (FormulaException e) {
            return OptionalDouble.empty();
        }
    }

    /**
     * How often a tag is to be read.
     *
     * @param usual for a tag without a rate of its own
     */
    public static long periodNanos(TagTable.Line l, long usual) {
        var seconds = period(l);
        return seconds.isPresent() && seconds.getAsDouble() > 0 ? Math.max(1_000_000, Math.round(seconds.getAsDouble() * 1e9)) : usual;
    }

    /** The node of a variable in a PLC that names its nodes by the paths of the variables. */
    static String node(String path) {
        return NODE + path;
    }

    /** The path of the variable that a line is in such a PLC: that of its node, or the name of the tag. */
    static String path(TagTable.Line l) {
        return l.address().startsWith(NODE) ? l.address().substring(NODE.length()) : l.name();
    }

    /** A node by its own id, or the one with the name of the tag. */
    private static String node(TagTable.Line l) {
        return l.address().matches("(?s)(ns=[0-9]+;|nsu=[^;]+;)?[isgb]=.+") ? l.address() : node(l.name());
    }

    /**
     * A register. A direct address lies in the tables of Tongs PLC-24: memory in coils and holding registers, inputs in discrete inputs
     * and input registers, and outputs there, too, from 10000 on; of a value of several words the low one comes first.
     */
    private static String modbus(TagTable.Line l) {
        var a = Address.parse(l.address());
        if (a == null) {
            return l.address();
        }
        int first = a.area() == 'Q' ? OUTPUTS : 0;
        if (a.bits() == 1) {
            return (a.area() == 'M' ? "coil " : "discrete ") + (first + a.bit());
        }
        return (a.area() == 'M' ? "holding " : "input ") + (first + a.bit() / 16) + (a.bits() > 16 ? " swapped" : "");
    }
}
