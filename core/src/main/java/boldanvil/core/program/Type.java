package boldanvil.core.program;

/** The scalar types of the IR. */
public enum Type {
    BOOL(1, "bool"),
    UINT16(2, "uint16"),
    INT32(4, "int32"),
    FLOAT32(4, "float32"),
    FLOAT64(8, "float64");

    private final int bytes;
    private final String label;

    Type(int bytes, String label) {
        this.bytes = bytes;
        this.label = label;
    }

    /** Size in memory, in bytes; also the alignment. */
    public int bytes() {
        return bytes;
    }

    /** The name used in project files and shown to people. */
    public String label() {
        return label;
    }

    public boolean isFloat() {
        return this == FLOAT32 || this == FLOAT64;
    }

    public boolean isInteger() {
        return this == UINT16 || this == INT32;
    }

    public boolean isNumber() {
        return this != BOOL;
    }

    /** The type with a label, or null. */
    public static Type labelled(String label) {
        for (Type t : values()) {
            if (t.label.equals(label)) {
                return t;
            }
        }
        return null;
    }

    /** What a value of type float64 becomes when it is converted to this type: saturating, truncating, NaN to 0. */
    public double convert(double v) {
        return switch (this) {
            case BOOL -> v != 0 ? 1 : 0;
            case UINT16 -> Math.clamp((int) v, 0, 65_535);
            case INT32 -> (int) v;
            case FLOAT32 -> (float) v;
            case FLOAT64 -> v;
        };
    }
}
