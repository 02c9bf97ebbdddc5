package boldanvil.core.link;

import boldanvil.core.program.Type;
import java.math.BigInteger;
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
    LINT(null, 64),
    ULINT(null, 64),
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

    /** The type of the IR that holds every value of it; empty for texts and for integers of 64 bits. */
    public Optional<Type> type() {
        return Optional.ofNullable(type);
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
        double x = n.doubleValue();
        if (isWhole() && (x != Math.rint(x) || type != null && (x < type.least() || x > type.greatest()))) {
            throw new IllegalArgumentException("a " + this + " does not have the value " + value);
        }
        return n;
    }

    /** An unsigned integer of 64 bits as a value: a {@link Long}, or a {@link java.math.BigInteger} where that is too small. */
    public static Number unsigned(long bits) {
        return bits >= 0 ? (Number) bits : new BigInteger(Long.toUnsignedString(bits));
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
