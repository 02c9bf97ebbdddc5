package boldanvil.core.frame;

import boldanvil.core.program.Type;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.ArrayList;
import java.util.List;
import java.util.zip.CRC32;

/**
 * A packet: header, fields one after the other without gaps, checksum of all before it.
 *
 * @param header first bytes, 0 to 255 each
 */
public record PacketLayout(List<Field> fields, boolean bigEndian, List<Integer> header, Check check) implements Codec {
    private static final int MOST_BYTES = 64;

    /** A named value of a type. */
    public record Field(String name, Type type) {}

    /** What guards the packet. */
    public enum Check {
        NONE("none", 0),
        /** The sum of all bytes, modulo 256. */
        SUM("sum", 1),
        /** CRC-16 with polynomial 0x1021 and initial value 0xFFFF (ITU-T V.41). */
        CRC16("CRC-16", 2),
        /** CRC-32 (IEEE 802.3). */
        CRC32("CRC-32", 4);

        private final String label;
        private final int bytes;

        Check(String label, int bytes) {
            this.label = label;
            this.bytes = bytes;
        }

        public String label() {
            return label;
        }

        public int bytes() {
            return bytes;
        }

        /** The checksum of the first bytes. */
        public long of(byte[] data, int length) {
            return switch (this) {
                case NONE -> 0;
                case SUM -> {
                    int sum = 0;
                    for (int i = 0; i < length; i++) {
                        sum += data[i] & 0xFF;
                    }
                    yield sum & 0xFF;
                }
                case CRC16 -> {
                    int crc = 0xFFFF;
                    for (int i = 0; i < length; i++) {
                        crc ^= (data[i] & 0xFF) << 8;
                        for (int k = 0; k < 8; k++) {
                            crc = (crc & 0x8000) != 0 ? crc << 1 ^ 0x1021 : crc << 1;
                        }
                        crc &= 0xFFFF;
                    }
                    yield crc;
                }
                case CRC32 -> {
                    var crc = new CRC32();
                    crc.update(data, 0, length);
                    yield crc.getValue();
                }
            };
        }
    }

    public PacketLayout {
        fields = List.copyOf(fields);
        header = List.copyOf(header);
    }

    /**
     * Reads a layout as a block states it.
     *
     * @param fields {@code name: type} with commas between; a field without type is float32
     * @param header bytes in hexadecimal with spaces between
     * @throws FrameException when it makes no sense
     */
    public static PacketLayout of(String fields, String order, String header, String check) {
        List<Field> all = new ArrayList<>();
        for (String part : fields.split(",")) {
            String[] words = part.split(":", 2);
            String name = words[0].strip();
            if (name.isEmpty()) {
                continue;
            }
            Type type = words.length == 1 ? Type.FLOAT32 : Type.labelled(words[1].strip());
            if (type == null) {
                throw new FrameException("The field '" + name + "' has the type '" + words[1].strip() + "', which does not exist.",
                        "Write bool, int8, uint8 … float32 or float64.");
            }
            if (all.stream().anyMatch(f -> f.name().equals(name))) {
                throw new FrameException("Two fields are called '" + name + "'.", "Give each a different name.");
            }
            all.add(new Field(name, type));
        }
        if (all.isEmpty()) {
            throw new FrameException("The packet has no field.", "Write names and types, such as: level: float32, state: uint8.");
        }
        List<Integer> head = new ArrayList<>();
        for (String word : header.strip().split("\\s+")) {
            if (!word.isEmpty()) {
                if (!word.matches("[0-9A-Fa-f]{1,2}")) {
                    throw new FrameException("'" + word + "' is not a hexadecimal byte.", "Write the header like: AA 55.");
                }
                head.add(Integer.parseInt(word, 16));
            }
        }
        Check guard = Check.NONE;
        for (Check c : Check.values()) {
            guard = c.label().equals(check) ? c : guard;
        }
        var layout = new PacketLayout(all, order.equals("high byte first"), head, guard);
        if (layout.bytes() > MOST_BYTES) {
            throw new FrameException("The packet has " + layout.bytes() + " bytes; " + MOST_BYTES + " is the limit.",
                    "Divide it into two packets.");
        }
        return layout;
    }

    @Override
    public int bytes() {
        return header.size() + fields.stream().mapToInt(f -> f.type().bytes()).sum() + check.bytes();
    }

    private ByteBuffer buffer(byte[] bytes) {
        return ByteBuffer.wrap(bytes).order(bigEndian ? ByteOrder.BIG_ENDIAN : ByteOrder.LITTLE_ENDIAN);
    }

    @Override
    public byte[] pack(double[] values) {
        var b = buffer(new byte[bytes()]);
        header.forEach(h -> b.put((byte) (int) h));
        for (int i = 0; i < fields.size(); i++) {
            Type type = fields.get(i).type();
            double v = type.convert(values[i]);
            switch (type) {
                case BOOL, INT8, UINT8 -> b.put((byte) (int) v);
                case INT16, UINT16 -> b.putShort((short) (int) v);
                case INT32, UINT32 -> b.putInt((int) (long) v);
                case INT64, UINT64 -> b.putLong(type.bits(v));
                case FLOAT32 -> b.putFloat((float) v);
                case FLOAT64 -> b.putDouble(v);
            }
        }
        long sum = check.of(b.array(), b.position());
        switch (check) {
            case NONE -> { }
            case SUM -> b.put((byte) sum);
            case CRC16 -> b.putShort((short) sum);
            case CRC32 -> b.putInt((int) sum);
        }
        return b.array();
    }

    @Override
    public double[] unpack(byte[] bytes) {
        var b = buffer(bytes);
        for (int h : header) {
            if ((b.get() & 0xFF) != h) {
                return null;
            }
        }
        double[] values = new double[fields.size()];
        for (int i = 0; i < values.length; i++) {
            values[i] = switch (fields.get(i).type()) {
                case BOOL -> b.get() != 0 ? 1 : 0;
                case INT8 -> b.get();
                case UINT8 -> b.get() & 0xFF;
                case INT16 -> b.getShort();
                case UINT16 -> b.getShort() & 0xFFFF;
                case INT32 -> b.getInt();
                case UINT32 -> b.getInt() & 0xFFFF_FFFFL;
                case INT64, UINT64 -> fields.get(i).type().value(b.getLong());
                case FLOAT32 -> b.getFloat();
                case FLOAT64 -> b.getDouble();
            };
        }
        long sum = check.of(bytes, b.position());
        boolean good = switch (check) {
            case NONE -> true;
            case SUM -> (b.get() & 0xFF) == sum;
            case CRC16 -> (b.getShort() & 0xFFFF) == sum;
            case CRC32 -> (b.getInt() & 0xFFFF_FFFFL) == sum;
        };
        return good ? values : null;
    }
}
