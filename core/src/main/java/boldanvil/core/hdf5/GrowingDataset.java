package boldanvil.core.hdf5;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;

/** A dataset that grows by rows. Not safe for several threads by itself; whoever reads while another writes holds the file's lock. */
public final class GrowingDataset {
    private final GrowingFile file;
    private final NumberType type;
    private final int width;
    private final int chunkRows;
    private final Map<String, String> attributes;
    private final ByteBuffer chunk;
    private long[] addresses = new long[4];
    private int chunks;
    private int inChunk;
    private int written;
    private long rows;

    GrowingDataset(GrowingFile file, NumberType type, int width, int chunkRows, Map<String, String> attributes) {
        this.file = file;
        this.type = type;
        this.width = width;
        this.chunkRows = chunkRows;
        this.attributes = Map.copyOf(attributes);
        chunk = ByteBuffer.allocate(chunkBytes()).order(ByteOrder.LITTLE_ENDIAN);
    }

    private int chunkBytes() {
        return chunkRows * width * type.bytes();
    }

    /** Number of rows so far. */
    public long size() {
        return rows;
    }

    /**
     * Appends values; a row is complete with {@code width} of them.
     *
     * @param values source
     * @param from index of the first
     * @param stride distance to the next
     * @param count how many, a multiple of the width
     */
    public void append(double[] values, int from, int stride, int count) throws IOException {
        for (int i = 0; i < count; i++) {
            type.put(chunk, values[from + i * stride]);
            if (!chunk.hasRemaining()) {
                inChunk = chunkRows;
                flush();
                chunk.clear();
                inChunk = 0;
                written = 0;
            }
        }
        rows += count / width;
        inChunk = chunk.position() / (width * type.bytes());
    }

    /** Writes what of the present chunk is not in the file yet. */
    void flush() throws IOException {
        if (inChunk == written) {
            return;
        }
        if (written == 0) {
            addresses = chunks == addresses.length ? Arrays.copyOf(addresses, 2 * chunks) : addresses;
            addresses[chunks++] = file.allocate(chunkBytes());
        }
        int rowBytes = width * type.bytes();
        file.write(addresses[chunks - 1] + (long) written * rowBytes, ByteBuffer.wrap(chunk.array(), written * rowBytes,
                (inChunk - written) * rowBytes));
        written = inChunk;
    }

    /**
     * Reads rows that have been appended.
     *
     * @param from first row
     * @param count how many
     * @param into gets count × width values
     */
    public void read(long from, int count, double[] into) throws IOException {
        int rowBytes = width * type.bytes();
        int done = 0;
        while (done < count) {
            long row = from + done;
            int c = (int) (row / chunkRows);
            int first = (int) (row % chunkRows);
            int n = Math.min(count - done, chunkRows - first);
            boolean present = row / chunkRows == rows / chunkRows;
            ByteBuffer b = present ? chunk.duplicate().order(ByteOrder.LITTLE_ENDIAN).clear()
                    : file.read(addresses[c] + (long) first * rowBytes, n * rowBytes);
            int at = present ? first * rowBytes : 0;
            for (int i = 0; i < n * width; i++) {
                into[done * width + i] = type.get(b, at + i * type.bytes());
            }
            done += n;
        }
    }

    /** Adds this dataset's metadata and returns the address of its header. */
    long describe(Metadata to) {
        long index = index(to);
        return to.add(Messages.dataset(type, width, chunkRows, rows, index, attributes));
    }

    private long index(Metadata to) {
        if (chunks == 0) {
            return Messages.UNDEFINED;
        }
        List<Long> firsts = new ArrayList<>();
        List<Long> children = new ArrayList<>();
        for (int i = 0; i < chunks; i++) {
            firsts.add((long) i * chunkRows);
            children.add(addresses[i]);
        }
        long end = (long) chunks * chunkRows;
        for (int level = 0; ; level++) {
            List<Long> upFirsts = new ArrayList<>();
            List<Long> up = new ArrayList<>();
            int nodes = (children.size() + Messages.NODE_CHILDREN - 1) / Messages.NODE_CHILDREN;
            long size = Messages.nodeBytes(width);
            long base = to.next();
            for (int n = 0; n < nodes; n++) {
                int a = n * Messages.NODE_CHILDREN;
                int b = Math.min(children.size(), a + Messages.NODE_CHILDREN);
                upFirsts.add(firsts.get(a));
                up.add(to.add(Messages.node(level, width, chunkBytes(), longs(firsts.subList(a, b)), longs(children.subList(a, b)),
                        b < firsts.size() ? firsts.get(b) : end, n == 0 ? Messages.UNDEFINED : base + (n - 1) * size,
                        n == nodes - 1 ? Messages.UNDEFINED : base + (n + 1) * size)));
            }
            if (nodes == 1) {
                return up.getFirst();
            }
            firsts = upFirsts;
            children = up;
        }
    }

    private static long[] longs(List<Long> l) {
        return l.stream().mapToLong(Long::longValue).toArray();
    }
}
