package boldanvil.core.link;

import boldanvil.core.program.Type;
import java.util.Locale;
import java.util.Optional;

/** The types of tags, by the names of IEC 61131-3. */
public enum TagType {
    BOOL(Type.BOOL, 1),
    SINT(Type.INT8, 8),
    USINT(Type.UINT8, 8),
    BYTE(Type.UINT8, 8),
    INT(Type.INT16, 16),
    UINT(Type.UINT16, 16),
    WORD(Type.UINT16, 16),
    DINT(Type.INT32, 32),
    UDINT(Type.UINT32, 32),
    DWORD(Type.UINT32, 32),
    LINT(Type.INT64, 64),
    ULINT(Type.UINT64, 64),
    REAL(Type.FLOAT32, 32),
    LREAL(Type.FLOAT64, 64),
    /** Seconds. */
    TIME(Type.FLOAT64, 64),
    STRING(null, 0);

    private final Type type;
    private final int bits;

    TagType(Type type, int bits) {
        this.type = type;
        this.bits = bits;
    }

    /** The type of sheets that holds every value of it; empty for texts and for integers of 64 bits. */
    public Optional<Type> type() {
        return Optional.ofNullable(type).filter(t -> !t.isWide());
    }

    /** Its size; 0 for a text. */
    public int bits() {
        return bits;
    }

    public boolean isNumber() {
        return this != BOOL && this != STRING;
    }

    /** Whether its values are whole numbers. */
    public boolean isWhole() {
        return isNumber() && this != REAL && this != LREAL && this != TIME;
    }

    /**
     * A value as a number of this type.
     *
     * @throws IllegalArgumentException when it is not a number, or the type does not have it
     */
    public Number number(Object value) {
        if (!(value instanceof Number n)) {
            throw new IllegalArgumentException("a " + this + " is a number");
        }
        if (isWhole() && !type.holds(n)) {
            throw new IllegalArgumentException("a " + this + " does not have the value " + value);
        }
        return n;
    }

    /** The value of this type of whole numbers that is nearest to a number; 0 for one that is not a number. */
    public Number nearest(double value) {
        return type.exact(type.bits(type.convert(Math.rint(value))));
    }

    /** The type with a name; STRING with any length, and every other name of a number or text as far as it is known. */
    public static Optional<TagType> named(String name) {
        String upper = name.strip().toUpperCase(Locale.ROOT);
        if (upper.startsWith("STRING") || upper.startsWith("WSTRING")) {
            return Optional.of(STRING);
        }
        int bracket = upper.indexOf('(');
        String plain = bracket > 0 ? upper.substring(0, bracket).strip() : upper;
        for (TagType t : values()) {
            if (t.name().equals(plain)) {
                return Optional.of(t);
            }
        }
        return switch (plain) {
            case "LTIME", "DATE", "TOD", "DT", "DATE_AND_TIME", "TIME_OF_DAY" -> Optional.of(TIME);
            case "LWORD" -> Optional.of(ULINT);
            default -> Optional.empty();
        };
    }

    /** The type of the tags for values of a type of the IR. */
    public static TagType of(Type t) {
        return switch (t) {
            case BOOL -> BOOL;
            case INT8 -> SINT;
            case UINT8 -> USINT;
            case INT16 -> INT;
            case UINT16 -> UINT;
            case INT32 -> DINT;
            case UINT32 -> UDINT;
            case INT64 -> LINT;
            case UINT64 -> ULINT;
            case FLOAT32 -> REAL;
            case FLOAT64 -> LREAL;
        };
    }
}
