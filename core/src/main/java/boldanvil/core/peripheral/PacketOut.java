package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.frame.PacketLayout;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import boldanvil.core.program.Type;
import java.util.List;
import java.util.stream.IntStream;

/** Packets that are sent. */
final class PacketOut extends Packet {
    PacketOut() {
        super(TerminalKind.PACKET_OUT);
    }

    @Override
    public List<Channel> channels(Board board) {
        return board.serialPorts().stream().map(s -> new Channel(s.name() + ".out", kind(), s.name(), s.out())).toList();
    }

    @Override
    public PinModel model(BoardSetup setup, Terminal t, boolean single) {
        return rate(setup, t).<PinModel>map(r -> new LineModels.Sent(codec(t), steps(setup, t, r))).orElse(null);
    }

    @Override
    public int[] registers(BoardSetup setup, Terminal t) {
        int port = setup.board().serialNumber(setup.channel(t).orElseThrow());
        return IntStream.range(0, codec(t).bytes()).map(i -> Registers.serialOut(port, i)).toArray();
    }

    @Override
    public void helpers(BoardCode c, Terminal x) {
        super.helpers(c, x);
        c.use("put_bytes");
    }

    @Override
    public void write(BoardCode c, Terminal x) {
        var p = layout(x);
        var t = c.text();
        t.open("{").line("uint8_t bytes[" + p.bytes() + "];");
        declareBits(c, p);
        int at = 0;
        for (int h : p.header()) {
            t.line("bytes[" + at++ + "] = " + h + "U;");
        }
        for (int i = 0; i < p.fields().size(); i++) {
            Type type = p.fields().get(i).type();
            String slot = BoardCode.access(x.ports().get(i));
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
            t.line("put_bytes(&bytes[" + at + "], " + check(p, at) + ", " + p.check().bytes() + "U, " + p.bigEndian() + ");");
        }
        t.line("board_serial_write(" + unit(c, x) + "U, bytes, " + p.bytes() + "U);").close("}");
    }
}
