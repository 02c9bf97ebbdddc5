package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.List;

/** One output of a PWM timer. */
final class PwmOut extends Pwm {
    PwmOut() {
        super(TerminalKind.PWM_OUT);
    }

    @Override
    public List<Channel> channels(Board board) {
        return TimerChannels.timers(board, "pwm").flatMap(t -> t.channels().stream()
                .map(x -> new Channel(t.name() + "." + x.id(), kind(), t.name(), x.pins()))).toList();
    }

    /** Together with its like, since a timer has one frequency. */
    @Override
    public int rank(Board board, String pin, int neighbours) {
        return -neighbours;
    }

    @Override
    int[] outputs(Board board, Terminal t, BoardSetup setup) {
        return new int[] {board.outputNumber(setup.channel(t).orElseThrow())};
    }
}
