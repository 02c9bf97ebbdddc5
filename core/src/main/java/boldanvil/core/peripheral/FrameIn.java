package boldanvil.core.peripheral;

import boldanvil.core.frame.CanMessage;
import boldanvil.core.program.Port;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.stream.IntStream;

/** Messages that are received. */
final class FrameIn extends Frame {
    FrameIn() {
        super(TerminalKind.FRAME_IN);
    }

    @Override
    public PinModel model(BoardSetup setup, Terminal t, boolean single) {
        return rate(setup, t).<PinModel>map(r -> new LineModels.Received(codec(t), steps(setup, t, r), t.ports().size() - 1)).orElse(null);
    }

    @Override
    public int[] registers(BoardSetup setup, Terminal t) {
        int can = setup.board().canNumber(setup.channel(t).orElseThrow());
        return IntStream.concat(IntStream.range(0, codec(t).bytes()).map(i -> Registers.canIn(can, setup.placeOnLine(t), i)),
                IntStream.of(Registers.canFresh(can, setup.placeOnLine(t)))).toArray();
    }

    @Override
    public void helpers(BoardCode c, Terminal x) {
        super.helpers(c, x);
        c.use("get_field");
        c.use("counted");
    }

    @Override
    public void read(BoardCode c, Terminal x) {
        CanMessage m = message(x);
        var t = c.text();
        t.open("{").line("uint8_t bytes[8] = {0U};")
                .line("bool fresh = board_can_read(" + unit(c, x) + "U, " + c.setup()
                .placeOnLine(x) + "U, " + identifier(m) + ", bytes, " + m.bytes() + "U);")
                .open("if (fresh) {");
        for (int i = 0; i < m.signals().size(); i++) {
            var s = m.signals().get(i);
            Port port = x.ports().get(i);
            String count = "get_field(bytes, " + s.start() + "U, " + s.length() + "U, " + s.bigEndian() + ")";
            t.line(BoardCode.access(port) + " = " + BoardCode.cast(port, "counted(" + count + ", " + BoardCode.number(s.greatest()) + ", "
                    + BoardCode.number(Math.pow(2, s.length())) + ") * " + BoardCode.number(s.factor()) + " + "
                    + BoardCode.number(s.offset())) + ";");
        }
        t.close("}").line(BoardCode.access(x.ports().getLast()) + " = fresh;").close("}");
    }
}
