package boldanvil.core.link.modbus;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.DeviceLink;
import boldanvil.core.link.Endpoint;
import boldanvil.core.link.Reading;
import boldanvil.core.link.Tag;
import boldanvil.core.link.modbus.ModbusAddress.Table;
import boldanvil.core.user.Log;
import com.digitalpetri.modbus.client.ModbusTcpClient;
import com.digitalpetri.modbus.exceptions.ModbusException;
import com.digitalpetri.modbus.exceptions.ModbusExecutionException;
import com.digitalpetri.modbus.exceptions.ModbusResponseException;
import com.digitalpetri.modbus.exceptions.ModbusTimeoutException;
import com.digitalpetri.modbus.pdu.ReadCoilsRequest;
import com.digitalpetri.modbus.pdu.ReadDiscreteInputsRequest;
import com.digitalpetri.modbus.pdu.ReadHoldingRegistersRequest;
import com.digitalpetri.modbus.pdu.ReadInputRegistersRequest;
import com.digitalpetri.modbus.pdu.WriteMultipleCoilsRequest;
import com.digitalpetri.modbus.pdu.WriteMultipleRegistersRequest;
import com.digitalpetri.modbus.tcp.client.NettyTcpClientTransport;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;

/** A device on Modbus TCP. Tags that lie beside each other are asked for together; what was subscribed to is asked for at intervals. */
final class ModbusLink implements DeviceLink {
    private static final int UNIT = 1;
    private static final int MOST_REGISTERS = 120;
    private static final int MOST_BITS = 1_900;
    /** Registers between two tags that are read along rather than asked for apart. */
    private static final int GAP = 8;
    private static final Duration PATIENCE = Duration.ofMillis(600);
    /** How long a device is left alone at most. */
    private static final long HEARTBEAT_NANOS = 600_000_000;
    /** How long after a loss it is tried again. */
    private static final long RETRY_NANOS = 100_000_000;

    private final Endpoint at;
    private final Place place;
    private final ModbusTcpClient client;
    private final Map<Tag, ModbusAddress> addresses = new ConcurrentHashMap<>();
    private volatile Runnable onLost = () -> { };
    private volatile long heardAt = System.nanoTime();
    private volatile Thread poller;
    private volatile boolean closed;

    ModbusLink(Endpoint at, Place place) {
        this.at = at;
        this.place = place;
        client = ModbusTcpClient.create(NettyTcpClientTransport.create(c -> {
            c.hostname = at.host();
            c.port = at.port();
            c.connectTimeout = PATIENCE;
            c.connectPersistent = false;
        }), c -> c.requestTimeout = PATIENCE);
        try {
            client.connect();
        } catch (ModbusExecutionException e) {
            throw FindingException.of(place, "No device answers at " + at + ".",
                    "Check the address, the cable and whether the device is on.");
        }
    }

    @Override
    public Set<Capability> capabilities() {
        return Set.of(Capability.TAGS);
    }

    @Override
    public void onLost(Runnable action) {
        onLost = action;
    }

    @Override
    public long silenceNanos() {
        return System.nanoTime() - heardAt;
    }

    /** Some tags that one request covers. */
    private record Block(Table table, int first, int count, List<Integer> tags) {}

    private ModbusAddress address(Tag t) {
        return addresses.computeIfAbsent(t, ModbusAddress::of);
    }

    /** Tags that are read equally often. */
    private static final class Round {
        final long periodNanos;
        final List<Block> blocks;
        long next = System.nanoTime();

        Round(long periodNanos, List<Block> blocks) {
            this.periodNanos = periodNanos;
            this.blocks = blocks;
        }
    }

    /** @param some which of the tags */
    private List<Block> blocks(List<Tag> tags, List<Integer> some) {
        List<Integer> order = new ArrayList<>(some);
        order.sort(Comparator.comparing((Integer i) -> address(tags.get(i)).table()).thenComparing(i -> address(tags.get(i)).number()));
        List<Block> blocks = new ArrayList<>();
        for (int i : order) {
            var a = address(tags.get(i));
            Block last = blocks.isEmpty() ? null : blocks.getLast();
            int most = a.table().isBits() ? MOST_BITS : MOST_REGISTERS;
            boolean joins = last != null && last.table() == a.table() && a.number() <= last.first() + last.count() + GAP
                    && a.number() + a.words() - last.first() <= most;
            if (joins) {
                var joined = new ArrayList<>(last.tags());
                joined.add(i);
                blocks.set(blocks.size() - 1, new Block(a.table(), last.first(),
                        Math.max(last.count(), a.number() + a.words() - last.first()),
                        joined));
            } else {
                blocks.add(new Block(a.table(), a.number(), a.words(), List.of(i)));
            }
        }
        return blocks;
    }

