package boldanvil.core.peripheral;

import boldanvil.core.frame.Codec;
import boldanvil.core.frame.PacketLayout;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import boldanvil.core.program.Type;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Packets over a serial port. */
abstract class Packet extends Line {
    /** A start bit, eight data bits and a stop bit. */
    private static final int BITS_OF_A_BYTE = 10;
    /** Most a receiver bears of the rate being off, and still samples the right bits. */
    private static final double TOLERANCE = 0.02;

    Packet(TerminalKind kind) {
        super(kind);
    }

    static PacketLayout layout(Terminal t) {
        return PacketLayout.of(t.texts().get("fields"), t.texts().get("order"), t.texts().get("header"), t.texts().get("checksum"));
    }

    @Override
    public final Codec codec(Terminal t) {
        return layout(t);
    }

    @Override
    public final double seconds(Terminal t, double rate) {
        return layout(t).bytes() * BITS_OF_A_BYTE / rate;
    }

    @Override
    public final boolean isPointToPoint() {
        return true;
    }

    /** Packets follow each other without gaps. */
    @Override
    public final double possible(Terminal t, double rate) {
        return rate / BITS_OF_A_BYTE;
    }

    @Override
    public final Optional<Double> rate(BoardSetup setup, Terminal t) {
        var unit = setup.channel(t).map(c -> c.unit()).orElse("");
        return setup.board().serialPorts().stream().filter(s -> s.name().equals(unit)).findFirst()
                .map(s -> PinMath.baud(s, setup.clock().hertz(s.clock()), t.number("rate")).reached());
    }

    @Override
    final void checkRate(PatchReport report, Terminal t, double reached) {
        if (Math.abs(reached / t.number("rate") - 1) > TOLERANCE) {
            report.error("The rate would be " + Fact.sig(reached) + " Hz, off by more than " + Fact.sig(TOLERANCE * 100) + " %.",
                    "Choose a rate that divides the clock better.");
        }
    }

    @Override
    final void figures(BoardSetup setup, Terminal t, int steps, List<Fact> facts) {
        arrival(setup, t, steps, facts);
    }

    @Override
    public final Set<String> includes() {
        return Set.of("string.h");
    }

    @Override
    public void helpers(BoardCode c, Terminal x) {
        c.use(function(layout(x).check()));
    }

    @Override
    public final void setUp(BoardCode c, Terminal x) {
        if (c.once("serial " + c.channel(x).unit())) {
            var port = c.board().serialPorts().get(unit(c, x));
            c.text().line("board_serial_setup(" + unit(c, x) + "U, " + PinMath.baud(port, c.setup().clock().hertz(port.clock()),
                    x.number("rate")).divisor() + "U); /* "
                    + c.channel(x).unit() + " */");
        }
    }

    static int unit(BoardCode c, Terminal x) {
        return c.board().serialNumber(c.channel(x));
    }

    /** The function that computes a checksum; empty for none. */
    private static String function(PacketLayout.Check check) {
        return switch (check) {
            case NONE -> "";
            case SUM -> "sum_of";
            case CRC16 -> "crc16_of";
            case CRC32 -> "crc32_of";
        };
    }

    static String check(PacketLayout p, int length) {
        return function(p.check()) + "(bytes, " + length + "U)";
    }

    static void declareBits(BoardCode c, PacketLayout p) {
        if (p.fields().stream().anyMatch(f -> f.type() == Type.FLOAT32)) {
            c.text().line("uint32_t bits32;");
        }
        if (p.fields().stream().anyMatch(f -> f.type() == Type.FLOAT64)) {
            c.text().line("uint64_t bits64;");
        }
    }
}
