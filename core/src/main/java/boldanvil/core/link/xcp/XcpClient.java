package boldanvil.core.link.xcp;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.Connections;
import boldanvil.core.program.Type;
import boldanvil.core.user.Log;
import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.TimeUnit;

/** Measures and tunes one device over XCP on TCP. Commands may come from any thread, one at a time. */
public final class XcpClient implements AutoCloseable {
    private static final int TIMEOUT_MILLIS = 5_000;

    /** Is given measured values as they arrive, on the client's own thread. */
    public interface Measured {
        /**
         * @param list index of the list in those given to {@link #measure}
         * @param nanos the device's time
         * @param values one for each of its variables; good only until this returns
         */
        void row(int list, long nanos, double[] values);
    }

    /** Something to measure, at a byte address in the device. */
    public record Variable(long address, Type type) {}

    /**
     * Variables that are measured together.
     *
     * @param event number of the event at which they are fresh
     * @param everyNth of these events
     */
    public record MeasureList(int event, int everyNth, List<Variable> variables) {
        public MeasureList {
            variables = List.copyOf(variables);
        }
    }

    /** A value to be written at a byte address in the device. */
    public record Write(long address, Type type, double value) {}

    /**
     * A packet of a list.
     *
     * @param number of the packet in its list
     * @param at index of its first variable
     */
    private record Table(int list, int number, boolean last, int at, List<Type> types) {}

    /** What has come of a list's present row. */
    private static final class Row {
        final double[] values;
        int expected;
        long nanos;

        Row(int width) {
            values = new double[width];
        }
    }

    private final Socket socket;
    private final OutputStream out;
    private final Place place;
    private final ArrayBlockingQueue<byte[]> responses = new ArrayBlockingQueue<>(16);
    private volatile List<Table> tables = List.of();
    private volatile Row[] rows = {};
    private volatile Measured sink = (_, _, _) -> { };
    private volatile boolean closed;
    private volatile long lost;
    private volatile Runnable onLost = () -> { };
    private int counter;
    private long timestampNanos = 1_000;
    private long lastTimestamp;
    private long wraps;

    /** Connects to a device on this machine. */
    public XcpClient(Place place, int port, String token) {
        this(place, new InetSocketAddress(InetAddress.getLoopbackAddress(), port), token);
    }

    /**
     * @param place how findings name the device
     * @param token the rig's token, from which the keys to the device follow
     * @throws FindingException when nobody answers, or the device refuses the key
     */
    public XcpClient(Place place, InetSocketAddress address, String token) {
        this.place = place;
        try {
            socket = new Socket();
            Connections.open(socket, address, TIMEOUT_MILLIS);
            out = new BufferedOutputStream(socket.getOutputStream(), 1 << 12);
            var in = new DataInputStream(new BufferedInputStream(socket.getInputStream(), 1 << 16));
            Thread.ofPlatform().daemon().name("xcp " + place).start(() -> receive(in));
            greet();
            unlock(XcpAccess.CALIBRATION, token);
            unlock(XcpAccess.MEASUREMENT, token);
            byte[] clock = command(Xcp.GET_DAQ_RESOLUTION_INFO);
            timestampNanos = switch (clock[5] >> 4 & 0xF) {
                case 0 -> 1;
                case 3 -> 1_000;
                default -> throw FindingException.of(place, "The device counts time in a unit that is not known here.",
                        "Set its XCP time unit to 1 ns or 1 µs.");
            };
        } catch (IOException e) {
            throw FindingException.of(place, "The device does not respond: " + e.getMessage() + ".",
                    "Check that it is running and that the cable or network is connected.");
        }
    }

    private void greet() throws IOException {
        try {
            command(Xcp.CONNECT, 0);
        } catch (FindingException e) {
            if (closed) {
                throw new IOException("it closed the connection");
            }
            throw e;
        }
    }

    private void unlock(int resource, String token) {
        byte[] r = command(Xcp.GET_SEED, 0, resource);
        byte[] key = XcpAccess.key(token, resource, java.util.Arrays.copyOfRange(r, 2, r.length));
        command(ByteBuffer.allocate(2 + key.length).put((byte) Xcp.UNLOCK).put((byte) key.length).put(key).array());
    }

    /** What to do when the connection is lost; called once, on the client's own thread. */
    public void onLost(Runnable action) {
        onLost = action;
    }

    private void receive(DataInputStream in) {
        try {
            for (byte[] p = Xcp.read(in); p != null; p = Xcp.read(in)) {
                int id = p[0] & 0xFF;
                if (id < Xcp.MAX_ODTS) {
                    measured(p);
                } else if (id >= Xcp.ERROR) {
                    responses.offer(p);
                }
            }
        } catch (IOException | RuntimeException e) {
            Log.ignored(XcpClient.class, e, "The XCP connection ends.");
        }
        boolean expected = closed;
        closed = true;
        responses.offer(new byte[0]);
        if (!expected) {
            onLost.run();
        }
    }

