package boldanvil.core.peripheral;

import boldanvil.core.frame.CanMessage;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.stream.IntStream;

/** Messages that are sent. */
final class FrameOut extends Frame {
    FrameOut() {
        super(TerminalKind.FRAME_OUT);
    }

    @Override
    public PinModel model(BoardSetup setup, Terminal t, boolean single) {
        return rate(setup, t).<PinModel>map(r -> new LineModels.Sent(codec(t), steps(setup, t, r))).orElse(null);
    }

    @Override
    public int[] registers(BoardSetup setup, Terminal t) {
        int can = setup.board().canNumber(setup.channel(t).orElseThrow());
        return IntStream.range(0, codec(t).bytes()).map(i -> Registers.canOut(can, setup.placeOnLine(t), i)).toArray();
    }

    @Override
    public void helpers(BoardCode c, Terminal x) {
        super.helpers(c, x);
        c.use("put_field");
    }

    @Override
    public void write(BoardCode c, Terminal x) {
        CanMessage m = message(x);
        var t = c.text();
        t.open("{").line("uint8_t bytes[8] = {0U};");
        for (int i = 0; i < m.signals().size(); i++) {
            var s = m.signals().get(i);
            t.line("put_field(bytes, " + s.start() + "U, " + s.length() + "U, " + s.bigEndian() + ", (double)"
                    + BoardCode.access(x.ports().get(i)) + ", "
                    + BoardCode.number(s.offset()) + ", " + BoardCode.number(s.factor()) + ", " + BoardCode.number(s.least()) + ", "
                    + BoardCode.number(s.greatest()) + ");");
        }
        t.line("board_can_write(" + unit(c, x) + "U, " + c.setup().placeOnLine(x) + "U, " + identifier(m) + ", bytes, " + m.bytes() + "U);")
                .close("}");
    }
}