    @Override
    public List<Reading> readTags(List<Tag> tags) {
        Reading[] readings = new Reading[tags.size()];
        for (Block b : blocks(tags, IntStream.range(0, tags.size()).boxed().toList())) {
            read(b, tags, readings);
        }
        return List.of(readings);
    }

    private void read(Block b, List<Tag> tags, Reading[] readings) {
        try {
            byte[] bytes = request(b);
            heardAt = System.nanoTime();
            for (int i : b.tags()) {
                var a = address(tags.get(i));
                int from = a.number() - b.first();
                readings[i] = Reading.good(b.table().isBits() ? (Object) ((bytes[from / 8] >> from % 8 & 1) != 0)
                        : a.decode(tags.get(i).type(), bytes, 2 * from), 0);
            }
        } catch (ModbusResponseException e) {
            heardAt = System.nanoTime();
            if (b.tags().size() > 1) {
                // One of them is not there; the others may be.
                b.tags().forEach(i -> read(new Block(b.table(), address(tags.get(i)).number(), address(tags.get(i)).words(), List.of(i)),
                        tags,
                        readings));
            } else {
                readings[b.tags().getFirst()] = Reading.bad("The device answers: " + words(e) + ".");
            }
        } catch (ModbusException e) {
            throw lost(e);
        } catch (IndexOutOfBoundsException e) {
            throw FindingException.of(place, "The device answered with fewer values than were asked for.", "Check the device.");
        }
    }

    private byte[] request(Block b) throws ModbusExecutionException, ModbusTimeoutException, ModbusResponseException {
        return switch (b.table()) {
            case COIL -> client.readCoils(UNIT, new ReadCoilsRequest(b.first(), b.count())).coils();
            case DISCRETE -> client.readDiscreteInputs(UNIT, new ReadDiscreteInputsRequest(b.first(), b.count())).inputs();
            case HOLDING -> client.readHoldingRegisters(UNIT, new ReadHoldingRegistersRequest(b.first(), b.count())).registers();
            case INPUT -> client.readInputRegisters(UNIT, new ReadInputRegistersRequest(b.first(), b.count())).registers();
        };
    }

    private static String words(ModbusResponseException e) {
        return switch (e.getExceptionCode()) {
            case 1 -> "it does not have this function";
            case 2 -> "there is nothing at this address";
            case 3 -> "the value is not allowed";
            default -> "exception " + e.getExceptionCode();
        };
    }

    private FindingException lost(Exception e) {
        Log.ignored(ModbusLink.class, e, "The device did not answer.");
        return FindingException.of(place, "The device at " + at + " does not answer.",
                "Check the cable and whether the device is on; the link comes back by itself.");
    }

    @Override
    public void writeTags(Map<Tag, Object> values) {
        Map<Tag, byte[]> registers = new LinkedHashMap<>();
        values.forEach((tag, value) -> {
            var a = address(tag);
            if (!a.table().isWritable()) {
                throw FindingException.of(Place.named(tag.name()), "The tag lies in a table that cannot be written.",
                        "Use a coil or a holding register.");
            }
            try {
                registers.put(tag, a.table() == Table.COIL ? new byte[] {(byte) (truth(value) ? 1 : 0)} : a.encode(tag.type(), value));
            } catch (IllegalArgumentException e) {
                throw FindingException.of(Place.named(tag.name()), "The value cannot be written: " + e.getMessage() + ".",
                        "Write a value of its type.");
            }
        });
        var sorted = new ArrayList<>(registers.keySet());
        sorted.sort(Comparator.comparing((Tag t) -> address(t).table()).thenComparing(t -> address(t).number()));
        for (int i = 0; i < sorted.size(); ) {
            i = write(sorted, i, registers);
        }
    }

    private static boolean truth(Object value) {
        return switch (value) {
            case Boolean b -> b;
            case Number n -> n.doubleValue() != 0;
            default -> throw new IllegalArgumentException("a BOOL is true or false");
        };
    }