    private void measured(byte[] p) {
        var known = tables;
        int id = p[0] & 0xFF;
        if (id >= known.size()) {
            lost++;
            return;
        }
        var table = known.get(id);
        Row row = rows[table.list()];
        var b = ByteBuffer.wrap(p).order(ByteOrder.LITTLE_ENDIAN).position(1);
        if (table.number() == 0) {
            long stamp = b.getInt() & 0xFFFF_FFFFL;
            // Events of several lists arrive nearly in order; only a big step back is a wrap.
            if (stamp < lastTimestamp - (1L << 31)) {
                wraps++;
            }
            lastTimestamp = stamp;
            row.nanos = (lastTimestamp + (wraps << 32)) * timestampNanos;
            lost += row.expected == 0 ? 0 : 1;
            row.expected = 0;
        }
        if (table.number() != row.expected) {
            // A packet of this row is missing; the whole row is.
            lost += row.expected < 0 ? 0 : 1;
            row.expected = -1;
            return;
        }
        for (int i = 0; i < table.types().size(); i++) {
            row.values[table.at() + i] = decode(b, table.types().get(i));
        }
        row.expected = table.last() ? 0 : row.expected + 1;
        if (table.last()) {
            sink.row(table.list(), row.nanos, row.values);
        }
    }

    /** A value as it lies in memory, little endian. */
    public static double decode(ByteBuffer b, Type type) {
        return switch (type) {
            case BOOL -> b.get() != 0 ? 1 : 0;
            case INT8 -> b.get();
            case UINT8 -> b.get() & 0xFF;
            case INT16 -> b.getShort();
            case UINT16 -> b.getShort() & 0xFFFF;
            case UINT32 -> b.getInt() & 0xFFFF_FFFFL;
            case INT32 -> b.getInt();
            case INT64, UINT64 -> type.value(b.getLong());
            case FLOAT32 -> b.getFloat();
            case FLOAT64 -> b.getDouble();
        };
    }

    /** The bytes of a value in memory, little endian. */
    public static byte[] encode(Type type, double value) {
        var b = ByteBuffer.allocate(type.bytes()).order(ByteOrder.LITTLE_ENDIAN);
        encode(b, type, value);
        return b.array();
    }

    /** Appends the bytes of a value to a little-endian buffer. */
    public static void encode(ByteBuffer b, Type type, double value) {
        double v = type.convert(value);
        switch (type) {
            case BOOL -> b.put((byte) v);
            case INT8, UINT8 -> b.put((byte) (int) v);
            case INT16, UINT16 -> b.putShort((short) (int) v);
            case INT32, UINT32 -> b.putInt((int) (long) v);
            case INT64, UINT64 -> b.putLong(type.bits(v));
            case FLOAT32 -> b.putFloat((float) v);
            case FLOAT64 -> b.putDouble(v);
        }
    }

    /** Sends a command of bytes and returns the response. */
    private byte[] command(int... bytes) {
        byte[] packet = new byte[bytes.length];
        for (int i = 0; i < bytes.length; i++) {
            packet[i] = (byte) bytes[i];
        }
        return command(packet);
    }

    private synchronized byte[] command(byte[] packet) {
        try {
            responses.clear();
            if (closed) {
                throw gone();
            }
            Xcp.write(out, packet, counter++);
            out.flush();
            byte[] r = responses.poll(TIMEOUT_MILLIS, TimeUnit.MILLISECONDS);
            if (r == null) {
                throw FindingException.of(place, "The device did not respond within " + TIMEOUT_MILLIS / 1000 + " s.",
                        "Check the link, then reset the device.");
            }
            if (r.length == 0) {
                throw gone();
            }
            if ((r[0] & 0xFF) == Xcp.ERROR) {
                throw FindingException.of(place, "The device rejected a command: " + Xcp.error(r[1] & 0xFF) + ".",
                        "Build and download again, so that project and device agree.");
            }
            return r;
        } catch (IOException e) {
            throw gone();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw gone();
        }
    }

    private FindingException gone() {
        return FindingException.of(place, "The connection to the device is lost.",
                "Check the cable and the power, then start the rig again.");
    }

    /** The name the device gives itself. */
    public String identify() {
        byte[] r = command(Xcp.GET_ID, 0);
        int length = ByteBuffer.wrap(r).order(ByteOrder.LITTLE_ENDIAN).getInt(4);
        byte[] text = command(Xcp.UPLOAD, Math.clamp(length, 0, 200));
        return new String(text, 1, text.length - 1, java.nio.charset.StandardCharsets.UTF_8);
    }

    /** Reads one value. */
    public double read(long address, Type type) {
        var b = ByteBuffer.allocate(8).order(ByteOrder.LITTLE_ENDIAN);
        b.put((byte) Xcp.SHORT_UPLOAD).put((byte) type.bytes()).put((byte) 0).put((byte) 0).putInt((int) address);
        return decode(ByteBuffer.wrap(command(b.array())).order(ByteOrder.LITTLE_ENDIAN).position(1), type);
    }

