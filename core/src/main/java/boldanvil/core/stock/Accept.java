package boldanvil.core.stock;

import boldanvil.core.program.Type;

/** What an input takes. */
public enum Accept {
    /** float32 or float64. */
    REAL("a real number"),
    /** Any type but bool. */
    NUMBER("a number"),
    /** Any integer; it need not be the type of the other inputs. */
    INTEGER("an integer"),
    /** Any value; it need not be of the type of the other inputs. */
    OWN("any value"),
    /** Only bool. */
    LOGIC("a logic value"),
    ANY("any value");

    private final String words;

    Accept(String words) {
        this.words = words;
    }

    public String words() {
        return words;
    }

    /** Whether all inputs of this kind carry the same type. */
    public boolean isCommon() {
        return this != LOGIC && this != INTEGER && this != OWN;
    }

    public boolean takes(Type t) {
        return switch (this) {
            case REAL -> t.isFloat();
            case NUMBER -> t.isNumber();
            case INTEGER -> t.isInteger();
            case OWN -> true;
            case LOGIC -> t == Type.BOOL;
            case ANY -> true;
        };
    }
}
