package boldanvil.core.program;

import java.math.BigInteger;

/** The scalar types of the IR. */
public enum Type {
    BOOL(1, "bool", 0, 1),
    INT8(1, "int8", Byte.MIN_VALUE, Byte.MAX_VALUE),
    UINT8(1, "uint8", 0, 255),
    INT16(2, "int16", Short.MIN_VALUE, Short.MAX_VALUE),
    UINT16(2, "uint16", 0, 65_535),
    INT32(4, "int32", Integer.MIN_VALUE, Integer.MAX_VALUE),
    UINT32(4, "uint32", 0, 4_294_967_295L),
    /** In programs of a PLC only; sheets, C and the network of a device do not know it. */
    INT64(8, "int64", Long.MIN_VALUE, Long.MAX_VALUE),
    /** As INT64; {@link #greatest} does not hold its greatest value, which is {@link #MOST_UINT64}. */
    UINT64(8, "uint64", 0, Long.MAX_VALUE),
    FLOAT32(4, "float32", 0, 0),
    FLOAT64(8, "float64", 0, 0);

    /** The greatest value of UINT64, rounded: 2 to the power of 64. */
    public static final double MOST_UINT64 = 0x1p64;

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

    /** Whether it is an integer of 64 bits, of which a double does not hold every value. */
    public boolean isWide() {
        return this == INT64 || this == UINT64;
    }

    public boolean isNumber() {
        return this != BOOL;
    }

    /** The type of a sheet with a label, or null. */
    public static Type labelled(String label) {
        for (Type t : values()) {
            if (t.label.equals(label) && !t.isWide()) {
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
            case INT64, UINT64 -> v;
            default -> throw new IllegalArgumentException(label + " does not wrap");
        };
    }

    /** The unsigned integer of the width of this one. */
    public Type unsigned() {
        return switch (this) {
            case INT8 -> UINT8;
            case INT16 -> UINT16;
            case INT32 -> UINT32;
            case INT64 -> UINT64;
            default -> this;
        };
    }

    /** Whether a number is exactly a value of this integer type. */
    public boolean holds(Number n) {
        return switch (n) {
            case Double d -> holds(d.doubleValue());
            case Float f -> holds(f.doubleValue());
            case BigInteger b when this == UINT64 -> b.signum() >= 0 && b.bitLength() <= 64;
            case BigInteger b -> b.bitLength() <= 63 && least <= b.longValue() && b.longValue() <= greatest;
            default -> least <= n.longValue() && n.longValue() <= greatest;
        };
    }

    private boolean holds(double v) {
        boolean isBelowEnd = isWide() ? v < (this == INT64 ? 0x1p63 : MOST_UINT64) : v <= greatest;
        return v == Math.rint(v) && v >= least && isBelowEnd;
    }

    /** The bits of a number that this integer type {@linkplain #holds holds}. */
    public long bits(Number n) {
        return n instanceof Double || n instanceof Float ? bits(n.doubleValue()) : n.longValue();
    }

    /** The value of the bits of an integer type, exact: a {@link Long}, or a {@link BigInteger} where that is too small. */
    public Number exact(long bits) {
        return this != UINT64 || bits >= 0 ? (Number) bits : new BigInteger(Long.toUnsignedString(bits));
    }

    /** The bits of a value of an integer type, those to the left of it as its sign has it. */
    public long bits(double v) {
        return this != UINT64 || v < 0x1p63 ? (long) v : v >= MOST_UINT64 ? -1 : (long) (v - 0x1p63) ^ Long.MIN_VALUE;
    }

    /** The value of the bits of an integer type, rounded where a double does not hold it. */
    public double value(long bits) {
        return this != UINT64 || bits >= 0 ? bits : ((bits >>> 1 | bits & 1) * 2.0);
    }

    /** What a value of type float64 becomes when it is converted to this type: saturating, truncating, NaN to 0. */
    public double convert(double v) {
        return switch (this) {
            case BOOL -> v != 0 ? 1 : 0;
            case FLOAT32 -> (float) v;
            case FLOAT64 -> v;
            case UINT64 -> v > 0 ? Math.min(Math.floor(v), MOST_UINT64) : 0;
            default -> Math.clamp((long) v, least, greatest);
        };
    }
}
