package boldanvil.standin;

import boldanvil.core.instance.Instance;
import boldanvil.core.link.xcp.Xcp;
import boldanvil.core.link.xcp.XcpAccess;
import boldanvil.core.link.xcp.XcpClient;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.user.Log;
import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.Executor;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import java.util.function.Consumer;

/**
 * An XCP slave on TCP for one part. Addresses are byte offsets in the part's context struct. Event 0 is raised when the
 * continuous part has been sampled, event 1 + i when task i has run. One master at a time.
 */
final class XcpServer implements AutoCloseable {
    private static final int QUEUE = 20_000;
    private static final long GATHER_NANOS = 2_000_000;

    private final Program program;
    private final Instance instance;
    private final Executor betweenTicks;
    private final Consumer<Map<Slot, Double>> write;
    private final ServerSocket server;
    private final Map<Integer, Slot> slots = new HashMap<>();
    private final String token;
    private volatile boolean lossless;
    private volatile Session session;
    private volatile long dropped;
    private volatile boolean mute;

    /**
     * @param betweenTicks runs an action while no tick is under way, and returns when it is done
     * @param write gives tunables their values; is called while no tick is under way
     * @param lossless whether a tick waits for the line instead of dropping measurements
     * @param token the rig's token, from which the keys follow
     */
    XcpServer(Program program, Instance instance, Executor betweenTicks, Consumer<Map<Slot, Double>> write, boolean lossless,
            String token) throws IOException {
        this.token = token;
        this.program = program;
        this.instance = instance;
        this.betweenTicks = betweenTicks;
        this.write = write;
        this.lossless = lossless;
        var layout = Layout.of(program);
        program.slots().forEach(s -> slots.put(layout.offset(s), s));
        server = new ServerSocket(0, 1, InetAddress.getLoopbackAddress());
        Thread.ofPlatform().daemon().name("xcp server " + program.name()).start(this::accept);
    }

    int port() {
        return server.getLocalPort();
    }

    /** Rows of measured values that found the line busy. */
    long dropped() {
        return dropped;
    }

    private void accept() {
        while (!server.isClosed()) {
            try {
                Socket socket = server.accept();
                try (socket) {
                    if (server.isClosed()) {
                        // The kernel lets one more in while the wait for it is being ended.
                        return;
                    }
                    socket.setTcpNoDelay(true);
                    socket.setSoTimeout(XcpLock.STRANGER_MILLIS);
                    var s = new Session(socket);
                    session = s;
                    s.serve();
                } finally {
                    session = null;
                }
            } catch (IOException | RuntimeException e) {
                Log.ignored(XcpServer.class, e, "The XCP master disconnected.");
            }
        }
    }

    /** Has no tick wait for the line any more. */
    void release() {
        lossless = false;
    }

    /** While mute, packets are made and sent as ever, but as service packets, which a master passes over. */
    void mute(boolean on) {
        mute = on;
    }

    /** Raises an event; on the thread that runs the ticks. */
    void event(int number, long nanos) {
        Session s = session;
        if (s != null) {
            s.event(number, nanos);
        }
    }

    private long timeUnitNanos() {
        return program.tickNanos() % 1_000 == 0 ? 1_000 : 1;
    }

    @Override
    public void close() {
        try {
            server.close();
            Session s = session;
            if (s != null) {
                s.socket.close();
            }
        } catch (IOException e) {
            Log.ignored(XcpServer.class, e, "The socket cannot be closed.");
        }
    }

    /** A measurement list of the master. */
    private static final class Daq {
        /** Entries while they are being set up; fixed while the list runs. */
        List<List<Slot>> odts = new ArrayList<>();
        int event;
        int everyNth = 1;
        int count;
        boolean selected;
        volatile boolean running;
        int firstPid;
    }

    /** One connection. */
    private final class Session {
        final Socket socket;
        private final DataInputStream in;
        private final ArrayBlockingQueue<byte[]> queue = new ArrayBlockingQueue<>(QUEUE);
        private volatile List<Daq> daqs = new ArrayList<>();
        private final XcpLock lock = new XcpLock(token);
        private volatile boolean ended;
        private int mta;
        /** Two pages of parameters: the one the program uses, and one that is filled. */
        private int devicePage;
        private int masterPage;
        private final Map<Slot, Double> filled = new LinkedHashMap<>();
        private int[] pointer = {0, 0};
        private byte[] upload = new byte[0];

        Session(Socket socket) throws IOException {
            this.socket = socket;
            in = new DataInputStream(new BufferedInputStream(socket.getInputStream()));
        }

