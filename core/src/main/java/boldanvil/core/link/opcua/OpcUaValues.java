package boldanvil.core.link.opcua;

import static org.eclipse.milo.opcua.stack.core.types.builtin.unsigned.Unsigned.ubyte;
import static org.eclipse.milo.opcua.stack.core.types.builtin.unsigned.Unsigned.uint;
import static org.eclipse.milo.opcua.stack.core.types.builtin.unsigned.Unsigned.ulong;
import static org.eclipse.milo.opcua.stack.core.types.builtin.unsigned.Unsigned.ushort;

import boldanvil.core.link.Reading;
import boldanvil.core.link.TagType;
import boldanvil.core.program.Type;
import java.util.Map;
import java.util.Optional;
import org.eclipse.milo.opcua.stack.core.NodeIds;
import org.eclipse.milo.opcua.stack.core.StatusCodes;
import org.eclipse.milo.opcua.stack.core.types.builtin.DataValue;
import org.eclipse.milo.opcua.stack.core.types.builtin.DateTime;
import org.eclipse.milo.opcua.stack.core.types.builtin.LocalizedText;
import org.eclipse.milo.opcua.stack.core.types.builtin.NodeId;
import org.eclipse.milo.opcua.stack.core.types.builtin.StatusCode;
import org.eclipse.milo.opcua.stack.core.types.builtin.Variant;
import org.eclipse.milo.opcua.stack.core.types.builtin.unsigned.ULong;
import org.eclipse.milo.opcua.stack.core.types.builtin.unsigned.UNumber;

/** Values of OPC UA as those of tags, and back (OPC 10000-3, table 34). */
public final class OpcUaValues {
    private static final Map<NodeId, TagType> TYPES = Map.ofEntries(Map.entry(NodeIds.Boolean, TagType.BOOL), Map.entry(NodeIds.SByte,
            TagType.SINT), Map.entry(NodeIds.Byte, TagType.USINT), Map.entry(NodeIds.Int16, TagType.INT), Map.entry(NodeIds.UInt16,
            TagType.UINT), Map.entry(NodeIds.Int32, TagType.DINT), Map.entry(NodeIds.UInt32, TagType.UDINT), Map.entry(NodeIds.Int64,
            TagType.LINT), Map.entry(NodeIds.UInt64, TagType.ULINT), Map.entry(NodeIds.Float, TagType.REAL), Map.entry(NodeIds.Double,
            TagType.LREAL), Map.entry(NodeIds.Duration, TagType.TIME), Map.entry(NodeIds.String, TagType.STRING),
            Map.entry(NodeIds.LocalizedText, TagType.STRING), Map.entry(NodeIds.UtcTime, TagType.TIME),
            Map.entry(NodeIds.DateTime, TagType.TIME), Map.entry(NodeIds.Enumeration, TagType.DINT));

    private OpcUaValues() {}

    /** The type of the tags whose nodes have a data type; empty where no tag can hold its values. */
    static Optional<TagType> type(NodeId dataType) {
        return Optional.ofNullable(TYPES.get(dataType));
    }

    /** The data type of the nodes for tags of a type. */
    public static NodeId dataType(TagType t) {
        return switch (t) {
            case BOOL -> NodeIds.Boolean;
            case SINT -> NodeIds.SByte;
            case USINT, BYTE -> NodeIds.Byte;
            case INT -> NodeIds.Int16;
            case UINT, WORD -> NodeIds.UInt16;
            case DINT -> NodeIds.Int32;
            case UDINT, DWORD -> NodeIds.UInt32;
            case LINT -> NodeIds.Int64;
            case ULINT -> NodeIds.UInt64;
            case REAL -> NodeIds.Float;
            case LREAL -> NodeIds.Double;
            case TIME -> NodeIds.Duration;
            case STRING -> NodeIds.String;
        };
    }

    /**
     * A value as the protocol carries it. A duration travels in milliseconds.
     *
     * @throws IllegalArgumentException when the type does not have the value
     */
    public static Object encode(TagType t, Object value) {
        if (t == TagType.STRING) {
            return value.toString();
        }
        if (t == TagType.BOOL) {
            return switch (value) {
                case Boolean b -> b;
                case Number n -> n.doubleValue() != 0;
                default -> throw new IllegalArgumentException("a BOOL is true or false");
            };
        }
        Number n = t.number(value);
        double x = n.doubleValue();
        return switch (t) {
            case SINT -> n.byteValue();
            case USINT, BYTE -> ubyte(n.longValue());
            case INT -> n.shortValue();
            case UINT, WORD -> ushort(n.intValue());
            case DINT -> n.intValue();
            case UDINT, DWORD -> uint(n.longValue());
            case LINT -> n.longValue();
            case ULINT -> ulong(n.longValue());
            case REAL -> n.floatValue();
            case TIME -> x * 1e3;
            default -> x;
        };
    }

    /**
     * A value of a tag as it came; null where it is none.
     *
     * @param t the type of the tag; a value of another type is null as well
     */
    public static Object decode(TagType t, Object value) {
        return switch (value) {
            case Boolean b when t == TagType.BOOL -> b;
            case String s when t == TagType.STRING -> s;
            case LocalizedText l when t == TagType.STRING -> l.text();
            case DateTime d when t == TagType.TIME -> d.getJavaTime() / 1e3;
            case Double x when t == TagType.TIME -> x / 1e3;
            case Double x when t == TagType.LREAL -> x;
            case Float x when t == TagType.REAL || t == TagType.LREAL -> (double) x;
            case ULong n when t.isWhole() -> Type.UINT64.exact(n.longValue());
            case UNumber n when t.isWhole() -> n.longValue();
            case Number n when t.isWhole() && !(n instanceof Double) && !(n instanceof Float) -> n.longValue();
            case null, default -> null;
        };
    }

    /** What arrived as a reading. */
    static Reading reading(TagType t, DataValue v) {
        StatusCode status = v.statusCode();
        var source = v.sourceTime() == null ? null : v.sourceTime().getJavaInstant();
        long at = source == null ? 0 : source.getEpochSecond() * 1_000_000_000 + source.getNano();
        Object value = v.value() == null || v.value().value() == null ? null : decode(t, v.value().value());
        if (status != null && status.isBad()) {
            return new Reading(value, Reading.Quality.BAD, at, System.nanoTime(), "The device answers: " + name(status) + ".");
        }
        if (value == null) {
            return new Reading(null, Reading.Quality.BAD, at, System.nanoTime(), v.value() == null || v.value().value() == null
                    ? "The device has no value." : "The value is of another type than " + t + ".");
        }
        boolean uncertain = status != null && status.isUncertain();
        return new Reading(value, uncertain ? Reading.Quality.UNCERTAIN : Reading.Quality.GOOD, at, System.nanoTime(),
                uncertain ? "The device answers: " + name(status) + "." : "");
    }

    /** A status as people can look it up. */
    static String name(StatusCode status) {
        return StatusCodes.lookup(status.value()).map(x -> x[0]).orElse(status.toString());
    }

    static Variant variant(Object encoded) {
        return Variant.of(encoded);
    }
}
