package boldanvil.core.text;

import boldanvil.core.program.Type;
import java.util.Locale;

/** The elementary types of the language. */
enum TextType {
    BOOL(Type.BOOL),
    SINT(Type.INT8),
    USINT(Type.UINT8),
    BYTE(Type.UINT8),
    INT(Type.INT16),
    UINT(Type.UINT16),
    WORD(Type.UINT16),
    DINT(Type.INT32),
    UDINT(Type.UINT32),
    DWORD(Type.UINT32),
    /** Integers of 64 bits are for programs of a PLC. */
    LINT(Type.INT64),
    ULINT(Type.UINT64),
    LWORD(Type.UINT64),
    REAL(Type.FLOAT32),
    LREAL(Type.FLOAT64),
    /** Seconds. */
    TIME(Type.FLOAT64),
    /** Seconds since the beginning of 1970, of a midnight. */
    DATE(Type.FLOAT64),
    /** Seconds since midnight. */
    TOD(Type.FLOAT64),
    /** Seconds since the beginning of 1970. */
    DT(Type.FLOAT64);

    private final Type type;

    TextType(Type type) {
        this.type = type;
    }

    /** The type of the IR that carries it. */
    Type type() {
        return type;
    }

    /** Whether it is a string of bits and not a number (IEC 61131-3:2013, figure 5). */
    boolean isBits() {
        return this == BYTE || this == WORD || this == DWORD || this == LWORD;
    }

    /** The unsigned number of the width of a string of bits. */
    TextType number() {
        return switch (this) {
            case BYTE -> USINT;
            case WORD -> UINT;
            case DWORD -> UDINT;
            case LWORD -> ULINT;
            default -> this;
        };
    }

    boolean isReal() {
        return this == REAL || this == LREAL;
    }

    /** Whether it is a duration, a date or a time of day. */
    boolean isTime() {
        return this == TIME || isCalendar();
    }

    boolean isCalendar() {
        return this == DATE || this == TOD || this == DT;
    }

    boolean isInteger() {
        return type.isInteger();
    }

    boolean isNumber() {
        return isReal() || isInteger();
    }

    /** The type with a name, or null. The long forms of times have the same values here. */
    static TextType named(String name) {
        String upper = switch (name.toUpperCase(Locale.ROOT)) {
            case "LTIME" -> "TIME";
            case "LDATE" -> "DATE";
            case "TIME_OF_DAY", "LTOD", "LTIME_OF_DAY" -> "TOD";
            case "DATE_AND_TIME", "LDT", "LDATE_AND_TIME" -> "DT";
            default -> name.toUpperCase(Locale.ROOT);
        };
        for (TextType t : values()) {
            if (t.name().equals(upper)) {
                return t;
            }
        }
        return null;
    }

    /** Whether every value of this type is a value of the other one (IEC 61131-3:2013, figure 12). */
    boolean widensTo(TextType to) {
        if (this == to || type == to.type && !isTime() && !to.isTime()) {
            return true;
        }
        if (!isNumber() || !to.isNumber()) {
            return false;
        }
        if (to == LREAL) {
            return !type.isWide();
        }
        if (type == Type.UINT64) {
            return false;
        }
        if (to == REAL) {
            return isInteger() && type.bytes() <= 2;
        }
        return isInteger() && to.type.least() <= type.least() && type.greatest() <= to.type.greatest();
    }
}
