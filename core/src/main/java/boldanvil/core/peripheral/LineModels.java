package boldanvil.core.peripheral;

import boldanvil.core.frame.Codec;
import java.util.Arrays;

/** Peripherals that carry bytes over lines and buses; see {@link PinModel}. Transfers take their time, in whole steps of the part. */
final class LineModels {
    private LineModels() {}

    /** Bytes as counts. */
    private static long[] asCounts(byte[] bytes) {
        long[] counts = new long[bytes.length];
        for (int i = 0; i < counts.length; i++) {
            counts[i] = bytes[i] & 0xFF;
        }
        return counts;
    }

    private static byte[] bytes(long[] counts, int length) {
        byte[] bytes = new byte[length];
        for (int i = 0; i < length; i++) {
            bytes[i] = (byte) counts[i];
        }
        return bytes;
    }

    /** Bytes that are sent, one transfer after the other; the other end has the values when the transfer is over. */
    static final class Sent extends PinModel {
        private final Codec codec;
        private final int steps;
        private double[] inFlight;
        private double[] shown;
        private int left;

        Sent(Codec codec, int steps) {
            this.codec = codec;
            this.steps = steps;
            init();
        }

        @Override
        public void save(Kept to) {
            to.put(inFlight).put(shown).put(left);
        }

        @Override
        public void restore(Kept from) {
            inFlight = from.array();
            shown = from.array();
            left = (int) from.number();
        }

        @Override
        public void init() {
            inFlight = null;
            shown = null;
            left = 0;
        }

        @Override
        public void begin() {
            if (left > 0 && --left == 0) {
                shown = inFlight;
            }
        }

        @Override
        public long[] counts(double[] values) {
            return asCounts(codec.pack(values));
        }

        @Override
        public double[] signals(long[] counts) {
            double[] values = codec.unpack(bytes(counts, codec.bytes()));
            if (left == 0 && values != null) {
                inFlight = values;
                left = steps;
            }
            return shown == null ? new double[values == null ? 0 : values.length] : shown;
        }
    }

    /** Bytes that arrive, one transfer after the other, and behind them whether they are new. */
    static final class Received extends PinModel {
        private final Codec codec;
        private final int steps;
        private final int values;
        private byte[] inFlight;
        private byte[] here;
        private int left;

        Received(Codec codec, int steps, int values) {
            this.codec = codec;
            this.steps = steps;
            this.values = values;
            init();
        }

        @Override
        public void save(Kept to) {
            to.put(inFlight).put(here).put(left);
        }

        @Override
        public void restore(Kept from) {
            inFlight = from.bytes();
            here = from.bytes();
            left = (int) from.number();
        }

        @Override
        public void init() {
            inFlight = null;
            here = null;
            left = 0;
        }

        @Override
        public long[] counts(double[] wires) {
            boolean fresh = left > 0 && --left == 0;
            if (fresh) {
                here = inFlight;
            }
            if (left == 0) {
                inFlight = codec.pack(wires);
                left = steps;
            }
            long[] counts = Arrays.copyOf(here == null ? new long[codec.bytes()] : asCounts(here), codec.bytes() + 1);
            counts[codec.bytes()] = fresh ? 1 : 0;
            return counts;
        }

        @Override
        public double[] signals(long[] counts) {
            double[] seen = here == null ? new double[values] : codec.unpack(bytes(counts, codec.bytes()));
            double[] all = Arrays.copyOf(seen, values + 1);
            all[values] = counts[codec.bytes()];
            return all;
        }
    }

    /** The bytes of a device's register; the device measures now and then. */
    static final class Measured extends PinModel {
        private final Codec codec;
        private final int steps;
        private byte[] held;
        private int left;

        Measured(Codec codec, int steps) {
            this.codec = codec;
            this.steps = steps;
        }

        @Override
        public void save(Kept to) {
            to.put(held).put(left);
        }

        @Override
        public void restore(Kept from) {
            held = from.bytes();
            left = (int) from.number();
        }

        @Override
        public void init() {
            left = 0;
        }

        @Override
        public long[] counts(double[] value) {
            if (left == 0) {
                held = codec.pack(value);
                left = steps;
            }
            left--;
            return asCounts(held);
        }

        @Override
        public double[] signals(long[] counts) {
            return codec.unpack(bytes(counts, codec.bytes()));
        }
    }
}
