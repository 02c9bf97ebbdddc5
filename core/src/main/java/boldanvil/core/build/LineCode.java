package boldanvil.core.build;

import boldanvil.core.board.Board;
import boldanvil.core.board.BoardSetup;
import boldanvil.core.board.Lines;
import boldanvil.core.board.PinMath;
import boldanvil.core.c.CGenerator;
import boldanvil.core.c.CText;
import boldanvil.core.frame.CanMessage;
import boldanvil.core.frame.PacketLayout;
import boldanvil.core.frame.RegisterLayout;
import boldanvil.core.program.Port;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import boldanvil.core.program.Type;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/** Writes the C of terminals on lines and buses: how values become bytes and bytes values. */
final class LineCode {
    private static final long EXTENDED = 1L << 31;

    private final BoardSetup setup;
    private final CText t;

    LineCode(BoardSetup setup, CText t) {
        this.setup = setup;
        this.t = t;
    }

    /** Writes the functions that the terminals use. */
    void helpers() {
        Set<String> used = new HashSet<>();
        for (Terminal x : setup.program().terminals()) {
            switch (x.kind()) {
                case PACKET_OUT -> used.addAll(List.of("put_bytes", function(Lines.packet(x).check())));
                case PACKET_IN -> used.addAll(List.of("get_bytes", function(Lines.packet(x).check())));
                case I2C_IN, SPI_IN -> used.addAll(List.of("get_bytes", "counted"));
                case FRAME_OUT -> used.addAll(List.of("place_of", "put_field"));
                case FRAME_IN -> used.addAll(List.of("place_of", "get_field", "counted"));
                default -> { }
            }
        }
        for (String section : Sources.resource("line_functions.c").text().split("/\\* --- ")) {
            int end = section.indexOf(" */\n");
            if (end > 0 && used.contains(section.substring(0, end))) {
                t.lines(section.substring(end + " */\n".length()).strip()).line("");
            }
        }
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

    private int unit(Terminal x) {
        Board board = setup.board();
        var channel = setup.channel(x).orElseThrow();
        return switch (x.kind()) {
            case PACKET_IN, PACKET_OUT -> board.serialNumber(channel);
            case FRAME_IN, FRAME_OUT -> board.canNumber(channel);
            default -> board.busNumber(channel);
        };
    }

    void setUp(Terminal x) {
        String unit = setup.channel(x).orElseThrow().unit();
        switch (x.kind()) {
            case PACKET_IN, PACKET_OUT -> {
                var port = setup.board().serialPorts().get(unit(x));
                t.line("board_serial_setup(" + unit(x) + "U, " + PinMath.baud(port, setup.clock().hertz(port.clock()), x.number("rate")).divisor() + "U); /* " + unit + " */");
            }
            case FRAME_IN, FRAME_OUT -> {
                var can = setup.board().cans().get(unit(x));
                var timing = PinMath.can(can, setup.clock().hertz(can.clock()), x.number("rate"));
                t.line("board_can_setup(" + unit(x) + "U, " + timing.prescaler() + "U, " + timing.quanta() + "U, " + timing.beforeSample() + "U); /* " + unit + " */");
            }
            default -> { }
        }
    }

    private static String access(Port p) {
        return CGenerator.access("board.part", p.slot());
    }

    private static String number(double v) {
        return CGenerator.literal(Type.FLOAT64, v);
    }

    private static String cast(Port p, String value) {
        return p.slot().type() == Type.FLOAT32 ? "(float)(" + value + ")" : value;
    }

    private static String check(PacketLayout.Check check, int length) {
        return function(check) + "(bytes, " + length + "U)";
    }

    void write(Terminal x) {
        t.open("{");
        if (x.kind() == TerminalKind.PACKET_OUT) {
            var p = Lines.packet(x);
            t.line("uint8_t bytes[" + p.bytes() + "];");
            if (p.fields().stream().anyMatch(f -> f.type().isFloat())) {
                declareBits(p);
            }
            int at = 0;
            for (int h : p.header()) {
                t.line("bytes[" + at++ + "] = " + h + "U;");
            }
            for (int i = 0; i < p.fields().size(); i++) {
                Type type = p.fields().get(i).type();
                String slot = access(x.ports().get(i));
                String bits;
                if (type.isFloat()) {
                    bits = type == Type.FLOAT32 ? "bits32" : "bits64";
                    t.line("memcpy(&" + bits + ", &" + slot + ", sizeof " + bits + ");");
                } else {
                    bits = type == Type.BOOL ? "(uint64_t)(" + slot + " ? 1U : 0U)" : "(uint64_t)" + slot;
                }
                t.line("put_bytes(&bytes[" + at + "], " + bits + ", " + type.bytes() + "U, " + p.bigEndian() + ");");
                at += type.bytes();
            }
            if (p.check() != PacketLayout.Check.NONE) {
                t.line("put_bytes(&bytes[" + at + "], " + check(p.check(), at) + ", " + p.check().bytes() + "U, " + p.bigEndian() + ");");
            }
            t.line("board_serial_write(" + unit(x) + "U, bytes, " + p.bytes() + "U);");
        } else {
            CanMessage m = Lines.message(x);
            t.line("uint8_t bytes[8] = {0U};");
            for (int i = 0; i < m.signals().size(); i++) {
                var s = m.signals().get(i);
                t.line("put_field(bytes, " + s.start() + "U, " + s.length() + "U, " + s.bigEndian() + ", (double)" + access(x.ports().get(i)) + ", " + number(s.offset()) + ", "
                        + number(s.factor()) + ", " + number(s.least()) + ", " + number(s.greatest()) + ");");
            }
            t.line("board_can_write(" + unit(x) + "U, " + setup.placeOnLine(x) + "U, " + identifier(m) + ", bytes, " + m.bytes() + "U);");
        }
        t.close("}");
    }

    private void declareBits(PacketLayout p) {
        if (p.fields().stream().anyMatch(f -> f.type() == Type.FLOAT32)) {
            t.line("uint32_t bits32;");
        }
        if (p.fields().stream().anyMatch(f -> f.type() == Type.FLOAT64)) {
            t.line("uint64_t bits64;");
        }
    }

    private static String identifier(CanMessage m) {
        return (m.id() | (m.extended() ? EXTENDED : 0)) + "U";
    }

    void read(Terminal x) {
        t.open("{");
        switch (x.kind()) {
            case PACKET_IN -> packet(x);
            case FRAME_IN -> frame(x);
            default -> register(x);
        }
        t.close("}");
    }

    private void packet(Terminal x) {
        var p = Lines.packet(x);
        t.line("uint8_t bytes[" + p.bytes() + "];").line("bool fresh = board_serial_read(" + unit(x) + "U, bytes, " + p.bytes() + "U);");
        int at = 0;
        for (int h : p.header()) {
            t.line("fresh = fresh && bytes[" + at++ + "] == " + h + "U;");
        }
        int end = p.bytes() - p.check().bytes();
        if (p.check() != PacketLayout.Check.NONE) {
            t.line("fresh = fresh && get_bytes(&bytes[" + end + "], " + p.check().bytes() + "U, " + p.bigEndian() + ") == " + check(p.check(), end) + ";");
        }
        t.open("if (fresh) {");
        declareBits(p);
        for (int i = 0; i < p.fields().size(); i++) {
            Type type = p.fields().get(i).type();
            String slot = access(x.ports().get(i));
            String raw = "get_bytes(&bytes[" + at + "], " + type.bytes() + "U, " + p.bigEndian() + ")";
            if (type.isFloat()) {
                String bits = type == Type.FLOAT32 ? "bits32" : "bits64";
                t.line(bits + " = (" + (type == Type.FLOAT32 ? "uint32_t" : "uint64_t") + ")" + raw + ";").line("memcpy(&" + slot + ", &" + bits + ", sizeof " + bits + ");");
            } else {
                t.line(slot + " = " + (type == Type.BOOL ? raw + " != 0U" : "(" + type.label() + "_t)" + raw) + ";");
            }
            at += type.bytes();
        }
        t.close("}").line(access(x.ports().getLast()) + " = fresh;");
    }

    private void frame(Terminal x) {
        CanMessage m = Lines.message(x);
        t.line("uint8_t bytes[8] = {0U};").line("bool fresh = board_can_read(" + unit(x) + "U, " + setup.placeOnLine(x) + "U, " + identifier(m) + ", bytes, " + m.bytes() + "U);")
                .open("if (fresh) {");
        for (int i = 0; i < m.signals().size(); i++) {
            var s = m.signals().get(i);
            Port port = x.ports().get(i);
            String count = "get_field(bytes, " + s.start() + "U, " + s.length() + "U, " + s.bigEndian() + ")";
            t.line(access(port) + " = " + cast(port, "counted(" + count + ", " + number(s.greatest()) + ", " + number(Math.pow(2, s.length())) + ") * " + number(s.factor()) + " + "
                    + number(s.offset())) + ";");
        }
        t.close("}").line(access(x.ports().getLast()) + " = fresh;");
    }

    private void register(Terminal x) {
        RegisterLayout r = Lines.register(x);
        Port port = x.ports().getFirst();
        double all = Math.pow(2, 8 * r.bytes());
        t.line("uint8_t bytes[" + r.bytes() + "] = {0U};").line("board_bus_read(" + unit(x) + "U, " + Lines.address(x) + "U, " + Lines.registerNumber(x) + "U, bytes, " + r.bytes() + "U);")
                .line(access(port) + " = " + cast(port, "counted((double)get_bytes(bytes, " + r.bytes() + "U, " + r.bigEndian() + "), " + number(r.signed() ? all / 2 - 1 : all - 1) + ", "
                        + number(all) + ") * " + number(r.scale()) + " + " + number(r.offset())) + ";");
    }
}
