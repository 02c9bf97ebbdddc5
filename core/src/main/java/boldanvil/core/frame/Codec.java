package boldanvil.core.frame;

/** Packs values into bytes and back. */
public interface Codec {
    /** Length in bytes. */
    int bytes();

    /** The bytes that carry some values; each value is first brought to what its field can hold. */
    byte[] pack(double[] values);

    /** The values that some bytes carry; null when header or checksum are wrong. */
    double[] unpack(byte[] bytes);

    /**
     * A value as an integer of a field: {@code (v − offset) / factor}, rounded to the nearest, held between two ends; not a number is the
     * lower end.
     */
    static double raw(double v, double offset, double factor, double least, double greatest) {
        double r = Math.floor((v - offset) / factor + 0.5);
        return r > least ? Math.min(r, greatest) : least;
    }
}