        void serve() throws IOException {
            var out = new BufferedOutputStream(socket.getOutputStream(), 1 << 16);
            Thread.ofPlatform().daemon().name("xcp writer " + program.name()).start(() -> write(out));
            try {
                for (byte[] p = Xcp.read(in); p != null && !ended; p = Xcp.read(in)) {
                    byte[] answer = answer(p);
                    if (answer == null) {
                        return;
                    }
                    send(answer);
                    if (lock.isOpen(XcpAccess.CALIBRATION | XcpAccess.MEASUREMENT)) {
                        socket.setSoTimeout(XcpLock.IDLE_MILLIS);
                    }
                }
            } finally {
                ended = true;
            }
        }

        private void write(BufferedOutputStream out) {
            int counter = 0;
            List<byte[]> batch = new ArrayList<>();
            try {
                while (!ended) {
                    byte[] p = queue.poll(100, TimeUnit.MILLISECONDS);
                    if (p == null) {
                        continue;
                    }
                    if ((p[0] & 0xFF) < Xcp.MAX_ODTS) {
                        // Measured values gather for a moment; many a write would cost more than they do.
                        LockSupport.parkNanos(GATHER_NANOS);
                    }
                    batch.clear();
                    batch.add(p);
                    queue.drainTo(batch);
                    for (byte[] b : batch) {
                        Xcp.write(out, b, counter++);
                    }
                    out.flush();
                }
            } catch (IOException e) {
                ended = true;
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        }

        private void send(byte[] p) {
            try {
                boolean measured = (p[0] & 0xFF) < Xcp.MAX_ODTS;
                while (!ended && !queue.offer(p, 100, TimeUnit.MILLISECONDS) && !(measured && !lossless)) {
                    // The writer takes from the other end, or the session ends, or nobody waits any more.
                }
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        }

        void event(int number, long nanos) {
            for (Daq d : daqs) {
                if (d.running && d.event == number && d.count++ % d.everyNth == 0) {
                    event(d, nanos);
                }
            }
        }

        /** All packets of a list, or none. */
        private void event(Daq d, long nanos) {
            boolean fits = queue.remainingCapacity() >= d.odts.size();
            if (!fits && !lossless && !mute) {
                dropped++;
                return;
            }
            for (int o = 0; o < d.odts.size(); o++) {
                byte[] p = packet(d, o, nanos);
                if (mute) {
                    p[0] = (byte) Xcp.SERVICE;
                    queue.offer(p);
                } else if (lossless) {
                    send(p);
                } else {
                    queue.offer(p);
                }
            }
        }

        private byte[] packet(Daq d, int odt, long nanos) {
            List<Slot> entries = d.odts.get(odt);
            int size = 1 + (odt == 0 ? 4 : 0);
            for (Slot s : entries) {
                size += s.type().bytes();
            }
            var b = ByteBuffer.allocate(size).order(ByteOrder.LITTLE_ENDIAN);
            b.put((byte) (d.firstPid + odt));
            if (odt == 0) {
                b.putInt((int) (nanos / timeUnitNanos()));
            }
            for (Slot s : entries) {
                XcpClient.encode(b, s.type(), instance.get(s));
            }
            return b.array();
        }

        private byte[] answer(byte[] p) {
            try {
                return command(ByteBuffer.wrap(p).order(ByteOrder.LITTLE_ENDIAN));
            } catch (java.nio.BufferUnderflowException | IndexOutOfBoundsException e) {
                return XcpReply.error(Xcp.ERR_CMD_SYNTAX);
            }
        }

        private byte[] command(ByteBuffer c) {
            int code = c.get() & 0xFF;
            int resource = resource(code);
            if (resource != 0 && !lock.isOpen(resource)) {
                return XcpReply.error(Xcp.ERR_ACCESS_LOCKED);
            }
            return switch (code) {
                case Xcp.GET_SEED -> lock.seed(c.get(), c.get(), XcpAccess.CALIBRATION | XcpAccess.MEASUREMENT);
                case Xcp.UNLOCK -> lock.unlock(c.array());
                // Resources: calibration and measurement. Little endian, byte granularity.
                case Xcp.CONNECT -> XcpReply.bytes(Xcp.RESPONSE, 0x05, 0x80, Xcp.MAX_CTO, Xcp.MAX_DTO & 0xFF, Xcp.MAX_DTO >> 8, 1, 1);
                case Xcp.DISCONNECT -> {
                    daqs = new ArrayList<>();
                    yield XcpReply.ok();
                }
                case Xcp.GET_STATUS -> XcpReply.bytes(Xcp.RESPONSE, isMeasuring() ? 0x40 : 0,
                        lock.locked(XcpAccess.CALIBRATION | XcpAccess.MEASUREMENT), 0, 0, 0);
                case Xcp.GET_ID -> {
                    upload = ("Bold Anvil stand-in, " + program.title()).getBytes(StandardCharsets.UTF_8);
                    yield ByteBuffer.allocate(8).order(ByteOrder.LITTLE_ENDIAN).put((byte) Xcp.RESPONSE).put((byte) 0)
                            .putShort((short) 0).putInt(upload.length).array();
                }
                case Xcp.UPLOAD -> upload(c.get() & 0xFF);
                case Xcp.SET_MTA -> {
                    c.position(4);
                    mta = c.getInt();
                    yield XcpReply.ok();
                }
                case Xcp.SHORT_UPLOAD -> {
                    int size = c.get() & 0xFF;
                    c.position(4);
                    yield read(c.getInt(), size);
                }
                case Xcp.DOWNLOAD -> {
                    byte[] data = new byte[c.get() & 0xFF];
                    c.get(data);
                    yield download(data);
                }
                case Xcp.GET_CAL_PAGE -> XcpReply.bytes(Xcp.RESPONSE, 0, 0, (c.get() & Xcp.PAGE_FOR_DEVICE) != 0 ? devicePage : masterPage);
                case Xcp.SET_CAL_PAGE -> page(c.get(), c.get(), c.get());
                case Xcp.USER_CMD -> user(c.get());
                case Xcp.GET_DAQ_CLOCK -> XcpReply.bytes(Xcp.RESPONSE, 0, 0, 0, 0, 0, 0, 0);
                case Xcp.GET_DAQ_PROCESSOR_INFO -> XcpReply.bytes(Xcp.RESPONSE, 0x11, 0xFF, 0xFF, program.tasks().size() + 1, 0, 0, 0);
                // Entries of 1 to 8 bytes; 4-byte timestamps, unit 1 ns (0) or 1 µs (3).
                case Xcp.GET_DAQ_RESOLUTION_INFO -> XcpReply.bytes(Xcp.RESPONSE, 1, Xcp.MAX_ENTRY, 1, Xcp.MAX_ENTRY,
                        4 | (timeUnitNanos() == 1 ? 0 : 3) << 4, 1, 0);
                default -> daqCommand(code, c);
            };
        }

        private boolean isMeasuring() {
            return daqs.stream().anyMatch(d -> d.running);
        }

        /** Which resource a command is for; 0 for one that anybody may give. */
        private byte[] user(int command) {
            if (command != Xcp.USER_SAFE_STOP) {
                return XcpReply.error(Xcp.ERR_CMD_UNKNOWN);
            }
            betweenTicks.execute(instance::end);
            return XcpReply.ok();
        }

        private static int resource(int code) {
            return switch (code) {
                case Xcp.CONNECT, Xcp.DISCONNECT, Xcp.GET_STATUS, Xcp.GET_SEED, Xcp.UNLOCK -> 0;
                case Xcp.GET_ID, Xcp.UPLOAD, Xcp.SET_MTA, Xcp.SHORT_UPLOAD, Xcp.DOWNLOAD, Xcp.GET_CAL_PAGE, Xcp.SET_CAL_PAGE,
                        Xcp.USER_CMD ->
                        XcpAccess.CALIBRATION;
                default -> XcpAccess.MEASUREMENT;
            };
        }

        private static boolean changesLists(int code) {
            return code == Xcp.ALLOC_DAQ || code == Xcp.ALLOC_ODT || code == Xcp.ALLOC_ODT_ENTRY || code == Xcp.WRITE_DAQ
                    || code == Xcp.SET_DAQ_LIST_MODE;
        }

        private byte[] daqCommand(int code, ByteBuffer c) {
            if (changesLists(code) && isMeasuring()) {
                return XcpReply.error(Xcp.ERR_DAQ_ACTIVE);
            }
            switch (code) {
                case Xcp.FREE_DAQ -> betweenTicks.execute(() -> daqs = new ArrayList<>());
                case Xcp.ALLOC_DAQ -> {
                    c.get();
                    int n = c.getShort() & 0xFFFF;
                    if (n > Xcp.MAX_ODTS) {
                        return XcpReply.error(Xcp.ERR_MEMORY_OVERFLOW);
                    }
                    List<Daq> fresh = new ArrayList<>();
                    for (int i = 0; i < n; i++) {
                        fresh.add(new Daq());
                    }
                    daqs = fresh;
                }
                case Xcp.ALLOC_ODT -> {
                    c.get();
                    Daq d = daqs.get(c.getShort() & 0xFFFF);
                    int n = c.get() & 0xFF;
                    if (daqs.stream().mapToInt(x -> x.odts.size()).sum() + n > Xcp.MAX_ODTS) {
                        return XcpReply.error(Xcp.ERR_MEMORY_OVERFLOW);
                    }
                    for (int i = 0; i < n; i++) {
                        d.odts.add(new ArrayList<>());
                    }
                }
                case Xcp.ALLOC_ODT_ENTRY -> {
                    c.get();
                    daqs.get(c.getShort() & 0xFFFF).odts.get(c.get() & 0xFF);
                    if ((c.get() & 0xFF) > Xcp.MAX_DTO) {
                        return XcpReply.error(Xcp.ERR_MEMORY_OVERFLOW);
                    }
                }
                case Xcp.SET_DAQ_PTR -> {
                    c.get();
                    pointer = new int[] {c.getShort() & 0xFFFF, c.get() & 0xFF};
                    daqs.get(pointer[0]).odts.get(pointer[1]);
                }
                case Xcp.WRITE_DAQ -> {
                    c.get();
                    int size = c.get() & 0xFF;
                    c.get();
                    Slot s = slots.get(c.getInt());
                    if (s == null || s.type().bytes() != size) {
                        return XcpReply.error(Xcp.ERR_OUT_OF_RANGE);
                    }
                    List<Slot> entries = daqs.get(pointer[0]).odts.get(pointer[1]);
                    if (5 + size + entries.stream().mapToInt(x -> x.type().bytes()).sum() > Xcp.MAX_DTO) {
                        return XcpReply.error(Xcp.ERR_MEMORY_OVERFLOW);
                    }
                    entries.add(s);
                }
                case Xcp.SET_DAQ_LIST_MODE -> {
                    c.get();
                    Daq d = daqs.get(c.getShort() & 0xFFFF);
                    d.event = c.getShort() & 0xFFFF;
                    d.everyNth = Math.max(1, c.get() & 0xFF);
                }
                case Xcp.START_STOP_DAQ_LIST -> {
                    int mode = c.get();
                    int index = c.getShort() & 0xFFFF;
                    Daq d = daqs.get(index);
                    d.firstPid = daqs.subList(0, index).stream().mapToInt(x -> x.odts.size()).sum();
                    d.selected = mode == 2;
                    if (mode < 2) {
                        betweenTicks.execute(() -> d.running = mode == 1);
                    }
                    return XcpReply.bytes(Xcp.RESPONSE, d.firstPid);
                }
                case Xcp.START_STOP_SYNCH -> {
                    int mode = c.get();
                    betweenTicks.execute(() -> daqs.forEach(d -> {
                        d.running = mode == 1 ? d.running || d.selected : mode == 2 && d.running && !d.selected;
                        d.selected = false;
                    }));
                }
                default -> {
                    return XcpReply.error(Xcp.ERR_CMD_UNKNOWN);
                }
            }
            return XcpReply.ok();
        }

        private byte[] upload(int size) {
            byte[] r = new byte[1 + size];
            r[0] = (byte) Xcp.RESPONSE;
            System.arraycopy(upload, 0, r, 1, Math.min(size, upload.length));
            return r;
        }

        private byte[] read(int address, int size) {
            Slot s = slots.get(address);
            if (s == null || s.type().bytes() != size) {
                return XcpReply.error(Xcp.ERR_OUT_OF_RANGE);
            }
            double[] value = new double[1];
            betweenTicks.execute(() -> value[0] = instance.get(s));
            byte[] data = XcpClient.encode(s.type(), value[0]);
            return ByteBuffer.allocate(1 + size).put((byte) Xcp.RESPONSE).put(data).array();
        }

        private byte[] download(byte[] data) {
            Slot s = slots.get(mta);
            if (s == null || s.type().bytes() != data.length) {
                return XcpReply.error(Xcp.ERR_OUT_OF_RANGE);
            }
            if (s.role() != Slot.Role.TUNABLE) {
                return XcpReply.error(Xcp.ERR_ACCESS_DENIED);
            }
            double v = XcpClient.decode(ByteBuffer.wrap(data).order(ByteOrder.LITTLE_ENDIAN), s.type());
            if (masterPage == devicePage) {
                betweenTicks.execute(() -> write.accept(Map.of(s, v)));
            } else {
                filled.put(s, v);
            }
            mta += data.length;
            return XcpReply.ok();
        }

        /** Changes pages. A page that is left takes over the values of the other, so what differs is what has been filled in since. */
        private byte[] page(int mode, int segment, int page) {
            if (segment != 0 || page < 0 || page > 1) {
                return XcpReply.error(Xcp.ERR_PAGE_NOT_VALID);
            }
            if ((mode & Xcp.PAGE_FOR_MASTER) != 0) {
                masterPage = page;
            }
            if ((mode & Xcp.PAGE_FOR_DEVICE) != 0 && page != devicePage) {
                devicePage = page;
                var values = Map.copyOf(filled);
                filled.clear();
                betweenTicks.execute(() -> write.accept(values));
            }
            return XcpReply.ok();
        }

    }
}
