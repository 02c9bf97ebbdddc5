package boldanvil.core.target;

import boldanvil.core.instance.Instance;
import boldanvil.core.program.Tap;
import boldanvil.core.program.Type;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.Series;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * Values of a part that its target keeps in its own memory at each n-th step, whatever the link to it can carry, until they are uploaded. A
 * row has the time and a value of each signal, each in the bytes of its type, little-endian. One thread logs while others read.
 */
public final class TargetLog {
    /** What is kept when the memory is full. */
    public enum Keep {
        /** The first rows: logging ends. */
        FIRST,
        /** The last rows: each new one takes the place of the oldest. */
        LAST
    }

    private static final int FIRST_ROWS = 1024;

    private final List<Tap> taps;
    private final int every;
    private final Keep keep;
    private final int rowBytes;
    private final long capacity;
    private ByteBuffer memory;
    private long logged;
    private double fullSeconds = Double.NaN;
    private boolean ended;

    /**
     * @param every how many steps of the part a row stands for, 1 or more
     * @param bytes memory of the target that it may use
     */
    public TargetLog(List<Tap> taps, int every, Keep keep, long bytes) {
        this.taps = List.copyOf(taps);
        this.every = every;
        this.keep = keep;
        rowBytes = rowBytes(taps);
        capacity = Math.min(bytes / rowBytes, Integer.MAX_VALUE / 2 / rowBytes);
        memory = littleEndian(new byte[(int) Math.min(capacity, FIRST_ROWS) * rowBytes]);
    }

    private static ByteBuffer littleEndian(byte[] bytes) {
        return ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN);
    }

    /** Bytes of a row with these signals. */
    public static int rowBytes(List<Tap> taps) {
        return Double.BYTES + taps.stream().mapToInt(t -> t.slot().type().bytes()).sum();
    }

    /** A step of the part was computed. */
    synchronized void step(long tick, double seconds, Instance part) {
        if (ended || tick % every != 0 || capacity == 0) {
            return;
        }
        if (logged == capacity && Double.isNaN(fullSeconds)) {
            fullSeconds = seconds;
        }
        if (logged >= capacity && keep == Keep.FIRST) {
            return;
        }
        int at = (int) (logged % capacity) * rowBytes;
        if (at + rowBytes > memory.capacity()) {
            memory = littleEndian(Arrays.copyOf(memory.array(), (int) Math.min(2L * memory.capacity(), capacity * rowBytes)));
        }
        memory.putDouble(at, seconds);
        at += Double.BYTES;
        for (Tap t : taps) {
            Type type = t.slot().type();
            put(at, type, part, t);
            at += type.bytes();
        }
        logged++;
    }

    private void put(int at, Type type, Instance part, Tap tap) {
        switch (type) {
            case BOOL, INT8, UINT8 -> memory.put(at, (byte) part.whole(tap.slot(), 0));
            case INT16, UINT16 -> memory.putShort(at, (short) part.whole(tap.slot(), 0));
            case INT32, UINT32 -> memory.putInt(at, (int) part.whole(tap.slot(), 0));
            case INT64, UINT64 -> memory.putLong(at, part.whole(tap.slot(), 0));
            case FLOAT32 -> memory.putFloat(at, (float) part.get(tap.slot()));
            case FLOAT64 -> memory.putDouble(at, part.get(tap.slot()));
        }
    }

    /** Ends logging; what is there stays. */
    public synchronized void end() {
        ended = true;
    }

    public synchronized boolean isEnded() {
        return ended;
    }

    /** Rows that are there. */
    public synchronized long rows() {
        return Math.min(logged, capacity);
    }

    /** Most rows. */
    public long capacity() {
        return capacity;
    }

    public Keep keep() {
        return keep;
    }

    public List<Tap> taps() {
        return taps;
    }

    /** Memory that it may use, in bytes. */
    public long bytes() {
        return capacity * rowBytes;
    }

    /** When the first row did not fit any more, in seconds; NaN where all have. */
    public synchronized double fullSeconds() {
        return fullSeconds;
    }

    /**
     * Rows as they are in memory, the oldest first.
     *
     * @param from number of the first
     * @param count most rows; fewer at the end
     */
    public synchronized byte[] read(long from, int count) {
        int n = Math.clamp(rows() - from, 0, count);
        byte[] out = new byte[n * rowBytes];
        long oldest = logged > capacity ? logged % capacity : 0;
        for (int i = 0; i < n; i++) {
            System.arraycopy(memory.array(), (int) ((oldest + from + i) % capacity) * rowBytes, out, i * rowBytes, rowBytes);
        }
        return out;
    }

    /**
     * The signals in rows that were read.
     *
     * @param part whose taps they are
     */
    public static RunData decode(String part, List<Tap> taps, byte[] rows) {
        int rowBytes = rowBytes(taps);
        int n = rows.length / rowBytes;
        var in = littleEndian(rows);
        double[] times = new double[n];
        double[][] values = new double[taps.size()][n];
        for (int i = 0; i < n; i++) {
            times[i] = in.getDouble();
            for (int k = 0; k < values.length; k++) {
                values[k][i] = get(in, taps.get(k).slot().type());
            }
        }
        List<Series> all = new ArrayList<>();
        for (int k = 0; k < values.length; k++) {
            all.add(new Series(part + "." + taps.get(k).name(), taps.get(k).unit(), times, values[k]));
        }
        return new RunData(all);
    }

    private static double get(ByteBuffer in, Type type) {
        return switch (type) {
            case BOOL, UINT8 -> in.get() & 0xFF;
            case INT8 -> in.get();
            case INT16 -> in.getShort();
            case UINT16 -> in.getShort() & 0xFFFF;
            case INT32 -> in.getInt();
            case UINT32 -> in.getInt() & 0xFFFFFFFFL;
            case INT64 -> in.getLong();
            case UINT64 -> {
                long v = in.getLong();
                yield (v >>> 1) * 2.0 + (v & 1);
            }
            case FLOAT32 -> in.getFloat();
            case FLOAT64 -> in.getDouble();
        };
    }
}
