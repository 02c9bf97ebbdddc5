package boldanvil.core.stock;

import boldanvil.core.program.Type;

/** What an input takes. */
public enum Accept {
    /** float32 or float64. */
    REAL("a real number"),
    /** Any type but bool. */
    NUMBER("a number"),
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

    public boolean takes(Type t) {
        return switch (this) {
            case REAL -> t.isFloat();
            case NUMBER -> t.isNumber();
            case LOGIC -> t == Type.BOOL;
            case ANY -> true;
        };
    }
}