    /** Writes the tags that lie one behind the other; returns the first that does not. */
    private int write(List<Tag> sorted, int from, Map<Tag, byte[]> registers) {
        var first = address(sorted.get(from));
        List<byte[]> pieces = new ArrayList<>();
        int next = from;
        int count = 0;
        while (next < sorted.size()) {
            var a = address(sorted.get(next));
            if (a.table() != first.table() || a.number() != first.number() + count || count + a.words() > MOST_REGISTERS) {
                break;
            }
            pieces.add(registers.get(sorted.get(next)));
            count += a.words();
            next++;
        }
        try {
            if (first.table() == Table.COIL) {
                byte[] bits = new byte[(count + 7) / 8];
                for (int i = 0; i < count; i++) {
                    bits[i / 8] |= (byte) (pieces.get(i)[0] << i % 8);
                }
                client.writeMultipleCoils(UNIT, new WriteMultipleCoilsRequest(first.number(), count, bits));
            } else {
                byte[] all = new byte[2 * count];
                int at = 0;
                for (byte[] p : pieces) {
                    System.arraycopy(p, 0, all, at, p.length);
                    at += p.length;
                }
                client.writeMultipleRegisters(UNIT, new WriteMultipleRegistersRequest(first.number(), count, all));
            }
            heardAt = System.nanoTime();
        } catch (ModbusResponseException e) {
            throw FindingException.of(Place.named(sorted.get(from).name()), "The device refuses the value: " + words(e) + ".",
                    "Check the address, and whether the device lets it be written.");
        } catch (ModbusException e) {
            throw lost(e);
        }
        return next;
    }

    @Override
    public void subscribeTags(List<Tag> tags, List<Long> periodsNanos, TagReceiver receiver) {
        List<Round> rounds = new ArrayList<>();
        periodsNanos.stream().distinct().sorted().forEach(period -> {
            List<Integer> mine = IntStream.range(0, tags.size()).filter(i -> periodsNanos.get(i).equals(period)).boxed().toList();
            rounds.add(new Round(period, blocks(tags, mine)));
        });
        var fresh = Thread.ofVirtual().name("modbus " + at).unstarted(() -> poll(tags, rounds, receiver));
        poller = fresh;
        fresh.start();
    }

    private void poll(List<Tag> tags, List<Round> rounds, TagReceiver receiver) {
        Reading[] last = new Reading[tags.size()];
        boolean lost = false;
        while (!closed && poller == Thread.currentThread()) {
            long begin = System.nanoTime();
            try {
                Reading[] now = new Reading[tags.size()];
                for (Round r : rounds) {
                    // After a loss every tag gets its value at once.
                    if (lost || r.next <= begin) {
                        r.next = Math.max(begin, r.next + r.periodNanos);
                        for (Block b : r.blocks) {
                            read(b, tags, now);
                        }
                    }
                }
                if (!rounds.isEmpty() && System.nanoTime() - heardAt > HEARTBEAT_NANOS) {
                    // Tags that are read seldom do not notice a loss.
                    read(rounds.getFirst().blocks.getFirst(), tags, now);
                }
                for (int i = 0; i < now.length; i++) {
                    if (now[i] != null) {
                        last[i] = now[i];
                        receiver.reading(i, now[i]);
                    }
                }
                lost = false;
            } catch (FindingException e) {
                for (int i = 0; i < last.length; i++) {
                    receiver.reading(i, last[i] == null ? Reading.bad("The link is lost.") : last[i].stale("The link is lost."));
                }
                if (!lost) {
                    lost = true;
                    onLost.run();
                }
                reconnect();
            }
            try {
                long due = lost ? begin + RETRY_NANOS : rounds.stream().mapToLong(r -> r.next).min().orElse(begin);
                Thread.sleep(Duration.ofNanos(Math.clamp(due - System.nanoTime(), 1_000_000, HEARTBEAT_NANOS)));
            } catch (InterruptedException e) {
                return;
            }
        }
    }

    private void reconnect() {
        try {
            client.disconnect();
            client.connect();
        } catch (ModbusExecutionException e) {
            Log.ignored(ModbusLink.class, e, "The device is not back yet.");
        }
    }

    @Override
    public void close() {
        closed = true;
        Thread t = poller;
        if (t != null) {
            t.interrupt();
        }
        try {
            client.disconnect();
        } catch (ModbusExecutionException e) {
            Log.ignored(ModbusLink.class, e, "The connection cannot be closed.");
        }
    }
}
