package boldanvil.core.hdf5;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;

/** The bytes of superblocks, object headers and chunk indices, named as in the format specification. */
final class Messages {
    static final long UNDEFINED = -1;
    /** Children of a full node of a chunk index; twice the default K of the format. */
    static final int NODE_CHILDREN = 64;
    private static final byte[] SIGNATURE = {(byte) 0x89, 'H', 'D', 'F', '\r', '\n', 0x1A, '\n'};

    private Messages() {}

    /** Little-endian output. */
    static final class Out {
        private final ByteArrayOutputStream bytes = new ByteArrayOutputStream();

        Out put(long v, int size) {
            for (int i = 0; i < size; i++) {
                bytes.write((int) (v >> 8 * i));
            }
            return this;
        }

        Out bytes(byte[] b) {
            bytes.writeBytes(b);
            return this;
        }

        Out text(String ascii) {
            return bytes(ascii.getBytes(StandardCharsets.US_ASCII));
        }

        int size() {
            return bytes.size();
        }

        byte[] done() {
            return bytes.toByteArray();
        }

        /** With its checksum behind it. */
        byte[] checked() {
            byte[] b = done();
            return put(Lookup3.of(b, b.length), 4).done();
        }
    }

    /** Superblock, version 2. */
    static byte[] superblock(long endOfFile, long root) {
        return new Out().bytes(SIGNATURE).put(2, 1).put(8, 1).put(8, 1).put(0, 1).put(0, 8).put(UNDEFINED, 8).put(endOfFile, 8).put(root, 8)
                .checked();
    }

    /** An object header, version 2, of messages by their numbers. */
    private static byte[] header(Out messages) {
        byte[] m = messages.done();
        return new Out().text("OHDR").put(2, 1).put(2, 1).put(m.length, 4).bytes(m).checked();
    }

    private static void message(Out to, int type, Out body) {
        byte[] b = body.done();
        if (b.length > 0xFFFF) {
            throw new IllegalArgumentException("a message of " + b.length + " bytes");
        }
        to.put(type, 1).put(b.length, 2).put(0, 1).bytes(b);
    }

    /** A group whose links lie in its header. */
    static byte[] group(Map<String, Long> children, Map<String, String> attributes) {
        var all = new Out();
        message(all, 0x02, new Out().put(0, 2).put(UNDEFINED, 8).put(UNDEFINED, 8));
        message(all, 0x0A, new Out().put(0, 2));
        new LinkedHashMap<>(children).forEach((name, address) -> {
            byte[] n = name.getBytes(StandardCharsets.UTF_8);
            // Version 1; length of the name in two bytes; character set given: UTF-8.
            message(all, 0x06, new Out().put(1, 1).put(0x11, 1).put(1, 1).put(n.length, 2).bytes(n).put(address, 8));
        });
        attributes.forEach((name, text) -> message(all, 0x0C, attribute(name, text)));
        return header(all);
    }

    /** A chunked dataset of rows. */
    static byte[] dataset(NumberType type, int width, int chunkRows, long rows, long index, Map<String, String> attributes) {
        var all = new Out();
        var space = new Out().put(2, 1).put(width == 1 ? 1 : 2, 1).put(1, 1).put(1, 1).put(rows, 8);
        if (width > 1) {
            space.put(width, 8);
        }
        space.put(UNDEFINED, 8);
        if (width > 1) {
            space.put(width, 8);
        }
        message(all, 0x01, space);
        message(all, 0x03, type(type));
        // Fill value, version 3: allocated bit by bit, written where set, not defined.
        message(all, 0x05, new Out().put(3, 1).put(0x0B, 1));
        var layout = new Out().put(3, 1).put(2, 1).put(width == 1 ? 2 : 3, 1).put(index, 8).put(chunkRows, 4);
        if (width > 1) {
            layout.put(width, 4);
        }
        message(all, 0x08, layout.put(type.bytes(), 4));
        attributes.forEach((name, text) -> message(all, 0x0C, attribute(name, text)));
        return header(all);
    }

    private static Out type(NumberType t) {
        return switch (t) {
            case UINT8 -> new Out().put(0x10, 1).put(0, 3).put(1, 4).put(0, 2).put(8, 2);
            case INT32 -> new Out().put(0x10, 1).put(0x08, 3).put(4, 4).put(0, 2).put(32, 2);
            case FLOAT32 -> new Out().put(0x11, 1).put(0x1F20, 3).put(4, 4).put(0, 2).put(32, 2).put(23, 1).put(8, 1).put(0, 1).put(23, 1)
                    .put(127, 4);
            case FLOAT64 -> new Out().put(0x11, 1).put(0x3F20, 3).put(8, 4).put(0, 2).put(64, 2).put(52, 1).put(11, 1).put(0, 1).put(52, 1)
                    .put(1023, 4);
        };
    }

    private static Out attribute(String name, String text) {
        byte[] n = (name + "\0").getBytes(StandardCharsets.UTF_8);
        byte[] value = (text + "\0").getBytes(StandardCharsets.UTF_8);
        // A string of fixed length, ended by a zero, UTF-8; a scalar.
        byte[] type = new Out().put(0x13, 1).put(0x10, 3).put(value.length, 4).done();
        byte[] space = new Out().put(2, 1).put(0, 1).put(0, 1).put(0, 1).done();
        return new Out().put(3, 1).put(0, 1).put(n.length, 2).put(type.length, 2).put(space.length, 2).put(1, 1).bytes(n).bytes(type)
                .bytes(space).bytes(value);
    }

    /** Size of a node of the index of chunks, version 1 B-tree. */
    static int nodeBytes(int width) {
        return 24 + NODE_CHILDREN * 8 + (NODE_CHILDREN + 1) * keyBytes(width);
    }

    private static int keyBytes(int width) {
        return 8 + 8 * (width == 1 ? 2 : 3);
    }

    /**
     * A node of the index of chunks.
     *
     * @param firstRows first row of each child
     * @param end first row behind the last child
     */
    static byte[] node(int level, int width, int chunkBytes, long[] firstRows, long[] addresses, long end, long left, long right) {
        var o = new Out().text("TREE").put(1, 1).put(level, 1).put(addresses.length, 2).put(left, 8).put(right, 8);
        for (int i = 0; i < addresses.length; i++) {
            key(o, width, chunkBytes, firstRows[i]);
            o.put(addresses[i], 8);
        }
        key(o, width, 0, end);
        return o.bytes(new byte[nodeBytes(width) - o.size()]).done();
    }

    private static void key(Out o, int width, int chunkBytes, long row) {
        o.put(chunkBytes, 4).put(0, 4).put(row, 8).put(0, width == 1 ? 8 : 16);
    }
}
