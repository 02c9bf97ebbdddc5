package boldanvil.core.frame;

import java.util.List;

/**
 * A message of a CAN bus with its signals.
 *
 * @param id identifier, 11 bits, or 29 where {@code extended}
 * @param bytes length of its data, 0 to 8
 * @param sender node that sends it, as DBC files name it
 */
public record CanMessage(long id, boolean extended, String name, int bytes, String sender, List<Signal> signals) implements Codec {
    /**
     * A signal: {@code value = raw · factor + offset}.
     *
     * @param start bit where it begins: the lowest one, or, high byte first, the highest one, counted byte · 8 + bit of the byte
     * @param length bits, 1 to 32
     */
    public record Signal(String name, int start, int length, boolean bigEndian, boolean signed, double factor, double offset,
            double minimum, double maximum, String unit) {
        /** Least integer it holds. */
        public double least() {
            return signed ? -Math.pow(2, length - 1) : 0;
        }

        /** Greatest integer it holds. */
        public double greatest() {
            return Math.pow(2, signed ? length - 1 : length) - 1;
        }

        /** The place of one of its bits, 0 the lowest, counted byte · 8 + bit of the byte. */
        int place(int bit) {
            if (!bigEndian) {
                return start + bit;
            }
            int place = start;
            for (int i = length - 1; i > bit; i--) {
                place += place % 8 == 0 ? 15 : -1;
            }
            return place;
        }
    }

    public CanMessage {
        signals = List.copyOf(signals);
        if (bytes < 0 || bytes > 8) {
            throw new FrameException("The message '" + name + "' has " + bytes + " bytes.", "A CAN message has 0 to 8 bytes.");
        }
        boolean[] taken = new boolean[64];
        for (Signal s : signals) {
            if (s.length() < 1 || s.length() > 32) {
                throw new FrameException("The signal '" + s.name() + "' has " + s.length() + " bits.", "Use 1 to 32 bits.");
            }
            if (s.factor() == 0) {
                throw new FrameException("The factor of the signal '" + s.name() + "' is 0.", "Enter the value of one count.");
            }
            for (int i = 0; i < s.length(); i++) {
                int p = s.place(i);
                if (p < 0 || p >= 8 * bytes) {
                    throw new FrameException("The signal '" + s.name() + "' reaches beyond the " + bytes + " bytes of its message.",
                            "Correct its start or length.");
                }
                if (taken[p]) {
                    throw new FrameException("The signal '" + s.name() + "' overlaps another one.", "Correct its start or length.");
                }
                taken[p] = true;
            }
        }
    }

    /**
     * The most bits a frame takes on the line, bits stuffed in the worst way (Davis, Burns, Bril and Lukkien, Real-Time Systems 35, 2007).
     */
    public int worstBits() {
        return extended ? 80 + 10 * bytes : 55 + 10 * bytes;
    }

    @Override
    public byte[] pack(double[] values) {
        byte[] b = new byte[bytes];
        for (int i = 0; i < signals.size(); i++) {
            Signal s = signals.get(i);
            long raw = (long) Codec.raw(values[i], s.offset(), s.factor(), s.least(), s.greatest());
            for (int k = 0; k < s.length(); k++) {
                int p = s.place(k);
                b[p / 8] |= (byte) ((raw >> k & 1) << p % 8);
            }
        }
        return b;
    }

    @Override
    public double[] unpack(byte[] b) {
        double[] values = new double[signals.size()];
        for (int i = 0; i < values.length; i++) {
            Signal s = signals.get(i);
            long raw = 0;
            for (int k = 0; k < s.length(); k++) {
                int p = s.place(k);
                raw |= (b[p / 8] >> p % 8 & 1L) << k;
            }
            if (s.signed() && raw > s.greatest()) {
                raw -= 1L << s.length();
            }
            values[i] = raw * s.factor() + s.offset();
        }
        return values;
    }
}
