package boldanvil.core.hdf5;

import java.io.EOFException;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.channels.FileChannel;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * An HDF5 file that grows. Rows lie in chunks that never move. A {@link #commit} writes the metadata that describes all of them
 * behind the rows, then turns the superblock to it; two areas for metadata are used in turn, so what the superblock names is
 * always whole. A reader who opens the file at any moment sees it as of the last commit. Methods are synchronized on the file.
 *
 * <pre>{@code
 * try (var file = new GrowingFile(path, Map.of("made by", "me"))) {
 *     var speed = file.dataset("/drive/speed", NumberType.FLOAT64, 1, 4096, Map.of("unit", "m/s"));
 *     speed.append(values, 0, 1, values.length);
 *     file.commit();
 * }
 * }</pre>
 */
public final class GrowingFile implements AutoCloseable {
    private static final int SUPERBLOCK_ROOM = 64;

    private record Area(long address, long capacity) {}

    private final Path path;
    private final FileChannel channel;
    private FileChannel reading;
    private final Node root = new Node(new LinkedHashMap<>());
    private final Area[] areas = {new Area(0, 0), new Area(0, 0)};
    private final long limit;
    private long end = SUPERBLOCK_ROOM;
    private int turn;

    /** A group. */
    private record Node(Map<String, Object> children) {}

    private final Map<String, String> attributes;

    /** Makes a file; one that is there already is replaced. */
    public GrowingFile(Path path, Map<String, String> attributes) throws IOException {
        this(path, attributes, Long.MAX_VALUE);
    }

    /** @param limit most bytes of the file; writing more fails as on a full disk */
    public GrowingFile(Path path, Map<String, String> attributes, long limit) throws IOException {
        this.attributes = new LinkedHashMap<>(attributes);
        this.limit = limit;
        this.path = path;
        channel = FileChannel.open(path, StandardOpenOption.CREATE, StandardOpenOption.READ, StandardOpenOption.WRITE,
                StandardOpenOption.TRUNCATE_EXISTING);
        try {
            commit();
        } catch (IOException e) {
            channel.close();
            throw e;
        }
    }

    /**
     * Adds a dataset; groups on the way to it are made.
     *
     * @param path such as {@code /group/name}
     * @param width values of a row
     * @param chunkRows rows of a chunk
     */
    public synchronized GrowingDataset dataset(String path, NumberType type, int width, int chunkRows, Map<String, String> with) {
        String[] names = path.substring(1).split("/");
        Node at = root;
        for (int i = 0; i < names.length - 1; i++) {
            at = (Node) at.children().computeIfAbsent(names[i], _ -> new Node(new LinkedHashMap<>()));
        }
        var d = new GrowingDataset(this, type, width, chunkRows, with);
        if (at.children().putIfAbsent(names[names.length - 1], d) != null) {
            throw new IllegalArgumentException(path + " is there already");
        }
        return d;
    }

    long allocate(long bytes) {
        long at = end;
        end = (end + bytes + 7) / 8 * 8;
        return at;
    }

    void write(long at, ByteBuffer b) throws IOException {
        if (at + b.remaining() > limit) {
            throw new IOException("the file would exceed " + limit + " bytes");
        }
        for (long to = at; b.hasRemaining(); ) {
            to += channel.write(b, to);
        }
    }

    /** Reads through a channel of its own, which outlives {@link #close} for whoever is still looking. */
    ByteBuffer read(long at, int bytes) throws IOException {
        if (reading == null) {
            reading = FileChannel.open(path, StandardOpenOption.READ);
        }
        var b = ByteBuffer.allocate(bytes).order(ByteOrder.LITTLE_ENDIAN);
        while (b.hasRemaining()) {
            if (reading.read(b, at + b.position()) < 0) {
                throw new EOFException();
            }
        }
        return b.flip();
    }

    /** Makes all rows so far part of the file. */
    public synchronized void commit() throws IOException {
        flush(root);
        Area area = areas[turn];
        byte[] meta = describe(area.address()).bytes();
        if (meta.length > area.capacity()) {
            area = new Area(allocate(2L * meta.length), 2L * meta.length);
            areas[turn] = area;
        }
        var to = new Metadata(area.address());
        long rootAddress = describe(root, to);
        byte[] bytes = to.bytes();
        write(area.address(), ByteBuffer.wrap(bytes));
        if (channel.size() < end) {
            write(end - 1, ByteBuffer.wrap(new byte[1]));
        }
        write(0, ByteBuffer.wrap(Messages.superblock(end, rootAddress)));
        turn = 1 - turn;
    }

    private static void flush(Node n) throws IOException {
        for (Object child : n.children().values()) {
            if (child instanceof GrowingDataset d) {
                d.flush();
            } else {
                flush((Node) child);
            }
        }
    }

    private Metadata describe(long base) {
        var m = new Metadata(base);
        describe(root, m);
        return m;
    }

    private long describe(Node n, Metadata to) {
        Map<String, Long> addresses = new LinkedHashMap<>();
        n.children().forEach((name, child) -> addresses.put(name, child instanceof GrowingDataset d ? d.describe(to)
                : describe((Node) child, to)));
        return to.add(Messages.group(addresses, n == root ? attributes : Map.of()));
    }

    /** Commits and closes. */
    @Override
    public synchronized void close() throws IOException {
        if (channel.isOpen()) {
            try {
                commit();
                channel.force(false);
            } finally {
                channel.close();
            }
        }
    }

    /** Closes without another commit: the file stays as of the last. */
    public synchronized void abandon() throws IOException {
        channel.close();
    }
}