    /** Writes one value. */
    public synchronized void write(long address, Type type, double value) {
        command(ByteBuffer.allocate(8).order(ByteOrder.LITTLE_ENDIAN).put((byte) Xcp.SET_MTA).put((byte) 0).put((byte) 0).put((byte) 0)
                .putInt((int) address).array());
        byte[] data = encode(type, value);
        command(ByteBuffer.allocate(2 + data.length).put((byte) Xcp.DOWNLOAD).put((byte) data.length).put(data).array());
    }

    /**
     * Writes several values that take effect at once, between two steps of the device: they go into the page of parameters it does not
     * use, then it changes over to that page.
     */
    public synchronized void write(List<Write> writes) {
        int next = 1 - command(Xcp.GET_CAL_PAGE, Xcp.PAGE_FOR_DEVICE, 0)[3];
        command(Xcp.SET_CAL_PAGE, Xcp.PAGE_FOR_MASTER, 0, next);
        writes.forEach(w -> write(w.address(), w.type(), w.value()));
        command(Xcp.SET_CAL_PAGE, Xcp.PAGE_FOR_DEVICE | Xcp.PAGE_FOR_MASTER, 0, next);
    }

    /** Sets up lists to measure and starts them. Values go to the sink from now on. */
    public void measure(List<MeasureList> lists, Measured to) {
        sink = to;
        List<List<Table>> plan = new ArrayList<>();
        for (int i = 0; i < lists.size(); i++) {
            plan.add(tablesOf(i, lists.get(i).variables()));
        }
        command(Xcp.FREE_DAQ);
        command(Xcp.ALLOC_DAQ, 0, plan.size(), plan.size() >> 8);
        for (int d = 0; d < plan.size(); d++) {
            command(Xcp.ALLOC_ODT, 0, d, d >> 8, plan.get(d).size());
        }
        for (int d = 0; d < plan.size(); d++) {
            for (int o = 0; o < plan.get(d).size(); o++) {
                command(Xcp.ALLOC_ODT_ENTRY, 0, d, d >> 8, o, plan.get(d).get(o).types().size());
            }
        }
        List<Table> all = new ArrayList<>();
        for (int d = 0; d < plan.size(); d++) {
            var list = lists.get(d);
            for (int o = 0; o < plan.get(d).size(); o++) {
                command(Xcp.SET_DAQ_PTR, 0, d, d >> 8, o, 0);
                Table table = plan.get(d).get(o);
                for (Variable v : list.variables().subList(table.at(), table.at() + table.types().size())) {
                    var b = ByteBuffer.allocate(8).order(ByteOrder.LITTLE_ENDIAN);
                    b.put((byte) Xcp.WRITE_DAQ).put((byte) 0xFF).put((byte) v.type().bytes()).put((byte) 0).putInt((int) v.address());
                    command(b.array());
                }
            }
            all.addAll(plan.get(d));
            // Mode 0x10: with timestamp.
            command(Xcp.SET_DAQ_LIST_MODE, 0x10, d, d >> 8, list.event(), list.event() >> 8, list.everyNth(), 0);
        }
        rows = lists.stream().map(l -> new Row(l.variables().size())).toArray(Row[]::new);
        tables = List.copyOf(all);
        for (int d = 0; d < plan.size(); d++) {
            command(Xcp.START_STOP_DAQ_LIST, 2, d, d >> 8);
        }
        if (!plan.isEmpty()) {
            command(Xcp.START_STOP_SYNCH, 1);
        }
    }

    private static List<Table> tablesOf(int list, List<Variable> variables) {
        List<Table> tables = new ArrayList<>();
        int at = 0;
        do {
            int room = Xcp.MAX_DTO - (tables.isEmpty() ? 5 : 1);
            List<Type> types = new ArrayList<>();
            while (at + types.size() < variables.size() && types.size() < 200 && variables.get(at + types.size()).type().bytes() <= room) {
                types.add(variables.get(at + types.size()).type());
                room -= types.getLast().bytes();
            }
            tables.add(new Table(list, tables.size(), at + types.size() == variables.size(), at, List.copyOf(types)));
            at += types.size();
        } while (at < variables.size());
        return tables;
    }

    /** Has the device put its outputs into their safe state and stop its program. */
    public void safeStop() {
        command(Xcp.USER_CMD, Xcp.USER_SAFE_STOP);
    }

    /** Shows the device that someone is there; it drops masters that are not heard of for long. */
    public void keepAlive() {
        command(Xcp.GET_STATUS);
    }

    /** Returns when everything measured before has arrived. */
    public void drain() {
        command(Xcp.GET_STATUS);
    }

    /** Breaks the connection as a cable that is pulled out would. */
    public void drop() {
        try {
            socket.close();
        } catch (IOException e) {
            Log.ignored(XcpClient.class, e, "The socket cannot be closed.");
        }
    }

    /** Whether the connection stands. */
    public boolean isOpen() {
        return !closed;
    }

    /** Rows that came in part only, and packets that could not be understood. */
    public long lost() {
        return lost;
    }

    @Override
    public void close() {
        closed = true;
        try {
            socket.close();
        } catch (IOException e) {
            Log.ignored(XcpClient.class, e, "The socket cannot be closed.");
        }
    }
}
