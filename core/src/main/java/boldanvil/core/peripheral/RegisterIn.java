package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.frame.BusDevice;
import boldanvil.core.frame.BusDevices;
import boldanvil.core.frame.Codec;
import boldanvil.core.frame.FrameException;
import boldanvil.core.frame.RegisterLayout;
import boldanvil.core.program.Port;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;

/** A register of a device on an I²C or SPI bus. */
final class RegisterIn extends Line {
    /** Eight bits and the acknowledge. */
    private static final int BITS_OF_AN_I2C_BYTE = 9;
    /** Address, register, address again for reading. */
    private static final int I2C_BYTES_BEFORE = 3;

    private final boolean i2c;

    RegisterIn(boolean i2c) {
        super(i2c ? TerminalKind.I2C_IN : TerminalKind.SPI_IN);
        this.i2c = i2c;
    }

    @Override
    public List<Channel> channels(Board board) {
        return board.buses().stream().filter(b -> b.kind().equals(i2c ? "I2C" : "SPI"))
                .map(b -> new Channel(b.name(), kind(), b.name(), b.pins())).toList();
    }

    /** Devices on an I²C bus have addresses; an SPI bus has one device. */
    @Override
    public Sharing sharing() {
        return i2c ? Sharing.BUS : Sharing.CHANNELS;
    }

    /** The device of a terminal: one of the list, or what the terminal itself states. */
    static BusDevice device(Terminal t) {
        return BusDevices.find(t.texts().get("device")).orElseGet(() -> new BusDevice("own", "own device",
                number(t.texts().get("address")), number(t.texts().get("register")),
                new RegisterLayout(Integer.parseInt(t.texts().get("bytes")), t.has("sign", "signed"), t.has("order", "high byte first"),
                t.number("scale"), t.number("offset")),
                t.texts().getOrDefault("unit", ""), t.number("update")));
    }

    private static int number(String text) {
        try {
            return Integer.decode(text.strip());
        } catch (NumberFormatException e) {
            throw new FrameException("'" + text + "' is not a whole number.", "Write it like 41 or 0x29.");
        }
    }

    @Override
    public Codec codec(Terminal t) {
        return device(t).layout();
    }

    @Override
    public double seconds(Terminal t, double rate) {
        int bytes = codec(t).bytes();
        return i2c ? ((I2C_BYTES_BEFORE + bytes) * BITS_OF_AN_I2C_BYTE + 2) / rate : (1 + bytes) * 8 / rate;
    }

    /** The fastest rate of the bus that is not above the one that is set. */
    @Override
    public Optional<Double> rate(BoardSetup setup, Terminal t) {
        var unit = setup.channel(t).map(Channel::unit).orElse("");
        return setup.board().buses().stream().filter(b -> b.name().equals(unit)).findFirst().flatMap(b -> {
            var rates = b.hertz().isEmpty() ? b.dividers().stream().map(d -> setup.clock().hertz(b.clock()) / d).toList() : b.hertz();
            return rates.stream().filter(r -> r <= t.number("rate") * (1 + 1e-9)).max(Double::compare);
        });
    }

    @Override
    boolean mayLag() {
        return false;
    }

    @Override
    void figures(BoardSetup setup, Terminal t, int steps, List<Fact> facts) {
        facts.add(Fact.of("resolution", Math.abs(device(t).layout().scale()), "units"));
        facts.add(Fact.of("new value every", Math.max(setup.program().tickSeconds(), device(t).updateSeconds()) * 1e3, "ms"));
    }

    @Override
    public PinModel model(BoardSetup setup, Terminal t, boolean single) {
        return new LineModels.Measured(device(t).layout(), steps(device(t).updateSeconds(), setup.program().tickSeconds()));
    }

    @Override
    public int[] registers(BoardSetup setup, Terminal t) {
        int bus = setup.board().busNumber(setup.channel(t).orElseThrow());
        return IntStream.range(0, codec(t).bytes()).map(i -> Registers.busByte(bus, setup.placeOnLine(t), i)).toArray();
    }

    /** The device answers to its address. */
    @Override
    public Map<Integer, Long> presets(BoardSetup setup, Terminal t) {
        int bus = setup.board().busNumber(setup.channel(t).orElseThrow());
        int place = setup.placeOnLine(t);
        return Map.of(Registers.busAddress(bus, place), device(t).address() + 1L, Registers.busNumber(bus, place),
                (long) device(t).register());
    }

    @Override
    public void helpers(BoardCode c, Terminal x) {
        c.use("get_bytes");
        c.use("counted");
    }

    @Override
    public void read(BoardCode c, Terminal x) {
        var device = device(x);
        RegisterLayout r = device.layout();
        Port port = x.ports().getFirst();
        double all = Math.pow(2, 8 * r.bytes());
        c.text().open("{").line("uint8_t bytes[" + r.bytes() + "] = {0U};")
                .line("board_bus_read(" + c.board().busNumber(c.channel(x)) + "U, " + device.address() + "U, " + device.register()
                + "U, bytes, " + r.bytes() + "U);")
                .line(BoardCode.access(port) + " = " + BoardCode.cast(port,
                "counted((double)get_bytes(bytes, " + r.bytes() + "U, " + r.bigEndian() + "), "
                        + BoardCode.number(r.signed() ? all / 2 - 1 : all - 1) + ", " + BoardCode.number(all) + ") * "
                        + BoardCode.number(r.scale()) + " + "
                        + BoardCode.number(r.offset())) + ";").close("}");
    }
}
