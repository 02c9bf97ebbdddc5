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
    REAL(Type.FLOAT32),
    LREAL(Type.FLOAT64),
    /** Seconds. */
    TIME(Type.FLOAT64);

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
        return this == BYTE || this == WORD || this == DWORD;
    }

    /** The unsigned number of the width of a string of bits. */
    TextType number() {
        return switch (this) {
            case BYTE -> USINT;
            case WORD -> UINT;
            case DWORD -> UDINT;
            default -> this;
        };
    }

    boolean isReal() {
        return this == REAL || this == LREAL;
    }

    boolean isInteger() {
        return type.isInteger();
    }

    boolean isNumber() {
        return isReal() || isInteger();
    }

    /** The type with a name, or null. */
    static TextType named(String name) {
        String upper = name.toUpperCase(Locale.ROOT);
        for (TextType t : values()) {
            if (t.name().equals(upper)) {
                return t;
            }
        }
        return null;
    }

    /** Whether every value of this type is a value of the other one (IEC 61131-3:2013, figure 12). */
    boolean widensTo(TextType to) {
        if (this == to || type == to.type && this != TIME && to != TIME) {
            return true;
        }
        if (!isNumber() || !to.isNumber()) {
            return false;
        }
        if (to == LREAL) {
            return true;
        }
        if (to == REAL) {
            return isInteger() && type.bytes() <= 2;
        }
        return isInteger() && to.type.least() <= type.least() && type.greatest() <= to.type.greatest();
    }
}
