package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.frame.PacketLayout;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import boldanvil.core.program.Type;
import java.util.List;
import java.util.stream.IntStream;

/** Packets that are received. */
final class PacketIn extends Packet {
    PacketIn() {
        super(TerminalKind.PACKET_IN);
    }

    @Override
    public List<Channel> channels(Board board) {
        return board.serialPorts().stream().map(s -> new Channel(s.name() + ".in", kind(), s.name(), s.in())).toList();
    }

    @Override
    public PinModel model(BoardSetup setup, Terminal t, boolean single) {
        return rate(setup, t).<PinModel>map(r -> new LineModels.Received(codec(t), steps(setup, t, r), t.ports().size() - 1)).orElse(null);
    }

    @Override
    public int[] registers(BoardSetup setup, Terminal t) {
        int port = setup.board().serialNumber(setup.channel(t).orElseThrow());
        return IntStream.concat(IntStream.range(0, codec(t).bytes()).map(i -> Registers.serialIn(port, i)),
                IntStream.of(Registers.SERIAL_FRESH + port)).toArray();
    }

    @Override
    public void helpers(BoardCode c, Terminal x) {
        super.helpers(c, x);
        c.use("get_bytes");
    }

    @Override
    public void read(BoardCode c, Terminal x) {
        var p = layout(x);
        var t = c.text();
        t.open("{").line("uint8_t bytes[" + p.bytes() + "];").line("bool fresh = board_serial_read(" + unit(c, x) + "U, bytes, "
                + p.bytes() + "U);");
        int at = 0;
        for (int h : p.header()) {
            t.line("fresh = fresh && bytes[" + at++ + "] == " + h + "U;");
        }
        int end = p.bytes() - p.check().bytes();
        if (p.check() != PacketLayout.Check.NONE) {
            t.line("fresh = fresh && get_bytes(&bytes[" + end + "], " + p.check()
                    .bytes() + "U, " + p.bigEndian() + ") == " + check(p, end) + ";");
        }
        t.open("if (fresh) {");
        declareBits(c, p);
        for (int i = 0; i < p.fields().size(); i++) {
            Type type = p.fields().get(i).type();
            String slot = BoardCode.access(x.ports().get(i));
            String raw = "get_bytes(&bytes[" + at + "], " + type.bytes() + "U, " + p.bigEndian() + ")";
            if (type.isFloat()) {
                String bits = type == Type.FLOAT32 ? "bits32" : "bits64";
                t.line(bits + " = (" + (type == Type.FLOAT32 ? "uint32_t" : "uint64_t") + ")" + raw + ";")
                        .line("memcpy(&" + slot + ", &" + bits + ", sizeof " + bits + ");");
            } else {
                t.line(slot + " = " + (type == Type.BOOL ? raw + " != 0U" : "(" + type.label() + "_t)" + raw) + ";");
            }
            at += type.bytes();
        }
        t.close("}").line(BoardCode.access(x.ports().getLast()) + " = fresh;").close("}");
    }
}
