package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.frame.CanMessage;
import boldanvil.core.frame.Codec;
import boldanvil.core.frame.Dbc;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.List;
import java.util.Optional;

/** Messages of a CAN bus. */
public abstract class Frame extends Line {
    private static final long EXTENDED = 1L << 31;

    Frame(TerminalKind kind) {
        super(kind);
    }

    /** The message of a terminal on a CAN bus. */
    public static CanMessage message(Terminal t) {
        return Dbc.find(t.texts().get("dbc"), t.texts().get("message"));
    }

    @Override
    public final List<Channel> channels(Board board) {
        return board.cans().stream().map(c -> new Channel(c.name(), kind(), c.name(), c.pins())).toList();
    }

    @Override
    public final Sharing sharing() {
        return Sharing.BUS;
    }

    @Override
    public final Codec codec(Terminal t) {
        return message(t);
    }

    @Override
    public final double seconds(Terminal t, double rate) {
        return message(t).worstBits() / rate;
    }

    @Override
    public final Optional<Double> rate(BoardSetup setup, Terminal t) {
        var unit = setup.channel(t).map(Channel::unit).orElse("");
        return setup.board().cans().stream().filter(c -> c.name().equals(unit)).findFirst()
                .map(c -> PinMath.can(c, setup.clock().hertz(c.clock()), t.number("rate"))).map(PinMath.CanTiming::bitsPerSecond);
    }

    @Override
    final void figures(BoardSetup setup, Terminal t, int steps, List<Fact> facts) {
        arrival(setup, t, steps, facts);
    }

    @Override
    public void helpers(BoardCode c, Terminal x) {
        c.use("place_of");
    }

    @Override
    public final void setUp(BoardCode c, Terminal x) {
        if (c.once("can " + c.channel(x).unit())) {
            var can = c.board().cans().get(unit(c, x));
            var timing = PinMath.can(can, c.setup().clock().hertz(can.clock()), x.number("rate"));
            c.text().line("board_can_setup(" + unit(c, x) + "U, " + timing.prescaler() + "U, " + timing.quanta() + "U, "
                    + timing.beforeSample() + "U); /* "
                    + c.channel(x).unit() + " */");
        }
    }

    static int unit(BoardCode c, Terminal x) {
        return c.board().canNumber(c.channel(x));
    }

    static String identifier(CanMessage m) {
        return (m.id() | (m.extended() ? EXTENDED : 0)) + "U";
    }
}
