package boldanvil.core.hdf5;

import java.nio.ByteBuffer;

/** Number types of datasets, all little endian. */
public enum NumberType {
    UINT8(1), INT32(4), FLOAT32(4), FLOAT64(8);

    private final int bytes;

    NumberType(int bytes) {
        this.bytes = bytes;
    }

    public int bytes() {
        return bytes;
    }

    void put(ByteBuffer b, double v) {
        switch (this) {
            case UINT8 -> b.put((byte) (int) v);
            case INT32 -> b.putInt((int) v);
            case FLOAT32 -> b.putFloat((float) v);
            case FLOAT64 -> b.putDouble(v);
        }
    }

    /** The value at a byte position of a little-endian buffer. */
    public double get(ByteBuffer b, int position) {
        return switch (this) {
            case UINT8 -> b.get(position) & 0xFF;
            case INT32 -> b.getInt(position);
            case FLOAT32 -> b.getFloat(position);
            case FLOAT64 -> b.getDouble(position);
        };
    }
}
