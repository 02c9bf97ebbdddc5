package boldanvil.core.program;

/** The scalar types of the IR. */
public enum Type {
    BOOL(1, "bool", 0, 1),
    INT8(1, "int8", Byte.MIN_VALUE, Byte.MAX_VALUE),
    UINT8(1, "uint8", 0, 255),
    INT16(2, "int16", Short.MIN_VALUE, Short.MAX_VALUE),
    UINT16(2, "uint16", 0, 65_535),
    INT32(4, "int32", Integer.MIN_VALUE, Integer.MAX_VALUE),
    UINT32(4, "uint32", 0, 4_294_967_295L),
    FLOAT32(4, "float32", 0, 0),
    FLOAT64(8, "float64", 0, 0);

    private final int bytes;
    private final String label;
    private final long least;
    private final long greatest;

    Type(int bytes, String label, long least, long greatest) {
        this.bytes = bytes;
        this.label = label;
        this.least = least;
        this.greatest = greatest;
    }

    /** The least value of an integer type. */
    public long least() {
        return least;
    }

    /** The greatest value of an integer type. */
    public long greatest() {
        return greatest;
    }

    public boolean isSigned() {
        return least < 0 || isFloat();
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
        return this != BOOL && !isFloat();
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

    /** An integer cut to the bits of this integer type, as arithmetic beyond its range wraps around. */
    public long wrap(long v) {
        return switch (this) {
            case INT8 -> (byte) v;
            case UINT8 -> v & 0xFF;
            case INT16 -> (short) v;
            case UINT16 -> v & 0xFFFF;
            case INT32 -> (int) v;
            case UINT32 -> v & 0xFFFF_FFFFL;
            default -> throw new IllegalArgumentException(label + " does not wrap");
        };
    }

    /** What a value of type float64 becomes when it is converted to this type: saturating, truncating, NaN to 0. */
    public double convert(double v) {
        return switch (this) {
            case BOOL -> v != 0 ? 1 : 0;
            case FLOAT32 -> (float) v;
            case FLOAT64 -> v;
            default -> Math.clamp((long) v, least, greatest);
        };
    }
}
