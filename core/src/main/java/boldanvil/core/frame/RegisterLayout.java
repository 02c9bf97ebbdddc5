package boldanvil.core.frame;

/**
 * A register of a device on a bus, as an integer.
 *
 * @param bytes 1, 2 or 4
 * @param scale units of one count
 * @param offset units at count 0
 */
public record RegisterLayout(int bytes, boolean signed, boolean bigEndian, double scale, double offset) implements Codec {
    private double least() {
        return signed ? -Math.pow(2, 8 * bytes - 1) : 0;
    }

    private double greatest() {
        return Math.pow(2, signed ? 8 * bytes - 1 : 8 * bytes) - 1;
    }

    @Override
    public byte[] pack(double[] values) {
        long raw = (long) Codec.raw(values[0], offset, scale, least(), greatest());
        byte[] b = new byte[bytes];
        for (int i = 0; i < bytes; i++) {
            b[bigEndian ? bytes - 1 - i : i] = (byte) (raw >> 8 * i);
        }
        return b;
    }

    @Override
    public double[] unpack(byte[] b) {
        long raw = 0;
        for (int i = 0; i < bytes; i++) {
            raw |= (b[bigEndian ? bytes - 1 - i : i] & 0xFFL) << 8 * i;
        }
        if (signed && raw > greatest()) {
            raw -= 1L << 8 * bytes;
        }
        return new double[] {raw * scale + offset};
    }
}
