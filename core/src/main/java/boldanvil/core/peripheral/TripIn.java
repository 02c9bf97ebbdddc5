package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.List;

/** The trip input of a PWM terminal's timer. */
final class TripIn extends Peripheral {
    TripIn() {
        super(TerminalKind.TRIP_IN);
    }

    @Override
    public List<Channel> channels(Board board) {
        return board.timers().stream().filter(t -> !t.trip().isEmpty()).map(
                t -> new Channel(t.name() + ".trip", kind(), t.name(), t.trip())).toList();
    }

    @Override
    public List<Fact> figures(BoardSetup setup, Terminal t) {
        return List.of(new Fact("switches off", setup.channel(t).map(Channel::unit).orElse(""), ""));
    }

    @Override
    public PinModel model(BoardSetup setup, Terminal t, boolean single) {
        return new DigitalIn.Model();
    }

    @Override
    public int[] registers(BoardSetup setup, Terminal t) {
        return new int[] {Registers.TRIPPED + setup.board().timerNumber(setup.channel(t).orElseThrow())};
    }

    @Override
    public void setUp(BoardCode c, Terminal x) {
        c.text().line("board_pwm_trip(" + c.timer(x) + "U);" + c.where(x));
    }

    @Override
    public void read(BoardCode c, Terminal x) {
        c.set(x.ports().getFirst(), "board_pwm_tripped(" + c.timer(x) + "U)");
    }
}
